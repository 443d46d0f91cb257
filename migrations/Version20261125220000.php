<?php

declare(strict_types=1);

namespace Vorhut\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

final class Version20261125220000 extends AbstractMigration
{
    public function getDescription(): string
    {
        return 'What the columns of somebody\'s tables hold.';
    }

    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE app_user ADD pasted_columns JSON DEFAULT NULL');
    }

    public function down(Schema $schema): void
    {
        $this->addSql('ALTER TABLE app_user DROP pasted_columns');
    }

    public function isTransactional(): bool
    {
        return false;
    }
}
