<?php

declare(strict_types=1);

namespace Vorhut\Core\Power;

use Vorhut\Core\Catalogue\PoeClass;
use Vorhut\Core\Plan\Cable;
use Vorhut\Core\Plan\Device;

/** One device that a switch feeds. */
final readonly class PoeLoad implements \JsonSerializable
{
    /**
     * @param float      $watts   at the device, at most
     * @param int        $metres  of its cable; the longest permitted if not measured
     * @param bool       $assumed not measured
     * @param float|null $draw    watts at the port while it works; null where it cannot be fed at that length
     * @param float      $peak    watts at the port while it starts: all that its class may take
     * @param float      $counted watts that the switch sets aside for it
     * @param int        $longest metres at which it could still be fed
     */
    public function __construct(
        public Device $device,
        public Cable $cable,
        public PoeClass $class,
        public float $watts,
        public int $metres,
        public bool $assumed,
        public ?float $draw,
        public float $peak,
        public float $counted,
        public int $longest,
    ) {
    }

    public function isFed(): bool
    {
        return null !== $this->draw && $this->metres <= $this->longest;
    }

    /** @return array<string, mixed> */
    public function jsonSerialize(): array
    {
        return [
            'device' => $this->device->tag,
            'port' => $this->cable->port,
            'class' => $this->class->value,
            'metres' => $this->metres,
            'assumed' => $this->assumed,
            'watts' => $this->watts,
            'draw' => null === $this->draw ? null : round($this->draw, 2),
            'counted' => round($this->counted, 2),
            'longest' => $this->longest,
        ];
    }
}
