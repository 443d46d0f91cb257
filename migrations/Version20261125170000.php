<?php

declare(strict_types=1);

namespace Vorhut\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

final class Version20261125170000 extends AbstractMigration
{
    public function getDescription(): string
    {
        return 'Waits that run, licences, what there is at the bench, and by which way a step was done.';
    }

    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE mark ADD way VARCHAR(255) DEFAULT NULL');
        $this->addSql('ALTER TABLE job ADD bench_people INT DEFAULT NULL, ADD bench_ports INT DEFAULT NULL, '
            .'ADD bench_watts INT DEFAULT NULL, ADD starts_on VARCHAR(190) DEFAULT NULL');
        $record = 'id INT AUTO_INCREMENT NOT NULL, job_id INT NOT NULL, record_key VARCHAR(190) NOT NULL, '
            .'device VARCHAR(190) DEFAULT NULL';
        $end = 'INDEX %s (job_id), UNIQUE INDEX %s (job_id, record_key), PRIMARY KEY (id)) DEFAULT CHARACTER SET utf8mb4';
        $this->addSql("CREATE TABLE step_wait ($record, step VARCHAR(255) DEFAULT NULL, made_at VARCHAR(190) DEFAULT NULL, "
            .'seconds INT DEFAULT NULL, made_by VARCHAR(255) DEFAULT NULL, '
            .\sprintf($end, 'IDX_33781EB4BE04EA9', 'UNIQ_33781EB4BE04EA9E8BF7264'));
        $this->addSql("CREATE TABLE licence ($record, feature VARCHAR(255) DEFAULT NULL, quantity INT DEFAULT NULL, "
            .'hardware_id VARCHAR(255) DEFAULT NULL, ordered_on VARCHAR(190) DEFAULT NULL, arrived_on VARCHAR(190) DEFAULT NULL, '
            .'valid_from VARCHAR(190) DEFAULT NULL, valid_until VARCHAR(190) DEFAULT NULL, temporary TINYINT DEFAULT NULL, '
            .'note LONGTEXT DEFAULT NULL, '.\sprintf($end, 'IDX_1DAAE648BE04EA9', 'UNIQ_1DAAE648BE04EA9E8BF7264'));
        foreach (['step_wait', 'licence'] as $table) {
            $this->addSql("ALTER TABLE $table ADD CONSTRAINT FK_{$table}_job FOREIGN KEY (job_id) REFERENCES job (id) ON DELETE CASCADE");
        }
    }

    public function down(Schema $schema): void
    {
        $this->addSql('DROP TABLE step_wait');
        $this->addSql('DROP TABLE licence');
        $this->addSql('ALTER TABLE mark DROP way');
        $this->addSql('ALTER TABLE job DROP bench_people, DROP bench_ports, DROP bench_watts, DROP starts_on');
    }

    public function isTransactional(): bool
    {
        return false;
    }
}
