<?php

declare(strict_types=1);

namespace Vorhut\Core\Document;

use Vorhut\Core\Catalogue\Catalogue;
use Vorhut\Core\Catalogue\Setting;
use Vorhut\Core\Catalogue\ValueType;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Field;
use Vorhut\Core\Plan\FieldType;
use Vorhut\Core\Plan\Integrity;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Row;
use Vorhut\Core\Plan\Schema;
use Vorhut\Core\Plan\SettingRef;
use Vorhut\Core\Text\Message;

/**
 * A job as one JSON document: import, export, fixture, backup and test case at once. Written in one canonical form, so that export,
 * import and export again give the same bytes: keys in the order of the schema, records by key, empty fields left out.
 *
 * @phpstan-import-type RowData from Edit
 */
final readonly class JobDocument
{
    public const FORMAT = 'vorhut-job';

    /**
     * @param RowData              $job
     * @param array<string, list<RowData>> $sections
     * @param list<array<string, mixed>> $journal
     * @param array<string, mixed>|null $sealed secrets, encrypted under a passphrase
     */
    private function __construct(public array $job, public array $sections, public array $journal, public ?array $sealed)
    {
    }

    /**
     * Reads this version of the format and every older one.
     *
     * @throws BadDocument with every error found
     */
    public static function fromJson(string $json, Catalogue $catalogue): self
    {
        return self::fromChunks([$json], $catalogue);
    }

    /**
     * The same, from bytes as they arrive: the whole text is never in memory.
     *
     * @param iterable<string> $chunks
     *
     * @throws BadDocument with every error found
     */
    public static function fromChunks(iterable $chunks, Catalogue $catalogue): self
    {
        $data = self::ofThisVersion(self::assemble($chunks));
        $errors = JsonSchema::errors($data);
        if ([] !== $errors) {
            throw new BadDocument($errors);
        }
        $sections = [];
        $job = self::record(Schema::job(), (array) ($data['job'] ?? []), '/job', $errors);
        foreach (Schema::sections() as $section => $fields) {
            $sections[$section] = self::section($section, $fields, (array) ($data[$section] ?? []), $errors);
            // A large document is not held twice.
            unset($data[$section]);
        }
        foreach ($sections['ownKinds'] as $i => $row) {
            $why = Integrity::whyNotAKind($catalogue, $row);
            if (null !== $why) {
                $errors[] = ['pointer' => "/ownKinds/$i/source", 'message' => $why];
            }
        }
        $catalogue = $catalogue->with(array_combine(
            array_map(Row::keyOf(...), $sections['ownKinds']),
            array_map(static fn (array $row): string => (new Row($row))->text('source'), $sections['ownKinds']),
        ));
        self::checkPointers($job, $sections, $catalogue, $errors);
        self::checkRoles($sections, $catalogue, $errors);
        $journal = self::journal($data['journal'] ?? []);
        $errors = [...$errors, ...JournalCheck::errors($journal)];
        if ('' === trim((new Row($job))->text('name'))) {
            $errors[] = ['pointer' => '/job/name', 'message' => new Message('A job needs a name.')];
        }
        $sections['settings'] = self::checkedSettings($sections, $catalogue, $errors);
        if ([] !== $errors) {
            throw new BadDocument($errors);
        }
        $sealed = (new Row($data))->map('sealed');

        return new self($job, $sections, $journal, [] === $sealed ? null : $sealed);
    }

    /**
     * @param iterable<string> $chunks
     *
     * @return array<mixed>
     *
     * @throws BadDocument if it is not JSON
     */
    private static function assemble(iterable $chunks): array
    {
        $data = $lists = [];
        foreach (JsonPieces::of($chunks) as ['name' => $name, 'index' => $index, 'value' => $value]) {
            if (null === $index) {
                $data[$name] = $value;
            } else {
                $lists[$name][] = $value;
            }
        }

        return $data + $lists;
    }

    /**
     * @param array<mixed> $data
     *
     * @return array<mixed>
     *
     * @throws BadDocument if it is not a job, or a later version
     */
    private static function ofThisVersion(array $data): array
    {
        if (self::FORMAT !== ($data['format'] ?? null)) {
            throw self::bad('/format', new Message('This is not a Vorhut job: "format" must be "vorhut-job".'));
        }
        if (1 === ($data['version'] ?? null)) {
            $data = Upgrade::fromVersion1($data);
        }
        if (Schema::VERSION !== ($data['version'] ?? null)) {
            throw self::bad('/version', new Message('This program reads the format up to version {n}.', ['n' => Schema::VERSION]));
        }

        return $data;
    }

    /**
     * @param list<Field>                                    $fields
     * @param array<mixed>                                   $records
     * @param list<array{pointer: string, message: Message}> $errors
     *
     * @return list<RowData>
     */
    private static function section(string $section, array $fields, array $records, array &$errors): array
    {
        $rows = $keys = [];
        foreach (array_values($records) as $i => $record) {
            $record = (array) $record;
            $pointer = "/$section/$i";
            $key = \is_scalar($record['key'] ?? null) ? (string) $record['key'] : '';
            if (isset($keys[$key])) {
                $errors[] = [
                    'pointer' => $pointer.'/key',
                    'message' => new Message('"{key}" stands here for the second time.', ['key' => $key]),
                ];
            }
            $keys[$key] = true;
            $rows[] = ['key' => $key] + self::record($fields, $record, $pointer, $errors);
        }

        return $rows;
    }

    /**
     * @param list<array<string, mixed>> $journal
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

    /** The data that an outpost needs to run tests and to predict: without history or earlier results. */
    public function forAnOutpost(): self
    {
        $sections = array_diff_key($this->sections, ['observations' => true, 'fetches' => true, 'waits' => true, 'licences' => true]);

        return new self($this->job, $sections, [], null);
    }

    public function plan(Catalogue $catalogue): Plan
    {
        return Plan::of($this->job, $this->sections, $catalogue);
    }

    public function toJson(): string
    {
        return implode('', iterator_to_array($this->chunks(), false));
    }

    /** @return \Generator<int, string> the same text record by record, so that it is never held whole */
    public function chunks(): \Generator
    {
        yield "{\n".self::member('format', self::FORMAT).",\n".self::member('version', Schema::VERSION).",\n"
            .self::member('job', self::canonical(Schema::job(), $this->job));
        foreach (Schema::sections() as $section => $fields) {
            $records = [];
            foreach ($this->sections[$section] ?? [] as $record) {
                $records[Row::keyOf($record)] = $record;
            }
            ksort($records, \SORT_STRING);
            yield from self::listOf($section, $records, static fn (array $record): array => [
                'key' => Row::keyOf($record),
            ] + self::canonical($fields, $record));
        }
        yield from self::listOf('journal', $this->journal, static fn (array $entry): array => $entry);
        if (null !== $this->sealed) {
            yield ",\n".self::member('sealed', $this->sealed);
        }
        yield "\n}\n";
    }

    /**
     * @template T of array<mixed>
     *
     * @param array<T>                  $records
     * @param \Closure(T): array<mixed> $written
     *
     * @return \Generator<int, string>
     */
    private static function listOf(string $name, array $records, \Closure $written): \Generator
    {
        $text = '';
        $first = true;
        foreach ($records as $record) {
            $text .= ($first ? ",\n    \"$name\": [\n" : ",\n").'        '.self::text($written($record), 2);
            $first = false;
            if (\strlen($text) > 65536) {
                yield $text;
                $text = '';
            }
        }
        if (!$first) {
            yield $text."\n    ]";
        }
    }

    private static function member(string $name, mixed $value): string
    {
        return "    \"$name\": ".self::text($value, 1);
    }

    private static function text(mixed $value, int $depth): string
    {
        $json = json_encode($value, \JSON_PRETTY_PRINT | \JSON_UNESCAPED_SLASHES | \JSON_UNESCAPED_UNICODE | \JSON_THROW_ON_ERROR);

        return str_replace("\n", "\n".str_repeat('    ', $depth), $json);
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
     * @param list<array{pointer: string, message: Message}> $errors
     *
     * @return RowData
     */
    private static function record(array $fields, array $record, string $pointer, array &$errors): array
    {
        $row = [];
        foreach ($fields as $field) {
            $value = $record[$field->name] ?? null;
            if (null === $value && !$field->required) {
                // Most fields of most records are silent, and stay away.
                continue;
            }
            try {
                $row[$field->name] = $field->check($value);
            } catch (Malformed $e) {
                $errors[] = ['pointer' => $pointer.'/'.$field->name, 'message' => $e->message()];
            }
        }

        return $row;
    }

    /**
     * @param RowData                                        $job
     * @param array<string, list<RowData>>                   $sections
     * @param list<array{pointer: string, message: Message}> $errors
     */
    private static function checkPointers(array $job, array $sections, Catalogue $catalogue, array &$errors): void
    {
        $known = ['kinds' => array_flip($catalogue->codes())];
        foreach ($sections as $section => $records) {
            $known[$section] = array_flip(array_map(Row::keyOf(...), $records));
        }
        $looked = ['job' => [Schema::job(), [$job]]];
        foreach (Schema::sections() as $section => $fields) {
            $looked[$section] = [$fields, $sections[$section]];
        }
        foreach ($looked as $section => [$fields, $records]) {
            $pointing = array_filter($fields, static fn (Field $field): bool => null !== $field->pointsTo);
            if ([] !== $pointing) {
                foreach ($records as $i => $record) {
                    foreach ($pointing as $field) {
                        $value = $record[$field->name] ?? null;
                        if (\is_string($value) && !isset($known[$field->pointsTo][$value])) {
                            $errors[] = [
                                'pointer' => ('job' === $section ? '/job' : "/$section/$i").'/'.$field->name,
                                'message' => new Message('There is no "{key}" in {section}.', [
                                    'key' => $value,
                                    'section' => (string) $field->pointsTo,
                                ]),
                            ];
                        }
                    }
                }
            }
        }
    }

    /**
     * A camera neither routes nor registers phones; and a secret needs an owner.
     *
     * @param array<string, list<RowData>>                   $sections
     * @param list<array{pointer: string, message: Message}> $errors
     */
    private static function checkRoles(array $sections, Catalogue $catalogue, array &$errors): void
    {
        $known = [];
        foreach ($sections as $section => $records) {
            $known[$section] = array_combine(array_map(Row::keyOf(...), $records), $records);
        }
        foreach (Schema::roles() as $section => $fields) {
            foreach ($sections[$section] ?? [] as $i => $record) {
                foreach ($fields as $field => $role) {
                    $device = (new Row($record))->text($field);
                    $why = Integrity::whyNotOfRole($catalogue, $known['devices'][$device] ?? null, $role);
                    if (null !== $why) {
                        $errors[] = ['pointer' => "/$section/$i/$field", 'message' => $why];
                    }
                }
            }
        }
        foreach ($sections['credentials'] ?? [] as $i => $record) {
            [$owner, $key] = explode('/', (new Row($record))->text('owner'), 2) + [1 => ''];
            if (!isset($known[$owner][$key])) {
                $errors[] = [
                    'pointer' => "/credentials/$i/owner",
                    'message' => new Message('There is no "{key}" in {section}.', ['key' => $key, 'section' => $owner]),
                ];
            }
        }
    }

    /**
     * A setting must belong to a record of the job; what the record's kind knows of it is checked, what it does not know is kept as it is.
     *
     * @param array<string, list<RowData>>                   $sections
     * @param list<array{pointer: string, message: Message}> $errors
     *
     * @return list<RowData> each value in its one form
     */
    private static function checkedSettings(array $sections, Catalogue $catalogue, array &$errors): array
    {
        $kinds = self::fieldOf($sections, 'devices', 'kind');
        $phones = self::fieldOf($sections, 'extensions', 'phone');
        $devices = [
            'devices' => array_combine(array_keys($kinds), array_map(strval(...), array_keys($kinds))),
            'nics' => self::fieldOf($sections, 'nics', 'device'),
            'accounts' => array_map(
                static fn (string $extension): string => $phones[$extension] ?? '',
                self::fieldOf($sections, 'accounts', 'extension'),
            ),
        ];
        $checked = [];
        foreach ($sections['settings'] as $i => $record) {
            $ref = SettingRef::tryFromString(Row::keyOf($record));
            if (null === $ref || !isset($devices[$ref->section][$ref->key])) {
                $errors[] = [
                    'pointer' => "/settings/$i/key",
                    'message' => new Message('"{key}" is not a setting of a record in this job.', ['key' => Row::keyOf($record)]),
                ];
                continue;
            }
            $setting = $catalogue->kind($kinds[$devices[$ref->section][$ref->key]] ?? '')?->setting($ref->name);
            $checked[] = null === $setting ? $record : self::checkedSetting($setting, $record, $kinds, "/settings/$i/", $errors);
        }

        return $checked;
    }

    /**
     * @param array<string, list<RowData>> $sections
     *
     * @return array<string, string> key → what the record says there
     */
    private static function fieldOf(array $sections, string $section, string $field): array
    {
        $found = [];
        foreach ($sections[$section] ?? [] as $record) {
            $found[Row::keyOf($record)] = (new Row($record))->text($field);
        }

        return $found;
    }

    /**
     * @param RowData                                        $record
     * @param array<string, string>                          $devices device → kind
     * @param list<array{pointer: string, message: Message}> $errors
     *
     * @return RowData
     */
    private static function checkedSetting(Setting $setting, array $record, array $devices, string $pointer, array &$errors): array
    {
        foreach (Face::cases() as $face) {
            $text = $record[$face->value] ?? null;
            if (!\is_string($text) || '' === $text) {
                continue;
            }
            if (null !== $setting->secret) {
                $errors[] = [
                    'pointer' => $pointer.$face->value,
                    'message' => new Message('A secret does not stand among the settings: it belongs in the sealed part.'),
                ];
                continue;
            }
            if (ValueType::Device === $setting->type && !isset($devices[$text])) {
                $errors[] = [
                    'pointer' => $pointer.$face->value,
                    'message' => new Message('There is no "{key}" in {section}.', ['key' => $text, 'section' => 'devices']),
                ];
                continue;
            }
            try {
                $value = $setting->read($text);
                $record[$face->value] = Face::Seen === $face ? $text : $value;
            } catch (Malformed $e) {
                if (Face::Seen === $face) {
                    // A device said so: no error of the document, and no value either.
                    $record['odd'] = $text;
                    $record['seen'] = null;
                } else {
                    $errors[] = ['pointer' => $pointer.$face->value, 'message' => $e->message()];
                }
            }
        }

        return $record;
    }

    /** @return list<array<string, mixed>> */
    private static function journal(mixed $entries): array
    {
        $journal = [];
        if (\is_array($entries)) {
            foreach ($entries as $entry) {
                $named = [];
                if (\is_array($entry)) {
                    foreach ($entry as $field => $value) {
                        $named[(string) $field] = $value;
                    }
                }
                $journal[] = $named;
            }
        }

        return $journal;
    }

    private static function bad(string $pointer, Message $message): BadDocument
    {
        return new BadDocument([['pointer' => $pointer, 'message' => $message]]);
    }
}
