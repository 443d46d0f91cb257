<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench;

/**
 * What the twelve keys of a device give in each of its modes. Letters as ITU-T E.161: 2 abc, 3 def, 4 ghi, 5 jkl, 6 mno, 7 pqrs, 8
 * tuv, 9 wxyz.
 */
final readonly class KeypadProfile
{
    private const LETTERS = [
        '2' => 'abc',
        '3' => 'def',
        '4' => 'ghi',
        '5' => 'jkl',
        '6' => 'mno',
        '7' => 'pqrs',
        '8' => 'tuv',
        '9' => 'wxyz',
    ];

    /**
     * @param list<array<string, string>> $modes mode → key → characters, the nth by n presses; the first mode is the one it starts
     *     in, one mode key cycles
     * @param list<string>                $names of the modes
     */
    private function __construct(public string $name, public array $modes, public array $names)
    {
    }

    /** @return list<string> */
    public static function names(): array
    {
        return ['mode-key', 'letters-first'];
    }

    public static function find(string $name): ?self
    {
        $digits = array_combine(array_map(strval(...), range(0, 9)), array_map(strval(...), range(0, 9)));
        $symbols = ['*' => '.-_', '#' => '/:@'];
        $upper = array_map(strtoupper(...), self::LETTERS);

        return match ($name) {
            // One mode key cycles digits, lower, upper; it starts in digits.
            'mode-key' => new self(
                $name,
                [self::keys($digits, $symbols), self::keys(self::LETTERS, $symbols), self::keys($upper, $symbols)],
                ['digits', 'lower', 'upper'],
            ),
            // Starts in lower case; the digit follows the letters of its key.
            'letters-first' => new self($name, [
                self::keys(self::withDigits(self::LETTERS), ['0' => '0', '1' => '.-_1', '*' => '*', '#' => '/:@#']),
                self::keys(self::withDigits($upper), ['0' => '0', '1' => '.-_1', '*' => '*', '#' => '/:@#']),
            ], ['lower', 'upper']),
            default => null,
        };
    }

    /**
     * @param array<int|string, string> $keys
     * @param array<int|string, string> $more
     *
     * @return array<string, string>
     */
    private static function keys(array $keys, array $more): array
    {
        $all = [];
        foreach ([$keys, $more] as $some) {
            foreach ($some as $key => $characters) {
                $all[(string) $key] = $characters;
            }
        }

        return $all;
    }

    /**
     * @param array<int|string, string> $letters
     *
     * @return array<int|string, string>
     */
    private static function withDigits(array $letters): array
    {
        $all = [];
        foreach ($letters as $key => $characters) {
            $all[$key] = $characters.$key;
        }

        return $all;
    }
}
