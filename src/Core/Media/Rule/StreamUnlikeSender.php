<?php

declare(strict_types=1);

namespace Vorhut\Core\Media\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Stream;
use Vorhut\Core\Text\Message;

/** A stream is planned with another picture size or frame rate than its sender is set to. */
final class StreamUnlikeSender implements Rule
{
    public function find(RuleContext $context): iterable
    {
        foreach ($context->plan->streams as $stream) {
            $sender = $context->plan->devices[$stream->sender] ?? null;
            if (null === $sender) {
                continue;
            }
            $size = null === $stream->width || null === $stream->height ? null : $stream->width.'x'.$stream->height;
            yield from self::compare($stream, $sender, 'size', $size, '');
            $rate = null === $stream->frameRate ? null : (string) $stream->frameRate;
            yield from self::compare($stream, $sender, 'frameRate', $rate, ' fps');
        }
    }

    /** @return iterable<Finding> */
    private static function compare(Stream $stream, Device $sender, string $setting, ?string $planned, string $unit): iterable
    {
        $set = null === $sender->kind->setting($setting) ? null : $sender->setting($setting)->effective(Face::Set);
        if (null === $planned || null === $set || '' === $set || $planned === $set) {
            return;
        }
        $at = ['stream' => $stream->name, 'tag' => $sender->tag, 'planned' => $planned.$unit, 'set' => $set.$unit];
        yield new Finding(
            'stream-unlike-sender',
            Severity::Risk,
            Stage::Services,
            ['streams/'.$stream->key, $sender->record()],
            new Message('{stream} is planned with {planned}, but {tag} sends {set}.', $at),
            new Message('Receivers and links are planned for a different picture.'),
            new Message('Set {tag} to {planned}, or plan {stream} with {set}.', $at),
            null,
            $setting,
        );
    }
}
