<?php

declare(strict_types=1);

namespace Vorhut\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

final class Version20261203000000 extends AbstractMigration
{
    public function getDescription(): string
    {
        return 'Files of phones over HTTPS under a certificate of the job; why a phone was refused';
    }

    public function up(Schema $schema): void
    {
        $this->addSql(
            'CREATE TABLE file_certificate (id INT AUTO_INCREMENT NOT NULL, chain LONGTEXT NOT NULL, key_sealed LONGTEXT NOT NULL, '
                .'authority LONGTEXT NOT NULL, authority_key_sealed LONGTEXT DEFAULT NULL, job_id INT NOT NULL, '
                .'UNIQUE INDEX UNIQ_3272428BE04EA9 (job_id), PRIMARY KEY (id)) DEFAULT CHARACTER SET utf8mb4',
        );
        $this->addSql(
            'ALTER TABLE file_certificate ADD CONSTRAINT FK_3272428BE04EA9 FOREIGN KEY (job_id) REFERENCES job (id) ON DELETE CASCADE',
        );
        $this->addSql(
            'ALTER TABLE job ADD files_host VARCHAR(190) DEFAULT NULL, ADD files_port INT DEFAULT NULL, '
                .'ADD files_authority VARCHAR(190) DEFAULT NULL, ADD files_until VARCHAR(190) DEFAULT NULL',
        );
        $this->addSql('ALTER TABLE file_fetch ADD why JSON DEFAULT NULL');
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
