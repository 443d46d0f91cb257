<?php

declare(strict_types=1);

namespace Vorhut\Library;

use Opis\JsonSchema\Errors\ErrorFormatter;
use Opis\JsonSchema\Helper;
use Opis\JsonSchema\Validator;

/** Whether a decoded data file has the shape that its published schema says, and what the schema says of its fields. */
final readonly class Shape
{
    private const MOST = 20;
    private const SURPLUS = 'Additional object properties';

    public function __construct(private string $folder)
    {
    }

    /**
     * @param string       $name kind, settings or agreement
     * @param array<mixed> $data
     *
     * @return list<string> pointer and what is wrong there
     */
    public function errors(string $name, array $data): array
    {
        $validator = new Validator();
        $validator->setMaxErrors(self::MOST);
        $validator->setStopAtFirstError(false);
        $error = $validator->validate(Helper::toJSON($data), $this->schema($name))->error();
        $said = [];
        if (null !== $error) {
            foreach ((new ErrorFormatter())->formatKeyed($error) as $pointer => $messages) {
                if (\is_array($messages)) {
                    foreach ($messages as $message) {
                        $said[] = $pointer.': '.(\is_scalar($message) ? (string) $message : '');
                    }
                }
            }
        }

        // Where something else is wrong, the validator calls what stands beside it surplus.
        $others = array_values(array_filter($said, static fn (string $one): bool => !str_contains($one, self::SURPLUS)));

        return [] === $others ? $said : $others;
    }

    /** @return array<string, string> path of a field → what it is for, and what it takes */
    public function fields(string $name): array
    {
        $schema = json_decode((string) json_encode($this->schema($name)), true);

        return \is_array($schema) ? self::describe($schema, '') : [];
    }

    /**
     * @param array<mixed> $schema
     *
     * @return array<string, string>
     */
    private static function describe(array $schema, string $at): array
    {
        $fields = [];
        if (\is_array($schema['properties'] ?? null)) {
            foreach ($schema['properties'] as $field => $of) {
                if (!\is_array($of)) {
                    continue;
                }
                $path = '' === $at ? (string) $field : $at.'.'.$field;
                $takes = \is_array($of['enum'] ?? null) ? implode(' | ', array_filter($of['enum'], is_scalar(...))) : ($of['type'] ?? '');
                $fields[$path] = trim((\is_string($of['description'] ?? null) ? $of['description'].' ' : '')
                    .(\is_string($takes) && '' !== $takes ? '('.$takes.')' : ''));
                foreach ([$of, $of['items'] ?? null, ...(\is_array($of['anyOf'] ?? null) ? $of['anyOf'] : [])] as $inner) {
                    if (\is_array($inner)) {
                        $fields += self::describe($inner, $path);
                    }
                    $items = \is_array($inner) ? $inner['items'] ?? null : null;
                    if (\is_array($items)) {
                        $fields += self::describe($items, $path);
                    }
                }
            }
        }

        return $fields;
    }

    private function schema(string $name): object
    {
        $schema = json_decode((string) file_get_contents($this->folder."/schema/$name.schema.json"), false, 64, \JSON_THROW_ON_ERROR);

        return \is_object($schema) ? $schema : new \stdClass();
    }
}
