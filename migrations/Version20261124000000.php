<?php

declare(strict_types=1);

namespace Vorhut\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** The ground: jobs and their records, the journal, users, work orders. */
final class Version20261124000000 extends AbstractMigration
{
    public function getDescription(): string
    {
        return 'The ground: jobs and their records, the journal, users, work orders.';
    }

    public function up(Schema $schema): void
    {
        $this->addSql(
            'CREATE TABLE account (id INT AUTO_INCREMENT NOT NULL, record_key VARCHAR(190) NOT NULL, version INT DEFAULT 1 NOT NULL, '
                .'extension VARCHAR(190) DEFAULT NULL, registrar VARCHAR(190) DEFAULT NULL, user_name VARCHAR(255) DEFAULT NULL, '
                .'mac_entered VARCHAR(190) DEFAULT NULL, entered_at VARCHAR(190) DEFAULT NULL, job_id INT NOT NULL, INDEX '
                .'IDX_7D3656A4BE04EA9 (job_id), UNIQUE INDEX UNIQ_7D3656A4BE04EA9E8BF7264 (job_id, record_key), PRIMARY KEY (id)) '
                .'DEFAULT CHARACTER SET utf8mb4',
        );
        $this->addSql(
            'CREATE TABLE app_user (id INT AUTO_INCREMENT NOT NULL, login VARCHAR(64) NOT NULL, name VARCHAR(190) NOT NULL, role '
                .'VARCHAR(32) NOT NULL, password_hash VARCHAR(255) NOT NULL, UNIQUE INDEX UNIQ_88BDF3E9AA08CB10 (login), PRIMARY '
                .'KEY (id)) DEFAULT CHARACTER SET utf8mb4',
        );
        $this->addSql(
            'CREATE TABLE credential (id INT AUTO_INCREMENT NOT NULL, record_key VARCHAR(190) NOT NULL, version INT DEFAULT 1 NOT '
                .'NULL, owner_key VARCHAR(190) DEFAULT NULL, purpose VARCHAR(190) DEFAULT NULL, user_name VARCHAR(255) DEFAULT '
                .'NULL, state VARCHAR(190) DEFAULT NULL, secret_length INT DEFAULT NULL, weakness VARCHAR(255) DEFAULT NULL, '
                .'changed_at VARCHAR(190) DEFAULT NULL, sealed VARCHAR(500) DEFAULT NULL, job_id INT NOT NULL, INDEX '
                .'IDX_57F1D4BBE04EA9 (job_id), UNIQUE INDEX UNIQ_57F1D4BBE04EA9E8BF7264 (job_id, record_key), PRIMARY KEY (id)) '
                .'DEFAULT CHARACTER SET utf8mb4',
        );
        $this->addSql(
            'CREATE TABLE device (id INT AUTO_INCREMENT NOT NULL, record_key VARCHAR(190) NOT NULL, version INT DEFAULT 1 NOT NULL, '
                .'tag VARCHAR(255) DEFAULT NULL, kind VARCHAR(190) DEFAULT NULL, room VARCHAR(255) DEFAULT NULL, serial '
                .'VARCHAR(255) DEFAULT NULL, controlled_from VARCHAR(190) DEFAULT NULL, filter_default VARCHAR(190) DEFAULT NULL, '
                .'stateful TINYINT DEFAULT NULL, analogue_ports INT DEFAULT NULL, place INT DEFAULT NULL, note LONGTEXT DEFAULT '
                .'NULL, job_id INT NOT NULL, INDEX IDX_92FB68EBE04EA9 (job_id), UNIQUE INDEX UNIQ_92FB68EBE04EA9E8BF7264 (job_id, '
                .'record_key), PRIMARY KEY (id)) DEFAULT CHARACTER SET utf8mb4',
        );
        $this->addSql(
            'CREATE TABLE extension (id INT AUTO_INCREMENT NOT NULL, record_key VARCHAR(190) NOT NULL, version INT DEFAULT 1 NOT NULL, '
                .'number_text VARCHAR(190) DEFAULT NULL, name VARCHAR(255) DEFAULT NULL, pbx VARCHAR(190) DEFAULT NULL, terminal '
                .'VARCHAR(190) DEFAULT NULL, phone VARCHAR(190) DEFAULT NULL, voicemail TINYINT DEFAULT NULL, location '
                .'VARCHAR(255) DEFAULT NULL, factory_made TINYINT DEFAULT NULL, job_id INT NOT NULL, INDEX IDX_9FB73D77BE04EA9 '
                .'(job_id), UNIQUE INDEX UNIQ_9FB73D77BE04EA9E8BF7264 (job_id, record_key), PRIMARY KEY (id)) DEFAULT CHARACTER '
                .'SET utf8mb4',
        );
        $this->addSql(
            'CREATE TABLE faced_value (id INT AUTO_INCREMENT NOT NULL, record_key VARCHAR(190) NOT NULL, version INT DEFAULT 1 NOT '
                .'NULL, owner_key VARCHAR(190) DEFAULT NULL, field_name VARCHAR(255) DEFAULT NULL, planned_value VARCHAR(190) '
                .'DEFAULT NULL, planned_by VARCHAR(255) DEFAULT NULL, planned_at VARCHAR(190) DEFAULT NULL, set_value VARCHAR(190) '
                .'DEFAULT NULL, set_by VARCHAR(255) DEFAULT NULL, set_at VARCHAR(190) DEFAULT NULL, seen_value VARCHAR(190) '
                .'DEFAULT NULL, seen_by VARCHAR(255) DEFAULT NULL, seen_at VARCHAR(190) DEFAULT NULL, job_id INT NOT NULL, INDEX '
                .'IDX_4952EC9ABE04EA9 (job_id), UNIQUE INDEX UNIQ_4952EC9ABE04EA9E8BF7264 (job_id, record_key), PRIMARY KEY (id)) '
                .'DEFAULT CHARACTER SET utf8mb4',
        );
        $this->addSql(
            'CREATE TABLE file_fetch (id INT AUTO_INCREMENT NOT NULL, record_key VARCHAR(190) NOT NULL, version INT DEFAULT 1 NOT '
                .'NULL, device VARCHAR(190) DEFAULT NULL, mac VARCHAR(190) DEFAULT NULL, made_at VARCHAR(190) DEFAULT NULL, '
                .'address VARCHAR(255) DEFAULT NULL, agent VARCHAR(255) DEFAULT NULL, file_version VARCHAR(255) DEFAULT NULL, '
                .'status INT DEFAULT NULL, job_id INT NOT NULL, INDEX IDX_82E96343BE04EA9 (job_id), UNIQUE INDEX '
                .'UNIQ_82E96343BE04EA9E8BF7264 (job_id, record_key), PRIMARY KEY (id)) DEFAULT CHARACTER SET utf8mb4',
        );
        $this->addSql(
            'CREATE TABLE filter_rule (id INT AUTO_INCREMENT NOT NULL, record_key VARCHAR(190) NOT NULL, version INT DEFAULT 1 NOT '
                .'NULL, router VARCHAR(190) DEFAULT NULL, place INT DEFAULT NULL, from_end VARCHAR(190) DEFAULT NULL, to_end '
                .'VARCHAR(190) DEFAULT NULL, transport VARCHAR(190) DEFAULT NULL, port_first INT DEFAULT NULL, port_last INT '
                .'DEFAULT NULL, action VARCHAR(190) DEFAULT NULL, note LONGTEXT DEFAULT NULL, job_id INT NOT NULL, INDEX '
                .'IDX_2EE2CBB5BE04EA9 (job_id), UNIQUE INDEX UNIQ_2EE2CBB5BE04EA9E8BF7264 (job_id, record_key), PRIMARY KEY (id)) '
                .'DEFAULT CHARACTER SET utf8mb4',
        );
        $this->addSql(
            'CREATE TABLE job (id INT AUTO_INCREMENT NOT NULL, slug VARCHAR(64) NOT NULL, revision INT NOT NULL, file_token '
                .'VARCHAR(64) NOT NULL, rehearsed TINYINT NOT NULL, version INT DEFAULT 1 NOT NULL, name VARCHAR(255) DEFAULT '
                .'NULL, customer VARCHAR(255) DEFAULT NULL, site VARCHAR(255) DEFAULT NULL, country VARCHAR(255) DEFAULT NULL, '
                .'language VARCHAR(255) DEFAULT NULL, time_zone VARCHAR(190) DEFAULT NULL, ntp VARCHAR(255) DEFAULT NULL, dns '
                .'VARCHAR(190) DEFAULT NULL, domain VARCHAR(190) DEFAULT NULL, admin_name VARCHAR(255) DEFAULT NULL, admin_mail '
                .'VARCHAR(190) DEFAULT NULL, extension_first VARCHAR(190) DEFAULT NULL, extension_last VARCHAR(190) DEFAULT NULL, '
                .'outside_digit VARCHAR(190) DEFAULT NULL, feature_codes JSON DEFAULT NULL, emergency_numbers JSON DEFAULT NULL, '
                .'voicemail_after INT DEFAULT NULL, laptop VARCHAR(190) DEFAULT NULL, note LONGTEXT DEFAULT NULL, UNIQUE INDEX '
                .'UNIQ_FBD8E0F8989D9B62 (slug), PRIMARY KEY (id)) DEFAULT CHARACTER SET utf8mb4',
        );
        $this->addSql(
            'CREATE TABLE journal_entry (id INT AUTO_INCREMENT NOT NULL, number INT NOT NULL, made_at VARCHAR(40) NOT NULL, made_by '
                .'VARCHAR(190) NOT NULL, why LONGTEXT NOT NULL, edits JSON NOT NULL, undoes INT DEFAULT NULL, job_id INT NOT NULL, '
                .'INDEX IDX_C8FAAE5ABE04EA9 (job_id), UNIQUE INDEX UNIQ_C8FAAE5ABE04EA996901F54 (job_id, number), PRIMARY KEY '
                .'(id)) DEFAULT CHARACTER SET utf8mb4',
        );
        $this->addSql(
            'CREATE TABLE mark (id INT AUTO_INCREMENT NOT NULL, record_key VARCHAR(190) NOT NULL, version INT DEFAULT 1 NOT NULL, '
                .'device VARCHAR(190) DEFAULT NULL, step VARCHAR(255) DEFAULT NULL, state VARCHAR(190) DEFAULT NULL, note LONGTEXT '
                .'DEFAULT NULL, made_by VARCHAR(255) DEFAULT NULL, made_at VARCHAR(190) DEFAULT NULL, job_id INT NOT NULL, INDEX '
                .'IDX_6674F271BE04EA9 (job_id), UNIQUE INDEX UNIQ_6674F271BE04EA9E8BF7264 (job_id, record_key), PRIMARY KEY (id)) '
                .'DEFAULT CHARACTER SET utf8mb4',
        );
        $this->addSql(
            'CREATE TABLE nic (id INT AUTO_INCREMENT NOT NULL, record_key VARCHAR(190) NOT NULL, version INT DEFAULT 1 NOT NULL, '
                .'device VARCHAR(190) DEFAULT NULL, name VARCHAR(255) DEFAULT NULL, mac VARCHAR(190) DEFAULT NULL, segment '
                .'VARCHAR(190) DEFAULT NULL, address_mode VARCHAR(190) DEFAULT NULL, locked TINYINT DEFAULT NULL, job_id INT NOT '
                .'NULL, INDEX IDX_DD8CDF34BE04EA9 (job_id), UNIQUE INDEX UNIQ_DD8CDF34BE04EA9E8BF7264 (job_id, record_key), '
                .'PRIMARY KEY (id)) DEFAULT CHARACTER SET utf8mb4',
        );
        $this->addSql(
            'CREATE TABLE observation (id INT AUTO_INCREMENT NOT NULL, record_key VARCHAR(190) NOT NULL, version INT DEFAULT 1 NOT '
                .'NULL, test_line VARCHAR(255) DEFAULT NULL, made_at VARCHAR(190) DEFAULT NULL, made_by VARCHAR(255) DEFAULT NULL, '
                .'from_end VARCHAR(255) DEFAULT NULL, outcome VARCHAR(255) DEFAULT NULL, detail LONGTEXT DEFAULT NULL, ground JSON '
                .'DEFAULT NULL, evidence JSON DEFAULT NULL, job_id INT NOT NULL, INDEX IDX_C576DBE0BE04EA9 (job_id), INDEX '
                .'IDX_C576DBE0BE04EA9D46D9E39 (job_id, test_line), UNIQUE INDEX UNIQ_C576DBE0BE04EA9E8BF7264 (job_id, record_key), '
                .'PRIMARY KEY (id)) DEFAULT CHARACTER SET utf8mb4',
        );
        $this->addSql(
            'CREATE TABLE router_port (id INT AUTO_INCREMENT NOT NULL, record_key VARCHAR(190) NOT NULL, version INT DEFAULT 1 NOT '
                .'NULL, router VARCHAR(190) DEFAULT NULL, segment VARCHAR(190) DEFAULT NULL, address VARCHAR(190) DEFAULT NULL, '
                .'mask VARCHAR(190) DEFAULT NULL, job_id INT NOT NULL, INDEX IDX_38F90991BE04EA9 (job_id), UNIQUE INDEX '
                .'UNIQ_38F90991BE04EA9E8BF7264 (job_id, record_key), PRIMARY KEY (id)) DEFAULT CHARACTER SET utf8mb4',
        );
        $this->addSql(
            'CREATE TABLE segment (id INT AUTO_INCREMENT NOT NULL, record_key VARCHAR(190) NOT NULL, version INT DEFAULT 1 NOT NULL, '
                .'name VARCHAR(255) DEFAULT NULL, vlan INT DEFAULT NULL, network VARCHAR(190) DEFAULT NULL, gateway VARCHAR(190) '
                .'DEFAULT NULL, dns VARCHAR(190) DEFAULT NULL, pools JSON DEFAULT NULL, reserved JSON DEFAULT NULL, blocks JSON '
                .'DEFAULT NULL, outpost VARCHAR(190) DEFAULT NULL, voice TINYINT DEFAULT NULL, weave INT DEFAULT NULL, note '
                .'LONGTEXT DEFAULT NULL, job_id INT NOT NULL, INDEX IDX_1881F565BE04EA9 (job_id), UNIQUE INDEX '
                .'UNIQ_1881F565BE04EA9E8BF7264 (job_id, record_key), PRIMARY KEY (id)) DEFAULT CHARACTER SET utf8mb4',
        );
        $this->addSql(
            'CREATE TABLE static_route (id INT AUTO_INCREMENT NOT NULL, record_key VARCHAR(190) NOT NULL, version INT DEFAULT 1 NOT '
                .'NULL, router VARCHAR(190) DEFAULT NULL, destination VARCHAR(190) DEFAULT NULL, via VARCHAR(190) DEFAULT NULL, '
                .'job_id INT NOT NULL, INDEX IDX_B954C923BE04EA9 (job_id), UNIQUE INDEX UNIQ_B954C923BE04EA9E8BF7264 (job_id, '
                .'record_key), PRIMARY KEY (id)) DEFAULT CHARACTER SET utf8mb4',
        );
        $this->addSql(
            'CREATE TABLE test_line (id INT AUTO_INCREMENT NOT NULL, record_key VARCHAR(190) NOT NULL, version INT DEFAULT 1 NOT NULL, '
                .'what VARCHAR(190) DEFAULT NULL, from_end VARCHAR(255) DEFAULT NULL, to_end VARCHAR(255) DEFAULT NULL, port '
                .'VARCHAR(255) DEFAULT NULL, note LONGTEXT DEFAULT NULL, job_id INT NOT NULL, INDEX IDX_D46D9E39BE04EA9 (job_id), '
                .'UNIQUE INDEX UNIQ_D46D9E39BE04EA9E8BF7264 (job_id, record_key), PRIMARY KEY (id)) DEFAULT CHARACTER SET utf8mb4',
        );
        $this->addSql(
            'CREATE TABLE work_order (id INT AUTO_INCREMENT NOT NULL, kind VARCHAR(16) NOT NULL, what JSON NOT NULL, ordered_by '
                .'VARCHAR(190) NOT NULL, state VARCHAR(16) NOT NULL, claimed_at VARCHAR(40) DEFAULT NULL, result LONGTEXT DEFAULT '
                .'NULL, job_id INT NOT NULL, INDEX IDX_DDD2E8B7BE04EA9 (job_id), INDEX IDX_DDD2E8B7A393D2FB3BC4BCD9BF396750 '
                .'(state, kind, id), PRIMARY KEY (id)) DEFAULT CHARACTER SET utf8mb4',
        );
        $this->addSql('ALTER TABLE account ADD CONSTRAINT FK_7D3656A4BE04EA9 FOREIGN KEY (job_id) REFERENCES job (id) ON DELETE CASCADE');
        $this->addSql('ALTER TABLE credential ADD CONSTRAINT FK_57F1D4BBE04EA9 FOREIGN KEY (job_id) REFERENCES job (id) ON DELETE CASCADE');
        $this->addSql('ALTER TABLE device ADD CONSTRAINT FK_92FB68EBE04EA9 FOREIGN KEY (job_id) REFERENCES job (id) ON DELETE CASCADE');
        $this->addSql('ALTER TABLE extension ADD CONSTRAINT FK_9FB73D77BE04EA9 FOREIGN KEY (job_id) REFERENCES job (id) ON DELETE CASCADE');
        $this->addSql(
            'ALTER TABLE faced_value ADD CONSTRAINT FK_4952EC9ABE04EA9 FOREIGN KEY (job_id) REFERENCES job (id) ON DELETE CASCADE',
        );
        $this->addSql(
            'ALTER TABLE file_fetch ADD CONSTRAINT FK_82E96343BE04EA9 FOREIGN KEY (job_id) REFERENCES job (id) ON DELETE CASCADE',
        );
        $this->addSql(
            'ALTER TABLE filter_rule ADD CONSTRAINT FK_2EE2CBB5BE04EA9 FOREIGN KEY (job_id) REFERENCES job (id) ON DELETE CASCADE',
        );
        $this->addSql(
            'ALTER TABLE journal_entry ADD CONSTRAINT FK_C8FAAE5ABE04EA9 FOREIGN KEY (job_id) REFERENCES job (id) ON DELETE CASCADE',
        );
        $this->addSql('ALTER TABLE mark ADD CONSTRAINT FK_6674F271BE04EA9 FOREIGN KEY (job_id) REFERENCES job (id) ON DELETE CASCADE');
        $this->addSql('ALTER TABLE nic ADD CONSTRAINT FK_DD8CDF34BE04EA9 FOREIGN KEY (job_id) REFERENCES job (id) ON DELETE CASCADE');
        $this->addSql(
            'ALTER TABLE observation ADD CONSTRAINT FK_C576DBE0BE04EA9 FOREIGN KEY (job_id) REFERENCES job (id) ON DELETE CASCADE',
        );
        $this->addSql(
            'ALTER TABLE router_port ADD CONSTRAINT FK_38F90991BE04EA9 FOREIGN KEY (job_id) REFERENCES job (id) ON DELETE CASCADE',
        );
        $this->addSql('ALTER TABLE segment ADD CONSTRAINT FK_1881F565BE04EA9 FOREIGN KEY (job_id) REFERENCES job (id) ON DELETE CASCADE');
        $this->addSql(
            'ALTER TABLE static_route ADD CONSTRAINT FK_B954C923BE04EA9 FOREIGN KEY (job_id) REFERENCES job (id) ON DELETE CASCADE',
        );
        $this->addSql('ALTER TABLE test_line ADD CONSTRAINT FK_D46D9E39BE04EA9 FOREIGN KEY (job_id) REFERENCES job (id) ON DELETE CASCADE');
        $this->addSql(
            'ALTER TABLE work_order ADD CONSTRAINT FK_DDD2E8B7BE04EA9 FOREIGN KEY (job_id) REFERENCES job (id) ON DELETE CASCADE',
        );
    }

