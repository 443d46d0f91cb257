<?php

declare(strict_types=1);

namespace Vorhut\Core\Lighting\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Lighting\Hearing;
use Vorhut\Core\Lighting\Patch;
use Vorhut\Core\Text\Message;

/** A node outputs a universe, and no sender of it is heard in its segment. */
final class LightNotHeard implements Rule
{
    public function find(RuleContext $context): iterable
    {
        $plan = $context->plan;
        foreach (Patch::of($plan)->universes as $number => $universe) {
            $senders = array_column($universe->senders, 0);
            if ([] !== $senders) {
                foreach ($universe->receivers as [$node]) {
                    $others = array_values(array_filter($senders, static fn ($one): bool => $one !== $node));
                    if (null === $node->nic()?->segment || [] === $others) {
                        continue;
                    }
                    $hearing = Hearing::of($plan, $universe, $node);
                    if ([] !== $hearing->heard || null === $hearing->why) {
                        continue;
                    }
                    $at = [
                        'node' => $node->tag,
                        'universe' => $number,
                        'senders' => implode(', ', array_map(static fn ($one): string => $one->tag, $others)),
                    ];
                    yield new Finding(
                        'light-not-heard',
                        Severity::Blocks,
                        Stage::Services,
                        [$node->record(), ...array_map(static fn ($one): string => $one->record(), $others)],
                        new Message('{node} outputs universe {universe}, but does not receive it from {senders}.', $at),
                        $hearing->why,
                        new Message('Connect {node} to the segment of the sender, or assign a universe that is sent in its segment.', $at),
                        null,
                        (string) $number,
                    );
                }
            }
        }
    }
}
