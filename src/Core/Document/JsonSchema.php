<?php

declare(strict_types=1);

namespace Vorhut\Core\Document;

use Opis\JsonSchema\Errors\ErrorFormatter;
use Opis\JsonSchema\Helper;
use Opis\JsonSchema\Validator;
use Vorhut\Core\Plan\Field;
use Vorhut\Core\Plan\FieldType;
use Vorhut\Core\Plan\Schema;
use Vorhut\Core\Text\Message;

/** The published schema of the job document (JSON Schema 2020-12), made from the one table of fields. */
final class JsonSchema
{
    /** Errors that are told, and records of a section that are looked at for them. */
    private const MOST = 100;

    /** @return array<string, mixed> */
    public static function document(): array
    {
        $sections = [];
        foreach (Schema::sections() as $section => $fields) {
            $sections[$section] = [
                'type' => 'array',
                'items' => self::record($fields, ['key' => ['type' => 'string', 'pattern' => self::keyForm($section)]]),
            ];
        }

        return [
            '$schema' => 'https://json-schema.org/draft/2020-12/schema',
            '$id' => 'urn:vorhut:job:'.Schema::VERSION,
            'title' => 'Vorhut job',
            'type' => 'object',
            'required' => ['format', 'version', 'job'],
            'additionalProperties' => false,
            'properties' => [
                'format' => ['const' => JobDocument::FORMAT],
                'version' => ['const' => Schema::VERSION],
                'job' => self::record(Schema::job(), []),
                ...$sections,
                'journal' => ['type' => 'array', 'items' => [
                    'type' => 'object',
                    'required' => ['number', 'at', 'by', 'why', 'edits'],
                    'additionalProperties' => false,
                    'properties' => [
                        'number' => ['type' => 'integer'],
                        'at' => ['type' => 'string'],
                        'by' => ['type' => 'string'],
                        'why' => ['anyOf' => [['type' => 'string'], ['type' => 'array', 'minItems' => 1, 'maxItems' => 2]]],
                        'undoes' => ['type' => 'integer'],
                        'edits' => [
                            'type' => 'array',
                            'items' => [
                                'type' => 'object',
                                'required' => ['do', 'section', 'key'],
                                'properties' => ['do' => ['enum' => ['put', 'add', 'remove']]],
                            ],
                        ],
                    ],
                ]],
                'sealed' => [
                    'type' => 'object',
                    'required' => ['cipher', 'salt', 'nonce', 'box'],
                    'additionalProperties' => false,
                    'properties' => array_fill_keys(['cipher', 'salt', 'nonce', 'box'], ['type' => 'string']),
                ],
            ],
        ];
    }

    public static function json(): string
    {
        return json_encode(self::document(), \JSON_PRETTY_PRINT | \JSON_UNESCAPED_SLASHES | \JSON_THROW_ON_ERROR)."\n";
    }

    /**
     * @param array<mixed> $data the decoded document
     *
     * @return list<array{pointer: string, message: Message}>
     */
    public static function errors(array $data): array
    {
        if (self::fits($data)) {
            return [];
        }
        $schema = json_decode(self::json(), false, 64, \JSON_THROW_ON_ERROR);
        $validator = new Validator();
        $validator->setMaxErrors(self::MOST);
        $validator->setStopAtFirstError(false);
        [$doubtful, $at] = self::doubtful($data);
        $error = $validator->validate(Helper::toJSON($doubtful), \is_object($schema) ? $schema : new \stdClass())->error();
        if (null === $error) {
            return [];
        }
        $formatter = new ErrorFormatter();
        $errors = [];
        foreach ($formatter->formatKeyed($error) as $pointer => $messages) {
            if (\is_array($messages)) {
                foreach ($messages as $message) {
                    $errors[] = [
                        'pointer' => '/' === $pointer ? '' : self::inWhole((string) $pointer, $at),
                        'message' => new Message(\is_scalar($message) ? $message.'.' : ''),
                    ];
                }
            }
        }

        return $errors;
    }

