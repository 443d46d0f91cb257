<?php

declare(strict_types=1);

namespace Vorhut\Tests\App;

use Doctrine\DBAL\Connection;
use Doctrine\DBAL\DriverManager;
use Doctrine\DBAL\Schema\Schema;
use Doctrine\DBAL\Tools\DsnParser;
use Doctrine\Migrations\AbstractMigration;
use Doctrine\ORM\EntityManager;
use Doctrine\ORM\EntityManagerInterface;
use Doctrine\ORM\Tools\SchemaTool;
use Psr\Log\NullLogger;
use Symfony\Component\Cache\Adapter\NullAdapter;
use Vorhut\Core\Catalogue\Catalogue;
use Vorhut\Core\Document\JobDocument;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Wire\Picture;
use Vorhut\Entity\Job;
use Vorhut\Entity\User;
use Vorhut\Entity\WorkOrder;
use Vorhut\Exchange\Backup;
use Vorhut\Exchange\Jobs as JobShelf;
use Vorhut\Exchange\Photos;
use Vorhut\Journal\KeptRows;
use Vorhut\Journal\ManyRows;
use Vorhut\Journal\Records;
use Vorhut\Migrations\Version20261124000000;
use Vorhut\Secrets\Secrets;
use Vorhut\Tests\Support\ApplicationTestCase;
use Vorhut\Tests\Support\Jobs;
use Vorhut\Tests\Support\OldDocument;

/** A database of version 1, filled as that version filled it, holds after the migration what its document holds when it is read today. */
final class MigrationTest extends ApplicationTestCase
{
    private const TABLES = [
        'segments' => 'segment', 'devices' => 'device', 'nics' => 'nic', 'routerPorts' => 'router_port', 'routes' => 'static_route',
        'filters' => 'filter_rule', 'extensions' => 'extension', 'accounts' => 'account', 'values' => 'faced_value',
        'credentials' => 'credential', 'marks' => 'mark', 'lines' => 'test_line', 'fetches' => 'file_fetch',
        'observations' => 'observation',
    ];
    private const COLUMNS = [
        'key' => 'record_key', 'number' => 'number_text', 'at' => 'made_at', 'by' => 'made_by', 'from' => 'from_end', 'to' => 'to_end',
        'user' => 'user_name', 'owner' => 'owner_key', 'field' => 'field_name', 'mode' => 'address_mode', 'position' => 'place',
        'planned' => 'planned_value', 'set' => 'set_value', 'seen' => 'seen_value', 'line' => 'test_line', 'length' => 'secret_length',
        'file' => 'file_version',
    ];

    private Connection $old;

    protected function setUp(): void
    {
        parent::setUp();
        $url = $_SERVER['DATABASE_URL'] ?? null;
        self::assertIsString($url);
        $this->old = DriverManager::getConnection(
            ['dbname' => 'vorhut_upgrade'] + (new DsnParser(['mysql' => 'pdo_mysql']))->parse($url),
        );
        $this->old->executeStatement('SET FOREIGN_KEY_CHECKS = 0');
        foreach ($this->old->fetchFirstColumn('SHOW TABLES') as $table) {
            self::assertIsString($table);
            $this->old->executeStatement("DROP TABLE `$table`");
        }
        $this->old->executeStatement('SET FOREIGN_KEY_CHECKS = 1');
    }

    public function testADatabaseOfVersionOneKeepsAllItHolds(): void
    {
        $json = OldDocument::full();
        $this->migrate(Version20261124000000::class);
        $this->fill($json);
        $this->migrateOn();

        [$manager, $shelf] = $this->house();
        $job = $shelf->find('old');
        self::assertNotNull($job);
        self::assertSame(JobDocument::fromJson($json, Jobs::catalogue())->toJson(), $shelf->export($job)->toJson());
        $order = $manager->getRepository(WorkOrder::class)->findAll()[0];
        self::assertSame(['tests' => ['reach:tech>cam-01:80/tcp'], 'secrets' => []], $order->what);

        $differences = (new SchemaTool($manager))->getUpdateSchemaSql($manager->getMetadataFactory()->getAllMetadata());
        self::assertSame([], $differences, 'the tables are those that the entities want');
    }

