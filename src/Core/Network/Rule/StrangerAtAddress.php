<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Net\Mac;
use Vorhut\Core\Text\Message;

/** Another device answers at the address of a device: it was found when the device was read, and was sent no password. */
final class StrangerAtAddress implements Rule
{
    public function find(RuleContext $context): iterable
    {
        foreach ($context->nics() as [$device, $nic]) {
            $mac = Mac::tryFromString($nic->setting('address')->odd ?? '');
            if (null === $mac) {
                continue;
            }
            $at = ['tag' => $device->tag, 'mac' => (string) $mac];
            foreach ($context->plan->devices as $other) {
                foreach ($other->nics as $one) {
                    if (true === $one->mac?->equals($mac)) {
                        $at['other'] = $other->tag;
                    }
                }
            }
            yield new Finding(
                'stranger-at-address',
                Severity::Blocks,
                Stage::Proof,
                [$device->record(), $nic->record()],
                isset($at['other'])
                    ? new Message('{other} ({mac}) has the address of {tag}.', $at)
                    : new Message('An unknown device, {mac}, has the address of {tag}.', $at),
                new Message('Tests at that address do not reach {tag}. No password was sent.', $at),
                new Message('Find the device with MAC {mac}, change its address, and read {tag} again.', $at),
            );
        }
    }
}
