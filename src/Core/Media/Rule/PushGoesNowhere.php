<?php

declare(strict_types=1);

namespace Vorhut\Core\Media\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Media\StreamUrl;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Text\Message;

/** A sender pushes by one protocol to an address of another, to none at all, with figures in a wrong unit, or shows its key. */
final class PushGoesNowhere implements Rule
{
    public function find(RuleContext $context): iterable
    {
        foreach ($context->plan->devices as $device) {
            if (null === $device->kind->setting('pushUrl')) {
                continue;
            }
            $protocol = strtolower((string) $device->setting('pushProtocol')->effective(Face::Set));
            $text = (string) $device->setting('pushUrl')->effective(Face::Set);
            if ('' === $protocol || 'off' === $protocol) {
                continue;
            }
            $at = ['tag' => $device->tag, 'protocol' => strtoupper($protocol)];
            if ('' === $text) {
                yield self::finding(
                    $device,
                    'push-nowhere',
                    Severity::Risk,
                    new Message('{tag} pushes by {protocol}, and to nowhere.', $at),
                );
                continue;
            }
            try {
                $url = StreamUrl::fromString($text);
            } catch (Malformed $e) {
                yield self::finding(
                    $device,
                    'push-unreadable',
                    Severity::Blocks,
                    new Message('{tag} pushes by {protocol}: {reason}', $at + ['reason' => $e->message()]),
                );
                continue;
            }
            if ($url->scheme !== $protocol) {
                yield self::finding(
                    $device,
                    'push-other-protocol',
                    Severity::Blocks,
                    new Message(
                        '{tag} pushes by {protocol}, and its address begins with {scheme}.',
                        $at + ['scheme' => $url->scheme.'://'],
                    ),
                );
            }
            foreach ($url->oddities() as $i => $odd) {
                yield self::finding(
                    $device,
                    'push-odd',
                    Severity::Risk,
                    new Message('{tag} pushes to {url}: {reason}', $at + ['url' => (string) $url, 'reason' => $odd]),
                    (string) $i,
                );
            }
            if ($url->hasSecret()) {
                yield self::finding(
                    $device,
                    'push-key-shown',
                    Severity::Risk,
                    new Message('The address that {tag} pushes to carries its key, and everybody who reads this job reads it.', $at),
                );
            }
        }
    }

    private static function finding(Device $device, string $code, Severity $severity, Message $what, string $more = ''): Finding
    {
        return new Finding(
            $code,
            $severity,
            Stage::Services,
            [$device->record()],
            $what,
            'push-key-shown' === $code
                ? new Message('Anyone with the key can stream to that channel.')
                : new Message('Viewers get no picture, although the sender reports that it is live.'),
            'push-key-shown' === $code
                ? new Message('Write it without the key, and keep that where passwords are kept.')
                : new Message('Compare it with what the platform gave, letter for letter, and on the page of the sender.'),
            null,
            $more,
        );
    }
}
