<?php

declare(strict_types=1);

namespace Vorhut\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

final class Version20261205000000 extends AbstractMigration
{
    public function getDescription(): string
    {
        return 'Where the addresses of a job are on loopback while the lab plays it';
    }

    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE job ADD lab_shift INT DEFAULT 0 NOT NULL');
    }

    public function down(Schema $schema): void
    {
        $this->throwIrreversibleMigrationException('Restore a backup.');
    }
}
