<?php

declare(strict_types=1);

namespace Vorhut\Exchange;

use Doctrine\DBAL\Connection;
use Doctrine\DBAL\DriverManager;
use Doctrine\Migrations\Configuration\Connection\ExistingConnection;
use Doctrine\Migrations\Configuration\Migration\ConfigurationArray;
use Doctrine\Migrations\DependencyFactory;
use Doctrine\Migrations\Exception\MigrationClassNotFound;
use Doctrine\Migrations\MigratorConfiguration;
use Doctrine\Migrations\Version\Version;
use Vorhut\Core\Net\Malformed;

/** Our migrations, run in a second database next to the application's own. */
final readonly class Migrations
{
    /** Where a database keeps which of them it has seen. */
    public const TABLE = 'doctrine_migration_versions';
    private const NAMESPACE = 'Vorhut\Migrations';

    public function __construct(private string $projectDir)
    {
    }

    /**
     * @param string|null $until class of the last one to be run; null: all
     *
     * @throws Malformed if there is no such migration
     */
    public function run(Connection $database, ?string $until = null): void
    {
        // By a connection of its own: a table that is made ends every transaction, and the migrator's are counted on all the same.
        $connection = DriverManager::getConnection($database->getParams());
        $migrations = DependencyFactory::fromConnection(
            new ConfigurationArray([
                'migrations_paths' => [self::NAMESPACE => $this->projectDir.'/migrations'],
                'table_storage' => ['table_name' => self::TABLE],
                'transactional' => false,
            ]),
            new ExistingConnection($connection),
        );
        $migrations->getMetadataStorage()->ensureInitialized();
        try {
            $last = null === $until ? $migrations->getVersionAliasResolver()->resolveVersionAlias('latest') : new Version($until);
            $plan = $migrations->getMigrationPlanCalculator()->getPlanUntilVersion($last);
        } catch (MigrationClassNotFound) {
            throw Malformed::because('The backup was made by a newer version of Vorhut. Bring this one up to date first.');
        }
        $migrations->getMigrator()->migrate($plan, new MigratorConfiguration());
        $connection->close();
    }
}
