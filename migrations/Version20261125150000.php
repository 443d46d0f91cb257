<?php

declare(strict_types=1);

namespace Vorhut\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** Two changes of one job never run at the same time, and each says what it expects to find: nobody looked at the versions. */
final class Version20261125150000 extends AbstractMigration
{
    private const TABLES = [
        'segment', 'device', 'nic', 'router_port', 'static_route', 'filter_rule', 'extension', 'account', 'setting_value', 'credential',
        'mark', 'added_test', 'file_fetch', 'observation',
    ];

    public function getDescription(): string
    {
        return 'Records have no version of their own any more.';
    }

    public function up(Schema $schema): void
    {
        foreach (self::TABLES as $table) {
            $this->addSql("ALTER TABLE $table DROP version");
        }
    }

    public function down(Schema $schema): void
    {
        foreach (self::TABLES as $table) {
            $this->addSql("ALTER TABLE $table ADD version INT DEFAULT 1 NOT NULL");
        }
    }

    public function isTransactional(): bool
    {
        return false;
    }
}
