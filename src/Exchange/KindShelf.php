<?php

declare(strict_types=1);

namespace Vorhut\Exchange;

use Doctrine\DBAL\Exception\UniqueConstraintViolationException;
use Doctrine\ORM\EntityManagerInterface;
use Vorhut\Entity\ShelfKind;

/** Kinds that the company keeps for its jobs, in versions that stay as they are. A job has a copy of the one that it took. */
final readonly class KindShelf
{
    public function __construct(private EntityManagerInterface $manager)
    {
    }

    /** @return array<string, ShelfKind> code → its newest version */
    public function newest(): array
    {
        $newest = [];
        foreach ($this->manager->getRepository(ShelfKind::class)->findBy([], ['code' => 'ASC', 'version' => 'ASC']) as $one) {
            $newest[$one->code] = $one;
        }

        return $newest;
    }

    public function version(string $code, int $version): ?ShelfKind
    {
        return $this->manager->getRepository(ShelfKind::class)->findOneBy(['code' => $code, 'version' => $version]);
    }

    /** The newest version is this one afterwards; one that says the same is not put there twice. */
    public function put(string $code, string $source, string $by, string $at): ShelfKind
    {
        $newest = $this->newest()[$code] ?? null;
        if ($newest?->source === $source) {
            return $newest;
        }
        $table = $this->manager->getClassMetadata(ShelfKind::class)->getTableName();
        for ($version = ($newest->version ?? 0) + 1;; ++$version) {
            try {
                // Two at once: the second has the next number.
                $this->manager->getConnection()->insert($table, [
                    'code' => $code, 'version' => $version, 'source' => $source, 'made_by' => $by, 'made_at' => $at,
                ]);
                break;
            } catch (UniqueConstraintViolationException) {
                continue;
            }
        }

        return $this->version($code, $version) ?? throw new \LogicException('The stored version was not found.');
    }
}
