<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Document;

use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Analysis\Findings;
use Vorhut\Core\Analysis\ShippedRules;
use Vorhut\Core\Document\JobDocument;
use Vorhut\Core\Document\Upgrade;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Plan\Plan;
use Vorhut\Tests\Support\Jobs;
use Vorhut\Tests\Support\OldDocument;

/** Documents of version 1 are read for ever; two of them lie in tests/documents as they were written then. */
final class UpgradeTest extends TestCase
{
    private static function plan(string $json): Plan
    {
        return JobDocument::fromJson($json, Jobs::catalogue())->plan(Jobs::catalogue());
    }

    #[TestWith(['port'])]
    #[TestWith(['museum'])]
    public function testAnOldDocumentIsReadWholeAndWrittenInTheNewForm(string $name): void
    {
        /** @var array<string, list<array<string, mixed>>> $old */
        $old = json_decode(OldDocument::of($name), true);
        $document = JobDocument::fromJson(OldDocument::of($name), Jobs::catalogue());
        $new = $document->toJson();
        self::assertSame($new, JobDocument::fromJson($new, Jobs::catalogue())->toJson());
        self::assertStringContainsString('"version": 2', $new);
        foreach (['segments', 'devices', 'nics', 'filters', 'extensions', 'accounts', 'credentials', 'marks'] as $section) {
            self::assertCount(\count($old[$section] ?? []), $document->sections[$section], $section);
        }
        $plan = self::plan(OldDocument::of($name));
        foreach ($old['values'] as $value) {
            self::assertIsString($value['key']);
            foreach (['planned', 'set', 'seen', 'setBy', 'setAt'] as $face) {
                self::assertSame($value[$face] ?? null, $plan->row('settings', $value['key'])[$face] ?? null, $value['key'].' '.$face);
            }
        }
    }

    public function testItsMistakesAreStillFound(): void
    {
        $codes = static fn (Plan $plan): array => array_map(
            static fn (Finding $one): string => $one->key(),
            Findings::of($plan, ShippedRules::all())->all,
        );
        $old = self::plan(OldDocument::of('port'));
        // Of what came since nothing can be found in it.
        $there = array_filter($codes(self::plan(Jobs::demo('port'))), static fn (string $key): bool => array_reduce(
            explode('+', explode('#', explode(':', $key, 2)[1], 2)[0]),
            static fn (bool $all, string $record): bool => $all && null !== $old->row(...explode('/', $record, 2)),
            true,
        ));
        self::assertCount(9, $there);
        // Its filter lets no names and no time through, and opens the switch to the phones: neither was looked at then.
        $isNew = static fn (string $key): bool => 1 === preg_match('/^(needed-way-broken:.*>tech$|admin-page-opened:)/D', $key);
        self::assertSame(array_values($there), array_values(array_filter(
            $codes($old),
            static fn (string $key): bool => !$isNew($key),
        )));
    }

    public function testWhatHadAColumnOfItsOwnIsASettingNow(): void
    {
        /** @var array<string, list<array<string, mixed>>> $old */
        $old = json_decode(OldDocument::of('port'), true);
        $weaves = array_column($old['segments'], 'weave', 'key');
        $plan = self::plan(OldDocument::full());

        self::assertSame('4', $plan->devices['pbx-01']->setting('analoguePorts')->planned);
        self::assertSame('554/tcp', $plan->tests['l']->port);
        self::assertSame('udp, tcp', $plan->devices['ra-01']->setting('transport')->planned, 'one form for a list');
        $observation = $plan->observations['reach:tech>cam-01:554/tcp'][0];
        self::assertSame([['a=b'], "the connection was taken\nby \"it\""], [$observation->basis, (string) $observation->detail]);
        self::assertSame($weaves['quay'] ?? null, $plan->segments['quay']->pattern);
    }

