<?php

declare(strict_types=1);

namespace Vorhut\Tests\App;

use Doctrine\DBAL\Connection;
use Doctrine\DBAL\DriverManager;
use Doctrine\DBAL\Tools\DsnParser;
use Doctrine\ORM\EntityManager;
use Doctrine\ORM\EntityManagerInterface;
use Doctrine\ORM\Tools\SchemaTool;
use Psr\Cache\CacheItemPoolInterface;
use Symfony\Component\Cache\Adapter\NullAdapter;
use Symfony\Component\Process\Process;
use Vorhut\Application\ImportJob;
use Vorhut\Core\Catalogue\Catalogue;
use Vorhut\Core\Document\JobDocument;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\EditKind;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Entity\JournalEntry;
use Vorhut\Exchange\Jobs as JobShelf;
use Vorhut\Journal\BulkInsert;
use Vorhut\Journal\History;
use Vorhut\Journal\PlanRowCache;
use Vorhut\Journal\Records;
use Vorhut\Secrets\Secrets;
use Vorhut\Tests\Support\ApplicationTestCase;
use Vorhut\Tests\Support\Jobs;

/**
 * Four people change one job at the same time, each in a process of its own: nothing dangles, nothing is lost, the journal tells it all.
 */
final class StormTest extends ApplicationTestCase
{
    private const PEOPLE = ['Mara', 'Jonas', 'Nora', 'Emil'];
    private const CHANGES = 40;

    public function testAStormOfEditsIsReplayedByteForByte(): void
    {
        [$url, $connection] = self::emptyDatabase();
        $manager = new EntityManager($connection, self::service(EntityManagerInterface::class)->getConfiguration());
        (new SchemaTool($manager))->createSchema($manager->getMetadataFactory()->getAllMetadata());
        $records = new Records($manager, self::service(Catalogue::class), new PlanRowCache(new NullAdapter()));
        $shelf = new JobShelf($manager, $records, self::service(Secrets::class));
        $start = JobDocument::fromJson(Jobs::demo('museum'), Jobs::catalogue());
        (new ImportJob($manager, $shelf, self::service(Secrets::class), new BulkInsert($manager)))->import($start, 'storm');

        $people = [];
        foreach (self::PEOPLE as $i => $name) {
            $people[$name] = new Process(
                ['php', 'tests/Support/storm.php', 'storm', $name, (string) (41 + $i), (string) self::CHANGES],
                \dirname(__DIR__, 2),
                ['DATABASE_URL' => $url, 'APP_ENV' => 'test'],
            );
            $people[$name]->setTimeout(120)->start();
        }
        $counts = ['written' => 0, 'conflict' => 0, 'refused' => 0];
        foreach ($people as $name => $process) {
            self::assertSame(0, $process->wait(), $name.': '.$process->getErrorOutput().$process->getOutput());
            /** @var array<string, int> $own */
            $own = json_decode($process->getOutput(), true);
            foreach ($counts as $what => $n) {
                $counts[$what] = $n + ($own[$what] ?? 0);
            }
        }
        self::assertGreaterThan(40, $counts['written'], json_encode($counts) ?: '');

        $manager->clear();
        $job = $shelf->find('storm');
        self::assertNotNull($job);
        $stored = $shelf->export($job)->toJson();
        self::assertSame($stored, JobDocument::fromJson($stored, Jobs::catalogue())->toJson(), 'the program reads what it has written');
        $entries = $manager->getRepository(JournalEntry::class)->findBy(['job' => $job], ['number' => 'ASC']);
        self::assertCount($counts['written'], $entries);
        self::assertSame(range(1, $counts['written']), array_map(static fn (JournalEntry $one): int => $one->number, $entries));
        $replayed = $start->plan(Jobs::catalogue());
        foreach ($entries as $entry) {
            $replayed = self::replayed($replayed, $entry);
        }
        self::assertSame(self::withoutJournal($stored), self::withoutJournal(JobDocument::of($replayed)->toJson()));

        // What the four kept of the plan for one another is what stands in the database.
        $kept = new PlanRowCache(self::service(CacheItemPoolInterface::class));
        $sharing = new Records($manager, self::service(Catalogue::class), $kept);
        for ($look = 0; $look < 2; ++$look) {
            self::assertSame(self::withoutJournal($stored), self::withoutJournal(JobDocument::of($sharing->plan($job))->toJson()));
            self::assertNotNull($kept->get($job, $job->planStamp));
        }
    }

    /** What the entry did, with who set a value and when, which the journal itself writes beside it. */
    private static function replayed(Plan $plan, JournalEntry $entry): Plan
    {
        $edits = [];
        foreach (History::change($entry)->edits as $edit) {
            $edits[] = $edit;
            if (EditKind::Put === $edit->kind && 'settings' === $edit->section && null !== Face::tryFrom($edit->field)) {
                $edits[] = Edit::put('settings', $edit->key, $edit->field.'By', null, null === $edit->after ? null : $entry->by);
                $edits[] = Edit::put('settings', $edit->key, $edit->field.'At', null, null === $edit->after ? null : $entry->at);
            }
        }

        return $plan->with(new Change(History::why($entry), $edits));
    }

    private static function withoutJournal(string $json): string
    {
        /** @var array<string, mixed> $document */
        $document = json_decode($json, true);
        unset($document['journal']);

        return json_encode($document, \JSON_PRETTY_PRINT | \JSON_UNESCAPED_UNICODE) ?: '';
    }

    /** @return array{string, Connection} */
    private static function emptyDatabase(): array
    {
        $url = $_SERVER['DATABASE_URL'] ?? null;
        self::assertIsString($url);
        $url = (string) preg_replace('~/[^/]*$~D', '/vorhut_upgrade', $url);
        $connection = DriverManager::getConnection((new DsnParser(['mysql' => 'pdo_mysql']))->parse($url));
        $connection->executeStatement('SET FOREIGN_KEY_CHECKS = 0');
        foreach ($connection->fetchFirstColumn('SHOW TABLES') as $table) {
            self::assertIsString($table);
            $connection->executeStatement("DROP TABLE `$table`");
        }
        $connection->executeStatement('SET FOREIGN_KEY_CHECKS = 1');

        return [$url, $connection];
    }
}
