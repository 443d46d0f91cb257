<?php

declare(strict_types=1);

namespace Vorhut\Web\Form;

use Vorhut\Application\RecordTable;
use Vorhut\Application\TableColumns;
use Vorhut\Core\Text\Message;
use Vorhut\Web\Frame\Words;

/** The fields of a form as columns of a pasted table, by the labels and choices that the page shows. */
final readonly class RecordColumns
{
    public function __construct(private Words $words)
    {
    }

    public function of(string $section): TableColumns
    {
        $fields = $labels = $defaults = $choices = [];
        foreach (\in_array($section, RecordTable::ELSEWHERE, true) ? [] : RecordFields::open($section) as $field) {
            $fields[] = $field->name;
            $labels[mb_strtolower($this->words->say($field->label))] = $field->name;
            $labels += [mb_strtolower((string) $field->label) => $field->name];
            if ('' !== $field->default) {
                $defaults[$field->name] = $field->default;
            }
            foreach ($field->options as $value => $name) {
                $text = $name instanceof Message ? $this->words->say($name) : $name;
                $choices[$field->name][mb_strtolower($text)] = (string) $value;
            }
        }

        return new TableColumns($fields, $labels, $defaults, $choices);
    }
}
