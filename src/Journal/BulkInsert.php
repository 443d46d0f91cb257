<?php

declare(strict_types=1);

namespace Vorhut\Journal;

use Doctrine\DBAL\Types\Type;
use Doctrine\ORM\EntityManagerInterface;
use Doctrine\ORM\Mapping\ClassMetadata;

/**
 * New entities written some hundred a statement, and not held afterwards: one statement for each would be most of the time of an import
 * or of a long paste. Within a class they get their numbers in the order in which they come.
 */
final readonly class BulkInsert
{
    /** So that a statement stays well below what a server takes at once: 65,535 values, … */
    private const AT_ONCE = 500;
    /** … and bytes, because many servers accept at most 16 million. A larger row is written separately. */
    private const BYTES_AT_ONCE = 4_000_000;

    public function __construct(private EntityManagerInterface $manager)
    {
    }

    /** @param iterable<object> $entities new ones, which the manager does not know */
    public function write(iterable $entities): void
    {
        $classes = [];
        foreach ($entities as $entity) {
            $classes[$entity::class][] = $entity;
        }
        foreach ($classes as $class => $some) {
            $this->insert($this->manager->getClassMetadata($class), $some);
        }
    }

    /**
     * @param ClassMetadata<object>  $about
     * @param non-empty-list<object> $entities
     */
    private function insert(ClassMetadata $about, array $entities): void
    {
        $platform = $this->manager->getConnection()->getDatabasePlatform();
        $fields = array_diff($about->getFieldNames(), $about->getIdentifier());
        $types = array_map(static fn (string $field): Type => Type::getType((string) $about->getTypeOfField($field)), $fields);
        $pointing = $this->pointing($about);
        $into = $about->getTableName().' ('.implode(', ', [...array_map($about->getColumnName(...), $fields), ...$pointing]).')';
        $values = [];
        $rows = $bytes = 0;
        foreach ($entities as $entity) {
            $row = [];
            foreach ($fields as $i => $field) {
                $row[] = $types[$i]->convertToDatabaseValue($about->getFieldValue($entity, $field), $platform);
            }
            foreach (array_keys($pointing) as $field) {
                $to = $about->getFieldValue($entity, $field);
                $row[] = \is_object($to) ? $this->manager->getUnitOfWork()->getSingleIdentifierValue($to) : null;
            }
            $size = array_sum(array_map(static fn (mixed $value): int => \is_string($value) ? \strlen($value) : 8, $row));
            if ($rows > 0 && ($rows >= self::AT_ONCE || $bytes + $size > self::BYTES_AT_ONCE)) {
                $this->send($into, $values, $rows);
                $values = [];
                $rows = $bytes = 0;
            }
            array_push($values, ...$row);
            ++$rows;
            $bytes += $size;
        }
        $this->send($into, $values, $rows);
    }

    /** @param list<mixed> $values of so many rows, one after the other */
    private function send(string $into, array $values, int $rows): void
    {
        $row = '('.implode(', ', array_fill(0, intdiv(\count($values), $rows), '?')).')';
        $this->manager->getConnection()->executeStatement(
            'INSERT INTO '.$into.' VALUES '.implode(', ', array_fill(0, $rows, $row)),
            $values,
        );
    }

    /**
     * @param ClassMetadata<object> $about
     *
     * @return array<string, string> field that points to one other entity → its column
     */
    private function pointing(ClassMetadata $about): array
    {
        $pointing = [];
        foreach ($about->getAssociationNames() as $field) {
            if ($about->isAssociationWithSingleJoinColumn($field)) {
                $pointing[$field] = $about->getSingleAssociationJoinColumnName($field);
            }
        }

        return $pointing;
    }
}
