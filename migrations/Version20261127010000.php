<?php

declare(strict_types=1);

namespace Vorhut\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

final class Version20261127010000 extends AbstractMigration
{
    public function getDescription(): string
    {
        return 'Links by which an administrator answers, and the answers.';
    }

    public function up(Schema $schema): void
    {
        $this->addSql(
            'CREATE TABLE ask_link (id INT AUTO_INCREMENT NOT NULL, token_hash VARCHAR(64) NOT NULL, made_by VARCHAR(190) '
                .'NOT NULL, made_at VARCHAR(40) NOT NULL, until VARCHAR(40) NOT NULL, revoked TINYINT NOT NULL, job_id INT NOT '
                .'NULL, INDEX IDX_6B7B5494BE04EA9 (job_id), UNIQUE INDEX UNIQ_6B7B5494B3BC57DA (token_hash), PRIMARY KEY (id)) '
                .'DEFAULT CHARACTER SET utf8mb4',
        );
        $this->addSql(
            'CREATE TABLE ask_answer (id INT AUTO_INCREMENT NOT NULL, code VARCHAR(190) NOT NULL, answer VARCHAR(400) NOT '
                .'NULL, remark VARCHAR(400) NOT NULL, answered_at VARCHAR(40) NOT NULL, answered_by VARCHAR(190) NOT NULL, '
                .'job_id INT NOT NULL, INDEX IDX_2782361DBE04EA9 (job_id), UNIQUE INDEX UNIQ_2782361DBE04EA977153098 (job_id, '
                .'code), PRIMARY KEY (id)) DEFAULT CHARACTER SET utf8mb4',
        );
        $this->addSql(
            'ALTER TABLE ask_link ADD CONSTRAINT FK_6B7B5494BE04EA9 FOREIGN KEY (job_id) REFERENCES job (id) ON DELETE '
                .'CASCADE',
        );
        $this->addSql(
            'ALTER TABLE ask_answer ADD CONSTRAINT FK_2782361DBE04EA9 FOREIGN KEY (job_id) REFERENCES job (id) ON DELETE '
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
