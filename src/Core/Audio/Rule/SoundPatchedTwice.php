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
                new Message('Channel {channels} of {tag} has more than one source: {senders}.', $at),
                new Message('A channel takes one source: only the last patch is heard.'),
                new Message('Move one of them to a free channel.'),
                about: (string) $twice['channel'],
            );
        }
    }
}
