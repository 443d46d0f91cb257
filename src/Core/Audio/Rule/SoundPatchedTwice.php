<?php

declare(strict_types=1);

namespace Vorhut\Core\Audio\Rule;

use Vorhut\Core\Audio\PatchBay;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Plan\SoundPatch;
use Vorhut\Core\Text\Message;

/** Two patches lead to the same channel of a device. */
final class SoundPatchedTwice implements Rule
{
    public function find(RuleContext $context): iterable
    {
        foreach ($context->once(PatchBay::class, PatchBay::ifPatched(...))->twice ?? [] as $twice) {
            $at = [
                'tag' => $twice['device']->tag,
                'channels' => SoundPatch::span($twice['channel'], $twice['count']),
                'senders' => implode(', ', array_map(static fn (SoundPatch $one): string => trim(\sprintf(
                    '%s %s %s',
                    $context->plan->devices[$one->from]->tag,
                    SoundPatch::span($one->fromChannel + $twice['channel'] - $one->toChannel, $twice['count']),
                    $one->name,
                )), $twice['patches'])),
            ];
            yield new Finding(
                'sound-patched-twice',
                Severity::Blocks,
                Stage::Services,
                [
                    ...array_map(static fn (SoundPatch $one): string => $one->record(), $twice['patches']),
                    'devices/'.$twice['device']->key,
                ],
                new Message('Channel {channels} of {tag} is sent to by several: {senders}.', $at),
                new Message('A channel has one source. The last patch is heard, the other is lost.'),
                new Message('Give one of them a channel that is free.'),
                about: (string) $twice['channel'],
            );
        }
    }
}
