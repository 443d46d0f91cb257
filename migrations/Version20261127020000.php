<?php

declare(strict_types=1);

namespace Vorhut\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

final class Version20261127020000 extends AbstractMigration
{
    public function getDescription(): string
    {
        return 'Outposts, and orders that are for one of them.';
    }

    public function up(Schema $schema): void
    {
        $this->addSql(
            'CREATE TABLE outpost (id INT AUTO_INCREMENT NOT NULL, name VARCHAR(80) NOT NULL, code_hash VARCHAR(64) '
                .'DEFAULT NULL, code_until VARCHAR(40) DEFAULT NULL, token_hash VARCHAR(64) DEFAULT NULL, made_by VARCHAR(190) '
                .'NOT NULL, seen_at VARCHAR(40) DEFAULT NULL, adapters JSON NOT NULL, revoked TINYINT NOT NULL, job_id INT NOT '
                .'NULL, INDEX IDX_CCE18A9EBE04EA9 (job_id), UNIQUE INDEX UNIQ_CCE18A9EB3BC57DA (token_hash), PRIMARY KEY (id)) '
                .'DEFAULT CHARACTER SET utf8mb4',
        );
        $this->addSql(
            'ALTER TABLE outpost ADD CONSTRAINT FK_CCE18A9EBE04EA9 FOREIGN KEY (job_id) REFERENCES job (id) ON DELETE '
                .'CASCADE',
        );
        $this->addSql(
            'ALTER TABLE work_order ADD outpost_id INT DEFAULT NULL',
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
