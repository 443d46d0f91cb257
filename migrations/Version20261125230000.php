<?php

declare(strict_types=1);

namespace Vorhut\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

final class Version20261125230000 extends AbstractMigration
{
    public function getDescription(): string
    {
        return 'What a port of the bench switch feeds.';
    }

    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE job ADD bench_class INT DEFAULT NULL');
    }

    public function down(Schema $schema): void
    {
        $this->addSql('ALTER TABLE job DROP bench_class');
    }

    public function isTransactional(): bool
    {
        return false;
    }
}
