<?php

declare(strict_types=1);

namespace Vorhut\Provisioning;

use Vorhut\Core\Plan\Device;

/** Phones that took a file, by whether it still says what it said. */
final readonly class FreshFiles
{
    /**
     * @param array<string, Device> $fresh
     * @param array<string, Device> $old
     * @param bool                  $isKnown the present files exist; without them nothing can be compared
     */
    public function __construct(public array $fresh, public array $old, public bool $isKnown)
    {
    }

    /** @return array<string, Device> of the old ones those that can be told by their page to take it again */
    public function refetchable(): array
    {
        return array_filter($this->old, static fn (Device $one): bool => null !== $one->kind->admin?->refetch);
    }

    /** @return array<string, Device> those of the old devices that a person has to restart */
    public function byHand(): array
    {
        return array_diff_key($this->old, $this->refetchable());
    }
}
