<?php

declare(strict_types=1);

namespace Vorhut\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

final class Version20261125180000 extends AbstractMigration
{
    public function getDescription(): string
    {
        return 'Several benches.';
    }

    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE job ADD benches INT DEFAULT NULL');
    }

    public function down(Schema $schema): void
    {
        $this->addSql('ALTER TABLE job DROP benches');
    }

    public function isTransactional(): bool
    {
        return false;
    }
}
