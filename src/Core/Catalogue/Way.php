<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

/** One way to do a step; which is taken is the technician's choice, the record is the same. Times in seconds. */
final readonly class Way
{
    /**
     * @param list<string> $copies values to have ready: names of settings, or `mac`, `serial`, `factory`, `login`, `url`
     * @param bool         $keypad typed on a twelve-key pad
     * @param int          $window seconds in which the whole sequence must be finished; 0 for no limit
     */
    public function __construct(
        public string $code,
        public string $name,
        public string $do,
        public string $see,
        public int $hands,
        public int $wait,
        public array $copies,
        public bool $keypad,
        public int $window,
    ) {
    }
}
