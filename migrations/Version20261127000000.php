<?php

declare(strict_types=1);

namespace Vorhut\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

final class Version20261127000000 extends AbstractMigration
{
    public function getDescription(): string
    {
        return 'Translations of addresses, rules by address, further addresses of a port, groups, range lists.';
    }

    public function up(Schema $schema): void
    {
        $this->addSql(
            'CREATE TABLE multicast_group (id INT AUTO_INCREMENT NOT NULL, record_key VARCHAR(190) NOT NULL, name '
                .'VARCHAR(255) DEFAULT NULL, address VARCHAR(190) DEFAULT NULL, sender VARCHAR(190) DEFAULT NULL, ttl INT '
                .'DEFAULT NULL, note LONGTEXT DEFAULT NULL, job_id INT NOT NULL, INDEX IDX_82B9D996BE04EA9 (job_id), UNIQUE '
                .'INDEX UNIQ_82B9D996BE04EA9E8BF7264 (job_id, record_key), PRIMARY KEY (id)) DEFAULT CHARACTER SET utf8mb4',
        );
        $this->addSql(
            'CREATE TABLE multicast_join (id INT AUTO_INCREMENT NOT NULL, record_key VARCHAR(190) NOT NULL, group_key '
                .'VARCHAR(190) DEFAULT NULL, device VARCHAR(190) DEFAULT NULL, job_id INT NOT NULL, INDEX IDX_84ECA194BE04EA9 '
                .'(job_id), UNIQUE INDEX UNIQ_84ECA194BE04EA9E8BF7264 (job_id, record_key), PRIMARY KEY (id)) DEFAULT '
                .'CHARACTER SET utf8mb4',
        );
        $this->addSql(
            'CREATE TABLE translation (id INT AUTO_INCREMENT NOT NULL, record_key VARCHAR(190) NOT NULL, router '
                .'VARCHAR(190) DEFAULT NULL, outside VARCHAR(190) DEFAULT NULL, what VARCHAR(190) DEFAULT NULL, place INT '
                .'DEFAULT NULL, address VARCHAR(190) DEFAULT NULL, inside VARCHAR(190) DEFAULT NULL, transport VARCHAR(190) '
                .'DEFAULT NULL, port_first INT DEFAULT NULL, port_last INT DEFAULT NULL, inside_port INT DEFAULT NULL, note '
                .'LONGTEXT DEFAULT NULL, job_id INT NOT NULL, INDEX IDX_B469456FBE04EA9 (job_id), UNIQUE INDEX '
                .'UNIQ_B469456FBE04EA9E8BF7264 (job_id, record_key), PRIMARY KEY (id)) DEFAULT CHARACTER SET utf8mb4',
        );
        $this->addSql(
            'CREATE TABLE range_list (id INT AUTO_INCREMENT NOT NULL, record_key VARCHAR(190) NOT NULL, name VARCHAR(255) '
                .'DEFAULT NULL, ranges JSON DEFAULT NULL, from_end VARCHAR(190) DEFAULT NULL, port VARCHAR(190) DEFAULT NULL, '
                .'note LONGTEXT DEFAULT NULL, job_id INT NOT NULL, INDEX IDX_56A88921BE04EA9 (job_id), UNIQUE INDEX '
                .'UNIQ_56A88921BE04EA9E8BF7264 (job_id, record_key), PRIMARY KEY (id)) DEFAULT CHARACTER SET utf8mb4',
        );
        $this->addSql(
            'ALTER TABLE multicast_group ADD CONSTRAINT FK_82B9D996BE04EA9 FOREIGN KEY (job_id) REFERENCES job (id) ON '
                .'DELETE CASCADE',
        );
        $this->addSql(
            'ALTER TABLE multicast_join ADD CONSTRAINT FK_84ECA194BE04EA9 FOREIGN KEY (job_id) REFERENCES job (id) ON '
                .'DELETE CASCADE',
        );
        $this->addSql(
            'ALTER TABLE translation ADD CONSTRAINT FK_B469456FBE04EA9 FOREIGN KEY (job_id) REFERENCES job (id) ON DELETE '
                .'CASCADE',
        );
        $this->addSql(
            'ALTER TABLE range_list ADD CONSTRAINT FK_56A88921BE04EA9 FOREIGN KEY (job_id) REFERENCES job (id) ON DELETE '
                .'CASCADE',
        );
        $this->addSql(
            'ALTER TABLE filter_rule ADD from_addresses JSON DEFAULT NULL, ADD to_addresses JSON DEFAULT NULL',
        );
        $this->addSql(
            'ALTER TABLE segment ADD dhcp VARCHAR(190) DEFAULT NULL, ADD wireless TINYINT DEFAULT NULL, ADD snooping '
                .'VARCHAR(190) DEFAULT NULL, ADD querier VARCHAR(190) DEFAULT NULL',
        );
        $this->addSql(
            'ALTER TABLE router_port ADD proxy_arp TINYINT DEFAULT NULL, ADD multicast TINYINT DEFAULT NULL',
        );
        $this->addSql(
            'ALTER TABLE nic ADD also JSON DEFAULT NULL',
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
