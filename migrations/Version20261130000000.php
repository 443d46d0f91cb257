<?php

declare(strict_types=1);

namespace Vorhut\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

final class Version20261130000000 extends AbstractMigration
{
    public function getDescription(): string
    {
        return 'IPv6, as it is recorded';
    }

    public function up(Schema $schema): void
    {
        $this->addSql(
            'CREATE TABLE static_route6 (id INT AUTO_INCREMENT NOT NULL, record_key VARCHAR(190) NOT NULL, router '
                .'VARCHAR(190) DEFAULT NULL, destination VARCHAR(190) DEFAULT NULL, via VARCHAR(190) DEFAULT NULL, job_id INT '
                .'NOT NULL, INDEX IDX_BF665FAFBE04EA9 (job_id), UNIQUE INDEX UNIQ_BF665FAFBE04EA9E8BF7264 (job_id, '
                .'record_key), PRIMARY KEY (id)) DEFAULT CHARACTER SET utf8mb4',
        );
        $this->addSql(
            'ALTER TABLE static_route6 ADD CONSTRAINT FK_BF665FAFBE04EA9 FOREIGN KEY (job_id) REFERENCES job (id) ON '
                .'DELETE CASCADE',
        );
        $this->addSql(
            'ALTER TABLE segment ADD network6 VARCHAR(190) DEFAULT NULL, ADD gateway6 VARCHAR(190) DEFAULT NULL',
        );
        $this->addSql(
            'ALTER TABLE router_port ADD address6 VARCHAR(190) DEFAULT NULL, ADD local6 VARCHAR(190) DEFAULT NULL',
        );
        $this->addSql(
            'ALTER TABLE nic ADD address6 VARCHAR(190) DEFAULT NULL, ADD gateway6 VARCHAR(190) DEFAULT NULL',
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
