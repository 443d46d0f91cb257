<?php

declare(strict_types=1);

namespace Vorhut\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

final class Version20261207000000 extends AbstractMigration
{
    public function getDescription(): string
    {
        return 'Store whether an added test requires an answer';
    }

    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE added_test ADD requires VARCHAR(190) DEFAULT NULL');
    }

    public function down(Schema $schema): void
    {
        $this->addSql('ALTER TABLE added_test DROP requires');
    }
}
