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
final readonly class ManyRows
{
    /** So that a statement stays well below what a server takes at once (65,535 values). */
    private const AT_ONCE = 500;

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
            $about = $this->manager->getClassMetadata($class);
            foreach (array_chunk($some, self::AT_ONCE) as $chunk) {
                $this->insert($about, $chunk);
            }
        }
    }

    /**
     * @param ClassMetadata<object>  $about
     * @param non-empty-list<object> $entities
     */
    private function insert(ClassMetadata $about, array $entities): void
    {
        $connection = $this->manager->getConnection();
        $platform = $connection->getDatabasePlatform();
        $fields = array_diff($about->getFieldNames(), $about->getIdentifier());
        $types = array_map(static fn (string $field): Type => Type::getType((string) $about->getTypeOfField($field)), $fields);
        $columns = [...array_map($about->getColumnName(...), $fields), ...$this->pointing($about)];
        $values = [];
        foreach ($entities as $entity) {
            foreach ($fields as $i => $field) {
                $values[] = $types[$i]->convertToDatabaseValue($about->getFieldValue($entity, $field), $platform);
            }
            foreach (array_keys($this->pointing($about)) as $field) {
                $to = $about->getFieldValue($entity, $field);
                $values[] = \is_object($to) ? $this->manager->getUnitOfWork()->getSingleIdentifierValue($to) : null;
            }
        }
        $row = '('.implode(', ', array_fill(0, \count($columns), '?')).')';
        $connection->executeStatement(
            'INSERT INTO '.$about->getTableName().' ('.implode(', ', $columns).') VALUES '
                .implode(', ', array_fill(0, \count($entities), $row)),
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
