<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

/** What a kind has to be touched with: dials, keys held within a time, codes of its remote control. */
final readonly class Panel
{
    /**
     * @param list<string>          $dials settings that are turned, and count only when power comes
     * @param string                $reset the keys that set it back to its factory state, as one would read them out; '' for none
     * @param int                   $within seconds after power in which they count; 0 for at any time
     * @param array<string, string> $codes keys to press → `address`, which shows it
     */
    private function __construct(public array $dials, public string $reset, public int $within, public array $codes)
    {
    }

    public static function read(Reading $read): self
    {
        return new self($read->texts('dials'), $read->text('reset'), (int) $read->text('within', '0'), $read->map('codes'));
    }
}
