<?php

declare(strict_types=1);

namespace Vorhut\Core\Kind;

/** One step of a kind's run sheet: hands-on and waiting time in seconds. */
final readonly class Step
{
    /**
     * @param list<string> $values  what is to be typed, ready to copy: names of faced fields or `mac`, `serial`, `password`, `url`
     * @param list<string> $records faced fields that are *set* once this step is done
     */
    public function __construct(
        public string $code,
        public string $do,
        public string $see,
        public int $hands,
        public int $wait,
        public array $values,
        public array $records,
        public ?string $caution,
        public bool $keypad,
    ) {
    }
}
