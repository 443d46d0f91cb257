<?php

declare(strict_types=1);

namespace Vorhut\Tests\Web;

use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;
use Symfony\Component\HttpFoundation\Request;
use Vorhut\Web\Frame\Window;

final class WindowTest extends TestCase
{
    /** @param list<int> $shown first and last, page and pages */
    #[TestWith([0, 1, null, [0, 0, 1, 1]])]
    #[TestWith([25, 1, null, [1, 10, 1, 3]])]
    #[TestWith([25, 3, null, [21, 25, 3, 3]])]
    #[TestWith([25, 99, null, [21, 25, 3, 3]])]
    #[TestWith([25, -4, null, [1, 10, 1, 3]])]
    #[TestWith([20, 2, null, [11, 20, 2, 2]])]
    #[TestWith([25, 0, 'k12', [11, 20, 2, 3]])]
    #[TestWith([25, 0, 'k10', [11, 20, 2, 3]])]
    #[TestWith([25, 0, 'k9', [1, 10, 1, 3]])]
    #[TestWith([25, 0, 'gone', [1, 10, 1, 3]])]
    #[TestWith([25, 3, 'k1', [21, 25, 3, 3]])]
    public function testItShowsThePageThatIsAskedForElseTheOneWithWhatIsSelected(int $n, int $page, ?string $selected, array $shown): void
    {
        $all = [];
        for ($i = 0; $i < $n; ++$i) {
            $all['k'.$i] = $i + 1;
        }
        $window = Window::of($all, $page, $selected, 10);
        self::assertSame($shown, [$window->first, $window->last, $window->page, $window->pages]);
        self::assertSame($n, $window->all);
        self::assertSame(0 === $n ? [] : range($shown[0], $shown[1]), array_values($window->items));
    }

    public function testItIsInTheOrderThatIsAskedForAndWhatSaysNothingStandsLast(): void
    {
        $all = ['a' => 'CAM-10', 'b' => '', 'c' => 'cam-9', 'd' => 'CAM-1'];
        $asked = static fn (string $sort, string $q = ''): array => array_keys(Window::fromRequest(
            new Request(['sort' => $sort, 'q' => $q]),
            $all,
            static fn (string $one): array => [$one],
            null,
            10,
            ['tag' => static fn (string $one): string => $one, 'length' => \strlen(...)],
        )->items);
        self::assertSame(['a', 'b', 'c', 'd'], $asked(''));
        self::assertSame(['d', 'c', 'a', 'b'], $asked('tag'));
        self::assertSame(['a', 'c', 'd', 'b'], $asked('-tag'));
        self::assertSame(['b', 'c', 'd', 'a'], $asked('length'));
        self::assertSame(['d', 'a'], $asked('tag', 'm-1'));
        self::assertSame(['a', 'b', 'c', 'd'], $asked('nothing-like-it'));
    }

    public function testTheWaysLeadToTheEndsAndAround(): void
    {
        self::assertSame([1, 8, 9, 10, 11, 12, 34], Window::of(range(1, 340), 10, null, 10)->near());
        self::assertSame([1, 2, 3], Window::of(range(1, 30), 1, null, 10)->near());
        self::assertSame([1], Window::of([], 1)->near());
    }
}
