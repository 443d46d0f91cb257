<?php

declare(strict_types=1);

namespace Vorhut\Core\Audio\Rule;

use Vorhut\Core\Audio\PatchBay;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\SoundPatch;
use Vorhut\Core\Text\Message;

/** Sound goes into a processor and does not come out, or is taken out where none goes in; it goes in a circle, or to another network. */
final class SoundPatchedNowhere implements Rule
{
    public function find(RuleContext $context): iterable
    {
        $bay = $context->once(PatchBay::class, PatchBay::ifPatched(...));
        foreach ($bay->holes ?? [] as $hole) {
            yield $this->hole($hole['device'], SoundPatch::span($hole['channel'], $hole['count']), $hole['given']);
        }
        foreach ($bay->circles ?? [] as $devices) {
            yield new Finding(
                'sound-goes-in-a-circle',
                Severity::Blocks,
                Stage::Services,
                array_map(static fn (Device $one): string => 'devices/'.$one->key, $devices),
                new Message('The audio of {tags} runs in a loop.', [
                    'tags' => implode(', ', array_map(static fn (Device $one): string => $one->tag, $devices)),
                ]),
                new Message('The loop can howl at full level.'),
                new Message('Turn the speakers off, then remove one of these patches.'),
            );
        }
        foreach ($bay->apart ?? [] as $patch) {
            $at = ['from' => $context->plan->devices[$patch->from]->tag, 'to' => $context->plan->devices[$patch->to]->tag];
            yield new Finding(
                'sound-patched-across-networks',
                Severity::Blocks,
                Stage::Services,
                [$patch->record(), 'devices/'.$patch->from, 'devices/'.$patch->to],
                new Message('{from} sends audio to {to}, but they are in different segments.', $at),
                new Message('Networked audio needs one clock, and clock messages do not cross a router.'),
                new Message('Put both audio ports in the same segment.'),
            );
        }
    }

    private function hole(Device $device, string $channels, bool $given): Finding
    {
        $at = ['tag' => $device->tag, 'channels' => $channels];

        return new Finding(
            $given ? 'sound-ends-in-a-processor' : 'sound-from-nowhere',
            Severity::Risk,
            Stage::Services,
            ['devices/'.$device->key],
            new Message(
                $given
                    ? 'Input channel {channels} of {tag} is not routed to an output.'
                    : 'Channel {channels} of {tag} is sent on, and nothing goes into it.',
                $at,
            ),
            new Message(
                $given
                    ? 'The audio is processed but never heard, although all meters before it show a signal.'
                    : 'Where it goes there is a channel with a name and without a sound.',
            ),
            new Message('Patch its other end, or remove this patch.'),
            about: $channels,
        );
    }
}
