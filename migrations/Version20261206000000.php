<?php

declare(strict_types=1);

namespace Vorhut\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/**
 * Every text is compared octet by octet, blanks at the end included: `NORDMOLE` and `nordmole ` are not the job `nordmole`. Logins are kept
 * in lower case; two that become one are for a person to sort out.
 */
final class Version20261206000000 extends AbstractMigration
{
    private const COLLATION = 'utf8mb4_nopad_bin';

    public function getDescription(): string
    {
        return 'Compare identifiers exactly';
    }

    public function up(Schema $schema): void
    {
        $collisions = $this->connection->fetchFirstColumn(
            "SELECT GROUP_CONCAT(CONCAT('\"', login, '\"') ORDER BY id SEPARATOR ' and ') FROM app_user "
                .'GROUP BY LOWER(TRIM(login)) COLLATE utf8mb4_bin HAVING COUNT(*) > 1',
        );
        $this->abortIf(
            [] !== $collisions,
            'These logins differ only in case or blanks: '.implode('; ', array_filter($collisions, is_string(...)))
                .'. Rename or remove all but one of each, then migrate again.',
        );
        $this->addSql('SET FOREIGN_KEY_CHECKS = 0');
        foreach ($this->connection->fetchFirstColumn('SHOW TABLES') as $table) {
            if (\is_string($table)) {
                $this->addSql(\sprintf('ALTER TABLE `%s` CONVERT TO CHARACTER SET utf8mb4 COLLATE %s', $table, self::COLLATION));
            }
        }
        $this->addSql('SET FOREIGN_KEY_CHECKS = 1');
        $this->addSql('UPDATE app_user SET login = LOWER(TRIM(login))');
    }

    public function down(Schema $schema): void
    {
        $this->throwIrreversibleMigrationException('Restore a backup.');
    }
}
