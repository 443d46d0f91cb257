<?php

declare(strict_types=1);

namespace Vorhut\Core\Media;

/** The latency of audio: samples in buffers and plug-ins, then network hops. */
final readonly class Latency implements \JsonSerializable
{
    private function __construct(public int $samples, public float $milliseconds)
    {
    }

    /**
     * @param int         $rate    samples a second
     * @param list<int>   $samples of each buffer and plug-in
     * @param list<float> $hops    ms of each hop of the network
     */
    public static function of(int $rate, array $samples, array $hops = []): self
    {
        $sum = array_sum($samples);

        return new self($sum, $sum / $rate * 1000 + array_sum($hops));
    }

    /** @return array<string, mixed> */
    public function jsonSerialize(): array
    {
        return ['samples' => $this->samples, 'ms' => round($this->milliseconds, 3)];
    }
}
