<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench\Rule;

use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Catalogue\Step;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Text\Message;

/** The record does not say which values were put into a device, by whom and with which firmware. */
final class NotWrittenDown implements Rule
{
    public function find(RuleContext $context): iterable
    {
        foreach ($context->plan->devices as $device) {
            $address = $device->nic()?->setting('address');
            if (null === $address?->set || $device->kind->has(Role::Workstation)) {
                continue;
            }
            $missing = [];
            if (null === $address->setBy || '' === $address->setBy) {
                $missing[] = 'who set it';
            }
            $reads = [] !== array_filter($device->steps, static fn (Step $step): bool => \in_array('firmware', $step->reads, true));
            if (
                $reads
                && RunSheet::of($context->plan, $device)->isDone()
                && null === $device->setting('firmware')->set
                && null === $device->setting('firmware')->seen
            ) {
                $missing[] = 'its firmware';
            }
            if ([] !== $missing) {
                yield new Finding(
                    'not-written-down',
                    Severity::Note,
                    Stage::Handover,
                    ['devices/'.$device->key],
                    new Message(
                        'Values of {tag} that were not recorded: {missing}.',
                        ['tag' => $device->tag, 'missing' => implode(
                            ', ',
                            $missing,
                        )]
                    ),
                    new Message('The next visit has to find them out again.'),
                    new Message('Read them from the status page and enter them.'),
                );
            }
        }
    }
}
