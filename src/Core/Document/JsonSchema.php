<?php

declare(strict_types=1);

namespace Vorhut\Core\Document;

use Opis\JsonSchema\Errors\ErrorFormatter;
use Opis\JsonSchema\Validator;
use Vorhut\Core\Plan\Field;
use Vorhut\Core\Plan\FieldType;
use Vorhut\Core\Plan\Schema;

/** The published schema of the job document (JSON Schema 2020-12), made from the one table of fields. */
final class JsonSchema
{
    /** @return array<string, mixed> */
    public static function document(): array
    {
        $sections = [];
        foreach (Schema::sections() as $section => $fields) {
            $sections[$section] = ['type' => 'array', 'items' => self::record($fields, ['key' => ['type' => 'string', 'pattern' => '^[A-Za-z0-9][A-Za-z0-9._#/>:-]{0,190}$']])];
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
                        'why' => ['type' => 'string'],
                        'undoes' => ['type' => 'integer'],
                        'edits' => ['type' => 'array', 'items' => ['type' => 'object', 'required' => ['do', 'section', 'key'], 'properties' => ['do' => ['enum' => ['put', 'add', 'remove']]]]],
                    ],
                ]],
                'sealed' => ['type' => 'object', 'required' => ['cipher', 'salt', 'nonce', 'box'], 'additionalProperties' => false, 'properties' => array_fill_keys(['cipher', 'salt', 'nonce', 'box'], ['type' => 'string'])],
            ],
        ];
    }

    public static function json(): string
    {
        return json_encode(self::document(), \JSON_PRETTY_PRINT | \JSON_UNESCAPED_SLASHES | \JSON_THROW_ON_ERROR)."\n";
    }

    /** @return list<array{pointer: string, message: string}> */
    public static function errors(string $json): array
    {
        $schema = json_decode(self::json(), false, 64, \JSON_THROW_ON_ERROR);
        $validator = new Validator();
        $validator->setMaxErrors(100);
        $validator->setStopAtFirstError(false);
        $error = $validator->validate(json_decode($json, false, 64, \JSON_THROW_ON_ERROR), \is_object($schema) ? $schema : new \stdClass())->error();
        if (null === $error) {
            return [];
        }
        $formatter = new ErrorFormatter();
        $errors = [];
        foreach ($formatter->formatKeyed($error) as $pointer => $messages) {
            foreach (\is_array($messages) ? $messages : [] as $message) {
                $errors[] = ['pointer' => '/' === $pointer ? '' : (string) $pointer, 'message' => \is_scalar($message) ? $message.'.' : ''];
            }
        }

        return $errors;
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
        return match ($field->type) {
            FieldType::Number => ['type' => 'integer', 'minimum' => $field->least, 'maximum' => $field->most],
            FieldType::Flag => ['type' => 'boolean'],
            FieldType::Ranges, FieldType::Texts => ['type' => 'array', 'items' => ['type' => 'string']],
            FieldType::LabelledRanges => ['type' => 'array', 'items' => ['type' => 'object', 'required' => ['range', 'for'], 'additionalProperties' => false, 'properties' => ['range' => ['type' => 'string'], 'for' => ['type' => 'string']]]],
            FieldType::Data => ['type' => 'array'],
            FieldType::Choice => ['enum' => $field->choices],
            FieldType::AskedPort => ['type' => 'string', 'pattern' => '^([0-9]{1,5}/tcp|5060/udp)$'],
            default => ['type' => 'string', 'maxLength' => $field->longest()],
        };
    }
}
