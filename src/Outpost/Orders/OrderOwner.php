<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Orders;

/** A process that works orders off, told apart from every other: machine, process, and since when, for numbers of processes come again. */
final readonly class OrderOwner implements \Stringable
{
    private function __construct(private string $machine, private int $process, private string $since)
    {
    }

    public static function here(): self
    {
        $process = (int) getmypid();

        return new self(self::machine(), $process, self::since($process) ?? bin2hex(random_bytes(6)));
    }

    public static function tryFromString(string $text): ?self
    {
        return 1 === preg_match('/^([A-Za-z0-9.-]{1,60}) (\d{1,9}) ([0-9a-f]{1,20})$/D', $text, $found)
            ? new self($found[1], (int) $found[2], $found[3])
            : null;
    }

    /** Known to be over: it ran on this machine, and does not any more. Of another machine nothing is known from here. */
    public function isGone(): bool
    {
        return $this->machine === self::machine() && is_dir('/proc/self') && self::since($this->process) !== $this->since;
    }

    public function __toString(): string
    {
        return $this->machine.' '.$this->process.' '.$this->since;
    }

    private static function machine(): string
    {
        $name = preg_replace('/[^A-Za-z0-9.-]/', '-', (string) gethostname()) ?? '';

        return '' === $name ? 'here' : substr($name, 0, 60);
    }

    /** When a process began, in ticks since the machine did (proc(5), field 22); null where there is none. */
    private static function since(int $process): ?string
    {
        $line = @file_get_contents("/proc/$process/stat");
        // The name of a program may hold blanks and brackets; what follows the last one is numbers.
        $fields = false === $line ? [] : explode(' ', substr($line, (int) strrpos($line, ')') + 2));

        return isset($fields[19]) && !\in_array($fields[0], ['Z', 'X'], true) ? dechex((int) $fields[19]) : null;
    }
}
