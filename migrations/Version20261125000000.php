<?php

declare(strict_types=1);

namespace Vorhut\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;
use Vorhut\Core\Document\Upgrade;

final class Version20261125000000 extends AbstractMigration
{
    public function getDescription(): string
    {
        return 'Settings have one address, tests are called tests, sentences are kept with what stands in their places.';
    }

    public function up(Schema $schema): void
    {
        $this->addSql('RENAME TABLE faced_value TO setting_value, test_line TO added_test');
        $this->addSql(
            'ALTER TABLE setting_value DROP owner_key, DROP field_name, CHANGE planned_value planned_value VARCHAR(500) DEFAULT NULL, '
                .'CHANGE set_value set_value VARCHAR(500) DEFAULT NULL, CHANGE seen_value seen_value VARCHAR(500) DEFAULT NULL',
        );
        $this->addSql(
            "INSERT INTO setting_value (job_id, record_key, planned_value) SELECT job_id, CONCAT('devices/', record_key, "
                ."'#analoguePorts'), CAST(analogue_ports AS CHAR) FROM device WHERE analogue_ports > 0",
        );
        $this->addSql(
            'ALTER TABLE device DROP analogue_ports, ADD arrives VARCHAR(255) DEFAULT NULL, ADD label_address VARCHAR(190) DEFAULT '
                .'NULL, ADD label_mask VARCHAR(190) DEFAULT NULL, ADD label_user VARCHAR(255) DEFAULT NULL, ADD label_host_name '
                .'VARCHAR(190) DEFAULT NULL',
        );
        $this->addSql('ALTER TABLE credential CHANGE purpose purpose VARCHAR(255) DEFAULT NULL');
        $this->addSql('ALTER TABLE segment CHANGE weave pattern INT DEFAULT NULL');
        $this->addSql('ALTER TABLE observation CHANGE test_line test_key VARCHAR(255) DEFAULT NULL, CHANGE ground basis JSON DEFAULT NULL');
        $this->addSql('UPDATE observation SET detail = JSON_QUOTE(detail) WHERE detail IS NOT NULL');
        $this->addSql('ALTER TABLE observation CHANGE detail detail JSON DEFAULT NULL');
        $this->addSql('UPDATE journal_entry SET why = JSON_QUOTE(why)');
        $this->addSql('ALTER TABLE journal_entry CHANGE why why JSON NOT NULL');
        foreach ([
            'added_test RENAME INDEX idx_d46d9e39be04ea9 TO IDX_8112AED5BE04EA9',
            'added_test RENAME INDEX uniq_d46d9e39be04ea9e8bf7264 TO UNIQ_8112AED5BE04EA9E8BF7264',
            'observation RENAME INDEX idx_c576dbe0be04ea9d46d9e39 TO IDX_C576DBE0BE04EA9F3ED776E',
            'file_fetch RENAME INDEX idx_82e96343be04ea9 TO IDX_286AD374BE04EA9',
            'file_fetch RENAME INDEX uniq_82e96343be04ea9e8bf7264 TO UNIQ_286AD374BE04EA9E8BF7264',
            'setting_value RENAME INDEX idx_4952ec9abe04ea9 TO IDX_54DFAB55BE04EA9',
            'setting_value RENAME INDEX uniq_4952ec9abe04ea9e8bf7264 TO UNIQ_54DFAB55BE04EA9E8BF7264',
        ] as $index) {
            $this->addSql('ALTER TABLE '.$index);
        }
        // A transport is a list of known words now.
        foreach ($this->connection->fetchAllAssociative(
            "SELECT id, planned_value, set_value, seen_value FROM faced_value WHERE record_key LIKE '%#transport'",
        ) as $row) {
            $faces = Upgrade::setting([
                'key' => 'devices/x#transport',
                'planned' => $row['planned_value'],
                'set' => $row['set_value'],
                'seen' => $row['seen_value'],
            ]);
            $this->addSql(
                'UPDATE setting_value SET planned_value = ?, set_value = ?, seen_value = ? WHERE id = ?',
                [$faces['planned'] ?? null, $faces['set'] ?? null, $faces['seen'] ?? null, $row['id']],
            );
        }
        foreach ($this->connection->iterateAssociative('SELECT id, edits FROM journal_entry') as $row) {
            $edits = \is_string($row['edits']) ? json_decode($row['edits'], true) : null;
            $upgraded = array_map(
                static fn (mixed $edit): mixed => \is_array($edit) ? Upgrade::edit($edit) : $edit,
                \is_array($edits) ? $edits : [],
            );
            if ($edits !== $upgraded) {
                $this->addSql('UPDATE journal_entry SET edits = ? WHERE id = ?', [
                    json_encode($upgraded, \JSON_UNESCAPED_SLASHES | \JSON_UNESCAPED_UNICODE),
                    $row['id'],
                ]);
            }
        }
        foreach ($this->connection->fetchAllAssociative('SELECT id, what FROM work_order') as $row) {
            $what = \is_string($row['what']) ? json_decode($row['what'], true) : null;
            if (\is_array($what) && isset($what['lines'])) {
                $this->addSql('UPDATE work_order SET what = ? WHERE id = ?', [
                    json_encode(['tests' => $what['lines']] + array_diff_key($what, ['lines' => true])),
                    $row['id'],
                ]);
            }
        }
    }

    public function down(Schema $schema): void
    {
        $this->throwIrreversibleMigrationException('What was told apart here is not put together again; take the backup.');
    }

    public function isTransactional(): bool
    {
        return false;
    }
}
