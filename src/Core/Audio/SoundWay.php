<?php

declare(strict_types=1);

namespace Vorhut\Core\Audio;

use Vorhut\Core\Media\Latency;
use Vorhut\Core\Plan\SoundPatch;

/** Consecutive channels on their whole path: from the input through each processor to the output. */
final readonly class SoundWay implements \JsonSerializable
{
    /**
     * @param non-empty-list<array{tag: string, device: string, first: int}> $stations each with its first channel
     * @param int              $count   channels in a row
     * @param list<SoundPatch> $patches one from each station to the next
     * @param bool             $ends    somewhere else than inside a processor, and not in a circle
     * @param int|null         $most    maximum latency in ms; null if not set
     */
    public function __construct(
        public array $stations,
        public int $count,
        public array $patches,
        public bool $ends,
        public Latency $latency,
        public ?int $most,
    ) {
    }

    public function isLate(): bool
    {
        return null !== $this->most && $this->latency->milliseconds > $this->most;
    }

    public function name(): string
    {
        return $this->patches[0]->name ?? '';
    }

    public function __toString(): string
    {
        return implode(' → ', array_map(
            fn (array $one): string => $one['tag'].' '.SoundPatch::span($one['first'], $this->count),
            $this->stations,
        ));
    }

    /** @return array<string, mixed> */
    public function jsonSerialize(): array
    {
        return [
            'name' => $this->name(),
            'way' => array_map(
                fn (array $one): array => ['tag' => $one['tag'], 'channels' => SoundPatch::span($one['first'], $this->count)],
                $this->stations,
            ),
            'channels' => $this->count,
            'ends' => $this->ends,
            'latency' => $this->latency,
            'mostMs' => $this->most,
        ];
    }
}
