<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice\Dialling;

use Vorhut\Core\Net\Malformed;

/**
 * A digit map (RFC 3435 §2.1.5): digits, `x` any digit, `[1-7]` one of, `.` zero or more of the one before, `T` the timer, `|`
 * alternatives.
 *
 * Held as alternatives of positions; a state of the match is the set of positions reached, as in any non-deterministic automaton.
 *
 * @phpstan-type Position array{letters: string, repeats: bool}
 */
final readonly class DigitMap implements \Stringable
{
    private const LETTERS = '0123456789*#ABCD';
    /**
     * A digit map as users type it has a few alternatives; one built to be expensive is refused, and a search that grows too long is
     * stopped.
     */
    private const LONGEST = 400;
    private const PAIRS = 20_000;
    /** Few ways into a state are enough for nearly every map; more are tried where those were rejected. */
    private const EXAMPLES = [1, 3, 64];

    /** @param list<array{positions: list<Position>, timer: bool}> $alternatives */
    private function __construct(public string $text, private array $alternatives)
    {
    }

    /** @throws Malformed naming the part that is not allowed there */
    public static function fromString(string $text): self
    {
        if (\strlen($text) > self::LONGEST) {
            throw Malformed::because('A digit map has at most [n letter|letters]; this one has more.', ['n' => self::LONGEST]);
        }
        $alternatives = [];
        // Parentheses stand around all of it or not at all (RFC 3435 §2.1.5): they say nothing, and are not kept.
        $text = trim($text, "() \t");
        foreach (explode('|', $text) as $part) {
            if (1 !== preg_match('/^(?:(?:[0-9*#A-D]|x|\[[0-9*#A-D-]+\])\.?)+T?$/D', $part)) {
                throw Malformed::because(
                    '"{part}" is not a digit map: digits, x, [1-7], a dot behind one of them, T at the end, | between.',
                    ['part' => $part],
                );
            }
            preg_match_all('/([0-9*#A-D]|x|\[[^\]]+\])(\.?)/', $part, $found, \PREG_SET_ORDER);
            $positions = array_map(
                static fn (array $one): array => ['letters' => self::letters($one[1]), 'repeats' => '.' === $one[2]],
                $found,
            );
            $alternatives[] = ['positions' => $positions, 'timer' => str_ends_with($part, 'T')];
        }

        return new self($text, $alternatives);
    }

    /** @return string full, partial or none; a full match with a timer is full once it runs out */
    public function match(string $digits): string
    {
        $full = $partial = false;
        foreach ($this->alternatives as $alternative) {
            $states = self::closure($alternative['positions'], [0]);
            foreach (mb_str_split($digits) as $letter) {
                $states = self::step($alternative['positions'], $states, $letter);
            }
            $full = $full || \in_array(\count($alternative['positions']), $states, true);
            $partial = $partial || [] !== $states;
        }

        return match (true) {
            $full => 'full',
            $partial => 'partial',
            default => 'none',
        };
    }

    /** Whether a full match may still go on, so that the timer decides when dialling is over. */
    public function waitsForTimer(string $digits): bool
    {
        foreach ($this->alternatives as $alternative) {
            if ($alternative['timer'] && 'full' === (new self($this->text, [$alternative]))->match($digits)) {
                return true;
            }
        }

        return false;
    }

    /** Whether digits that match fully may go on and still match. */
    public function goesOn(string $digits): bool
    {
        foreach (str_split(self::LETTERS) as $letter) {
            if ('none' !== $this->match($digits.$letter)) {
                return true;
            }
        }

        return false;
    }

    /** Whether everything that the other map takes is taken by this one too: standing first, it leaves the other nothing. */
    public function shadows(self $other): bool
    {
        return null === $this->search($other, static fn (bool $mine, bool $theirs): bool => $theirs && !$mine);
    }

    /** The shortest digits that both take; null where there are none. */
    public function common(self $other): ?string
    {
        $found = $this->search($other, static fn (bool $mine, bool $theirs): bool => $theirs && $mine);

        return '' === $found ? null : $found;
    }

    /**
     * The shortest digits that it takes and that a test may use.
     *
     * @param (\Closure(string): bool)|null $mayUse rejects single digit strings, such as emergency numbers; null accepts all
     *
     * @return string empty where there are none
     */
    public function example(?\Closure $mayUse = null): string
    {
        if (null === $mayUse) {
            return $this->common($this) ?? '';
        }
        foreach (self::EXAMPLES as $visits) {
            $found = $this->firstOf($mayUse, $visits);
            if ('' !== $found) {
                return $found;
            }
        }

        return '';
    }

    /**
     * @param \Closure(string): bool $mayUse
     * @param int                    $most   ways into one state that are followed: the first digits that lead there may be rejected
     */
    private function firstOf(\Closure $mayUse, int $most): string
    {
        $visits = [];
        $queue = [[$this->start(), '']];
        for ($i = 0; isset($queue[$i]) && $i <= self::PAIRS; ++$i) {
            [$states, $digits] = $queue[$i];
            unset($queue[$i]);
            if ('' !== $digits && $this->accepts($states) && $mayUse($digits)) {
                return $digits;
            }
            foreach (str_split(self::LETTERS) as $letter) {
                $next = $this->all($states, $letter);
                $key = serialize($next);
                $visits[$key] = ($visits[$key] ?? 0) + 1;
                if ([] !== array_filter($next) && $visits[$key] <= $most) {
                    $queue[] = [$next, $digits.$letter];
                }
            }
        }

        return '';
    }

    /**
     * Walks the pairs of state sets of both, shortest digits first, until one is wanted; there are few.
     *
     * @param \Closure(bool, bool): bool $wanted whether this one takes the digits, whether the other does
     *
     * @return string|null the digits; empty where the search was given up
     */
    private function search(self $other, \Closure $wanted): ?string
    {
        $seen = [];
        $queue = [[$this->start(), $other->start(), '']];
        for ($i = 0; isset($queue[$i]); ++$i) {
            [$mine, $theirs, $digits] = $queue[$i];
            unset($queue[$i]);
            if ($i > self::PAIRS) {
                return '';
            }
            if ('' !== $digits && $wanted($this->accepts($mine), $other->accepts($theirs))) {
                return $digits;
            }
            foreach (str_split(self::LETTERS) as $letter) {
                $next = $other->all($theirs, $letter);
                if ([] !== array_filter($next)) {
                    $there = $this->all($mine, $letter);
                    $key = serialize([$there, $next]);
                    if (!isset($seen[$key])) {
                        $queue[] = [$there, $next, $digits.$letter];
                    }
                    $seen[$key] = true;
                }
            }
        }

        return null;
    }

    public function __toString(): string
    {
        return $this->text;
    }

    /** @return list<list<int>> one set of positions for each alternative */
    private function start(): array
    {
        return array_map(static fn (array $alternative): array => self::closure($alternative['positions'], [0]), $this->alternatives);
    }

    /**
     * @param list<list<int>> $states
     *
     * @return list<list<int>>
     */
    private function all(array $states, string $letter): array
    {
        return array_map(
            fn (array $set, int $i): array => self::step($this->alternatives[$i]['positions'], $set, $letter),
            $states,
            array_keys($states),
        );
    }

    /** @param list<list<int>> $states */
    private function accepts(array $states): bool
    {
        foreach ($states as $i => $set) {
            if (\in_array(\count($this->alternatives[$i]['positions']), $set, true)) {
                return true;
            }
        }

        return false;
    }

    /**
     * @param list<Position> $positions
     * @param list<int>      $states
     *
     * @return list<int>
     */
    private static function step(array $positions, array $states, string $letter): array
    {
        $next = [];
        foreach ($states as $at) {
            if (isset($positions[$at]) && str_contains($positions[$at]['letters'], $letter)) {
                $next[] = $positions[$at]['repeats'] ? $at : $at + 1;
            }
        }

        return self::closure($positions, $next);
    }

    /**
     * What repeats may also be passed over.
     *
     * @param list<Position> $positions
     * @param list<int>      $states
     *
     * @return list<int>
     */
    private static function closure(array $positions, array $states): array
    {
        $reached = [];
        foreach ($states as $at) {
            $reached[$at] = true;
            while (isset($positions[$at]) && $positions[$at]['repeats']) {
                $reached[++$at] = true;
            }
        }
        ksort($reached);

        return array_keys($reached);
    }

    private static function letters(string $token): string
    {
        if ('x' === $token) {
            return '0123456789';
        }
        if ('[' !== $token[0]) {
            return $token;
        }
        $letters = '';
        $inner = substr($token, 1, -1);
        for ($i = 0; $i < \strlen($inner); ++$i) {
            if ('-' === ($inner[$i + 1] ?? '') && isset($inner[$i + 2])) {
                $letters .= implode('', array_map(strval(...), range($inner[$i], $inner[$i + 2])));
                $i += 2;
            } else {
                $letters .= $inner[$i];
            }
        }

        return $letters;
    }
}
