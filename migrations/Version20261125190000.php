<?php

declare(strict_types=1);

namespace Vorhut\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

final class Version20261125190000 extends AbstractMigration
{
    public function getDescription(): string
    {
        return 'Kinds of a job\'s own, and of the company.';
    }

    public function up(Schema $schema): void
    {
        $this->addSql('CREATE TABLE own_kind (id INT AUTO_INCREMENT NOT NULL, job_id INT NOT NULL, record_key VARCHAR(190) NOT NULL, '
            .'source LONGTEXT DEFAULT NULL, version INT DEFAULT NULL, taken_from VARCHAR(255) DEFAULT NULL, '
            .'INDEX IDX_D71BD62EBE04EA9 (job_id), UNIQUE INDEX UNIQ_D71BD62EBE04EA9E8BF7264 (job_id, record_key), PRIMARY KEY (id)) '
            .'DEFAULT CHARACTER SET utf8mb4');
        $this->addSql('ALTER TABLE own_kind ADD CONSTRAINT FK_own_kind_job FOREIGN KEY (job_id) REFERENCES job (id) ON DELETE CASCADE');
        $this->addSql('CREATE TABLE shelf_kind (id INT AUTO_INCREMENT NOT NULL, code VARCHAR(190) NOT NULL, version INT NOT NULL, '
            .'source LONGTEXT NOT NULL, made_by VARCHAR(255) NOT NULL, made_at VARCHAR(190) NOT NULL, '
            .'UNIQUE INDEX UNIQ_B33C2A8777153098BF1CD3C3 (code, version), PRIMARY KEY (id)) DEFAULT CHARACTER SET utf8mb4');
    }

    public function down(Schema $schema): void
    {
        $this->addSql('DROP TABLE shelf_kind');
        $this->addSql('DROP TABLE own_kind');
    }

    public function isTransactional(): bool
    {
        return false;
    }
}
