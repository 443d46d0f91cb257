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
use Vorhut\Application\ImportJob;
use Vorhut\Core\Catalogue\Catalogue;
use Vorhut\Core\Document\JobDocument;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Wire\Picture;
use Vorhut\Entity\Job;
use Vorhut\Entity\User;
use Vorhut\Entity\WorkOrder;
use Vorhut\Exchange\Backup;
use Vorhut\Exchange\BackupFile;
use Vorhut\Exchange\Jobs as JobShelf;
use Vorhut\Exchange\Migrations;
use Vorhut\Exchange\Photos;
use Vorhut\Exchange\Restore;
use Vorhut\Journal\BulkInsert;
use Vorhut\Journal\PlanRowCache;
use Vorhut\Journal\Records;
use Vorhut\Migrations\Version20261124000000;
use Vorhut\Secrets\SealingKey;
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
        $migrations = new Migrations(\dirname(__DIR__, 2));
        $migrations->run($this->old);
        [$manager, $shelf] = $this->house();
        $import = new ImportJob($manager, $shelf, self::service(Secrets::class), new BulkInsert($manager));
        foreach (['port', 'museum'] as $demo) {
            $import->import(JobDocument::fromJson(Jobs::demo($demo), Jobs::catalogue()), $demo);
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
        $key = self::service(Secrets::class)->key();
        $lines = [];
        $rows = (new Backup($this->old))->write(static function (string $line) use (&$lines): void {
            $lines[] = $line;
        }, $key, '2026-03-01T10:00:00Z');
        $found = BackupFile::check($lines, $key);
        self::assertSame([$rows, '2026-03-01T10:00:00Z'], [$found->rows, $found->at]);
        self::assertGreaterThan(500, $rows);

        // What happened after it is gone with it.
        $this->old->executeStatement("UPDATE device SET room = 'elsewhere'");
        $this->old->executeStatement('DELETE FROM photo');
        $restore = new Restore($this->old, $migrations);
        foreach ($this->hostile($lines, $key) as $how => [$damaged, $why]) {
            try {
                $restore->restore(BackupFile::check($damaged, $key, true), $damaged, static fn (): null => null);
                self::fail($how);
            } catch (Malformed $e) {
                self::assertStringContainsString($why, $e->getMessage(), $how);
                self::assertSame('elsewhere', $this->old->fetchOne('SELECT room FROM device LIMIT 1'), $how);
                self::assertSame([], $this->old->fetchFirstColumn("SHOW DATABASES LIKE 'vorhut\\_upgrade\\_%'"), $how);
            }
        }
        $laid = 0;
        $restore->restore($found, $lines, static function () use (&$laid): void {
            ++$laid;
        });
        self::assertSame(1, $laid);

        [$manager, $shelf] = $this->house();
        self::assertSame($before, $exports($shelf));
        $photos = new Photos($manager);
        $port = $shelf->find('port') ?? self::fail('no port');
        self::assertSame($photo->bytes, $photos->find($port, $photos->of($port)[0]['id'])['bytes'] ?? null);
        self::assertSame('Jo "ø" \\', $photos->of($port)[0]['by']);
        $differences = (new SchemaTool($manager))->getUpdateSchemaSql($manager->getMetadataFactory()->getAllMetadata());
        self::assertSame(['DROP TABLE '.Migrations::TABLE], $differences, 'which the entities do not know');
    }

    /**
     * @param list<string> $lines
     *
     * @return iterable<string, array{list<string>, string}> what is no backup of ours, and a part of what is said of it
     */
    private function hostile(array $lines, SealingKey $key): iterable
    {
        $from = static fn (int $n, string ...$instead): array => [
            ...\array_slice($lines, 0, $n),
            ...array_values($instead),
            ...\array_slice($lines, $n + 1),
        ];
        yield 'cut off' => [\array_slice($lines, 0, 40), 'incomplete'];
        yield 'one sign is another' => [$from(40, str_replace('"', "'", $lines[40])), 'incomplete'];
        yield 'a line is missing' => [$from(40), 'was changed'];
        yield 'a value is another' => [$from(40, str_replace(':"', ':"x', $lines[40])), 'was changed'];
        yield 'a statement behind its end' => [[...$lines, "{\"table\":\"x\",\"made\":\"DROP TABLE job\"}\n"], 'after its end'];
        yield 'blanks behind its end' => [[...$lines, "\n"], 'after its end'];
        yield 'nothing' => [[], 'not a backup'];
        yield 'something else' => [["{\"format\":\"vorhut-job\"}\n"], 'not a backup'];
        foreach ([
            'a table of its own' => ['{"table":"evil","made":"DROP TABLE job"}', '{"row":{"id":1}}', 'evil'],
            'a column of its own' => ['{"table":"job"}', '{"row":{"id":1,"x`, (SELECT 1)":2}}', 'job'],
            'a row without columns' => ['{"table":"job"}', '{"row":{}}', 'job'],
            'a version that is not known' => [
                '{"table":"doctrine_migration_versions"}', '{"row":{"version":"Vorhut\\\\Migrations\\\\Version29990101000000"}}', 'newer',
            ],
        ] as $how => [$table, $row, $why]) {
            $forged = [
                "{\"format\":\"vorhut-backup\",\"version\":2,\"at\":\"x\"}\n",
                "{\"table\":\"doctrine_migration_versions\"}\n",
                "{\"row\":{\"version\":\"Vorhut\\\\Migrations\\\\Version20261124000000\"}}\n",
                $table."\n",
                $row."\n",
            ];
            $code = hash_hmac('sha256', implode('', $forged), $key->derive(Backup::PURPOSE));
            yield $how => [[...$forged, "{\"rows\":2,\"hmac\":\"$code\"}\n"], $why];
        }
    }

    private function migrateOn(): void
    {
        foreach (glob(\dirname(__DIR__, 2).'/migrations/*.php') ?: [] as $file) {
            $version = 'Vorhut\\Migrations\\'.basename($file, '.php');
            self::assertTrue(is_subclass_of($version, AbstractMigration::class));
            if (Version20261124000000::class !== $version) {
                $this->migrate($version);
            }
        }
    }

    /** @return array{EntityManager, JobShelf} that look into the second database */
    private function house(): array
    {
        $manager = new EntityManager($this->old, self::service(EntityManagerInterface::class)->getConfiguration());

        return [$manager, new JobShelf(
            $manager,
            new Records($manager, self::service(Catalogue::class), new PlanRowCache(new NullAdapter())),
            self::service(Secrets::class),
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
        /** @var array{job: array<string, mixed>, ...<string, list<array<string, mixed>>>} $document */
        $document = json_decode($json, true);
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