    public function testTheJournalSpeaksOfTheNewPlaces(): void
    {
        self::assertSame(
            [
                'do' => 'put',
                'section' => 'settings',
                'key' => 'nics/a.lan#address',
                'field' => 'planned',
                'before' => null,
                'after' => '10.0.0.1',
            ],
            Upgrade::edit([
                'do' => 'put',
                'section' => 'values',
                'key' => 'nics/a.lan#address',
                'field' => 'planned',
                'before' => null,
                'after' => '10.0.0.1',
            ]),
        );
        self::assertSame(
            'pattern',
            Upgrade::edit(['do' => 'put', 'section' => 'segments', 'key' => 's', 'field' => 'weave', 'before' => 1, 'after' => 2])['field'],
        );
        self::assertSame(
            [
                'do' => 'put',
                'section' => 'settings',
                'key' => 'devices/p#analoguePorts',
                'field' => 'planned',
                'before' => null,
                'after' => '4',
            ],
            Upgrade::edit([
                'do' => 'put',
                'section' => 'devices',
                'key' => 'p',
                'field' => 'analoguePorts',
                'before' => null,
                'after' => 4,
            ]),
        );
        self::assertSame(
            ['key' => 's', 'name' => 'S', 'pattern' => 3],
            Upgrade::edit([
                'do' => 'add',
                'section' => 'segments',
                'key' => 's',
                'row' => ['key' => 's', 'name' => 'S', 'weave' => 3],
            ])['row'],
        );
    }

    public function testAKeyThatNoPointerCouldNameIsMadeFitAndWhatPointedFollows(): void
    {
        $plan = self::plan((string) json_encode([
            'format' => 'vorhut-job',
            'version' => 1,
            'job' => ['name' => 'Odd', 'laptop' => 'CAM 1'],
            'segments' => [
                ['key' => 'Quay>1', 'name' => 'Quay', 'network' => '10.64.40.0/24'],
                ['key' => 'quay-1', 'name' => 'Other', 'network' => '10.64.41.0/24'],
            ],
            'devices' => [['key' => 'CAM 1', 'tag' => 'CAM-1', 'kind' => 'ptz-camera', 'controlledFrom' => 'Quay>1']],
            'nics' => [['key' => 'CAM 1.lan', 'device' => 'CAM 1', 'name' => 'lan', 'segment' => 'Quay>1', 'mode' => 'static']],
            'values' => [
                ['key' => 'devices/CAM 1#hostName', 'owner' => 'devices/CAM 1', 'field' => 'hostName', 'planned' => 'cam'],
                ['key' => 'nics/CAM 1.lan#address', 'owner' => 'nics/CAM 1.lan', 'field' => 'address', 'planned' => '10.64.40.31'],
            ],
            'credentials' => [['key' => 'c', 'owner' => 'devices/CAM 1', 'purpose' => 'admin', 'state' => 'changed']],
        ]));
        self::assertSame(['quay-1', 'quay-1-2'], array_keys(self::sorted($plan->segments)));
        $camera = $plan->devices['cam-1'];
        self::assertSame(
            ['quay-1-2', 'cam', '10.64.40.31', 'quay-1-2', 'cam-1'],
            [
                $camera->controlledFrom,
                $camera->setting('hostName')->planned,
                (string) $camera->nic()?->plannedAddress(),
                $camera->nic()?->segment,
                $plan->job->text('laptop'),
            ],
        );
        self::assertFalse($plan->credential('devices/cam-1', 'admin')?->isDefault);
    }

    public function testANewerOneIsRefusedAndRubbishIsNoCrash(): void
    {
        foreach ([
            '{"format":"vorhut-job","version":3,"job":{"name":"x"}}',
            '{"format":"vorhut-job","version":1,"values":7,"devices":"x","journal":[1],"job":{"name":"x"}}',
            '{"format":"vorhut-job","version":1,"values":[1,{"key":[]}],"job":{"name":"x"}}',
        ] as $json) {
            try {
                JobDocument::fromJson($json, Jobs::catalogue());
                self::fail($json);
            } catch (\Vorhut\Core\Document\BadDocument $e) {
                self::assertStringStartsWith('/', $e->errors[0]['pointer']);
            }
        }
    }

    /**
     * @template T
     *
     * @param array<string, T> $records
     *
     * @return array<string, T>
     */
    private static function sorted(array $records): array
    {
        ksort($records);

        return $records;
    }
}
