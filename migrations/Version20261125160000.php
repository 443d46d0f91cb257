<?php

declare(strict_types=1);

namespace Vorhut\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

final class Version20261125160000 extends AbstractMigration
{
    public function getDescription(): string
    {
        return 'What a device says and a setting cannot be is kept apart from what was seen.';
    }

    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE setting_value ADD odd_value VARCHAR(500) DEFAULT NULL');
    }

    public function down(Schema $schema): void
    {
        $this->addSql('ALTER TABLE setting_value DROP odd_value');
    }

    public function isTransactional(): bool
    {
        return false;
    }
}
