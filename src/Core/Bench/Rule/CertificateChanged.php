<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Text\Message;

/**
 * A device with a self-signed certificate is recognised by it: another certificate than on first contact means another device until a
 * person confirms it.
 */
final class CertificateChanged implements Rule
{
    /** The setting that keeps the fingerprint of first sight. */
    public const SETTING = 'certificate';
    private const SHOWN = 16;

    public function find(RuleContext $context): iterable
    {
        foreach ($context->slots() as [$device, $slot]) {
            $other = $slot->value->odd;
            if (self::SETTING !== $slot->setting->name || null === $other || null === $slot->value->seen) {
                continue;
            }
            $at = [
                'tag' => $device->tag,
                'first' => substr($slot->value->seen, 0, self::SHOWN),
                'now' => substr($other, 0, self::SHOWN),
            ];
            yield new Finding(
                'certificate-changed',
                Severity::Risk,
                Stage::Proof,
                [$device->record()],
                new Message('{tag} shows a different certificate than at first contact: {now}… instead of {first}….', $at),
                new Message(
                    'The device was reset or replaced, or another device answers at its address. No password has been sent to it since.',
                ),
                new Message('Check {tag} on site. If it is the same device after a reset, accept the new certificate.', $at),
                new Change(new Message('{tag}: the new certificate was accepted.', $at), [
                    Edit::setting($slot->ref, Face::Seen, $slot->value->seen, $other),
                    Edit::put('settings', (string) $slot->ref, 'odd', $other, null),
                ]),
                $slot->local,
                button: new Message('Accept the new certificate of {tag}.', $at),
            );
        }
    }
}
