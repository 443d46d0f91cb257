<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice\Dialling;

use Vorhut\Core\Net\Malformed;

/**
 * When something holds: days and hours of the site's own clock, as `mon-fri 8:00-17:00; sat 9:00-12:00; not 2026-12-24`. Days that are
 * excepted win over everything; an end before the start reaches into the next day.
 *
 * @phpstan-type Span array{days: list<int>, from: int, to: int}
 */
final readonly class TimeFrame implements \Stringable
{
    private const DAYS = ['mon' => 1, 'tue' => 2, 'wed' => 3, 'thu' => 4, 'fri' => 5, 'sat' => 6, 'sun' => 7];
    private const MINUTES = 1440;

    /**
     * @param list<Span>   $spans  minutes of a day, the end not in it
     * @param list<string> $except days as 2026-12-24
     */
    private function __construct(private string $text, private array $spans, private array $except)
    {
    }

    /** @throws Malformed naming the part that cannot be read */
    public static function fromString(string $text): self
    {
        $spans = $except = [];
        foreach (preg_split('/[;\r\n]+/', $text) ?: [] as $part) {
            $part = strtolower(trim($part));
            if ('' === $part) {
                continue;
            }
            if (1 === preg_match(
                '/^not\s+(\d{4})-(\d\d)-(\d\d)$/D',
                $part,
                $day,
            ) && checkdate((int) $day[2], (int) $day[3], (int) $day[1])) {
                $except[] = substr($part, -10);
                continue;
            }
            $spans[] = self::span($part);
        }
        if ([] === $spans) {
            throw Malformed::because(
                '"{text}" names no time: write it as mon-fri 8:00-17:00; not 2026-12-24.',
                ['text' => mb_substr($text, 0, 60)],
            );
        }

        return new self(trim($text), $spans, $except);
    }

    /** @param string $at wall time of the site, `2026-03-02 09:30` */
    public function holds(string $at): bool
    {
        $date = substr($at, 0, 10);
        if (\in_array($date, $this->except, true)) {
            return false;
        }
        $minute = 60 * (int) substr($at, 11, 2) + (int) substr($at, 14, 2);
        $day = self::weekday($date);
        foreach ($this->spans as $span) {
            if ($span['from'] < $span['to']) {
                if (\in_array($day, $span['days'], true) && $minute >= $span['from'] && $minute < $span['to']) {
                    return true;
                }
            } elseif (
                (\in_array($day, $span['days'], true) && $minute >= $span['from'])
                || (\in_array((($day + 5) % 7) + 1, $span['days'], true) && $minute < $span['to'])
            ) {
                return true;
            }
        }

        return false;
    }

    /**
     * The wall times around which it can begin or cease to hold: each edge of each day of a week and of each excepted day, and the minute
     * before it. Between two of them it does not change.
     *
     * @return list<string> as `2024-01-07 08:00`
     */
    public function boundaries(): array
    {
        // The first week of 2024 began on a Monday.
        $days = [...array_map(static fn (int $day): string => '2024-01-0'.$day, range(1, 7)), ...$this->except];
        $minutes = [0, self::MINUTES - 1];
        foreach ($this->spans as $span) {
            foreach ([$span['from'], $span['to'] % self::MINUTES] as $edge) {
                array_push($minutes, $edge, ($edge + self::MINUTES - 1) % self::MINUTES);
            }
        }
        $times = [];
        foreach ($days as $day) {
            foreach (array_unique($minutes) as $minute) {
                $times[] = \sprintf('%s %02d:%02d', $day, intdiv($minute, 60), $minute % 60);
            }
        }
        sort($times);

        return $times;
    }

    /** How a wall time is written in the notation of a time frame: `sun 3:00`, or the date where that day is an exception. */
    public function nameOf(string $at): string
    {
        $date = substr($at, 0, 10);
        $day = \in_array($date, $this->except, true) ? $date : (string) array_search(self::weekday($date), self::DAYS, true);

        return $day.' '.ltrim(substr($at, 11, 2), '0').(str_starts_with(substr($at, 11), '00') ? '0' : '').substr($at, 13);
    }

    /** Whether it holds at every time at which the other does: asked minute by minute of a week, days that are excepted apart. */
    public function covers(self $other): bool
    {
        if ([] !== array_diff($this->except, $other->except)) {
            return false;
        }
        // The first week of 2024 began on a Monday.
        for ($day = 1; $day <= 7; ++$day) {
            foreach ([...$this->spans, ...$other->spans] as $span) {
                foreach ([$span['from'], $span['to'] % self::MINUTES] as $edge) {
                    foreach ([$edge, max(0, $edge - 1)] as $minute) {
                        $at = \sprintf('2024-01-%02d %02d:%02d', $day, intdiv($minute, 60), $minute % 60);
                        if ((new self('', $other->spans, []))->holds($at) && !(new self('', $this->spans, []))->holds($at)) {
                            return false;
                        }
                    }
                }
            }
        }

        return true;
    }

    /** Whether a text is a wall time that holds() can be asked with. */
    public static function isWallTime(string $text): bool
    {
        return 1 === preg_match('/^(\d{4})-(\d\d)-(\d\d) ([01]\d|2[0-3]):[0-5]\d$/D', $text, $part)
            && checkdate((int) $part[2], (int) $part[3], (int) $part[1]);
    }

    public function __toString(): string
    {
        return $this->text;
    }

    /** @return Span */
    private static function span(string $part): array
    {
        $form = '/^(?:([a-z]{3})(?:-([a-z]{3}))?|daily)\s+(\d{1,2}):([0-5]\d)-(\d{1,2}):([0-5]\d)$/D';
        if (1 !== preg_match($form, $part, $found, \PREG_UNMATCHED_AS_NULL)) {
            throw Malformed::because('"{part}" is not a weekly time frame: write it as mon-fri 8:00-17:00.', [
                'part' => mb_substr($part, 0, 60),
            ]);
        }
        $from = 60 * (int) $found[3] + (int) $found[4];
        $to = 60 * (int) $found[5] + (int) $found[6];
        if ($from >= self::MINUTES || $to > self::MINUTES || $from === $to) {
            throw Malformed::because('"{part}": a day goes from 0:00 to 24:00.', ['part' => $part]);
        }
        if (null === $found[1]) {
            return ['days' => range(1, 7), 'from' => $from, 'to' => $to];
        }
        $first = self::DAYS[$found[1]] ?? null;
        $last = self::DAYS[$found[2] ?? $found[1]] ?? null;
        if (null === $first || null === $last) {
            throw Malformed::because('"{part}": days are mon, tue, wed, thu, fri, sat, sun.', ['part' => $part]);
        }
        $days = [];
        for ($day = $first;; $day = $day % 7 + 1) {
            $days[] = $day;
            if ($day === $last) {
                return ['days' => $days, 'from' => $from, 'to' => $to];
            }
        }
    }

    /** 1 for Monday to 7 for Sunday (ISO 8601), by counting days. */
    private static function weekday(string $date): int
    {
        return (int) gmdate('N', (int) gmmktime(12, 0, 0, (int) substr($date, 5, 2), (int) substr($date, 8, 2), (int) substr($date, 0, 4)));
    }
}
