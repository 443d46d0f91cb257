<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Plan;

use PHPUnit\Framework\TestCase;
use Random\Engine\Xoshiro256StarStar;
use Random\Randomizer;
use Vorhut\Core\Catalogue\Catalogue;
use Vorhut\Core\Catalogue\KindDifference;
use Vorhut\Core\Document\BadDocument;
use Vorhut\Core\Document\JobDocument;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\KindVersion;
use Vorhut\Core\Plan\Plan;
use Vorhut\Tests\Support\Jobs;

final class KindVersionTest extends TestCase
{
    private static function plan(): Plan
    {
        return (new Jobs())->segment('s', '10.64.40.0/24', '10.64.40.1')
            ->device('c1', 'ptz-camera', 's', ['address' => '10.64.40.31', 'presets' => '7'])
            ->device('c2', 'ptz-camera', 's', ['address' => '10.64.40.32'])->plan();
    }

    /** @return array<mixed> */
    private static function camera(): array
    {
        return Jobs::files('kinds')['ptz-camera'];
    }

    public function testAJobHasItsOwnVersionAndNobodyElseHas(): void
    {
        $plan = self::plan();
        $slower = ['boot' => 90] + self::camera();
        $version = KindVersion::of($plan, 'ptz-camera', $slower, self::camera());

        self::assertSame([], $version->wrong);
        self::assertSame([['boot', '50', '90']], array_map(
            static fn (KindDifference $one): array => [$one->path, $one->before, $one->after],
            $version->differences,
        ));
        self::assertSame([1, 2], [$version->number, $version->users]);
        $after = $plan->with($version->change());
        self::assertSame(90, $after->devices['c1']->kind->boot);
        self::assertSame(50, $plan->devices['c1']->kind->boot, 'the plan as it was');
        self::assertSame(50, self::plan()->devices['c1']->kind->boot);
        self::assertSame(50, Jobs::catalogue()->kind('ptz-camera')?->boot);

        $again = KindVersion::of($after, 'ptz-camera', ['boot' => 95] + $slower, self::camera());
        self::assertSame([2, '90'], [$again->number, $again->differences[0]->before], 'from what the job has');
        self::assertSame(95, $after->with($again->change('shelf'))->devices['c2']->kind->boot);
        self::assertFalse(KindVersion::of($after, 'ptz-camera', $slower)->isNew());
        self::assertSame(90, $after->with($again->change())->with($again->change()->reverse(
            $again->change()->why,
        ))->devices['c1']->kind->boot, 'taken back');
    }

    public function testNothingRecordedLosesItsPlace(): void
    {
        $without = self::camera();
        $without['settings'] = array_values(array_filter(
            (array) $without['settings'],
            static fn (mixed $one): bool => !\is_array($one) || 'presets' !== $one['name'],
        ));
        foreach (['steps', 'admin'] as $part) {
            $without[$part] = json_decode(str_replace(
                ['"presets"', '[,', ',]'],
                ['"remoteNumber"', '[', ']'],
                (string) json_encode($without[$part]),
            ), true);
        }
        $without['handTests'] = [];
        $version = KindVersion::of(self::plan(), 'ptz-camera', $without, self::camera());
        self::assertCount(1, array_filter($version->wrong, static fn ($one): bool => str_contains((string) $one, 'C1')));
        self::assertStringContainsString('presets', implode(' ', array_map(strval(...), $version->wrong)));
        self::assertStringNotContainsString('C2', implode(' ', array_map(strval(...), $version->wrong)));

        // What is recorded must still be what the setting takes, or the job's own document could not be read again.
        $narrow = self::camera();
        $narrow['settings'] = array_map(
            static fn (mixed $one): mixed => \is_array($one) && 'presets' === $one['name'] ? ['most' => 5, 'default' => 3] + $one : $one,
            (array) $narrow['settings'],
        );
        $version = KindVersion::of(self::plan(), 'ptz-camera', $narrow, self::camera());
        self::assertCount(1, $version->wrong);
        self::assertStringContainsString('C1 has recorded values under presets', (string) $version->wrong[0]);
        $port = ['settings' => array_values(array_filter(
            (array) self::camera()['settings'],
            static fn (mixed $one): bool => 'ip' !== $one,
        ))] + self::camera();
        self::assertStringContainsString('lan.address', implode(' ', array_map(
            strval(...),
            KindVersion::of(self::plan(), 'ptz-camera', $port)->wrong,
        )));

        $renamed = ['ports' => [['name' => 'eth']]] + self::camera();
        self::assertNotSame([], KindVersion::of(self::plan(), 'ptz-camera', $renamed)->wrong, 'its port has another name');
    }

