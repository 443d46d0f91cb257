<?php

declare(strict_types=1);

namespace Vorhut\Journal;

use Doctrine\Common\Collections\ArrayCollection;
use Doctrine\ORM\EntityManagerInterface;
use Doctrine\ORM\Query;
use Doctrine\ORM\Query\Parameter;
use Vorhut\Core\Catalogue\Catalogue;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Field;
use Vorhut\Core\Plan\Integrity;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Row;
use Vorhut\Core\Plan\Schema;
use Vorhut\Entity;
use Vorhut\Entity\Job;
use Vorhut\Entity\Record;

/**
 * Between stored records and the plain rows of the core: a snapshot of a job, and single records by their key.
 *
 * @phpstan-import-type RowData from Edit
 * @phpstan-import-type Stored from Edit
 */
final readonly class Records
{
    /** @var array<string, class-string<Record>> */
    private const CLASSES = [
        'ownKinds' => Entity\OwnKind::class,
        'segments' => Entity\Segment::class,
        'devices' => Entity\Device::class,
        'nics' => Entity\Nic::class,
        'routerPorts' => Entity\RouterPort::class,
        'routes' => Entity\StaticRoute::class,
        'routes6' => Entity\StaticRoute6::class,
        'translations' => Entity\Translation::class,
        'groups' => Entity\MulticastGroup::class,
        'joins' => Entity\MulticastJoin::class,
        'rangeLists' => Entity\RangeList::class,
        'filters' => Entity\FilterRule::class,
        'extensions' => Entity\Extension::class,
        'terminals' => Entity\Terminal::class,
        'accounts' => Entity\Account::class,
        'timeFrames' => Entity\TimeFrame::class,
        'trunks' => Entity\Trunk::class,
        'callRoutes' => Entity\CallRoute::class,
        'inboundRoutes' => Entity\InboundRoute::class,
        'ringGroups' => Entity\RingGroup::class,
        'menus' => Entity\CallMenu::class,
        'cables' => Entity\Cable::class,
        'streams' => Entity\Stream::class,
        'soundPatches' => Entity\SoundPatch::class,
        'deliveries' => Entity\StreamDelivery::class,
        'settings' => Entity\SettingValue::class,
        'credentials' => Entity\Credential::class,
        'marks' => Entity\Mark::class,
        'waits' => Entity\Wait::class,
        'licences' => Entity\Licence::class,
        'tests' => Entity\AddedTest::class,
        'fetches' => Entity\Fetch::class,
        'observations' => Entity\Observation::class,
    ];

    /** Evidence, which accumulates: section → groups; only the newest entry of each is part of the snapshot. */
    private const EVIDENCE = [
        'fetches' => ['mac', 'device', 'status', 'on_site'],
        'observations' => ['test_key', 'on_site', 'outcome'],
    ];

    public function __construct(private EntityManagerInterface $manager, private Catalogue $catalogue, private PlanRowCache $kept)
    {
    }

    /** The snapshot that pages and rules use: the plan, and the evidence that verdicts need. */
    public function plan(Job $job): Plan
    {
        // A job that was reached through another record may be a mere reference so far.
        $this->manager->initializeObject($job);
        $rows = $this->kept->get($job, $job->planStamp);
        if (null === $rows) {
            $rows = [];
            foreach (array_diff_key(self::CLASSES, self::EVIDENCE) as $section => $class) {
                $rows[$section] = $this->rows($job, $section, $class);
            }
            $this->kept->put($job, $job->planStamp, $rows);
        }
        foreach (self::EVIDENCE as $section => $groups) {
            $rows[$section] = $this->rows($job, $section, self::CLASSES[$section], $groups);
        }

        return Plan::fromRows(self::jobRow($job), $rows, $this->catalogue);
    }

    /** All that there is, evidence to the first line: what a document carries. */
    public function whole(Job $job): Plan
    {
        $this->manager->initializeObject($job);
        $rows = [];
        foreach (self::CLASSES as $section => $class) {
            $rows[$section] = $this->rows($job, $section, $class);
        }

        return Plan::fromRows(self::jobRow($job), $rows, $this->catalogue);
    }

    /** Whether a record is there already: evidence that is brought twice counts once. */
    public function has(Job $job, string $section, string $key): bool
    {
        $table = $this->manager->getClassMetadata(self::CLASSES[$section])->getTableName();

        return false !== $this->manager->getConnection()->fetchOne(
            "SELECT 1 FROM $table WHERE job_id = ? AND record_key = ?",
            [$job->id, $key],
        );
    }

    /**
     * Deletes evidence older than a day, except for that which a verdict needs: of each test, place and outcome the newest stays.
     *
     * @param string $before as times are stored
     *
     * @return int how much went
     */
    public function dropEvidence(Job $job, string $before): int
    {
        $dropped = 0;
        foreach (self::EVIDENCE as $section => $groups) {
            $table = $this->manager->getClassMetadata(self::CLASSES[$section])->getTableName();
            $dropped += (int) $this->manager->getConnection()->executeStatement(
                "DELETE FROM $table WHERE job_id = ? AND made_at < ? AND id NOT IN (SELECT newest FROM ("
                    .self::newest($table, $groups).') kept)',
                [$job->id, $before, $job->id],
            );
        }

        return $dropped;
    }

    /** @param list<string> $groups columns */
    private static function newest(string $table, array $groups): string
    {
        return "SELECT MAX(id) AS newest FROM $table WHERE job_id = ? GROUP BY ".implode(', ', $groups);
    }

    /**
     * The rows of a section from the database, in the order in which they were added. A snapshot is read whole and never written back, so
     * it is not made of entities: in a large job that would take most of the time.
     *
     * @param class-string<Record> $class
     * @param list<string>         $groups columns: only the newest of each group; all where none is named
     * @param string               $and    a further condition, with its values
     * @param list<string>         $values
     *
     * @return array<array-key, RowData> by key
     */
    private function rows(Job $job, string $section, string $class, array $groups = [], string $and = '', array $values = []): array
    {
        $about = $this->manager->getClassMetadata($class);
        $columns = $types = [];
        foreach (['key', ...array_map(static fn (Field $field): string => $field->name, Schema::sections()[$section])] as $name) {
            $columns[] = $about->getColumnName($name);
            $types[$name] = $about->getTypeOfField($name);
        }
        $rows = [];
        $table = $about->getTableName();
        $result = $this->manager->getConnection()->executeQuery(
            'SELECT '.implode(', ', $columns).' FROM '.$table.' WHERE job_id = ?'
                .('' === $and ? '' : ' AND '.$and)
                .([] === $groups ? '' : ' AND id IN (SELECT newest FROM ('.self::newest($table, $groups).') kept)')
                .' ORDER BY id',
            [$job->id, ...$values, ...([] === $groups ? [] : [$job->id])],
        );
        foreach ($result->iterateNumeric() as $stored) {
            $row = [];
            foreach (array_keys($types) as $i => $name) {
                $row[$name] = self::read($types[$name], $stored[$i] ?? null);
            }
            $rows[Row::keyOf($row)] = $row;
        }

        return $rows;
    }

    /** @return Stored */
    private static function read(?string $type, mixed $stored): string|int|float|bool|array|null
    {
        if (!\is_scalar($stored)) {
            return null;
        }
        if ('json' === $type) {
            $value = json_decode((string) $stored, true);

            return match (true) {
                \is_array($value) => array_values($value),
                \is_scalar($value) => $value,
                default => null,
            };
        }

        return match ($type) {
            'boolean' => (bool) $stored,
            'integer' => (int) $stored,
            default => (string) $stored,
        };
    }

    /**
     * Records by their keys, read from the database now, whatever is in memory.
     *
     * @param list<string> $keys
     *
     * @return array<array-key, Record>
     */
    public function findAll(Job $job, string $section, array $keys): array
    {
        $found = [];
        foreach (array_chunk(array_values(array_unique($keys)), 1000) as $some) {
            $query = $this->manager->createQuery(
                'SELECT r FROM '.self::CLASSES[$section].' r WHERE r.job = :job AND r.key IN (:keys)',
            )->setParameters(new ArrayCollection([new Parameter('job', $job), new Parameter('keys', $some)]))
                ->setHint(Query::HINT_REFRESH, true);
            foreach ((array) $query->getResult() as $record) {
                if ($record instanceof Record) {
                    $found[$record->key] = $record;
                }
            }
        }

        return $found;
    }

    /**
     * The first record that leans on one of those that went: it points to it, belongs to it, or is a setting of it.
     *
     * @param list<string> $gone
     *
     * @return array{string, string}|null section and key
     */
    public function leaning(Job $job, string $section, array $gone): ?array
    {
        foreach (Schema::job() as $field) {
            if ($field->pointsTo === $section && \in_array(self::get($job, $field->name), $gone, true)) {
                return ['job', $field->name];
            }
        }
        $where = array_map(static fn (array $pointer): array => [...$pointer, $gone], Integrity::pointers()[$section] ?? []);
        $where[] = ['credentials', 'owner', array_map(static fn (string $key): string => $section.'/'.$key, $gone)];
        if ('ownKinds' === $section) {
            // Under the code of one that ships the devices have that one again.
            $where[] = ['devices', 'kind', array_values(array_diff($gone, $this->catalogue->codes()))];
        }
        foreach ($where as [$other, $field, $values]) {
            foreach (array_chunk($values, 1000) as $some) {
                $key = $this->manager->createQuery(
                    'SELECT r.key FROM '.self::CLASSES[$other].' r WHERE r.job = :job AND r.'.$field.' IN (:values)',
                )->setParameters(new ArrayCollection([new Parameter('job', $job), new Parameter('values', $some)]))
                    ->setMaxResults(1)->getScalarResult();
                if (\is_array($key[0] ?? null) && \is_string($key[0]['key'] ?? null)) {
                    return [$other, $key[0]['key']];
                }
            }
        }
        if (\in_array($section, ['devices', 'nics', 'accounts'], true)) {
            foreach ($gone as $one) {
                $key = $this->manager->createQuery(
                    'SELECT r.key FROM '.Entity\SettingValue::class." r WHERE r.job = :job AND r.key LIKE :like ESCAPE '!'",
                )->setParameters(new ArrayCollection([
                    new Parameter('job', $job),
                    new Parameter('like', strtr($section.'/'.$one, ['_' => '!_', '%' => '!%', '!' => '!!']).'#%'),
                ]))->setMaxResults(1)->getScalarResult();
                if (\is_array($key[0] ?? null) && \is_string($key[0]['key'] ?? null)) {
                    return ['settings', $key[0]['key']];
                }
            }
        }

        return null;
    }

    /** The number of the newest evidence of a section; to be asked under the lock. */
    public function lastArrived(Job $job, string $section): int
    {
        $last = $this->manager->createQuery('SELECT MAX(r.arrived) FROM '.self::CLASSES[$section].' r WHERE r.job = :job')
            ->setParameters(new ArrayCollection([new Parameter('job', $job)]))->getSingleScalarResult();

        return is_numeric($last) ? (int) $last : 0;
    }

    /**
     * When a phone first took its file after a time, by whichever door.
     *
     * @param string $after as times are stored; '' for ever
     */
    public function firstFetch(Job $job, string $mac, string $after): ?string
    {
        $connection = $this->manager->getConnection();
        $entered = $connection->fetchOne(
            'SELECT MIN(made_at) FROM file_fetch WHERE job_id = ? AND mac = ? AND status = 200 AND made_at > ?',
            [$job->id, $mac, $after],
        );
        $noted = $connection->fetchOne(
            'SELECT MIN(made_at) FROM fetch_note WHERE job_id = ? AND mac = ? AND is_entered = 0 AND made_at > ?',
            [$job->id, strtolower(str_replace('-', '', $mac)), $after],
        );
        $times = array_filter([$entered, $noted], is_string(...));

        return [] === $times ? null : min($times);
    }

    /** What ships, without what a job has of its own. */
    public function shippedCatalogue(): Catalogue
    {
        return $this->catalogue;
    }

    /** What ships, with the job's own kinds over it. */
    public function catalogueOf(Job $job): Catalogue
    {
        $sources = [];
        foreach ($this->manager->getConnection()->executeQuery(
            'SELECT record_key, source FROM own_kind WHERE job_id = ?',
            [$job->id],
        )->iterateAssociative() as $row) {
            $sources[(new Row($row))->text('record_key')] = (new Row($row))->text('source');
        }

        return $this->catalogue->with($sources);
    }

    /** @param RowData $row */
    public function add(Job $job, string $section, array $row): Record
    {
        $record = self::create($job, $section, $row);
        $this->manager->persist($record);

        return $record;
    }

    /** @param RowData $row */
    public static function create(Job $job, string $section, array $row): Record
    {
        $record = new (self::CLASSES[$section])($job, Row::keyOf($row));
        foreach (Schema::sections()[$section] as $field) {
            self::put($record, $field->name, $row[$field->name] ?? null);
        }

        return $record;
    }

    public function remove(Record $record): void
    {
        $this->manager->remove($record);
    }

    /** @return RowData */
    public static function row(string $section, Record $record): array
    {
        $row = ['key' => $record->key];
        $values = get_object_vars($record);
        foreach (Schema::sections()[$section] as $field) {
            $value = $values[$field->name] ?? null;
            $row[$field->name] = match (true) {
                \is_array($value) => array_values($value),
                \is_scalar($value) => $value,
                default => null,
            };
        }

        return $row;
    }

    /** @return RowData */
    public static function jobRow(Job $job): array
    {
        $row = [];
        foreach (Schema::job() as $field) {
            $row[$field->name] = self::get($job, $field->name);
        }

        return $row;
    }

    /** @return Stored */
    public static function get(object $record, string $field): string|int|float|bool|array|null
    {
        $value = get_object_vars($record)[$field] ?? null;

        return match (true) {
            \is_array($value) => array_values($value),
            \is_scalar($value) => $value,
            default => null,
        };
    }

    /** @param Stored $value */
    public static function put(object $record, string $field, string|int|float|bool|array|null $value): void
    {
        // @phpstan-ignore property.dynamicName (the schema names the columns)
        $record->{$field} = $value;
    }
}
