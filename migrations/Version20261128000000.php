<?php

declare(strict_types=1);

namespace Vorhut\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

final class Version20261128000000 extends AbstractMigration
{
    public function getDescription(): string
    {
        return 'Trunks, routes of calls, groups, menus, time frames; what a number may and where it leads on.';
    }

    public function up(Schema $schema): void
    {
        $this->addSql(
            'CREATE TABLE call_menu (id INT AUTO_INCREMENT NOT NULL, record_key VARCHAR(190) NOT NULL, number_text '
                .'VARCHAR(190) DEFAULT NULL, name VARCHAR(255) DEFAULT NULL, pbx VARCHAR(190) DEFAULT NULL, says LONGTEXT '
                .'DEFAULT NULL, choices JSON DEFAULT NULL, seconds INT DEFAULT NULL, otherwise VARCHAR(190) DEFAULT NULL, '
                .'job_id INT NOT NULL, INDEX IDX_4A845DCFBE04EA9 (job_id), UNIQUE INDEX UNIQ_4A845DCFBE04EA9E8BF7264 (job_id, '
                .'record_key), PRIMARY KEY (id)) DEFAULT CHARACTER SET utf8mb4',
        );
        $this->addSql(
            'CREATE TABLE call_route (id INT AUTO_INCREMENT NOT NULL, record_key VARCHAR(190) NOT NULL, name VARCHAR(255) '
                .'DEFAULT NULL, pbx VARCHAR(190) DEFAULT NULL, place INT DEFAULT NULL, map_text LONGTEXT DEFAULT NULL, callers '
                .'LONGTEXT DEFAULT NULL, needs VARCHAR(190) DEFAULT NULL, time_frame VARCHAR(190) DEFAULT NULL, strip INT '
                .'DEFAULT NULL, prepend VARCHAR(190) DEFAULT NULL, trunk VARCHAR(190) DEFAULT NULL, trunk_2 VARCHAR(190) '
                .'DEFAULT NULL, trunk_3 VARCHAR(190) DEFAULT NULL, note LONGTEXT DEFAULT NULL, job_id INT NOT NULL, INDEX '
                .'IDX_602EBCC1BE04EA9 (job_id), UNIQUE INDEX UNIQ_602EBCC1BE04EA9E8BF7264 (job_id, record_key), PRIMARY KEY '
                .'(id)) DEFAULT CHARACTER SET utf8mb4',
        );
        $this->addSql(
            'CREATE TABLE time_frame (id INT AUTO_INCREMENT NOT NULL, record_key VARCHAR(190) NOT NULL, name VARCHAR(255) '
                .'DEFAULT NULL, when_text LONGTEXT DEFAULT NULL, job_id INT NOT NULL, INDEX IDX_F08ADDB1BE04EA9 (job_id), '
                .'UNIQUE INDEX UNIQ_F08ADDB1BE04EA9E8BF7264 (job_id, record_key), PRIMARY KEY (id)) DEFAULT CHARACTER SET '
                .'utf8mb4',
        );
        $this->addSql(
            'CREATE TABLE inbound_route (id INT AUTO_INCREMENT NOT NULL, record_key VARCHAR(190) NOT NULL, trunk '
                .'VARCHAR(190) DEFAULT NULL, place INT DEFAULT NULL, map_text LONGTEXT DEFAULT NULL, time_frame VARCHAR(190) '
                .'DEFAULT NULL, to_number VARCHAR(190) DEFAULT NULL, note LONGTEXT DEFAULT NULL, job_id INT NOT NULL, INDEX '
                .'IDX_56B76885BE04EA9 (job_id), UNIQUE INDEX UNIQ_56B76885BE04EA9E8BF7264 (job_id, record_key), PRIMARY KEY '
                .'(id)) DEFAULT CHARACTER SET utf8mb4',
        );
        $this->addSql(
            'CREATE TABLE trunk (id INT AUTO_INCREMENT NOT NULL, record_key VARCHAR(190) NOT NULL, name VARCHAR(255) '
                .'DEFAULT NULL, pbx VARCHAR(190) DEFAULT NULL, far_end VARCHAR(190) DEFAULT NULL, address VARCHAR(190) DEFAULT '
                .'NULL, port INT DEFAULT NULL, transport VARCHAR(190) DEFAULT NULL, registers TINYINT DEFAULT NULL, user '
                .'VARCHAR(255) DEFAULT NULL, channels INT DEFAULT NULL, codecs JSON DEFAULT NULL, caller_id VARCHAR(190) '
                .'DEFAULT NULL, emergency TINYINT DEFAULT NULL, note LONGTEXT DEFAULT NULL, job_id INT NOT NULL, INDEX '
                .'IDX_78628D47BE04EA9 (job_id), UNIQUE INDEX UNIQ_78628D47BE04EA9E8BF7264 (job_id, record_key), PRIMARY KEY '
                .'(id)) DEFAULT CHARACTER SET utf8mb4',
        );
        $this->addSql(
            'CREATE TABLE ring_group (id INT AUTO_INCREMENT NOT NULL, record_key VARCHAR(190) NOT NULL, number_text '
                .'VARCHAR(190) DEFAULT NULL, name VARCHAR(255) DEFAULT NULL, pbx VARCHAR(190) DEFAULT NULL, members JSON '
                .'DEFAULT NULL, order_text VARCHAR(190) DEFAULT NULL, seconds INT DEFAULT NULL, otherwise VARCHAR(190) DEFAULT '
                .'NULL, job_id INT NOT NULL, INDEX IDX_3CBCC334BE04EA9 (job_id), UNIQUE INDEX UNIQ_3CBCC334BE04EA9E8BF7264 '
                .'(job_id, record_key), PRIMARY KEY (id)) DEFAULT CHARACTER SET utf8mb4',
        );
        $this->addSql(
            'ALTER TABLE call_menu ADD CONSTRAINT FK_4A845DCFBE04EA9 FOREIGN KEY (job_id) REFERENCES job (id) ON DELETE '
                .'CASCADE',
        );
        $this->addSql(
            'ALTER TABLE call_route ADD CONSTRAINT FK_602EBCC1BE04EA9 FOREIGN KEY (job_id) REFERENCES job (id) ON DELETE '
                .'CASCADE',
        );
        $this->addSql(
            'ALTER TABLE time_frame ADD CONSTRAINT FK_F08ADDB1BE04EA9 FOREIGN KEY (job_id) REFERENCES job (id) ON DELETE '
                .'CASCADE',
        );
        $this->addSql(
            'ALTER TABLE inbound_route ADD CONSTRAINT FK_56B76885BE04EA9 FOREIGN KEY (job_id) REFERENCES job (id) ON '
                .'DELETE CASCADE',
        );
        $this->addSql(
            'ALTER TABLE trunk ADD CONSTRAINT FK_78628D47BE04EA9 FOREIGN KEY (job_id) REFERENCES job (id) ON DELETE '
                .'CASCADE',
        );
        $this->addSql(
            'ALTER TABLE ring_group ADD CONSTRAINT FK_3CBCC334BE04EA9 FOREIGN KEY (job_id) REFERENCES job (id) ON DELETE '
                .'CASCADE',
        );
        $this->addSql(
            'ALTER TABLE extension ADD caller_id VARCHAR(190) DEFAULT NULL, ADD permission VARCHAR(190) DEFAULT NULL, ADD '
                .'forward_always VARCHAR(190) DEFAULT NULL, ADD forward_busy VARCHAR(190) DEFAULT NULL, ADD forward_unanswered '
                .'VARCHAR(190) DEFAULT NULL, ADD mail VARCHAR(190) DEFAULT NULL',
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
