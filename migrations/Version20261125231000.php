<?php

declare(strict_types=1);

namespace Vorhut\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

final class Version20261125231000 extends AbstractMigration
{
    public function getDescription(): string
    {
        return 'Who holds a login.';
    }

    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE credential ADD held_by VARCHAR(255) DEFAULT NULL');
    }

    public function down(Schema $schema): void
    {
        $this->addSql('ALTER TABLE credential DROP held_by');
    }

    public function isTransactional(): bool
    {
        return false;
    }
}
