<?php

declare(strict_types=1);

namespace Vorhut\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** What was found before is not known to have been found on site, so it counts as rehearsed; its order is that of the rows. */
final class Version20261125130000 extends AbstractMigration
{
    public function getDescription(): string
    {
        return 'Evidence says where it stood, on site or in the lab, and in which order it arrived; a job may be for practice.';
    }

    public function up(Schema $schema): void
    {
        $this->addSql(
            'ALTER TABLE observation ADD arrived INT DEFAULT NULL, ADD on_site TINYINT(1) DEFAULT NULL, '
                .'ADD outpost VARCHAR(255) DEFAULT NULL, ADD adapter VARCHAR(255) DEFAULT NULL, ADD address VARCHAR(190) DEFAULT NULL',
        );
        $this->addSql('ALTER TABLE file_fetch ADD arrived INT DEFAULT NULL, ADD on_site TINYINT(1) DEFAULT NULL');
        $this->addSql('ALTER TABLE job ADD practice TINYINT(1) DEFAULT NULL');
        foreach (['observation', 'file_fetch'] as $table) {
            $this->addSql(
                "UPDATE $table JOIN (SELECT id, ROW_NUMBER() OVER (PARTITION BY job_id ORDER BY id) AS nth FROM $table) counted "
                    ."ON counted.id = $table.id SET $table.arrived = counted.nth",
            );
            $this->addSql("CREATE INDEX {$table}_arrived ON $table (job_id, arrived)");
        }
    }

    public function down(Schema $schema): void
    {
        foreach (['observation', 'file_fetch'] as $table) {
            $this->addSql("DROP INDEX {$table}_arrived ON $table");
        }
        $this->addSql(
            'ALTER TABLE observation DROP arrived, DROP on_site, DROP outpost, DROP adapter, DROP address',
        );
        $this->addSql('ALTER TABLE file_fetch DROP arrived, DROP on_site');
        $this->addSql('ALTER TABLE job DROP practice');
    }

    public function isTransactional(): bool
    {
        return false;
    }
}
