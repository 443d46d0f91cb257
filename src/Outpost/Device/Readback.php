<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Device;

use Vorhut\Core\Net\Mac;

/** What a device said of itself, and whose password it took for that. */
final readonly class Readback
{
    /**
     * @param array<string, string> $seen local name of a setting → value
     * @param string                $took `admin`, `label` or `factory`; '' where none was asked for
     * @param Mac|null              $stranger who holds its address instead of it
     */
    public function __construct(public array $seen, public string $took, public ?Mac $stranger = null)
    {
    }
}
