<?php

declare(strict_types=1);

namespace Vorhut\Core\Media;

use Vorhut\Core\Plan\Plan;

/** The outbound streams of a site against its measured upload rate, never against the rate in the contract. */
final readonly class Uplink implements \JsonSerializable
{
    /** Repeats and swings of a rate ask for a quarter more. */
    private const ROOM = 1.25;
    private const FIXED = 0.75;
    private const MOBILE = 0.5;

    private function __construct(public float $pushed, public ?float $measured, public bool $mobile)
    {
    }

    /** @param float $pushed Mbit/s */
    public static function of(Plan $plan, float $pushed): self
    {
        $kbit = $plan->job->int('uplinkKbit', 0);

        return new self($pushed, 0 === $kbit ? null : $kbit / 1000, $plan->job->bool('uplinkMobile'));
    }

    public static function fromMeasurement(float $pushed, float $measured, bool $mobile): self
    {
        return new self($pushed, $measured, $mobile);
    }

    /** Mbit/s that the streams ask for. */
    public function demand(): float
    {
        return $this->pushed * self::ROOM;
    }

    /** usable Mbit/s; null if not measured */
    public function usable(): ?float
    {
        return null === $this->measured ? null : $this->measured * ($this->mobile ? self::MOBILE : self::FIXED);
    }

    public function holds(): ?bool
    {
        $usable = $this->usable();

        return null === $usable ? null : $this->demand() <= $usable + 1e-6;
    }

    /** @return array<string, mixed> */
    public function jsonSerialize(): array
    {
        return [
            'pushed' => round($this->pushed, 3),
            'asked' => round($this->demand(), 3),
            'measured' => $this->measured,
            'usable' => $this->usable(),
            'holds' => $this->holds(),
        ];
    }
}
