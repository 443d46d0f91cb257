<?php

declare(strict_types=1);

namespace Vorhut\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

final class Version20261204000000 extends AbstractMigration
{
    public function getDescription(): string
    {
        return 'Default of a router for packets that leave by the interface they arrived on';
    }

    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE device ADD filter_same_interface VARCHAR(190) DEFAULT NULL');
    }

    public function down(Schema $schema): void
    {
        $this->throwIrreversibleMigrationException('Restore a backup.');
    }
}