    /**
     * A document reduced to its invalid records, the first of many, so that their errors are found without checking all others.
     *
     * @param array<mixed> $data
     *
     * @return array{array<mixed>, array<string, list<int>>} the document, and section → where each of its records stood
     */
    private static function doubtful(array $data): array
    {
        $at = [];
        foreach (['journal' => null] + Schema::sections() as $section => $fields) {
            $records = $data[$section] ?? null;
            if (!\is_array($records) || !array_is_list($records)) {
                continue;
            }
            $key = '~'.self::keyForm($section).'~D';
            $left = $at[$section] = [];
            foreach ($records as $i => $record) {
                $fits = \is_array($record) && (null === $fields ? self::entryFits($record) : self::recordFits($fields, $record, $key));
                if (!$fits) {
                    $left[] = $record;
                    $at[$section][] = $i;
                }
                if (\count($left) >= self::MOST) {
                    break;
                }
            }
            $data[$section] = $left;
        }

        return [$data, $at];
    }

    /** @param array<string, list<int>> $at */
    private static function inWhole(string $pointer, array $at): string
    {
        $parts = explode('/', $pointer);
        if (isset($parts[2], $at[$parts[1]][(int) $parts[2]])) {
            $parts[2] = (string) $at[$parts[1]][(int) $parts[2]];
        }

        return implode('/', $parts);
    }

    /**
     * Whether a document has the shape of the schema, said in one pass over it. It only has to be right when it says yes: what it does not
     * let pass goes to the schema itself, which knows the words. A large job is read in a fraction of the time.
     *
     * @param array<mixed> $data
     */
    public static function fits(array $data): bool
    {
        // A sealed document is always checked in full.
        $known = ['format' => true, 'version' => true, 'job' => true, 'journal' => true] + Schema::sections();
        if (JobDocument::FORMAT !== ($data['format'] ?? null) || Schema::VERSION !== ($data['version'] ?? null)) {
            return false;
        }
        if ([] !== array_diff_key($data, $known) || !\is_array($data['job'] ?? null)) {
            return false;
        }
        if (!self::recordFits(Schema::job(), $data['job'], null)) {
            return false;
        }
        foreach (Schema::sections() as $section => $fields) {
            $records = \array_key_exists($section, $data) ? $data[$section] : [];
            if (!\is_array($records) || !array_is_list($records)) {
                return false;
            }
            $key = '~'.self::keyForm($section).'~D';
            foreach ($records as $record) {
                if (!\is_array($record) || !self::recordFits($fields, $record, $key)) {
                    return false;
                }
            }
        }
        $journal = \array_key_exists('journal', $data) ? $data['journal'] : [];

        return \is_array($journal) && array_is_list($journal) && [] === array_filter(
            $journal,
            static fn (mixed $entry): bool => !\is_array($entry) || !self::entryFits($entry),
        );
    }

    /**
     * @param list<Field>  $fields
     * @param array<mixed> $record
     * @param string|null  $key    form of its key; null where it has none
     */
    private static function recordFits(array $fields, array $record, ?string $key): bool
    {
        $left = \count($record);
        if (null !== $key) {
            if (!\is_string($record['key'] ?? null) || 1 !== preg_match($key, $record['key'])) {
                return false;
            }
            --$left;
        }
        foreach ($fields as $field) {
            if (!\array_key_exists($field->name, $record)) {
                if ($field->required) {
                    return false;
                }
                continue;
            }
            --$left;
            if (!self::valueFits($field, $record[$field->name])) {
                return false;
            }
        }

        return 0 === $left;
    }

    private static function valueFits(Field $field, mixed $value): bool
    {
        return $field->type->isLines() ? self::isListOf($value, is_string(...)) : match ($field->type) {
            FieldType::Number => \is_int($value) && $value >= $field->least && $value <= $field->most,
            FieldType::Vlan => \is_int($value) && $value >= 0 && $value <= 4094,
            FieldType::Flag => \is_bool($value),
            FieldType::LabelledRanges => self::isListOf($value, static fn (mixed $one): bool => \is_array($one) && 2 === \count($one)
                && \is_string($one['range'] ?? null) && \is_string($one['for'] ?? null)),
            FieldType::Data => \is_array($value) && array_is_list($value),
            FieldType::Sentence => \is_string($value)
                ? mb_strlen($value) <= $field->longest
                : \is_array($value) && array_is_list($value) && \in_array(\count($value), [1, 2], true),
            FieldType::Choice => \in_array($value, $field->choices, true),
            FieldType::Key => \is_string($value) && 1 === preg_match('~^'.FieldType::KEY_FORM.'$~D', $value),
            FieldType::AskedPort => \is_string($value) && 1 === preg_match('~^([0-9]{1,5}/tcp|5060/udp)$~D', $value),
            default => \is_string($value) && (\strlen($value) <= $field->longest || mb_strlen($value) <= $field->longest),
        };
    }

