<?php

declare(strict_types=1);

namespace Vorhut\Lab\Part;

use Vorhut\Lab\Stimulus;

/** A part of a stand-in beyond its services, of one family, fed by the lines of its kind. */
interface Part
{
    /** @return array<string, string> what lamps, screen and status page show of it: a word → how it stands */
    public function shows(): array;

    /** @return string|null why a setting does not take this value now; null where nothing is in the way */
    public function refuses(string $local, string $value): ?string;

    /** @return bool whether it was meant */
    public function feels(Stimulus $touch): bool;
}
