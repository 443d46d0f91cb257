<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench;

use Vorhut\Core\Net\Mac;
use Vorhut\Core\Net\Malformed;

/** A text as it is typed on a twelve-key pad, with the fewest presses. */
final readonly class Keypad implements \JsonSerializable
{
    /** @param list<KeyGroup> $groups */
    private function __construct(public string $text, public string $profile, public array $groups, public int $presses, public int $pauses)
    {
    }

    /**
     * The cheapest way through the modes, character by character: presses first, then pauses. The mode that needs fewer changes wins
     * a tie, so that the sheet is the same every time.
     *
     * @throws Malformed for a character that the pad does not have
     */
    public static function of(string $text, KeypadProfile $profile): self
    {
        $modes = \count($profile->modes);
        // state: mode => [presses, pauses, groups, last key]
        $states = [0 => [0, 0, [], '']];
        foreach (mb_str_split($text) as $character) {
            $next = [];
            foreach ($states as $mode => [$presses, $pauses, $groups, $last]) {
                for ($turns = 0; $turns < $modes; ++$turns) {
                    $into = ($mode + $turns) % $modes;
                    [$key, $times] = self::find($profile->modes[$into], $character) ?? [null, 0];
                    if (null === $key) {
                        continue;
                    }
                    $more = $groups;
                    if ($turns > 0) {
                        $more[] = KeyGroup::mode($turns, $profile->names[$into]);
                    }
                    // The same key again would count on as the next letter; a key with one character has no next.
                    $wait = 0 === $turns && $key === $last && mb_strlen($profile->modes[$into][$key]) > 1;
                    if ($wait) {
                        $more[] = KeyGroup::pause();
                    }
                    $more[] = KeyGroup::press($key, $times, $character);
                    $cost = [$presses + $turns + $times, $pauses + ($wait ? 1 : 0)];
                    if (!isset($next[$into]) || $cost < [$next[$into][0], $next[$into][1]]) {
                        $next[$into] = [$cost[0], $cost[1], $more, $key];
                    }
                }
            }
            if ([] === $next) {
                throw Malformed::because('This keypad has no key for "{character}".', ['character' => $character]);
            }
            $states = $next;
        }
        usort($states, static fn (array $a, array $b): int => [$a[0], $a[1]] <=> [$b[0], $b[1]]);
        [$presses, $pauses, $groups] = $states[0];

        return new self($text, $profile->name, $groups, $presses, $pauses);
    }

    /**
     * The shortest of the texts that mean the same to the device: a MAC without separators, a URL without its scheme.
     */
    public static function shortest(string $text, KeypadProfile $profile): self
    {
        $best = null;
        foreach (self::equals($text) as $equal) {
            try {
                $typed = self::of($equal, $profile);
            } catch (Malformed) {
                continue;
            }
            if (null === $best || [$typed->presses, $typed->pauses] < [$best->presses, $best->pauses]) {
                $best = $typed;
            }
        }

        return $best ?? self::of($text, $profile);
    }

    /** @return list<string> */
    public static function equals(string $text): array
    {
        $mac = Mac::tryFromString($text);
        if (null !== $mac) {
            return [$mac->digits, $mac->format(':'), $mac->format('-')];
        }
        if (1 === preg_match('~^http://(.+?)/?$~', $text, $found)) {
            return [$found[1], $text];
        }

        return [$text];
    }

    public function __toString(): string
    {
        return implode(' · ', array_map(strval(...), $this->groups));
    }

    /** @return array<string, mixed> */
    public function jsonSerialize(): array
    {
        return [
            'text' => $this->text,
            'profile' => $this->profile,
            'presses' => $this->presses,
            'pauses' => $this->pauses,
            'groups' => $this->groups,
        ];
    }

    /**
     * @param array<int|string, string> $keys
     *
     * @return array{string, int}|null
     */
    private static function find(array $keys, string $character): ?array
    {
        foreach ($keys as $key => $characters) {
            $at = mb_strpos($characters, $character);
            if (false !== $at) {
                return [(string) $key, $at + 1];
            }
        }

        return null;
    }
}
