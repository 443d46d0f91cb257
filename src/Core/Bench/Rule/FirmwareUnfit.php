<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Text\Message;

/** A firmware that something is known against, that is too old, or that is another than was wanted. */
final class FirmwareUnfit implements Rule
{
    public function find(RuleContext $context): iterable
    {
        foreach ($context->plan->devices as $device) {
            $rules = $device->kind->firmware;
            $firmware = $device->setting('firmware');
            $version = null === $rules ? null : $firmware->seen ?? $firmware->set;
            if (null === $rules || null === $version || '' === $version) {
                continue;
            }
            $against = $rules->against($version);
            if (null === $against && !$rules->isTooOld($version)) {
                continue;
            }
            $at = [
                'tag' => $device->tag,
                'version' => $version,
                'least' => $rules->least ?? '',
                'feature' => new Message($against ?? ''),
            ];
            yield new Finding(
                'firmware-unfit',
                null === $against ? Severity::Risk : Severity::Blocks,
                Stage::Devices,
                ['devices/'.$device->key],
                new Message('{tag} has firmware {version}.', $at),
                null === $against
                    ? new Message('This kind of device needs {least} or later.', $at)
                    : new Message('Known problem of that version: {feature}.', $at),
                new Message('Install another version, restart {tag}, and read the version again.', $at),
            );
        }
    }
}
