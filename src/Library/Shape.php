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
     * @return list<string> pointer and the error there
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

        // If there is another error, the validator reports its neighbours as surplus.
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
        foreach (self::arrayAt($schema, 'properties') as $field => $of) {
            if (!\is_array($of)) {
                continue;
            }
            $path = '' === $at ? (string) $field : $at.'.'.$field;
            $fields[$path] = self::explain($of);
            foreach ([$of, $of['items'] ?? null, ...self::arrayAt($of, 'anyOf')] as $inner) {
                if (\is_array($inner)) {
                    $fields += self::describe($inner, $path) + self::describe(self::arrayAt($inner, 'items'), $path);
                }
            }
        }

        return $fields;
    }

    /**
     * @param array<mixed> $of
     *
     * @return string what the field is for, and which values or type it takes
     */
    private static function explain(array $of): string
    {
        $enum = self::arrayAt($of, 'enum');
        $takes = [] === $enum ? $of['type'] ?? '' : implode(' | ', array_filter($enum, is_scalar(...)));
        $text = \is_string($of['description'] ?? null) ? $of['description'].' ' : '';

        return trim($text.(\is_string($takes) && '' !== $takes ? '('.$takes.')' : ''));
    }

    /**
     * @param array<mixed> $of
     *
     * @return array<mixed>
     */
    private static function arrayAt(array $of, string $name): array
    {
        return \is_array($of[$name] ?? null) ? $of[$name] : [];
    }

    private function schema(string $name): object
    {
        $schema = json_decode((string) file_get_contents($this->folder."/schema/$name.schema.json"), false, 64, \JSON_THROW_ON_ERROR);

        return \is_object($schema) ? $schema : new \stdClass();
    }
}
