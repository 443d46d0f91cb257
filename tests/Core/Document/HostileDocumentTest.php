<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Document;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Analysis\Findings;
use Vorhut\Core\Analysis\ShippedRules;
use Vorhut\Core\Document\BadDocument;
use Vorhut\Core\Document\JobDocument;
use Vorhut\Core\Finding\Finding;
use Vorhut\Tests\Support\Jobs;

/** Documents that nobody of good will would write: refused with the place, or read to something safe and said so. */
final class HostileDocumentTest extends TestCase
{
    /**
     * @param array<string, mixed> $more
     *
     * @return array<string, mixed>
     */
    private static function entry(array $more = []): array
    {
        return $more + ['number' => 1, 'at' => '2026-03-09T10:20:00Z', 'by' => 'Mara', 'why' => 'y', 'edits' => []];
    }

    /** @param array<string, mixed> $edit */
    private static function edit(array $edit): \Closure
    {
        return static fn (array $job): array => ['journal' => [self::entry(['edits' => [$edit]])]] + $job;
    }

    /**
     * @param array<mixed>     $in
     * @param list<int|string> $place
     *
     * @return array<mixed>
     */
    private static function put(array $in, array $place, mixed $value): array
    {
        $first = array_shift($place);
        $within = $in[$first ?? ''] ?? null;
        $in[$first ?? ''] = [] === $place ? $value : self::put(\is_array($within) ? $within : [], $place, $value);

        return $in;
    }

    /** @return iterable<string, array{\Closure(array<mixed>): array<mixed>, string}> what is done to it; where it is told */
    public static function documents(): iterable
    {
        yield 'a section that is none' => [
            self::edit(['do' => 'put', 'section' => 'nonsense', 'key' => 'k', 'field' => 'f', 'before' => 1, 'after' => 2]),
            '/journal/0/edits/0',
        ];
        yield 'a change without what was before' => [
            self::edit(['do' => 'put', 'section' => 'devices', 'key' => 'k', 'field' => 'room', 'after' => 2]),
            '/journal/0/edits/0',
        ];
        yield 'a record that went without a word' => [
            self::edit(['do' => 'remove', 'section' => 'devices', 'key' => 'k']),
            '/journal/0/edits/0',
        ];
        foreach ([
            'one number twice' => [[[], []], '/journal/1/number'],
            'no first one' => [[['number' => 0]], '/journal/0/number'],
            'more than a column holds' => [[['number' => \PHP_INT_MAX]], '/journal/0/number'],
            'by nobody one could print' => [[['by' => str_repeat('x', 191)]], '/journal/0/by'],
            'yesterday' => [[['at' => 'yesterday']], '/journal/0/at'],
        ] as $name => [$entries, $pointer]) {
            yield $name => [
                static fn (array $job): array => ['journal' => array_map(self::entry(...), $entries)] + $job,
                $pointer,
            ];
        }
        yield 'evidence without a floor' => [static function (array $job): array {
            $deep = 'x';
            for ($i = 0; $i < 70; ++$i) {
                $deep = [$deep];
            }

            return ['observations' => [[
                'key' => 'o', 'test' => 't', 'at' => '2026-03-09T10:20:00Z', 'by' => 'x', 'outcome' => 'y', 'evidence' => $deep,
            ]]] + $job;
        }, ''];
        foreach ([
            'a name of blanks' => [['job', 'name'], " \t", '/job/name'],
            'a camera that routes' => [['routerPorts', 0, 'router'], 'cam-01', '/routerPorts/0/router'],
            'a camera that filters' => [['filters', 0, 'router'], 'cam-01', '/filters/0/router'],
            'a camera that registers' => [['extensions', 1, 'pbx'], 'cam-01', '/extensions/1/pbx'],
            'an account at a camera' => [['accounts', 0, 'registrar'], 'cam-01', '/accounts/0/registrar'],
            'a secret of nobody' => [['credentials', 0, 'owner'], 'devices/none', '/credentials/0/owner'],
            'a secret of nothing' => [['credentials', 0, 'owner'], 'none', '/credentials/0/owner'],
            'a sealed part that opens nowhere' => [['sealed'], ['salt' => 'x'], '/sealed'],
            'the 30th of February' => [['marks', 0, 'at'], '2026-02-30T10:00:00Z', '/marks/0/at'],
        ] as $name => [$place, $value, $pointer]) {
            yield $name => [static fn (array $job): array => self::put($job, $place, $value), $pointer];
        }
    }

    /** @param \Closure(array<mixed>): array<mixed> $spoil */
    #[DataProvider('documents')]
    public function testItIsRefusedWithThePlace(\Closure $spoil, string $pointer): void
    {
        /** @var array<mixed> $job */
        $job = json_decode(Jobs::demo('port'), true, 512, \JSON_THROW_ON_ERROR);
        $json = json_encode($spoil($job), \JSON_THROW_ON_ERROR);
        try {
            JobDocument::fromJson($json, Jobs::catalogue());
            self::fail('It was taken.');
        } catch (BadDocument $e) {
            self::assertContains($pointer, array_column($e->errors, 'pointer'));
        }
    }

    public function testANameThatStandsTwiceIsRefusedAndOnesThatOnlyLookSoAreNot(): void
    {
        $port = Jobs::demo('port');
        foreach (['{"job": {"name": "a"},', '{"format" : "vorhut-job",'] as $begin) {
            try {
                JobDocument::fromJson((string) preg_replace('/\{/', $begin, $port, 1), Jobs::catalogue());
                self::fail('It was taken: '.$begin);
            } catch (BadDocument $e) {
                self::assertStringContainsString('twice', (string) $e->errors[0]['message']);
            }
        }
        /** @var array{devices: list<array{key: string, room?: string}>, observations?: mixed} $job */
        $job = json_decode($port, true, 512, \JSON_THROW_ON_ERROR);
        $first = $job['devices'][0]['key'];
        $job['devices'][0]['room'] = '"a": {"a": 1}, \\"b\\": "';
        $job['observations'] = [[
            'key' => 'o', 'test' => 't', 'at' => '2026-03-09T10:20:00Z', 'by' => 'x', 'outcome' => 'y',
            'evidence' => (object) ['0' => 1, '1' => 2],
        ]];
        $read = JobDocument::fromJson(json_encode($job, \JSON_THROW_ON_ERROR), Jobs::catalogue());
        self::assertSame('"a": {"a": 1}, \\"b\\": "', $read->plan(Jobs::catalogue())->devices[$first]->room);
    }

    public function testAMarkOfAStepThatIsNoneIsKeptAndSaid(): void
    {
        $plan = (new Jobs())->segment('s', '10.64.40.0/24')->device('cam', 'ptz-camera', 's')->done('cam', 'unpack')
            ->row('marks', [
                'key' => 'cam.juggle', 'device' => 'cam', 'step' => 'juggle', 'state' => 'done', 'by' => 'Jo',
                'at' => '2026-03-09T10:20:00Z',
            ])
            ->plan();
        $found = array_values(array_filter(
            Findings::of($plan, ShippedRules::all())->all,
            static fn (Finding $one): bool => 'stray-mark' === $one->code,
        ));
        self::assertSame(['juggle'], array_map(static fn (Finding $one): mixed => $one->what->with['step'], $found));
        $cure = $found[0]->cure ?? self::fail('it has a cure');
        self::assertSame(['unpack'], array_keys($plan->with($cure)->marksOf('cam')));
    }
}
