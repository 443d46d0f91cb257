<?php

declare(strict_types=1);

namespace Vorhut\Core\Document;

use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\FieldType;
use Vorhut\Core\Plan\Row;
use Vorhut\Core\Plan\Schema;
use Vorhut\Core\Text\Message;

/** Checks the history in a document: pages show it, and undo relies on it. */
final readonly class JournalCheck
{
    /** What a column of numbers holds. */
    private const MOST = 2_147_483_647;
    private const LONGEST = 190;

    /**
     * @param array<mixed> $entries
     *
     * @return list<array{pointer: string, message: Message}>
     */
    public static function errors(array $entries): array
    {
        $errors = [];
        $last = 0;
        foreach (array_values($entries) as $i => $entry) {
            $row = new Row(\is_array($entry) ? $entry : []);
            $wrong = static function (string $field, Message $message) use ($i, &$errors): void {
                $errors[] = ['pointer' => "/journal/$i/$field", 'message' => $message];
            };
            $number = $row->int('number');
            if ($number <= $last || $number > self::MOST) {
                $wrong('number', new Message(
                    'Entries count up from 1; {n} does not come after {last}.',
                    ['n' => $number, 'last' => $last],
                ));
            }
            $last = max($last, min($number, self::MOST));
            try {
                FieldType::Time->check($row->text('at'));
            } catch (Malformed $e) {
                $wrong('at', $e->message());
            }
            if (mb_strlen($row->text('by')) > self::LONGEST) {
                $wrong('by', new Message('At most [n character|characters].', ['n' => self::LONGEST]));
            }
            foreach ($row->list('edits') as $n => $edit) {
                $why = self::whyNot(\is_array($edit) ? $edit : []);
                if (null !== $why) {
                    $wrong("edits/$n", $why);
                }
            }
        }

        return $errors;
    }

    /** @param array<mixed> $edit */
    private static function whyNot(array $edit): ?Message
    {
        $section = \is_string($edit['section'] ?? null) ? $edit['section'] : '';
        $isPut = 'put' === ($edit['do'] ?? null);

        return match (true) {
            'job' !== $section && !isset(Schema::sections()[$section]) => new Message(
                'Unknown section "{name}".',
                ['name' => $section],
            ),
            $isPut && (!\array_key_exists('before', $edit) || !\array_key_exists('after', $edit)) => new Message(
                'A change needs both the old and the new value.',
            ),
            !$isPut && !\is_array($edit['row'] ?? null) => new Message('A record that comes or goes stands here whole.'),
            default => null,
        };
    }
}
