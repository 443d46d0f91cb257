<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Text\Message;

/** One host name stands at two devices. */
final class DuplicateHostName implements Rule
{
    public function find(RuleContext $context): iterable
    {
        $pairs = [];
        foreach ($context->plan->devices as $device) {
            $pairs[] = [strtolower($device->setting('hostName')->planned ?? ''), $device];
        }
        foreach (RuleContext::duplicates($pairs) as $name => $devices) {
            yield new Finding(
                'duplicate-host-name',
                Severity::Risk,
                Stage::Devices,
                array_map(static fn ($device): string => 'devices/'.$device->key, $devices),
                new Message('{name} is the host name of {tags}.', [
                    'name' => (string) $name,
                    'tags' => implode(', ', array_map(static fn ($device): string => $device->tag, $devices)),
                ]),
                new Message('The name resolves to only one of them, and you cannot tell which.'),
                new Message('Rename one of them.'),
            );
        }
    }
}
