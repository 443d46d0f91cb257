<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Document;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Document\BadDocument;
use Vorhut\Core\Document\JobDocument;
use Vorhut\Core\Document\JsonSchema;
use Vorhut\Core\Document\RosterPaste;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Removal;
use Vorhut\Core\Text\Message;
use Vorhut\Tests\Support\Jobs;

final class JobDocumentTest extends TestCase
{
    private static function port(): string
    {
        return (string) file_get_contents(\dirname(__DIR__, 3).'/demo/port.json');
    }

    public function testReadAndWrittenAgainItIsTheSameByteForByte(): void
    {
        $document = JobDocument::fromJson(self::port(), Jobs::catalogue());
        self::assertSame(self::port(), $document->toJson());
        self::assertSame(self::port(), JobDocument::of($document->plan(Jobs::catalogue()))->toJson(), 'and through the snapshot');
    }

    public function testThePublishedSchemaIsTheOneInForce(): void
    {
        self::assertSame(
            JsonSchema::json(),
            file_get_contents(\dirname(__DIR__, 3).'/schema/job.schema.json'),
            'bin/console vorhut:schema > schema/job.schema.json',
        );
    }

    public function testEveryErrorIsNamedWithItsPointer(): void
    {
        /** @var array<string, list<array<string, mixed>>> $data */
        $data = json_decode(self::port(), true);
        $data['segments'][1]['network'] = '10.64.30.7/24';
        $data['devices'][3]['kind'] = 'toaster';
        $data['nics'][2]['mac'] = '01-00-5E-00-00-01';
        $data['nics'][] = $data['nics'][4];
        $value = array_search('nics/cam-01.lan#address', array_column($data['settings'], 'key'), true);
        $data['settings'][$value]['planned'] = '10.64.300.1';
        $data['filters'][0]['from'] = 'nowhere';
        array_unshift($data['settings'], ['key' => 'devices/nobody#hostName', 'planned' => 'x']);
        $value = (int) $value + 1;
        self::assertEqualsCanonicalizing(
            [
                '/devices/3/kind',
                '/filters/0/from',
                '/nics/2/mac',
                '/nics/'.(\count($data['nics']) - 1).'/key',
                '/segments/1/network',
                '/settings/0/key',
                "/settings/$value/planned",
            ],
            self::pointers((string) json_encode($data)),
        );
    }

    public function testASettingThatItsKindNoLongerHasIsKeptLikeAllThatComeAfterIt(): void
    {
        /** @var array<string, list<array<string, mixed>>> $data */
        $data = json_decode(self::port(), true);
        array_unshift($data['settings'], ['key' => 'devices/cam-01#bygone', 'set' => 'x']);
        $read = JobDocument::fromJson((string) json_encode($data), Jobs::catalogue())->plan(Jobs::catalogue());
        self::assertEqualsCanonicalizing(array_column($data['settings'], 'key'), array_column($read->rows('settings'), 'key'));
    }

    public function testTheFirstErrorIsSaidAndHowManyMoreThereAre(): void
    {
        $one = ['pointer' => '/job/name', 'message' => new Message('Too long.')];
        self::assertSame('/job/name: Too long.', (string) (new BadDocument([$one]))->message());
        self::assertSame('/job/name: Too long. (and 2 more)', (new BadDocument([$one, $one, $one]))->getMessage());
    }

    public function testWhatIsLongInBytesAloneFits(): void
    {
        /** @var array{job: array<string, mixed>} $data */
        $data = json_decode(self::port(), true);
        foreach ([[250, true], [251, false]] as [$letters, $fits]) {
            $data['job']['customer'] = str_repeat('å', $letters);
            self::assertSame($fits, JsonSchema::fits($data), "$letters letters");
        }
    }

    public function testShapesAreCheckedBySchemaBeforeAnythingElse(): void
    {
        /** @var array<string, list<array<string, mixed>>> $data */
        $data = json_decode(self::port(), true);
        $data['segments'][0]['vlan'] = 'ten';
        $data['devices'][2]['colour'] = 'red';
        unset($data['extensions'][0]['number']);
        $pointers = self::pointers((string) json_encode($data));
        self::assertContains('/segments/0/vlan', $pointers);
        self::assertContains('/extensions/0', $pointers);
        self::assertContains('/devices/2', $pointers);
        foreach (['', '{', '[]', '{"format":"other"}', '{"format":"vorhut-job","version":99}'] as $json) {
            self::assertNotSame([], self::pointers($json), $json);
        }
    }

    public function testAPastedTableTellsTheFateOfEveryRow(): void
    {
        $jobs = (new Jobs())
            ->segment('q', '10.64.40.0/24', '10.64.40.1')
            ->device('cam-1', 'ptz-camera', 'q', [], ['mac' => '00-00-5E-00-53-01']);
        $paste = RosterPaste::of(
            $jobs->plan(),
            "tag\tkind\tmac\tsegment\tserial\nCAM-2\tPTZ camera\t00005e005302\tq\tS2\nCAM-1\tPTZ "
                ."camera\t\tq\t\nX\ttoaster\t\tq\t\nY\tptz-camera\t00:00:5e:00:53:01\tQ\t\n"
                ."Z\tptz-camera\tzz\tq\t\nP\tdesk-phone-poe\t\tnowhere\t\n",
        );

        self::assertSame(
            [
                '',
                '',
                'No kind is called "toaster".',
                '00-00-5E-00-53-01 is the MAC of CAM-1 already.',
                '"zz" is not a MAC: it needs twelve digits 0-9 a-f, bare or parted by : or - in pairs or by . in fours.',
                'No segment is called "nowhere".',
            ],
            array_map(strval(...), array_column($paste->rows, 'why')),
        );
        self::assertSame(['new', 'same', 'refused', 'refused', 'refused', 'refused'], array_column($paste->rows, 'fate'));
        $after = $jobs->plan()->with($paste->change());
        self::assertSame(['00-00-5E-00-53-02', 'q', 'S2'], [
            (string) $after->deviceTagged('CAM-2')?->nic()?->mac,
            $after->deviceTagged('CAM-2')?->nic()?->segment,
            $after->deviceTagged('CAM-2')?->serial,
        ]);
        self::assertCount(2, $after->devices);
        self::assertStringStartsWith("tag\tkind\tmac\tsegment\tserial\nX\ttoaster", $paste->refusedText(), 'under the same headings');
    }

