<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench;

use Vorhut\Core\Text\Message;

/** A value to have ready at a step. */
final readonly class SheetValue
{
    /**
     * @param string       $name    as the kind's data has it
     * @param string|null  $text    ready to type; null if not known yet, empty for a field left blank
     * @param Message|null $reason  why it is blank
     * @param string|null  $purpose of a secret: what the vault keeps it under
     * @param string       $which   of several of a name: the port, the number of the input or of the account
     */
    private function __construct(
        public string $name,
        public string $label,
        public ?string $text,
        public ?Message $reason = null,
        public ?string $purpose = null,
        public bool $isServedHere = false,
        public string $which = '',
        public string $unit = '',
    ) {
    }

    public static function of(
        string $name,
        string $label,
        ?string $text,
        ?Message $reason = null,
        string $which = '',
        string $unit = '',
    ): self {
        return new self($name, $label, $text, $reason, null, false, $which, $unit);
    }

    /** @param string $which its owner, where the label does not say it */
    public static function secret(string $name, string $label, string $purpose, string $which = ''): self
    {
        return new self($name, $label, null, null, $purpose, false, $which);
    }

    /** An address of this server; it may have an unguessable part, which does not concern the core. */
    public static function servedHere(string $name, string $label): self
    {
        return new self($name, $label, null, null, null, true);
    }
}
