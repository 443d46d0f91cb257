<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Network\Discovery;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Network\Discovery\RangeList;
use Vorhut\Core\Network\Discovery\Sweep;
use Vorhut\Core\Network\Discovery\SweepLine;
use Vorhut\Core\Plan\FieldType;
use Vorhut\Tests\Support\Jobs;

/** Lists of addresses, and what came of asking them. */
final class SweepTest extends TestCase
{
    private static function job(): Jobs
    {
        $mac = static fn (int $n): array => ['mac' => \sprintf('00-00-5E-00-53-%02X', $n), 'controlledFrom' => 't'];

        return (new Jobs())->segment('s', '10.64.30.0/24', '10.64.30.1')->segment('t', '10.64.10.0/24', '10.64.10.1')
            ->router('r', ['s' => '10.64.30.1/24', 't' => '10.64.10.1/24'])
            ->device('a', 'ptz-camera', 's', ['address' => '10.64.30.31'], $mac(1))
            ->device('b', 'ptz-camera', 's', ['address' => '10.64.30.32'], $mac(2))
            ->device('c', 'ptz-camera', 's', ['address' => '10.64.30.33'], $mac(3))
            ->device('d', 'ptz-camera', 's', ['address' => '10.64.30.34'], $mac(4))
            ->device('e', 'ptz-camera', 's', ['address' => '10.64.30.35'], ['controlledFrom' => 't'])
            ->device('f', 'ptz-camera', 's', ['address' => '10.64.30.60'], $mac(6))
            ->device('g', 'ptz-camera', 's', ['address' => '10.64.30.60'], $mac(7))
            ->row('rangeLists', ['key' => 'l', 'name' => 'Cameras', 'ranges' => ['10.64.30.31-10.64.30.70'], 'from' => 't']);
    }

    /** @param list<string> $evidence */
    private static function sweep(Jobs $jobs, array $evidence, string $outcome = 'answers', int $arrived = 1): ?Sweep
    {
        $plan = $jobs->row('observations', [
            'key' => 'o'.$arrived, 'test' => 'sweep:l', 'at' => '2026-03-09T10:20:00Z', 'by' => 'Jo', 'arrived' => $arrived,
            'outcome' => $outcome, 'evidence' => $evidence,
        ])->plan();

        return Sweep::latest($plan, RangeList::find($plan, 'l') ?? self::fail('the list is there'));
    }

    public function testEveryAddressIsHeldAgainstThePlan(): void
    {
        $sweep = self::sweep(self::job(), [
            '10.64.30.31 answers 00-00-5E-00-53-01',
            '10.64.30.32 answers 00-00-5E-00-53-03',
            '10.64.30.33 refuses 02-00-5E-00-53-99',
            '10.64.30.35 answers',
            '10.64.30.40 answers 00-00-5E-00-53-02',
            '10.64.30.41 refuses',
            '10.64.30.60 answers 00-00-5E-00-53-06',
            'nonsense',
        ]);
        self::assertSame([
            '10.64.30.31 right A A',
            '10.64.30.32 other C B',
            '10.64.30.33 other - C',
            '10.64.30.34 missing - D',
            '10.64.30.35 unidentified - E',
            '10.64.30.40 moved B -',
            '10.64.30.41 stranger - -',
            '10.64.30.60 double F F',
        ], array_map(
            static fn (SweepLine $line): string => \sprintf(
                '%s %s %s %s',
                $line->address,
                $line->verdict->value,
                $line->device->tag ?? '-',
                $line->expected->tag ?? '-',
            ),
            $sweep->lines ?? [],
        ));
        self::assertSame([40, 7], [$sweep?->asked, $sweep?->answeredCount()]);
        self::assertSame(
            ['10.64.30.31-10.64.30.35', '10.64.30.40-10.64.30.41', '10.64.30.60'],
            array_map(strval(...), $sweep?->withoutSilent() ?? []),
        );
    }

    public function testOneDeviceAtTwoAddressesIsDoubleAtTheOneThatIsNotItsOwn(): void
    {
        $sweep = self::sweep(self::job(), ['10.64.30.31 answers 00-00-5E-00-53-01', '10.64.30.45 answers 00-00-5E-00-53-01']);
        $of = [];
        foreach ($sweep->lines ?? [] as $line) {
            $of[(string) $line->address] = $line->verdict->value;
        }
        self::assertSame(['right', 'double'], [$of['10.64.30.31'], $of['10.64.30.45']]);
    }

    public function testATryThatCouldNotBeMadeChangesNothingOfWhatWasKnown(): void
    {
        $jobs = self::job();
        self::assertNotNull(self::sweep($jobs, ['10.64.30.31 answers']));
        $sweep = self::sweep($jobs, [], 'not-asked', 2);
        self::assertSame(1, $sweep?->answeredCount());
        self::assertNull(self::sweep(self::job(), [], 'not-asked'), 'and nobody asked is no result');
    }

    public function testTheFewestRangesThatHoldWhatIsControlledFromThere(): void
    {
        $plan = self::job()->device('far', 'ptz-camera', 't', ['address' => '10.64.10.200'])->plan();
        self::assertSame(
            ['10.64.10.200', '10.64.30.31-10.64.30.35', '10.64.30.60'],
            array_map(strval(...), RangeList::suggest($plan, 't')),
        );
        self::assertSame([], RangeList::suggest($plan, 's'));
    }

    public function testWhatIsTypedOrPastedIsReadMixedAndCountedOnce(): void
    {
        $ranges = FieldType::Ranges->read("10.64.30.31-40, 10.64.31.0/30\n10.64.30.35; 10.64.30.39-10.64.30.42");
        self::assertSame(['10.64.30.31-10.64.30.40', '10.64.31.0-10.64.31.3', '10.64.30.35', '10.64.30.39-10.64.30.42'], $ranges);
        $plan = (new Jobs())->row('rangeLists', ['key' => 'l', 'name' => 'x', 'ranges' => $ranges])->plan();
        $list = RangeList::find($plan, 'l') ?? self::fail('the list is there');
        self::assertSame(16, $list->count());
        $all = array_map(strval(...), iterator_to_array((static fn () => yield from $list->addresses())(), false));
        self::assertSame($all, array_values(array_unique($all)));
        self::assertSame(['10.64.30.31', '10.64.31.3'], [$all[0], $all[15]]);
        self::assertTrue($list->contains(Ipv4::fromString('10.64.30.42')));
        self::assertFalse($list->contains(Ipv4::fromString('10.64.30.43')));
        self::assertSame('80/tcp', (string) $list->port);
    }
}
