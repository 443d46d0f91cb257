<?php

declare(strict_types=1);

namespace Vorhut\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

final class Version20261129000000 extends AbstractMigration
{
    public function getDescription(): string
    {
        return 'Cables, streams and who receives them; how much of a link stays free, and what upload was measured';
    }

    public function up(Schema $schema): void
    {
        $this->addSql(
            'CREATE TABLE stream_delivery (id INT AUTO_INCREMENT NOT NULL, record_key VARCHAR(190) NOT NULL, stream_key '
                .'VARCHAR(190) DEFAULT NULL, device VARCHAR(190) DEFAULT NULL, job_id INT NOT NULL, INDEX IDX_1363265DBE04EA9 '
                .'(job_id), UNIQUE INDEX UNIQ_1363265DBE04EA9E8BF7264 (job_id, record_key), PRIMARY KEY (id)) DEFAULT '
                .'CHARACTER SET utf8mb4',
        );
        $this->addSql(
            'CREATE TABLE stream (id INT AUTO_INCREMENT NOT NULL, record_key VARCHAR(190) NOT NULL, name VARCHAR(255) '
                .'DEFAULT NULL, sender VARCHAR(190) DEFAULT NULL, transport VARCHAR(190) DEFAULT NULL, cast_text VARCHAR(190) '
                .'DEFAULT NULL, group_key VARCHAR(190) DEFAULT NULL, outside TINYINT DEFAULT NULL, codec VARCHAR(190) DEFAULT '
                .'NULL, width INT DEFAULT NULL, height INT DEFAULT NULL, frame_rate INT DEFAULT NULL, kbit INT DEFAULT NULL, '
                .'channels INT DEFAULT NULL, note LONGTEXT DEFAULT NULL, job_id INT NOT NULL, INDEX IDX_F0E9BE1CBE04EA9 '
                .'(job_id), UNIQUE INDEX UNIQ_F0E9BE1CBE04EA9E8BF7264 (job_id, record_key), PRIMARY KEY (id)) DEFAULT '
                .'CHARACTER SET utf8mb4',
        );
        $this->addSql(
            'CREATE TABLE cable (id INT AUTO_INCREMENT NOT NULL, record_key VARCHAR(190) NOT NULL, device VARCHAR(190) '
                .'DEFAULT NULL, switch_key VARCHAR(190) DEFAULT NULL, port VARCHAR(255) DEFAULT NULL, mbps INT DEFAULT NULL, '
                .'metres INT DEFAULT NULL, spare TINYINT DEFAULT NULL, note LONGTEXT DEFAULT NULL, job_id INT NOT NULL, INDEX '
                .'IDX_24E9C4D4BE04EA9 (job_id), UNIQUE INDEX UNIQ_24E9C4D4BE04EA9E8BF7264 (job_id, record_key), PRIMARY KEY '
                .'(id)) DEFAULT CHARACTER SET utf8mb4',
        );
        $this->addSql(
            'ALTER TABLE stream_delivery ADD CONSTRAINT FK_1363265DBE04EA9 FOREIGN KEY (job_id) REFERENCES job (id) ON '
                .'DELETE CASCADE',
        );
        $this->addSql(
            'ALTER TABLE stream ADD CONSTRAINT FK_F0E9BE1CBE04EA9 FOREIGN KEY (job_id) REFERENCES job (id) ON DELETE '
                .'CASCADE',
        );
        $this->addSql(
            'ALTER TABLE cable ADD CONSTRAINT FK_24E9C4D4BE04EA9 FOREIGN KEY (job_id) REFERENCES job (id) ON DELETE '
                .'CASCADE',
        );
        $this->addSql(
            'ALTER TABLE job ADD headroom INT DEFAULT NULL, ADD uplink_kbit INT DEFAULT NULL, ADD uplink_mobile TINYINT '
                .'DEFAULT NULL',
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
