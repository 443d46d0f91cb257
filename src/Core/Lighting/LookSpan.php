<?php

declare(strict_types=1);

namespace Vorhut\Core\Lighting;

use Vorhut\Core\Text\Message;

/** The active scene for a period, and its source. */
final readonly class LookSpan implements \JsonSerializable
{
    /** @param int|null $scene null for live control, 0 for dark */
    public function __construct(public float $from, public ?int $scene, public string $look, public Message $why)
    {
    }

    /** @return array<string, mixed> */
    public function jsonSerialize(): array
    {
        return ['from' => $this->from, 'scene' => $this->scene, 'look' => $this->look, 'why' => $this->why];
    }
}
