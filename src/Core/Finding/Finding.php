<?php

declare(strict_types=1);

namespace Vorhut\Core\Finding;

use Vorhut\Core\Plan\Change;
use Vorhut\Core\Text\Message;

/** Something wrong in a job: what, why it matters, what to do, and the change that does it where one can be computed. */
final readonly class Finding implements \JsonSerializable
{
    /**
     * @param string       $code    of the rule, e.g. `pool-address`
     * @param list<string> $records `section/key` it is about; the first is the one to open
     * @param string       $about   which of several things of these records, where one rule finds more than one
     * @param Message|null $button  what the cure does, where `todo` says more than that
     */
    public function __construct(
        public string $code,
        public Severity $severity,
        public Stage $stage,
        public array $records,
        public Message $what,
        public Message $why,
        public Message $todo,
        public ?Change $cure = null,
        public string $about = '',
        public ?Message $button = null,
    ) {
    }

    /** Identifies this finding while it exists. */
    public function key(): string
    {
        return $this->code.':'.implode('+', $this->records).('' === $this->about ? '' : '#'.$this->about);
    }

    /** What the button of the fix says: verb and object. */
    public function label(): Message
    {
        return $this->button ?? $this->todo;
    }

    /** Whether the advice says more than the button, and is shown beside it. */
    public function advisesMore(): bool
    {
        return null === $this->cure || null !== $this->button;
    }

    public function isAbout(string $record): bool
    {
        return \in_array($record, $this->records, true);
    }

    /** @return array<string, mixed> */
    public function jsonSerialize(): array
    {
        return [
            'code' => $this->code,
            'severity' => $this->severity->value,
            'stage' => $this->stage->value,
            'records' => $this->records,
            'what' => $this->what,
            'why' => $this->why,
            'todo' => $this->todo,
            'cure' => $this->cure,
        ];
    }
}
