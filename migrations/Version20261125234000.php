<?php

declare(strict_types=1);

namespace Vorhut\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

final class Version20261125234000 extends AbstractMigration
{
    public function getDescription(): string
    {
        return 'Files of phones lie ready; from where and how long they are handed out.';
    }

    public function up(Schema $schema): void
    {
        $this->addSql("ALTER TABLE job ADD fetch_minutes INT DEFAULT NULL, ADD files_stamp VARCHAR(16) DEFAULT '' NOT NULL");
        $this->addSql('UPDATE job SET files_stamp = plan_stamp');
        $this->addSql('CREATE UNIQUE INDEX UNIQ_FBD8E0F8F5B4110C ON job (file_token)');
        $this->addSql('ALTER TABLE segment ADD fetch_from JSON DEFAULT NULL');
        $this->addSql('CREATE TABLE phone_file (id INT AUTO_INCREMENT NOT NULL, job_id INT NOT NULL, mac VARCHAR(12) NOT NULL, '
            .'device VARCHAR(190) NOT NULL, files_stamp VARCHAR(16) NOT NULL, body MEDIUMTEXT NOT NULL, file_version VARCHAR(32) NOT NULL, '
            .'ranges JSON NOT NULL, until_at INT DEFAULT NULL, UNIQUE INDEX UNIQ_6F9B6402BE04EA91713EB65 (job_id, mac), '
            .'INDEX IDX_6F9B6402BE04EA9 (job_id), PRIMARY KEY(id)) DEFAULT CHARACTER SET utf8mb4 COLLATE utf8mb4_bin');
        $this->addSql('CREATE TABLE fetch_note (id INT AUTO_INCREMENT NOT NULL, job_id INT NOT NULL, mac VARCHAR(12) NOT NULL, '
            .'device VARCHAR(190) NOT NULL, address VARCHAR(45) NOT NULL, minute INT NOT NULL, made_at VARCHAR(32) NOT NULL, '
            .'agent VARCHAR(190) NOT NULL, file_version VARCHAR(32) NOT NULL, on_site TINYINT(1) NOT NULL, times INT NOT NULL, '
            .'is_entered TINYINT(1) DEFAULT 0 NOT NULL, '
            .'UNIQUE INDEX UNIQ_BDEE19DBE04EA91713EB65D4E6F816EC2ABB5 (job_id, mac, address, minute), '
            .'INDEX IDX_BDEE19DBE04EA9 (job_id), PRIMARY KEY(id)) DEFAULT CHARACTER SET utf8mb4 COLLATE utf8mb4_bin');
        foreach (['phone_file', 'fetch_note'] as $table) {
            $this->addSql("ALTER TABLE $table ADD CONSTRAINT FK_{$table}_job FOREIGN KEY (job_id) REFERENCES job (id) ON DELETE CASCADE");
        }
    }

    public function down(Schema $schema): void
    {
        $this->addSql('DROP TABLE fetch_note');
        $this->addSql('DROP TABLE phone_file');
        $this->addSql('ALTER TABLE segment DROP fetch_from');
        $this->addSql('DROP INDEX UNIQ_FBD8E0F8F5B4110C ON job');
        $this->addSql('ALTER TABLE job DROP fetch_minutes, DROP files_stamp');
    }

    public function isTransactional(): bool
    {
        return false;
    }
}