    public function down(Schema $schema): void
    {
        $this->addSql('ALTER TABLE account DROP FOREIGN KEY FK_7D3656A4BE04EA9');
        $this->addSql('ALTER TABLE credential DROP FOREIGN KEY FK_57F1D4BBE04EA9');
        $this->addSql('ALTER TABLE device DROP FOREIGN KEY FK_92FB68EBE04EA9');
        $this->addSql('ALTER TABLE extension DROP FOREIGN KEY FK_9FB73D77BE04EA9');
        $this->addSql('ALTER TABLE faced_value DROP FOREIGN KEY FK_4952EC9ABE04EA9');
        $this->addSql('ALTER TABLE file_fetch DROP FOREIGN KEY FK_82E96343BE04EA9');
        $this->addSql('ALTER TABLE filter_rule DROP FOREIGN KEY FK_2EE2CBB5BE04EA9');
        $this->addSql('ALTER TABLE journal_entry DROP FOREIGN KEY FK_C8FAAE5ABE04EA9');
        $this->addSql('ALTER TABLE mark DROP FOREIGN KEY FK_6674F271BE04EA9');
        $this->addSql('ALTER TABLE nic DROP FOREIGN KEY FK_DD8CDF34BE04EA9');
        $this->addSql('ALTER TABLE observation DROP FOREIGN KEY FK_C576DBE0BE04EA9');
        $this->addSql('ALTER TABLE router_port DROP FOREIGN KEY FK_38F90991BE04EA9');
        $this->addSql('ALTER TABLE segment DROP FOREIGN KEY FK_1881F565BE04EA9');
        $this->addSql('ALTER TABLE static_route DROP FOREIGN KEY FK_B954C923BE04EA9');
        $this->addSql('ALTER TABLE test_line DROP FOREIGN KEY FK_D46D9E39BE04EA9');
        $this->addSql('ALTER TABLE work_order DROP FOREIGN KEY FK_DDD2E8B7BE04EA9');
        $this->addSql('DROP TABLE account');
        $this->addSql('DROP TABLE app_user');
        $this->addSql('DROP TABLE credential');
        $this->addSql('DROP TABLE device');
        $this->addSql('DROP TABLE extension');
        $this->addSql('DROP TABLE faced_value');
        $this->addSql('DROP TABLE file_fetch');
        $this->addSql('DROP TABLE filter_rule');
        $this->addSql('DROP TABLE job');
        $this->addSql('DROP TABLE journal_entry');
        $this->addSql('DROP TABLE mark');
        $this->addSql('DROP TABLE nic');
        $this->addSql('DROP TABLE observation');
        $this->addSql('DROP TABLE router_port');
        $this->addSql('DROP TABLE segment');
        $this->addSql('DROP TABLE static_route');
        $this->addSql('DROP TABLE test_line');
        $this->addSql('DROP TABLE work_order');
    }

    public function isTransactional(): bool
    {
        return false;
    }
}
