<?php

declare(strict_types=1);

namespace Vorhut\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

final class Version20261125120000 extends AbstractMigration
{
    public function getDescription(): string
    {
        return 'The journal knows who changed something by login, not by the name that is shown.';
    }

    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE journal_entry ADD login VARCHAR(64) DEFAULT NULL');
    }

    public function down(Schema $schema): void
    {
        $this->addSql('ALTER TABLE journal_entry DROP login');
    }

    public function isTransactional(): bool
    {
        return false;
    }
}
