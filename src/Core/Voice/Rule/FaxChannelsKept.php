<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Text\Message;

/** So many channels of a fax server are kept for one way that none is left for the other. */
final class FaxChannelsKept implements Rule
{
    public function find(RuleContext $context): iterable
    {
        foreach ($context->plan->devices as $device) {
            if (null !== $device->kind->setting('channels')) {
                foreach ([
                    'keptForSending' => true,
                    'keptForReceiving' => false,
                ] as $name => $sends) {
                    $channels = self::number($device, 'channels');
                    $kept = self::number($device, $name);
                    if (0 === $kept || $kept < $channels) {
                        continue;
                    }
                    $at = ['tag' => $device->tag, 'kept' => $kept, 'n' => $channels];
                    yield new Finding(
                        'fax-channels-kept',
                        Severity::Blocks,
                        Stage::Services,
                        [$device->record()],
                        $sends
                            ? new Message('{tag} reserves {kept} of {n} channels for sending: none is left for incoming faxes.', $at)
                            : new Message('{tag} reserves {kept} of {n} channels for receiving: none is left for outgoing faxes.', $at),
                        new Message('Faxes in this direction always get a busy tone.'),
                        new Message('Reserve fewer channels than {tag} has.', $at),
                        null,
                        $name,
                    );
                }
            }
        }
    }

    private static function number(Device $device, string $name): int
    {
        return null === $device->kind->setting($name) ? 0 : (int) ($device->setting($name)->effective(Face::Set) ?? 0);
    }
}
