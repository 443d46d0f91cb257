<?php

declare(strict_types=1);

namespace Vorhut\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

final class Version20261125200000 extends AbstractMigration
{
    public function getDescription(): string
    {
        return 'Photos.';
    }

    public function up(Schema $schema): void
    {
        $this->addSql('CREATE TABLE photo (id INT AUTO_INCREMENT NOT NULL, job_id INT NOT NULL, device VARCHAR(190) NOT NULL, '
            .'step VARCHAR(190) NOT NULL, media_type VARCHAR(40) NOT NULL, bytes LONGBLOB NOT NULL, hash VARCHAR(64) NOT NULL, '
            .'made_by VARCHAR(255) NOT NULL, login VARCHAR(64) NOT NULL, '
            .'made_at VARCHAR(190) NOT NULL, INDEX IDX_14B78418BE04EA9 (job_id), '
            .'INDEX IDX_14B78418BE04EA992FB68E (job_id, device), PRIMARY KEY (id)) DEFAULT CHARACTER SET utf8mb4');
        $this->addSql('ALTER TABLE photo ADD CONSTRAINT FK_photo_job FOREIGN KEY (job_id) REFERENCES job (id) ON DELETE CASCADE');
    }

    public function down(Schema $schema): void
    {
        $this->addSql('DROP TABLE photo');
    }

    public function isTransactional(): bool
    {
        return false;
    }
}