    public function testADocumentCarriesItsKindsAndABadOneIsToldByItsPlace(): void
    {
        $plan = self::plan();
        $own = ['name' => 'Ceiling camera'] + self::camera();
        $plan = $plan->with(KindVersion::of($plan, 'ceiling-camera', $own)->change());
        $json = JobDocument::of($plan)->toJson();
        $read = JobDocument::fromJson($json, Jobs::catalogue())->plan(Jobs::catalogue());
        self::assertSame('Ceiling camera', $read->catalogue->kind('ceiling-camera')?->name);
        self::assertSame($json, JobDocument::of($read)->toJson());
        self::assertNull(Jobs::catalogue()->kind('ceiling-camera'));

        $data = json_decode($json, true);
        self::assertIsArray($data);
        self::assertIsArray($data['devices']);
        $data['devices'][0] = ['kind' => 'ceiling-camera'] + (array) $data['devices'][0];
        $read = JobDocument::fromJson((string) json_encode($data), Jobs::catalogue())->plan(Jobs::catalogue());
        self::assertSame('Ceiling camera', $read->devices['c1']->kind->name);

        foreach (['{}', 'nothing', '{"name":"x","factory":[]}', '{"name":"x","factory":[{"state":"sideways"}]}'] as $source) {
            $data['ownKinds'] = [['key' => 'ceiling-camera', 'source' => $source]];
            try {
                JobDocument::fromJson((string) json_encode($data), Jobs::catalogue());
                self::fail($source);
            } catch (BadDocument $e) {
                self::assertContains('/ownKinds/0/source', array_column($e->errors, 'pointer'));
            }
        }
    }

    public function testNoRequestOfADescriptionIsTwo(): void
    {
        foreach ([
            ['status' => "/\r\nHost: elsewhere"], ['settings' => ['path' => "/set\n"]], ['apply' => '/a b'],
            ['door' => 'http://elsewhere/'],
            ['settings' => ['method' => "GET / HTTP/1.1\r\n"]], ['settings' => ['method' => 'CONNECT']],
        ] as $odd) {
            try {
                Jobs::catalogue()->read('x', ['admin' => $odd] + self::camera());
                self::fail((string) json_encode($odd));
            } catch (Malformed $e) {
                self::assertMatchesRegularExpression('/not a request path|not a supported HTTP method/', $e->getMessage());
            }
        }
    }

    public function testAListIsComparedByNamesAndNotByPlaces(): void
    {
        $before = ['steps' => [['code' => 'a', 'wait' => 1], ['code' => 'b', 'wait' => 2]], 'kit' => ['x', 'y']];
        $after = ['steps' => [['code' => 'new'], ['code' => 'a', 'wait' => 1], ['code' => 'b', 'wait' => 3]], 'kit' => ['y']];
        self::assertSame([
            ['kit', '["x","y"]', '["y"]'], ['steps/b/wait', '2', '3'], ['steps/new/code', null, '"new"'],
        ], array_map(
            static fn (KindDifference $one): array => [$one->path, $one->before, $one->after],
            KindDifference::between($before, $after),
        ));
        self::assertSame([], KindDifference::between($before, $before));
    }

    /** What somebody writes is read, or refused with a sentence: never anything else. */
    public function testHostileDescriptionsAreRefusedWithASentence(): void
    {
        $random = new Randomizer(new Xoshiro256StarStar(hash('sha256', 'kinds', true)));
        $odd = [null, true, -1, 1.5, '', 'x', "\0", [], [[]], ['x' => []], str_repeat('9', 40), ['name' => ['name']]];
        $kinds = Jobs::files('kinds');
        $read = $refused = 0;
        for ($n = 0; $n < 600; ++$n) {
            $code = array_keys($kinds)[$random->getInt(0, \count($kinds) - 1)];
            $data = $kinds[$code];
            $at = &$data;
            for ($deep = 0; $deep < 5 && \is_array($at) && [] !== $at; ++$deep) {
                $keys = array_keys($at);
                $at = &$at[$keys[$random->getInt(0, \count($keys) - 1)]];
                if (0 === $random->getInt(0, 2)) {
                    break;
                }
            }
            $at = $odd[$random->getInt(0, \count($odd) - 1)];
            unset($at);
            try {
                Jobs::catalogue()->read((string) $code, Catalogue::decode(Catalogue::encode((array) $data)));
                ++$read;
            } catch (Malformed) {
                ++$refused;
            }
        }
        self::assertGreaterThan(20, $refused);
        self::assertGreaterThan(20, $read);
    }
}
