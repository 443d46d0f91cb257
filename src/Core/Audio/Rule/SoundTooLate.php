<?php

declare(strict_types=1);

namespace Vorhut\Core\Audio\Rule;

use Vorhut\Core\Audio\PatchBay;
use Vorhut\Core\Audio\SoundWay;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Plan\SoundPatch;
use Vorhut\Core\Text\Message;

/** Audio takes longer than its maximum latency. */
final class SoundTooLate implements Rule
{
    public function find(RuleContext $context): iterable
    {
        // No limit is set, so nothing is late.
        $bay = null === $context->plan->job->intOrNull('soundLimit') ? null : $context->once(PatchBay::class, PatchBay::ifPatched(...));
        foreach ($bay->ways ?? [] as $way) {
            if ($way->isLate()) {
                yield $this->late($way);
            }
        }
    }

    private function late(SoundWay $way): Finding
    {
        $at = [
            'way' => (string) $way,
            'ms' => number_format($way->latency->milliseconds, 1, '.', ''),
            'samples' => $way->latency->samples,
            'most' => $way->most ?? 0,
        ];

        return new Finding(
            'sound-too-late',
            Severity::Risk,
            Stage::Services,
            array_values(array_unique([
                ...array_map(static fn (SoundPatch $one): string => $one->record(), $way->patches),
                ...array_map(static fn (array $one): string => 'devices/'.$one['device'], $way->stations),
            ])),
            new Message('{way} takes {ms} ms ({samples} samples); the limit is {most} ms.', $at),
            new Message('Performers hear themselves with a delay. Together with a second path, the sound is hollow.'),
            new Message(
                'Remove plug-ins from the longest rack, or lower the network buffer until just before packets arrive late.',
            ),
            about: (string) $way->stations[0]['first'],
        );
    }
}
