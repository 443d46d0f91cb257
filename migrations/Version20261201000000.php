<?php

declare(strict_types=1);

namespace Vorhut\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

final class Version20261201000000 extends AbstractMigration
{
    public function getDescription(): string
    {
        return 'Further terminals of a number';
    }

    public function up(Schema $schema): void
    {
        $this->addSql(
            'CREATE TABLE terminal (id INT AUTO_INCREMENT NOT NULL, record_key VARCHAR(190) NOT NULL, extension '
                .'VARCHAR(190) DEFAULT NULL, device VARCHAR(190) DEFAULT NULL, mac_entered VARCHAR(190) DEFAULT NULL, '
                .'entered_at VARCHAR(190) DEFAULT NULL, job_id INT NOT NULL, INDEX IDX_8F7B1541BE04EA9 (job_id), UNIQUE INDEX '
                .'UNIQ_8F7B1541BE04EA9E8BF7264 (job_id, record_key), PRIMARY KEY (id)) DEFAULT CHARACTER SET utf8mb4',
        );
        $this->addSql(
            'ALTER TABLE terminal ADD CONSTRAINT FK_8F7B1541BE04EA9 FOREIGN KEY (job_id) REFERENCES job (id) ON DELETE '
                .'CASCADE',
        );
    }

    public function down(Schema $schema): void
    {
        $this->throwIrreversibleMigrationException('Put a backup back.');
    }

    public function isTransactional(): bool
    {
        return false;
    }
}
