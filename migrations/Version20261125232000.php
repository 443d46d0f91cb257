<?php

declare(strict_types=1);

namespace Vorhut\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

final class Version20261125232000 extends AbstractMigration
{
    public function getDescription(): string
    {
        return 'Sessions in the database.';
    }

    public function up(Schema $schema): void
    {
        $this->addSql('CREATE TABLE web_session (sess_id VARBINARY(128) NOT NULL PRIMARY KEY, sess_data MEDIUMBLOB NOT NULL, '
            .'sess_lifetime INT UNSIGNED NOT NULL, sess_time INT UNSIGNED NOT NULL, INDEX web_session_lifetime (sess_lifetime)) '
            .'DEFAULT CHARACTER SET utf8mb4 COLLATE utf8mb4_bin ENGINE = InnoDB');
    }

    public function down(Schema $schema): void
    {
        $this->addSql('DROP TABLE web_session');
    }

    public function isTransactional(): bool
    {
        return false;
    }
}
