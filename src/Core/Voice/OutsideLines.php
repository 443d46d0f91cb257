<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice;

use Vorhut\Core\Plan\Plan;

/** Calls outside at once at one PBX: as many as its phones ask for by the plain share, and as many as its trunks carry. */
final readonly class OutsideLines
{
    private function __construct(public int $phones, public int $share, public int $channels)
    {
    }

    /** @return array<string, self> PBX with a trunk that leaves the site → its lines */
    public static function of(Plan $plan): array
    {
        $channels = $phones = [];
        foreach ($plan->trunks as $trunk) {
            if (null === $trunk->far) {
                $channels[$trunk->pbx] = ($channels[$trunk->pbx] ?? 0) + ($trunk->channels ?? 0);
            }
        }
        foreach ($plan->extensions as $extension) {
            if (null !== $extension->phone) {
                $phones[$extension->pbx ?? ''] = ($phones[$extension->pbx ?? ''] ?? 0) + 1;
            }
        }
        $lines = [];
        foreach ($channels as $pbx => $n) {
            $lines[$pbx] = new self($phones[$pbx] ?? 0, Traffic::byShare($phones[$pbx] ?? 0), $n);
        }

        return $lines;
    }

    public function isEnough(): bool
    {
        return $this->channels >= $this->share;
    }
}
