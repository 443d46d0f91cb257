<?php

declare(strict_types=1);

namespace Vorhut\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

final class Version20261202000000 extends AbstractMigration
{
    public function getDescription(): string
    {
        return 'The patch of sound, and how long it may be on its way';
    }

    public function up(Schema $schema): void
    {
        $this->addSql(
            'CREATE TABLE sound_patch (id INT AUTO_INCREMENT NOT NULL, record_key VARCHAR(190) NOT NULL, name LONGTEXT DEFAULT NULL, '
                .'from_device VARCHAR(190) DEFAULT NULL, from_channel INT DEFAULT NULL, to_device VARCHAR(190) DEFAULT NULL, '
                .'to_channel INT DEFAULT NULL, channel_count INT DEFAULT NULL, note LONGTEXT DEFAULT NULL, job_id INT NOT NULL, '
                .'INDEX IDX_F5D65D0FBE04EA9 (job_id), UNIQUE INDEX UNIQ_F5D65D0FBE04EA9E8BF7264 (job_id, record_key), '
                .'PRIMARY KEY (id)) DEFAULT CHARACTER SET utf8mb4',
        );
        $this->addSql(
            'ALTER TABLE sound_patch ADD CONSTRAINT FK_F5D65D0FBE04EA9 FOREIGN KEY (job_id) REFERENCES job (id) ON DELETE CASCADE',
        );
        $this->addSql('ALTER TABLE stream ADD group_port INT DEFAULT NULL');
        $this->addSql('ALTER TABLE job ADD sound_limit INT DEFAULT NULL');
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
