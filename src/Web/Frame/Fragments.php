<?php

declare(strict_types=1);

namespace Vorhut\Web\Frame;

/**
 * A page in parts that can be replaced one by one. A template puts an element that has an id between `<!--[id]-->` and `<!--/-->`; an open
 * page sends the states of its parts, and receives those that differ, while the rest of the page is unchanged.
 */
final readonly class Fragments
{
    /** Where the page says its own stamp; it is filled in when all of it is written. */
    public const PLACE = '%parts%';

    private const PART = '~<!--\[([^\]]+)\]-->(.*?)<!--/-->~s';
    /** Tokens are masked anew on every page and mean the same. */
    private const TOKEN = '~(name="_(?:csrf_)?token" value=")[^"]*~';

    /** @param array<array-key, string> $parts element id → its HTML */
    private function __construct(private string $html, private string $around, private array $parts)
    {
    }

    public static function of(string $html): self
    {
        preg_match_all(self::PART, $html, $found);

        return new self($html, (string) preg_replace(self::PART, '<!--[$1]-->', $html), array_combine($found[1], $found[2]));
    }

    /** What it shows: eight digits for all around the parts, then eight for each part. */
    public function stamp(): string
    {
        return self::digits($this->around).implode('', array_map(self::digits(...), array_values($this->parts)));
    }

    public function page(): string
    {
        return str_replace(self::PLACE, $this->stamp(), $this->html);
    }

    /**
     * The parts that differ from those of a page with the given stamp, for htmx to put in their places; null where the whole page is
     * needed.
     * The part named `$always` comes along in any case: it carries the new stamp.
     */
    public function since(string $stamp, string $always): ?string
    {
        $mine = str_split($this->stamp(), 8);
        $theirs = str_split($stamp, 8);
        if (!isset($this->parts[$always]) || \count($mine) !== \count($theirs) || $mine[0] !== $theirs[0]) {
            return null;
        }
        $changed = '';
        foreach (array_keys($this->parts) as $i => $id) {
            if ($mine[$i + 1] !== $theirs[$i + 1] || $always === (string) $id) {
                $changed .= '<hx-partial hx-target="[id=\''.$id.'\']" hx-swap="outerMorph">'.$this->parts[$id]."</hx-partial>\n";
            }
        }

        return str_replace(self::PLACE, implode('', $mine), $changed);
    }

    private static function digits(string $html): string
    {
        return hash('crc32b', (string) preg_replace(self::TOKEN, '$1', $html));
    }
}
