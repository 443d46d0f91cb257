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
                    new Message('{tag} sends by {protocol}, but has no destination.', $at),
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
                    new Message('{tag} sends by {protocol}: {reason}', $at + ['reason' => $e->message()]),
                );
                continue;
            }
            if ($url->scheme !== $protocol) {
                yield self::finding(
                    $device,
                    'push-other-protocol',
                    Severity::Blocks,
                    new Message(
                        '{tag} sends by {protocol}, but its URL begins with {scheme}.',
                        $at + ['scheme' => $url->scheme.'://'],
                    ),
                );
            }
            foreach ($url->oddities() as $i => $odd) {
                yield self::finding(
                    $device,
                    'push-odd',
                    Severity::Risk,
                    new Message('{tag} sends to {url}: {reason}', $at + ['url' => (string) $url, 'reason' => $odd]),
                    (string) $i,
                );
            }
            if ($url->hasSecret()) {
                yield self::finding(
                    $device,
                    'push-key-shown',
                    Severity::Risk,
                    new Message('The URL of {tag} contains the stream key, which everyone with access to this job can read.', $at),
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
                ? new Message('Anyone with the key can stream to this channel.')
                : new Message('Viewers get no picture, although the sender reports that it is live.'),
            'push-key-shown' === $code
                ? new Message('Enter the URL without the key, and store the key as a password.')
                : new Message('Compare the URL with that of the platform, letter by letter, also on the admin page of the sender.'),
            null,
            $more,
        );
    }
}
