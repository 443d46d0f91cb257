<?php

declare(strict_types=1);

namespace Vorhut\Application;

use Vorhut\Core\Text\Message;

/** What became of a mark that was made without a connection. */
final readonly class OfflineAnswer
{
    /**
     * @param string       $id          of the mark, as the browser named it
     * @param Message|null $why         why it is not stored; null where it is, now or before
     * @param bool         $contradicts whether another person marked the step, so that the technician decides whose mark counts; any other
     *                                  refusal is answered by a new mark, or by dropping this one
     */
    private function __construct(public string $id, public ?Message $why, public bool $contradicts)
    {
    }

    public static function stored(OfflineMark $mark): self
    {
        return new self($mark->id, null, false);
    }

    public static function refused(OfflineMark $mark, Message $why): self
    {
        return new self($mark->id, $why, false);
    }

    public static function contradicted(OfflineMark $mark, Message $why): self
    {
        return new self($mark->id, $why, true);
    }
}
