<?php

declare(strict_types=1);

namespace Vorhut\Web\Frame;

use Symfony\Component\HttpFoundation\Request;

/**
 * A part of a long list, of the length of a page; the address names the part, so that the position is kept without scripts too.
 *
 * @template T
 */
final readonly class Window
{
    public const SIZE = 60;

    /**
     * @param array<array-key, T> $items the items shown
     * @param string              $q     what those that are shown have in them
     * @param string              $sort  the column they are in order of, after a hyphen when backwards; '' for the order of the job
     */
    private function __construct(
        public array $items,
        public int $page,
        public int $pages,
        public int $first,
        public int $last,
        public int $all,
        public string $q = '',
        public string $sort = '',
    ) {
    }

    /**
     * The part that the address asks for (`page`), of those that have in them what it asks for (`q`), in the order that it asks for
     * (`sort`).
     *
     * @template V
     *
     * @param array<array-key, V>      $all
     * @param \Closure(V): list<string> $texts the texts to search
     * @param string|null              $selected key of the item whose page is shown if none is requested
     * @param array<string, \Closure(V): (int|string)> $columns sortable columns; texts in natural order, empty ones last
     *
     * @return self<V>
     */
    public static function fromRequest(
        Request $request,
        array $all,
        \Closure $texts,
        ?string $selected,
        int $size = self::SIZE,
        array $columns = [],
    ): self {
        $q = mb_substr(trim($request->query->getString('q')), 0, 80);
        $having = '' === $q ? $all : array_filter($all, static fn ($one): bool => self::holds($texts($one), $q));
        $sort = $request->query->getString('sort');
        $by = $columns[ltrim($sort, '-')] ?? null;
        if (null === $by) {
            $sort = '';
        } else {
            $having = self::sort($having, $by, str_starts_with($sort, '-'));
        }
        $part = self::of($having, $request->query->getInt('page'), $selected, $size);

        return new self($part->items, $part->page, $part->pages, $part->first, $part->last, $part->all, $q, $sort);
    }

    /** @param list<string> $texts whether one of them contains the search text */
    public static function holds(array $texts, string $q): bool
    {
        $q = mb_substr(trim($q), 0, 80);

        return '' === $q || str_contains(mb_strtolower(implode("\n", $texts)), mb_strtolower($q));
    }

    /** @return array{q: string, sort: string} what an address has to carry to show the same */
    public function query(): array
    {
        return ['q' => $this->q, 'sort' => $this->sort];
    }

    /**
     * @template V
     *
     * @param array<array-key, V>     $all
     * @param \Closure(V): (int|string) $by
     *
     * @return array<array-key, V>
     */
    private static function sort(array $all, \Closure $by, bool $backwards): array
    {
        $values = array_map($by, $all);
        $full = array_filter($values, static fn (int|string $value): bool => '' !== $value);
        uasort($full, static fn (int|string $a, int|string $b): int => \is_int($a) && \is_int($b)
            ? $a <=> $b
            : strnatcasecmp((string) $a, (string) $b));
        $sorted = [];
        // What says nothing stands last, from whichever side one looks.
        foreach ([...array_keys($backwards ? array_reverse($full, true) : $full), ...array_keys(array_diff_key($values, $full))] as $key) {
            $sorted[$key] = $all[$key];
        }

        return $sorted;
    }

    /**
     * @template V
     *
     * @param array<array-key, V> $all
     * @param int                 $page     from 1; what lies outside is the nearest there is
     * @param string|null         $selected key of the item whose page is shown if none is requested
     *
     * @return self<V>
     */
    public static function of(array $all, int $page, ?string $selected = null, int $size = self::SIZE): self
    {
        $count = \count($all);
        $pages = max(1, (int) ceil($count / $size));
        if ($page < 1 && null !== $selected) {
            $at = array_search($selected, array_map(strval(...), array_keys($all)), true);
            $page = false === $at ? 1 : intdiv((int) $at, $size) + 1;
        }
        $page = min($pages, max(1, $page));
        $from = ($page - 1) * $size;
        $items = \array_slice($all, $from, $size, true);

        return new self($items, $page, $pages, 0 === $count ? 0 : $from + 1, $from + \count($items), $count);
    }

    /** @return list<int> the pages to offer: the first, the last, and those around this one */
    public function near(): array
    {
        $near = array_unique([1, ...range(max(1, $this->page - 2), min($this->pages, $this->page + 2)), $this->pages]);
        sort($near);

        return $near;
    }
}
