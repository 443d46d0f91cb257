<?php

declare(strict_types=1);

namespace Vorhut\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

final class Version20261125233000 extends AbstractMigration
{
    public function getDescription(): string
    {
        return 'Roles for single jobs, second factors, users switched off, what happened at the doors.';
    }

    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE app_user ADD is_active TINYINT(1) DEFAULT 1 NOT NULL, ADD totp_sealed VARCHAR(255) DEFAULT NULL, '
            .'ADD totp_step INT DEFAULT 0 NOT NULL');
        $this->addSql('CREATE TABLE job_access (id INT AUTO_INCREMENT NOT NULL, job_id INT NOT NULL, user_id INT NOT NULL, '
            .'role VARCHAR(32) NOT NULL, UNIQUE INDEX UNIQ_566D06D5BE04EA9A76ED395 (job_id, user_id), '
            .'INDEX IDX_566D06D5A76ED395 (user_id), '
            .'PRIMARY KEY(id)) DEFAULT CHARACTER SET utf8mb4 COLLATE utf8mb4_bin');
        $this->addSql('ALTER TABLE job_access '
            .'ADD CONSTRAINT FK_JOB_ACCESS_JOB FOREIGN KEY (job_id) REFERENCES job (id) ON DELETE CASCADE, '
            .'ADD CONSTRAINT FK_JOB_ACCESS_USER FOREIGN KEY (user_id) REFERENCES app_user (id) ON DELETE CASCADE');
        $this->addSql('CREATE TABLE audit_event (id INT AUTO_INCREMENT NOT NULL, made_at VARCHAR(32) NOT NULL, login VARCHAR(64) NOT NULL, '
            .'address VARCHAR(64) NOT NULL, what JSON NOT NULL, INDEX IDX_3CE56E5098817E56 (made_at), PRIMARY KEY(id)) '
            .'DEFAULT CHARACTER SET utf8mb4 COLLATE utf8mb4_bin');
    }

    public function down(Schema $schema): void
    {
        $this->addSql('DROP TABLE audit_event');
        $this->addSql('DROP TABLE job_access');
        $this->addSql('ALTER TABLE app_user DROP is_active, DROP totp_sealed, DROP totp_step');
    }

    public function isTransactional(): bool
    {
        return false;
    }
}