    public function testABackupThatIsPutBackIsTheSameToTheByteAndADamagedOneTouchesNothing(): void
    {
        $this->migrate(Version20261124000000::class);
        $this->migrateOn();
        [$manager, $shelf] = $this->house();
        foreach (['port', 'museum'] as $demo) {
            $shelf->import(JobDocument::fromJson(Jobs::demo($demo), Jobs::catalogue()), $demo);
        }
        $photo = Picture::fromBytes(PhotosTest::JPEG);
        $port = $shelf->find('port') ?? self::fail('no port');
        (new Photos($manager))->keep($port, 'cam-01', 'unpack', $photo, new User('jo', 'Jo "ø" \\', 'lead'), '2026-03-01T09:00:00Z');
        // More together than a server takes at once, and bytes that are no text.
        for ($n = 1; $n <= 4; ++$n) {
            $large = Picture::fromBytes(substr(PhotosTest::JPEG, 0, -2).str_repeat(\chr(0x80 + $n).'x', 2_500_000)."\xFF\xD9");
            (new Photos($manager))->keep($port, 'cam-01', 'unpack', $large, new User('jo', 'Jo', 'lead'), '2026-03-01T09:00:00Z');
        }
        $exports = static fn (JobShelf $shelf): array => array_map(
            static fn (Job $job): string => $shelf->export($job)->toJson(),
            $shelf->all(),
        );
        $before = $exports($shelf);
        $lines = [];
        $backup = new Backup($this->old);
        $rows = $backup->write(static function (string $line) use (&$lines): void {
            $lines[] = $line;
        }, '2026-03-01T10:00:00Z');
        self::assertSame(['rows' => $rows, 'at' => '2026-03-01T10:00:00Z'], Backup::check($lines));
        self::assertGreaterThan(500, $rows);

        // What happened after it is gone with it.
        $this->old->executeStatement("UPDATE device SET room = 'elsewhere'");
        $this->old->executeStatement('DELETE FROM photo');
        foreach ([
            'cut off' => \array_slice($lines, 0, 40),
            'one sign is another' => [...\array_slice($lines, 0, 40), str_replace('"', "'", $lines[40]), ...\array_slice($lines, 41)],
            'a line is missing' => [...\array_slice($lines, 0, 40), ...\array_slice($lines, 41)],
            'nothing' => [],
            'something else' => ["{\"format\":\"vorhut-job\"}\n"],
        ] as $how => $damaged) {
            try {
                Backup::check($damaged);
                self::fail($how);
            } catch (Malformed) {
                $this->addToAssertionCount(1);
            }
        }
        $backup->restore($lines);

        [$manager, $shelf] = $this->house();
        self::assertSame($before, $exports($shelf));
        $photos = new Photos($manager);
        $port = $shelf->find('port') ?? self::fail('no port');
        self::assertSame($photo->bytes, $photos->find($port, $photos->of($port)[0]['id'])['bytes'] ?? null);
        self::assertSame('Jo "ø" \\', $photos->of($port)[0]['by']);
        self::assertSame([], (new SchemaTool($manager))->getUpdateSchemaSql($manager->getMetadataFactory()->getAllMetadata()));
    }

    private function migrateOn(): void
    {
        foreach (glob(\dirname(__DIR__, 2).'/migrations/*.php') ?: [] as $file) {
            $version = 'Vorhut\\Migrations\\'.basename($file, '.php');
            self::assertTrue(is_subclass_of($version, AbstractMigration::class));
            Version20261124000000::class === $version || $this->migrate($version);
        }
    }

    /** @return array{EntityManager, JobShelf} that look into the second database */
    private function house(): array
    {
        $manager = new EntityManager($this->old, self::service(EntityManagerInterface::class)->getConfiguration());

        return [$manager, new JobShelf(
            $manager,
            new Records($manager, self::service(Catalogue::class), new KeptRows(new NullAdapter())),
            self::service(Secrets::class),
            new ManyRows($manager),
        )];
    }

    /** @param class-string<AbstractMigration> $version */
    private function migrate(string $version): void
    {
        $migration = new $version($this->old, new NullLogger());
        $migration->up(new Schema());
        foreach ($migration->getSql() as $query) {
            /** @var list<int|string|null> $values */
            $values = $query->getParameters();
            $this->old->executeStatement($query->getStatement(), $values);
        }
    }

    private function fill(string $json): void
    {
        /** @var array<string, list<array<string, mixed>>> $document */
        $document = json_decode($json, true);
        /** @var array<string, mixed> $facts */
        $facts = $document['job'];
        $this->put('job', $facts + ['slug' => 'old', 'revision' => 7, 'fileToken' => str_repeat('a', 32), 'rehearsed' => 1]);
        $job = (int) $this->old->lastInsertId();
        foreach (self::TABLES as $section => $table) {
            foreach ($document[$section] ?? [] as $row) {
                $this->put($table, $row + ['jobId' => $job], self::COLUMNS);
            }
        }
        foreach ($document['journal'] ?? [] as $entry) {
            $this->put('journal_entry', $entry + ['jobId' => $job], ['number' => 'number'] + self::COLUMNS);
        }
        $this->put('work_order', [
            'jobId' => $job,
            'kind' => 'prove',
            'what' => ['lines' => ['reach:tech>cam-01:80/tcp'], 'secrets' => []],
            'orderedBy' => 'Jo',
            'state' => 'waiting',
        ]);
    }

    /**
     * @param array<string, mixed>  $row
     * @param array<string, string> $columns where the column is called otherwise than the field
     */
    private function put(string $table, array $row, array $columns = []): void
    {
        $data = [];
        foreach ($row as $field => $value) {
            $data[$columns[$field] ?? strtolower((string) preg_replace('/[A-Z]/', '_$0', $field))] = match (true) {
                \is_array($value) => json_encode($value, \JSON_UNESCAPED_SLASHES | \JSON_UNESCAPED_UNICODE),
                \is_bool($value) => (int) $value,
                default => $value,
            };
        }
        $this->old->insert($table, $data);
    }
}
