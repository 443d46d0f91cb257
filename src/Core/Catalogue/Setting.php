<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

use Vorhut\Core\Net\Malformed;

/**
 * The properties of one setting wherever it occurs: its type and bounds, its owner, the default for the plan, and how it gets into the
 * device. Values are stored as text in one canonical form.
 */
final readonly class Setting
{
    /** In characters; what the database keeps. */
    public const LONGEST = 500;

    /**
     * @param float        $least    bounds of a number, in the unit
     * @param list<string> $choices
     * @param string|null  $default  the planned value unless another one is set
     * @param string|null  $factory  what the device holds out of its box
     * @param string|null  $secret   the purpose under which the vault keeps it; such a value never stands among the others
     * @param int          $count    how many there are (SettingScope::Item), else 1
     * @param string       $item     the unit that is counted: input, stream, line
     * @param list<array{string, string}> $inherits where the plan looks when the setting is silent: `segment.gateway`, `job.timeZone`
     * @param bool         $blank    may be left blank on purpose, which is another thing than not known
     * @param bool         $found    only read off the device, never put in (firmware)
     * @param list<string> $written  file, request, hand
     */
    private function __construct(
        public string $name,
        public string $label,
        public ValueType $type,
        public string $unit,
        public float $least,
        public float $most,
        public array $choices,
        public ?string $default,
        public ?string $factory,
        public ?string $secret,
        public SettingScope $scope,
        public int $count,
        public string $item,
        public string $group,
        public array $inherits,
        public bool $blank,
        public bool $found,
        public array $written,
        public string $help,
    ) {
    }

    /**
     * @param array<mixed> $data
     *
     * @throws Malformed naming the error
     */
    public static function fromArray(string $name, array $data): self
    {
        $read = new Reading($data, \sprintf('setting %s', $name));
        if (1 !== preg_match('/^[a-z][A-Za-z0-9]{0,39}$/D', $name)) {
            throw Malformed::because(
                '"{name}" is not a valid setting name: use a lower-case letter, then letters and digits.',
                ['name' => $name],
            );
        }
        $type = ValueType::tryFrom($read->text('type', 'text'))
            ?? throw Malformed::because('Setting {name}: unknown type "{type}".', ['name' => $name, 'type' => $read->text('type')]);
        $scope = SettingScope::tryFrom($read->text('scope', 'device'))
            ?? throw Malformed::because('Setting {name}: unknown scope "{scope}".', ['name' => $name, 'scope' => $read->text('scope')]);
        if (ValueType::Choice === $type && [] === $read->texts('choices')) {
            throw Malformed::because('Setting {name}: a choice needs its choices.', ['name' => $name]);
        }
        $setting = new self(
            $name,
            $read->text('label', $name),
            $type,
            $read->text('unit'),
            $read->number('least', -1e15),
            $read->number('most', 1e15),
            $read->texts('choices'),
            $read->textOrNull('default'),
            $read->textOrNull('factory'),
            ValueType::Secret === $type ? $read->text('purpose', $name) : null,
            $scope,
            SettingScope::Item === $scope ? max(1, (int) $read->text('count', '1')) : 1,
            $read->text('item', 'input'),
            $read->text('group', 'general'),
            array_map(self::source(...), $read->texts('inherits')),
            $read->flag('blank'),
            $read->flag('found'),
            $read->texts('written', ['hand']),
            $read->text('help'),
        );
        foreach ([$setting->default, $setting->factory] as $text) {
            if (null !== $text && ValueType::Secret !== $type) {
                $setting->read($text);
            }
        }

        return $setting;
    }

    /**
     * From what a person, a file or a device says to the one form in which it is kept; the empty text stays what it is: blank.
     *
     * @throws Malformed
     */
    public function read(string $text): string
    {
        $text = trim($text);
        if ('' === $text) {
            return $this->blank || $this->found ? '' : throw Malformed::because('This must not be left blank.');
        }
        $value = $this->type->read($text);
        if (ValueType::Number === $this->type && ((float) $value < $this->least || (float) $value > $this->most)) {
            throw Malformed::because('{value} is outside {least} to {most}.', [
                'value' => $this->withUnit($value),
                'least' => self::plain($this->least),
                'most' => $this->withUnit(self::plain($this->most)),
            ]);
        }
        if ([] !== $this->choices) {
            $value = implode(', ', array_map($this->parseChoice(...), $this->type->parts($value)));
        }
        if (mb_strlen($value) > self::LONGEST) {
            throw Malformed::because('That is longer than [n character|characters].', ['n' => self::LONGEST]);
        }

        return $value;
    }

    /** @throws Malformed */
    private function parseChoice(string $text): string
    {
        foreach ($this->choices as $choice) {
            if (0 === strcasecmp($choice, $text)) {
                return $choice;
            }
        }
        throw Malformed::because('"{value}" is not one of {choices}.', ['value' => $text, 'choices' => implode(', ', $this->choices)]);
    }

    public function withUnit(string $value): string
    {
        return '' === $this->unit || '' === $value ? $value : $value.' '.$this->unit;
    }

    /** @return list<string> the names under which a record has it: the setting itself, or the setting with a number for each item */
    public function slots(): array
    {
        if (SettingScope::Item !== $this->scope) {
            return [$this->name];
        }

        return array_map(fn (int $n): string => $this->name.'.'.$n, range(1, $this->count));
    }

    /** @return array{string, string} `segment` or `job`, and which of its fields */
    private static function source(string $text): array
    {
        [$of, $field] = explode('.', $text, 2) + [1 => ''];

        return [$of, $field];
    }

    private static function plain(float $number): string
    {
        return rtrim(rtrim(\sprintf('%.3F', $number), '0'), '.');
    }
}