    public function testTheQuickLookAtTheShapeLetsNothingPassThatTheSchemaRefuses(): void
    {
        $schema = json_decode(JsonSchema::json(), false);
        self::assertIsObject($schema);
        $isAllowed = static fn (array $data): bool => (new \Opis\JsonSchema\Validator())
            ->validate(\Opis\JsonSchema\Helper::toJSON($data), $schema)->isValid();
        $chance = new \Random\Randomizer(new \Random\Engine\Xoshiro256StarStar(5));
        $allowed = $passed = 0;
        foreach ([self::port(), Jobs::demo('museum')] as $json) {
            /** @var array<string, mixed> $whole */
            $whole = json_decode($json, true);
            // A few of each sort have the shape of all.
            $whole = array_map(
                static fn (mixed $one): mixed => \is_array($one) && array_is_list($one) ? \array_slice($one, 0, 4) : $one,
                $whole,
            );
            $whole['journal'] = [
                ['number' => 1, 'at' => 'x', 'by' => 'y', 'why' => 'z', 'edits' => [['do' => 'put', 'section' => 's', 'key' => 'k']]],
            ];
            $whole['tests'] = [['key' => 't', 'what' => 'reach', 'from' => 'a', 'to' => 'b', 'port' => '80/tcp']];
            self::assertTrue(JsonSchema::fits($whole));
            self::assertFalse(JsonSchema::fits(array_replace_recursive($whole, ['tests' => [['port' => '80/udp']]])));
            self::assertFalse(JsonSchema::fits($whole + ['sealed' => ['x']]), 'what is sealed goes the long way');
            for ($i = 0; $i < 150; ++$i) {
                $data = self::changed($whole, $chance->getInt(1, 4), $chance);
                $isRight = $isAllowed($data);
                $allowed += (int) $isRight;
                $passed += (int) JsonSchema::fits($data);
                self::assertTrue($isRight || !JsonSchema::fits($data), json_encode($data) ?: '');
            }
        }
        self::assertGreaterThan(5, $allowed);
        self::assertGreaterThan(5, $passed, 'and it is of use');
    }

    /**
     * Somewhere in the document one value becomes another, or one comes.
     *
     * @param array<mixed> $data
     *
     * @return array<mixed>
     */
    private static function changed(array $data, int $depth, \Random\Randomizer $chance): array
    {
        $odd = [
            null,
            '',
            'x',
            0,
            1,
            70000,
            true,
            [],
            ['x'],
            [1],
            ['a' => 1],
            [['range' => '10.0.0.1', 'for' => 'x']],
            1.5,
            str_repeat('x', 5000),
        ];
        $keys = array_keys($data);
        $key = [] === $keys || 0 === $chance->getInt(0, 9) ? 'surplus' : $keys[$chance->getInt(0, \count($keys) - 1)];
        $inside = $data[$key] ?? null;
        $data[$key] = $depth > 1 && \is_array($inside)
            ? self::changed($inside, $depth - 1, $chance)
            : $odd[$chance->getInt(0, \count($odd) - 1)];

        return $data;
    }

    public function testARemovalTakesWhatLeansOnItAlong(): void
    {
        $document = JobDocument::fromJson(self::port(), Jobs::catalogue());
        $plan = $document->plan(Jobs::catalogue());
        $edits = [...Removal::dependents($plan, 'devices', 'pbx-01'), Edit::remove('devices', $plan->row('devices', 'pbx-01') ?? [])];
        $after = $plan->with(new \Vorhut\Core\Plan\Change(new Message(''), $edits));
        self::assertSame(['a2180'], array_keys($after->accounts), 'what is at the provider stays there');
        self::assertNull($after->extensionNumbered('2101')?->pbx);
        self::assertArrayNotHasKey('pbx-01.lan', $after->nics);
        $left = array_column($after->rows('settings'), 'key');
        self::assertSame([], preg_grep('~^(devices/pbx-01|nics/pbx-01)~', $left));
        self::assertContains('devices/cam-01#hostName', $left);
        self::assertSame(
            JobDocument::of($after)->toJson(),
            JobDocument::fromJson(JobDocument::of($after)->toJson(), Jobs::catalogue())->toJson(),
            'nothing dangles',
        );
    }

    /** @return list<string> */
    private static function pointers(string $json): array
    {
        try {
            JobDocument::fromJson($json, Jobs::catalogue());
        } catch (BadDocument $e) {
            $pointers = array_column($e->errors, 'pointer');
            sort($pointers);

            return $pointers;
        }

        return [];
    }
}