    /** @param array<mixed> $entry */
    private static function entryFits(array $entry): bool
    {
        $why = $entry['why'] ?? null;

        return [] === array_diff_key($entry, array_flip(['number', 'at', 'by', 'why', 'undoes', 'edits']))
            && \is_int($entry['number'] ?? null) && \is_string($entry['at'] ?? null) && \is_string($entry['by'] ?? null)
            && (\is_string($why) || (\is_array($why) && array_is_list($why) && \in_array(\count($why), [1, 2], true)))
            && (!\array_key_exists('undoes', $entry) || \is_int($entry['undoes']))
            && self::isListOf($entry['edits'] ?? null, static fn (mixed $edit): bool => \is_array($edit)
                && \in_array($edit['do'] ?? null, ['put', 'add', 'remove'], true)
                && \array_key_exists('section', $edit) && \array_key_exists('key', $edit));
    }

    /** @param callable(mixed): bool $is */
    private static function isListOf(mixed $value, callable $is): bool
    {
        if (!\is_array($value) || !array_is_list($value)) {
            return false;
        }
        foreach ($value as $one) {
            if (!$is($one)) {
                return false;
            }
        }

        return true;
    }

    /** The very form that the loader takes, so that what the schema allows is not refused afterwards. */
    private static function keyForm(string $section): string
    {
        return 'settings' === $section
            ? '^(devices|nics|accounts)/'.FieldType::KEY_FORM.'#[a-z][A-Za-z0-9]{0,39}(\\.[1-9][0-9]{0,3})?$'
            : '^'.FieldType::KEY_FORM.'$';
    }

    /**
     * @param list<Field>                 $fields
     * @param array<string, array<mixed>> $more
     *
     * @return array<string, mixed>
     */
    private static function record(array $fields, array $more): array
    {
        $properties = $more;
        $required = array_keys($more);
        foreach ($fields as $field) {
            $properties[$field->name] = self::type($field);
            if ($field->required) {
                $required[] = $field->name;
            }
        }

        return ['type' => 'object', 'required' => $required, 'additionalProperties' => false, 'properties' => $properties];
    }

    /** @return array<string, mixed> */
    private static function type(Field $field): array
    {
        return $field->type->isLines() ? ['type' => 'array', 'items' => ['type' => 'string']] : match ($field->type) {
            FieldType::Number => ['type' => 'integer', 'minimum' => $field->least, 'maximum' => $field->most],
            FieldType::Vlan => ['type' => 'integer', 'minimum' => 0, 'maximum' => 4094, 'description' => '0: untagged'],
            FieldType::Flag => ['type' => 'boolean'],
            FieldType::LabelledRanges => [
                'type' => 'array',
                'items' => [
                    'type' => 'object',
                    'required' => ['range', 'for'],
                    'additionalProperties' => false,
                    'properties' => ['range' => ['type' => 'string'], 'for' => ['type' => 'string']],
                ],
            ],
            FieldType::Data => ['type' => 'array'],
            FieldType::Sentence => [
                'anyOf' => [['type' => 'string', 'maxLength' => $field->longest], ['type' => 'array', 'minItems' => 1, 'maxItems' => 2]],
            ],
            FieldType::Choice => ['enum' => $field->choices],
            FieldType::Key => ['type' => 'string', 'pattern' => '^'.FieldType::KEY_FORM.'$'],
            FieldType::AskedPort => ['type' => 'string', 'pattern' => '^([0-9]{1,5}/tcp|5060/udp)$'],
            default => ['type' => 'string', 'maxLength' => $field->longest],
        };
    }
}
