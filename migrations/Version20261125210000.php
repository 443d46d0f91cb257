<?php

declare(strict_types=1);

namespace Vorhut\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

final class Version20261125210000 extends AbstractMigration
{
    public function getDescription(): string
    {
        return 'Which process has an order in hand.';
    }

    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE work_order ADD claimed_by VARCHAR(120) DEFAULT NULL');
    }

    public function down(Schema $schema): void
    {
        $this->addSql('ALTER TABLE work_order DROP claimed_by');
    }

    public function isTransactional(): bool
    {
        return false;
    }
}
