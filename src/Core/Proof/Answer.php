<?php

declare(strict_types=1);

namespace Vorhut\Core\Proof;

use Vorhut\Core\Catalogue\HandTest;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Text\Message;

/** What a person answers to a test that no probe can make: yes or no, or a number that is held against its limits. */
final readonly class Answer
{
    private function __construct(public Outcome $outcome, public Message $detail)
    {
    }

    /**
     * @param string $word   `yes` or `no`; of no account where a number is wanted
     * @param string $number as typed, with a point or a comma
     *
     * @throws Malformed
     */
    public static function of(HandTest $question, string $word, string $number = '', string $note = ''): self
    {
        $note = trim($note);
        if (mb_strlen($note) > 500) {
            throw Malformed::because('A note has at most [n character|characters].', ['n' => 500]);
        }
        if ($question->wantsNumber()) {
            return self::ofMeasurement($question, str_replace(',', '.', trim($number)), $note);
        }
        if (!\in_array($word, ['yes', 'no'], true)) {
            throw Malformed::because('"{text}" is neither yes nor no.', ['text' => $word]);
        }
        if ('no' === $word && '' === $note) {
            throw Malformed::because('Describe the fault.');
        }
        $said = '' === $note ? new Message($word) : new Message('{answer}: {note}', ['answer' => new Message($word), 'note' => $note]);

        return new self('yes' === $word ? Outcome::Affirmed : Outcome::Denied, $said);
    }

    private static function ofMeasurement(HandTest $question, string $number, string $note): self
    {
        if (1 !== preg_match('/^-?[0-9]{1,9}(\.[0-9]{1,6})?$/D', $number)) {
            throw Malformed::because('"{text}" is not a number.', ['text' => $number]);
        }
        $read = ['n' => $number, 'unit' => new Message((string) $question->unit), 'note' => $note];

        return new self(
            $question->allows((float) $number) ? Outcome::Affirmed : Outcome::Denied,
            '' === $note ? new Message('{n} {unit} was read', $read) : new Message('{n} {unit} was read: {note}', $read),
        );
    }
}
