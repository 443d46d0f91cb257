<?php

declare(strict_types=1);

namespace Vorhut\Web\Frame;

use Symfony\Component\HttpFoundation\Request;

/**
 * A part of a long list, as large as a page should be; which part stands in the address, so that the place is kept without scripts too.
 *
 * @template T
 */
final readonly class Window
{
    public const SIZE = 60;

    /**
     * @param array<array-key, T> $items what is shown
     * @param string              $q     what those that are shown have in them
     */
    private function __construct(
        public array $items,
        public int $page,
        public int $pages,
        public int $first,
        public int $last,
        public int $all,
        public string $q = '',
    ) {
    }

    /**
     * The part that the address asks for (`page`), of those that have in them what it asks for (`q`).
     *
     * @template V
     *
     * @param array<array-key, V>      $all
     * @param \Closure(V): list<string> $texts what is looked in
     * @param string|null              $selected key of the item whose page is shown where none is asked for
     *
     * @return self<V>
     */
    public static function asked(Request $request, array $all, \Closure $texts, ?string $selected, int $size = self::SIZE): self
    {
        $q = mb_substr(trim($request->query->getString('q')), 0, 80);
        $having = '' === $q ? $all : array_filter(
            $all,
            static fn ($one): bool => str_contains(mb_strtolower(implode("\n", $texts($one))), mb_strtolower($q)),
        );
        $part = self::of($having, $request->query->getInt('page'), $selected, $size);

        return new self($part->items, $part->page, $part->pages, $part->first, $part->last, $part->all, $q);
    }

    /**
     * @template V
     *
     * @param array<array-key, V> $all
     * @param int                 $page     from 1; what lies outside is the nearest there is
     * @param string|null         $selected key of the item whose page is shown where none is asked for
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
