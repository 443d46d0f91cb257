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
use Vorhut\Tests\Support\Jobs;

final class JobDocumentTest extends TestCase
{
    private static function port(): string
    {
        return (string) file_get_contents(\dirname(__DIR__, 3).'/demo/port.json');
    }

    public function testReadAndWrittenAgainItIsTheSameByteForByte(): void
    {
        $document = JobDocument::fromJson(self::port(), Jobs::kinds());
        self::assertSame(self::port(), $document->toJson());
        self::assertSame(self::port(), JobDocument::of($document->plan(Jobs::kinds()))->toJson(), 'and through the snapshot');
    }

    public function testThePublishedSchemaIsTheOneInForce(): void
    {
        self::assertSame(JsonSchema::json(), file_get_contents(\dirname(__DIR__, 3).'/schema/job.schema.json'), 'bin/console vorhut:schema > schema/job.schema.json');
    }

    public function testEveryErrorIsNamedWithItsPointer(): void
    {
        /** @var array<string, list<array<string, mixed>>> $data */
        $data = json_decode(self::port(), true);
        $data['segments'][1]['network'] = '10.64.30.7/24';
        $data['devices'][0]['kind'] = 'toaster';
        $data['nics'][2]['mac'] = '01-00-5E-00-00-01';
        $data['nics'][] = $data['nics'][4];
        $value = array_search('nics/cam-01.lan#address', array_column($data['values'], 'key'), true);
        $data['values'][$value]['planned'] = '10.64.300.1';
        $data['filters'][0]['from'] = 'nowhere';
        self::assertEqualsCanonicalizing(['/devices/0/kind', '/filters/0/from', '/nics/2/mac', '/nics/'.(\count($data['nics']) - 1).'/key', '/segments/1/network', "/values/$value/planned"], self::pointers((string) json_encode($data)));
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
        $jobs = (new Jobs())->segment('q', '10.64.40.0/24', '10.64.40.1')->device('cam-1', 'ptz-camera', 'q', [], ['mac' => '00-00-5E-00-53-01']);
        $paste = RosterPaste::of($jobs->plan(), "tag\tkind\tmac\tsegment\tserial\nCAM-2\tPTZ camera\t00005e005302\tq\tS2\nCAM-1\tPTZ camera\t\tq\t\nX\ttoaster\t\tq\t\nY\tptz-camera\t00:00:5e:00:53:01\tQ\t\nZ\tptz-camera\tzz\tq\t\nP\tdesk-phone-poe\t\tnowhere\t\n");

        self::assertSame(['', 'CAM-1 is in the roster already.', 'No kind is called "toaster".', '00-00-5E-00-53-01 is the MAC of CAM-1 already.', '"zz" is not a MAC: it needs twelve digits 0-9 a-f, bare or parted by : or - in pairs or by . in fours.', 'No segment is called "nowhere".'], array_column($paste->rows, 'why'));
        $after = $jobs->plan()->with($paste->change());
        self::assertSame(['00-00-5E-00-53-02', 'q', 'S2'], [(string) $after->deviceTagged('CAM-2')?->nic()?->mac, $after->deviceTagged('CAM-2')?->nic()?->segment, $after->deviceTagged('CAM-2')?->serial]);
        self::assertCount(2, $after->devices);
        self::assertStringStartsWith('CAM-1', $paste->refusedText());
    }

    public function testARemovalTakesWhatLeansOnItAlong(): void
    {
        $document = JobDocument::fromJson(self::port(), Jobs::kinds());
        $plan = $document->plan(Jobs::kinds());
        $edits = [...Removal::leaning($plan, 'devices', 'pbx-01'), Edit::remove('devices', $plan->row('devices', 'pbx-01') ?? [])];
        $after = $plan->with(new \Vorhut\Core\Plan\Change(new \Vorhut\Core\Plan\Message(''), $edits));
        self::assertSame([], $after->accounts);
        self::assertNull($after->extensionNumbered('2101')?->pbx);
        self::assertArrayNotHasKey('pbx-01.lan', $after->nics);
        self::assertSame(JobDocument::of($after)->toJson(), JobDocument::fromJson(JobDocument::of($after)->toJson(), Jobs::kinds())->toJson(), 'nothing dangles');
    }

    /** @return list<string> */
    private static function pointers(string $json): array
    {
        try {
            JobDocument::fromJson($json, Jobs::kinds());
        } catch (BadDocument $e) {
            $pointers = array_column($e->errors, 'pointer');
            sort($pointers);

            return $pointers;
        }

        return [];
    }
}
