<?php

declare(strict_types=1);

namespace Vorhut\Core\Document;

use Vorhut\Core\Kind\Kinds;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Field;
use Vorhut\Core\Plan\FieldType;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Row;
use Vorhut\Core\Plan\Schema;

/**
 * A job as one JSON document: import, export, fixture, backup and test case at once. Written in one canonical form, so that export, import and
 * export again give the same bytes: keys in the order of the schema, records by key, empty fields left out.
 *
 * @phpstan-import-type RowData from Edit
 */
final readonly class JobDocument
{
    public const FORMAT = 'vorhut-job';

    /**
     * @param RowData              $job
     * @param array<string, list<RowData>> $sections
     * @param list<RowData>        $journal
     * @param array<string, mixed>|null $sealed secrets, encrypted under a passphrase
     */
    private function __construct(public array $job, public array $sections, public array $journal, public ?array $sealed)
    {
    }

    /**
     * @throws BadDocument with every error found
     */
    public static function fromJson(string $json, Kinds $kinds): self
    {
        try {
            $data = json_decode($json, true, 64, \JSON_THROW_ON_ERROR);
        } catch (\JsonException $e) {
            throw new BadDocument([['pointer' => '', 'message' => 'This is not JSON: '.$e->getMessage().'.']]);
        }
        if (!\is_array($data) || self::FORMAT !== ($data['format'] ?? null)) {
            throw new BadDocument([['pointer' => '/format', 'message' => 'This is not a Vorhut job: "format" must be "vorhut-job".']]);
        }
        if (Schema::VERSION !== ($data['version'] ?? null)) {
            throw new BadDocument([['pointer' => '/version', 'message' => \sprintf('This program reads version %d of the format.', Schema::VERSION)]]);
        }
        $errors = JsonSchema::errors($json);
        if ([] !== $errors) {
            throw new BadDocument($errors);
        }
        $sections = [];
        $job = self::record(Schema::job(), (array) ($data['job'] ?? []), '/job', $errors);
        foreach (Schema::sections() as $section => $fields) {
            $sections[$section] = [];
            $keys = [];
            foreach (array_values((array) ($data[$section] ?? [])) as $i => $record) {
                $record = (array) $record;
                $pointer = "/$section/$i";
                $key = \is_scalar($record['key'] ?? null) ? (string) $record['key'] : '';
                if (isset($keys[$key])) {
                    $errors[] = ['pointer' => $pointer.'/key', 'message' => \sprintf('"%s" stands here for the second time.', $key)];
                }
                $keys[$key] = true;
                $sections[$section][] = ['key' => $key] + self::record($fields, $record, $pointer, $errors);
            }
        }
        self::checkPointers($job, $sections, $kinds, $errors);
        self::checkValues($sections, $errors);
        if ([] !== $errors) {
            throw new BadDocument($errors);
        }
        $journal = array_map(static fn (mixed $entry): array => (new Row(\is_array($entry) ? $entry : []))->data(), array_values((array) ($data['journal'] ?? [])));
        $sealed = (new Row($data))->map('sealed');

        return new self($job, $sections, $journal, [] === $sealed ? null : $sealed);
    }

    /**
     * @param list<RowData>             $journal
     * @param array<string, mixed>|null $sealed
     */
    public static function of(Plan $plan, array $journal = [], ?array $sealed = null): self
    {
        $sections = [];
        foreach (array_keys(Schema::sections()) as $section) {
            $sections[$section] = $plan->rows($section);
        }

        return new self($plan->jobRow(), $sections, $journal, $sealed);
    }

    public function plan(Kinds $kinds): Plan
    {
        return Plan::of($this->job, $this->sections, $kinds);
    }

    public function toJson(): string
    {
        $data = ['format' => self::FORMAT, 'version' => Schema::VERSION, 'job' => self::canonical(Schema::job(), $this->job)];
        foreach (Schema::sections() as $section => $fields) {
            $records = [];
            foreach ($this->sections[$section] ?? [] as $record) {
                $records[Row::keyOf($record)] = ['key' => Row::keyOf($record)] + self::canonical($fields, $record);
            }
            ksort($records, \SORT_STRING);
            if ([] !== $records) {
                $data[$section] = array_values($records);
            }
        }
        if ([] !== $this->journal) {
            $data['journal'] = $this->journal;
        }
        if (null !== $this->sealed) {
            $data['sealed'] = $this->sealed;
        }

        return json_encode($data, \JSON_PRETTY_PRINT | \JSON_UNESCAPED_SLASHES | \JSON_UNESCAPED_UNICODE | \JSON_THROW_ON_ERROR)."\n";
    }

    /**
     * @param list<Field> $fields
     * @param RowData     $record
     *
     * @return RowData
     */
    private static function canonical(array $fields, array $record): array
    {
        $ordered = [];
        foreach ($fields as $field) {
            $value = $record[$field->name] ?? null;
            // An empty list and a missing value are one and the same; the empty text of a face is not: it means blank.
            if (null === $value || [] === $value || ('' === $value && FieldType::Face !== $field->type)) {
                continue;
            }
            $ordered[$field->name] = $value;
        }

        return $ordered;
    }

    /**
     * @param list<Field>                                    $fields
     * @param array<mixed>                                   $record
     * @param list<array{pointer: string, message: string}> $errors
     *
     * @return RowData
     */
    private static function record(array $fields, array $record, string $pointer, array &$errors): array
    {
        $row = [];
        foreach ($fields as $field) {
            try {
                $row[$field->name] = $field->check($record[$field->name] ?? null);
            } catch (Malformed $e) {
                $errors[] = ['pointer' => $pointer.'/'.$field->name, 'message' => $e->getMessage()];
            }
        }

        return $row;
    }

    /**
     * @param RowData                                        $job
     * @param array<string, list<RowData>>                   $sections
     * @param list<array{pointer: string, message: string}> $errors
     */
    private static function checkPointers(array $job, array $sections, Kinds $kinds, array &$errors): void
    {
        $known = ['kinds' => $kinds->all()];
        foreach ($sections as $section => $records) {
            $known[$section] = array_flip(array_map(Row::keyOf(...), $records));
        }
        /**
         * @param list<Field> $fields
         * @param RowData     $record
         */
        $records = [['/job', Schema::job(), $job]];
        foreach (Schema::sections() as $section => $fields) {
            foreach ($sections[$section] as $i => $record) {
                $records[] = ["/$section/$i", $fields, $record];
            }
        }
        foreach ($records as [$pointer, $fields, $record]) {
            foreach ($fields as $field) {
                $value = $record[$field->name] ?? null;
                if (null !== $field->pointsTo && \is_string($value) && !isset($known[$field->pointsTo][$value])) {
                    $errors[] = ['pointer' => $pointer.'/'.$field->name, 'message' => \sprintf('There is no "%s" in %s.', $value, $field->pointsTo)];
                }
            }
        }
    }

    /**
     * @param array<string, list<RowData>>                   $sections
     * @param list<array{pointer: string, message: string}> $errors
     */
    private static function checkValues(array $sections, array &$errors): void
    {
        foreach ($sections['values'] as $i => $record) {
            $key = Row::keyOf($record);
            $type = Schema::facedType($key);
            [$section, $owner] = explode('/', explode('#', $key, 2)[0], 2) + [1 => ''];
            $there = array_filter($sections[$section] ?? [], static fn (array $one): bool => ($one['key'] ?? null) === $owner);
            if (null === $type || [] === $there || $key !== (new Row($record))->text('owner').'#'.(new Row($record))->text('field')) {
                $errors[] = ['pointer' => "/values/$i/key", 'message' => \sprintf('"%s" names no field of a record of this job.', $key)];
                continue;
            }
            foreach (['planned', 'set', 'seen'] as $face) {
                $text = $record[$face] ?? null;
                try {
                    if (\is_string($text) && '' !== $text) {
                        $type->read($text);
                    }
                } catch (Malformed $e) {
                    $errors[] = ['pointer' => "/values/$i/$face", 'message' => $e->getMessage()];
                }
            }
        }
    }
}
