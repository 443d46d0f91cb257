<?php

declare(strict_types=1);

namespace Vorhut\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

final class Version20261125235000 extends AbstractMigration
{
    public function getDescription(): string
    {
        return 'What was typed and could not be taken stands beside the session.';
    }

    public function up(Schema $schema): void
    {
        $this->addSql('CREATE TABLE form_note (number VARCHAR(16) NOT NULL, login VARCHAR(64) NOT NULL, until_at INT NOT NULL, '
            .'forms MEDIUMBLOB NOT NULL, INDEX form_note_until (until_at), PRIMARY KEY(number)) '
            .'DEFAULT CHARACTER SET utf8mb4 COLLATE utf8mb4_bin');
    }

    public function down(Schema $schema): void
    {
        $this->addSql('DROP TABLE form_note');
    }

    public function isTransactional(): bool
    {
        return false;
    }
}
