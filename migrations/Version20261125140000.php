<?php

declare(strict_types=1);

namespace Vorhut\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

final class Version20261125140000 extends AbstractMigration
{
    public function getDescription(): string
    {
        return 'A job has a stamp for its plan and one for all of it, so that what is kept of it is known to be of this very state.';
    }

    public function up(Schema $schema): void
    {
        $this->addSql("ALTER TABLE job ADD stamp VARCHAR(16) DEFAULT '' NOT NULL, ADD plan_stamp VARCHAR(16) DEFAULT '' NOT NULL");
        $this->addSql('UPDATE job SET stamp = LEFT(MD5(CONCAT(RAND(), id)), 16), plan_stamp = LEFT(MD5(CONCAT(id, RAND())), 16)');
    }

    public function down(Schema $schema): void
    {
        $this->addSql('ALTER TABLE job DROP stamp, DROP plan_stamp');
    }

    public function isTransactional(): bool
    {
        return false;
    }
}
