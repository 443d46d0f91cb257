<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

use Vorhut\Core\Net\Malformed;

/** Slots for modules: what a socket of a slot is follows from the module in it. */
final readonly class ModuleSlots
{
    /**
     * @param string                      $setting the setting, one an item, that says which module is in which slot
     * @param array<string, list<string>> $gives   module → what each of its sockets is
     * @param array<string, string>       $counts  setting → what it is the number of
     */
    public function __construct(public string $setting, public array $gives, public array $counts = [])
    {
    }

    /** @throws Malformed */
    public static function read(Reading $read): self
    {
        $gives = [];
        foreach ($read->children('gives') as $module => $sockets) {
            $gives[$module] = array_values(array_map(
                static fn (mixed $one): string => \is_scalar($one) ? (string) $one : '',
                $sockets->data(),
            ));
        }

        return new self($read->requireText('setting'), $gives, $read->map('counts'));
    }

    /**
     * How many sockets are what, with these modules in the slots.
     *
     * @param list<string> $modules
     */
    public function count(string $what, array $modules): int
    {
        $count = 0;
        foreach ($modules as $module) {
            $count += \count(array_keys($this->gives[$module] ?? [], $what, true));
        }

        return $count;
    }
}
