<?php

declare(strict_types=1);

namespace Vorhut\Journal;

use Doctrine\ORM\EntityManagerInterface;
use Vorhut\Core\Kind\Kinds;
use Vorhut\Core\Plan\Edit;
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
        'segments' => Entity\Segment::class,
        'devices' => Entity\Device::class,
        'nics' => Entity\Nic::class,
        'routerPorts' => Entity\RouterPort::class,
        'routes' => Entity\StaticRoute::class,
        'filters' => Entity\FilterRule::class,
        'extensions' => Entity\Extension::class,
        'accounts' => Entity\Account::class,
        'values' => Entity\FacedValue::class,
        'credentials' => Entity\Credential::class,
        'marks' => Entity\Mark::class,
        'lines' => Entity\TestLine::class,
        'fetches' => Entity\Fetch::class,
        'observations' => Entity\Observation::class,
    ];

    public function __construct(private EntityManagerInterface $manager, private Kinds $kinds)
    {
    }

    public function plan(Job $job): Plan
    {
        // A job that was reached through another record may be a mere reference so far.
        $this->manager->initializeObject($job);
        $sections = [];
        foreach (self::CLASSES as $section => $class) {
            $sections[$section] = [];
            foreach ($this->manager->getRepository($class)->findBy(['job' => $job], ['id' => 'ASC']) as $record) {
                $sections[$section][] = self::row($section, $record);
            }
        }

        return Plan::of(self::jobRow($job), $sections, $this->kinds);
    }

    public function find(Job $job, string $section, string $key): ?Record
    {
        return $this->manager->getRepository(self::CLASSES[$section])->findOneBy(['job' => $job, 'key' => $key]);
    }

    /** @param RowData $row */
    public function add(Job $job, string $section, array $row): Record
    {
        $record = new (self::CLASSES[$section])($job, Row::keyOf($row));
        foreach (Schema::sections()[$section] as $field) {
            self::put($record, $field->name, $row[$field->name] ?? null);
        }
        $this->manager->persist($record);

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
        foreach (Schema::sections()[$section] as $field) {
            $row[$field->name] = self::get($record, $field->name);
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

        return \is_array($value) ? array_values($value) : (\is_scalar($value) ? $value : null);
    }

    /** @param Stored $value */
    public static function put(object $record, string $field, string|int|float|bool|array|null $value): void
    {
        $record->{$field} = $value;
    }
}
