<?php

declare(strict_types=1);

namespace Vorhut\Core\Media;

/** What one link carries one way, against what may be used of it. All in Mbit/s. */
final readonly class LinkLoad implements \JsonSerializable
{
    public float $sum;
    public float $usable;

    /**
     * @param string                                             $key   cable and end
     * @param string                                             $from  tag
     * @param float                                              $mbps  of the link
     * @param list<array{name: string, mbps: float, ref: string}> $parts the largest first; `ref` is empty for anything but a stream
     * @param bool                                               $assumed its speed is not set
     */
    private function __construct(
        public string $key,
        public string $cable,
        public string $from,
        public string $to,
        public float $mbps,
        public array $parts,
        public Headroom $headroom,
        public bool $assumed,
    ) {
        $this->sum = array_sum(array_column($parts, 'mbps'));
        $this->usable = $headroom->usable($mbps);
    }

    /** @param list<array{name: string, mbps: float, ref: string}> $parts */
    public static function of(LinkHop $hop, string $from, string $to, array $parts, Headroom $headroom): self
    {
        return self::create(
            $hop->key(),
            $hop->cable->key,
            $from,
            $to,
            (float) ($hop->cable->mbps ?? Cabling::USUAL_MBPS),
            $parts,
            $headroom,
            null === $hop->cable->mbps,
        );
    }

    /**
     * One link by itself, as calculated on paper.
     *
     * @param list<array{name: string, mbps: float, ref: string}> $parts
     */
    public static function ofSingleLink(float $mbps, array $parts, Headroom $headroom): self
    {
        return self::create('', '', '', '', $mbps, $parts, $headroom, false);
    }

    /** @param list<array{name: string, mbps: float, ref: string}> $parts */
    private static function create(
        string $key,
        string $cable,
        string $from,
        string $to,
        float $mbps,
        array $parts,
        Headroom $headroom,
        bool $assumed,
    ): self {
        usort($parts, static fn (array $a, array $b): int => [$b['mbps'], $a['name']] <=> [$a['mbps'], $b['name']]);

        return new self($key, $cable, $from, $to, $mbps, $parts, $headroom, $assumed);
    }

    /** What may still come; below zero where it is over. */
    public function free(): float
    {
        return $this->usable - $this->sum;
    }

    public function share(): float
    {
        return $this->mbps > 0 ? $this->sum / $this->mbps : 0.0;
    }

    /** More than the capacity of the link: packets are lost. */
    public function isFull(): bool
    {
        return $this->sum > $this->mbps + 1e-6;
    }

    /** More than was to be used of it. */
    public function isOver(): bool
    {
        return $this->sum > $this->usable + 1e-6;
    }

    /** Calls and control traffic need no drawing. */
    /** @return list<string> records of the streams that it carries */
    public function streams(): array
    {
        return array_values(array_diff(array_column($this->parts, 'ref'), ['']));
    }

    public function carriesStreams(): bool
    {
        return [] !== $this->streams();
    }

    /** How many more of so much each fit. */
    public function more(float $mbps): int
    {
        return $mbps <= 0 ? 0 : max(0, (int) floor(($this->free() + 1e-6) / $mbps));
    }

    /**
     * The first of them, the smallest added first, that does not fit any more.
     *
     * @return array{name: string, mbps: float, ref: string}|null
     */
    public function firstOver(): ?array
    {
        $sum = 0.0;
        foreach (array_reverse($this->parts) as $part) {
            $sum += $part['mbps'];
            if ($sum > $this->usable + 1e-6) {
                return $part;
            }
        }

        return null;
    }

    /** The same link with something more on it. */
    public function with(string $name, float $mbps): self
    {
        return self::create(
            $this->key,
            $this->cable,
            $this->from,
            $this->to,
            $this->mbps,
            [...$this->parts, ['name' => $name, 'mbps' => $mbps, 'ref' => '']],
            $this->headroom,
            $this->assumed,
        );
    }

    /** @return array<string, mixed> */
    public function jsonSerialize(): array
    {
        return [
            'from' => $this->from,
            'to' => $this->to,
            'mbps' => $this->mbps,
            'assumed' => $this->assumed,
            'keep' => $this->headroom->percent,
            'usable' => round($this->usable, 3),
            'sum' => round($this->sum, 3),
            'free' => round($this->free(), 3),
            'over' => $this->isOver(),
            'parts' => array_map(static fn (array $part): array => [...$part, 'mbps' => round($part['mbps'], 3)], $this->parts),
        ];
    }
}
