<?php

declare(strict_types=1);

namespace Vorhut\Journal;

use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\EditKind;
use Vorhut\Core\Plan\Integrity;
use Vorhut\Core\Plan\KindVersion;
use Vorhut\Core\Plan\Schema;
use Vorhut\Core\Plan\SettingRef;
use Vorhut\Entity\Job;

/** Refuses a change that would leave a job which its own document could not be read with. */
final readonly class ChangeCheck
{
    public function __construct(
        private Records $records,
        private RecordLoader $loader,
    ) {
    }

    /**
     * The result of a change must be valid in the job's own document: no value of a wrong type, no reference to a missing record, no
     * remains of a removed one.
     *
     * @throws Refused
     */
    public function check(Job $job, AffectedRecords $touched, Change $change): void
    {
        $integrity = new Integrity($this->records->catalogueOf($job), function (string $section, string $key) use ($job, $touched): ?array {
            $this->loader->load($job, $touched, $section, [$key]);
            $record = $touched->find($section, $key);

            return null === $record ? null : Records::row($section, $record);
        });
        $changed = [];
        foreach ($touched->allChanged() as [$section, $record]) {
            $changed[] = [$section, $record->key, Records::row($section, $record)];
        }
        $this->lookAhead($job, $touched, $changed);
        if ([] !== array_filter($change->edits, static fn (Edit $edit): bool => 'job' === $edit->section)) {
            $changed[] = ['job', '', Records::jobRow($job)];
        }
        foreach ($changed as [$section, $key, $row]) {
            $why = $integrity->why($section, $row);
            if (null !== $why) {
                throw Refused::because('{record}: {why}', [
                    'record' => 'job' === $section ? $job->name ?? '' : $section.'/'.$key,
                    'why' => $why,
                ]);
            }
        }
        foreach ($touched->allRemoved() as $section => $keys) {
            $leaning = $this->records->leaning($job, $section, $keys);
            if (null !== $leaning) {
                throw Refused::because('{what} is used by {who}; take it away there first.', [
                    'what' => $section.'/'.implode(', ', \array_slice($keys, 0, 3)),
                    'who' => $leaning[0].'/'.$leaning[1],
                ]);
            }
        }
    }

    /** A kind that is added, removed or restored must fit all values recorded by now, for every caller. */
    public function checkKinds(Job $job, Change $change): void
    {
        $sources = [];
        foreach ($change->edits as $edit) {
            if ('ownKinds' === $edit->section && ('source' === $edit->field || EditKind::Put !== $edit->kind)) {
                $sources[$edit->key] = match ($edit->kind) {
                    EditKind::Put => $edit->after,
                    EditKind::Add => $edit->row['source'] ?? null,
                    EditKind::Remove => null,
                };
            }
        }
        if ([] === $sources) {
            return;
        }
        $stored = $this->records->whole($job);
        $catalogue = $this->records->shippedCatalogue()->with(array_filter($sources, is_string(...)));
        foreach (array_keys($sources) as $code) {
            $kind = $catalogue->kind((string) $code);
            $lost = null === $kind ? [] : KindVersion::unsupported($stored, (string) $code, $kind);
            if ([] !== $lost) {
                throw Refused::because('{why}', ['why' => $lost[0]]);
            }
        }
    }

    /**
     * What the changed records point to, in one look for each section.
     *
     * @param list<array{string, string, array<string, scalar|list<mixed>|null>}> $changed
     */
    private function lookAhead(Job $job, AffectedRecords $touched, array $changed): void
    {
        $keys = [];
        foreach ($changed as [$section, $key, $row]) {
            foreach (Schema::sections()[$section] as $field) {
                $to = $row[$field->name] ?? null;
                if (null !== $field->pointsTo && 'kinds' !== $field->pointsTo && \is_string($to) && '' !== $to) {
                    $keys[$field->pointsTo][] = $to;
                }
            }
            $ref = 'settings' === $section ? SettingRef::tryFromString($key) : null;
            if (null !== $ref) {
                $keys[$ref->section][] = $ref->key;
            }
        }
        foreach ($keys as $section => $some) {
            $this->loader->load($job, $touched, $section, array_values(array_unique($some)));
        }
        $devices = [];
        foreach ($keys['nics'] ?? [] as $nic) {
            $record = $touched->find('nics', $nic);
            $device = null === $record ? null : Records::get($record, 'device');
            if (\is_string($device)) {
                $devices[] = $device;
            }
        }
        $this->loader->load($job, $touched, 'devices', array_values(array_unique($devices)));
    }
}
