<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice\Rule;

use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Text\Message;

/** Phones get their clock by file, and the time zone of the site is not set. */
final class NoTimeZone implements Rule
{
    public function find(RuleContext $context): iterable
    {
        $phones = array_values(array_filter(
            $context->plan->devices,
            static fn (Device $device): bool => $device->kind->has(Role::FileClient) && [] !== $context->plan->extensionsOf($device->key),
        ));
        if ([] === $phones || '' !== $context->plan->job->text('timeZone')) {
            return;
        }
        yield new Finding(
            'no-time-zone',
            Severity::Blocks,
            Stage::Brief,
            array_map(static fn (Device $phone): string => $phone->record(), $phones),
            new Message('The job has no time zone, but [n phone|phones] get it in the configuration file.', ['n' => \count($phones)]),
            new Message('No configuration file is served until the time zone is set, because phones would show the wrong time.'),
            new Message('Set the time zone of the site on the page Brief.'),
        );
    }
}
