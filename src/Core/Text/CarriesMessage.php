<?php

declare(strict_types=1);

namespace Vorhut\Core\Text;

/** The body of an error that speaks. */
trait CarriesMessage
{
    private Message $sentence;

    /** @param array<string, string|int|\Stringable> $with */
    public static function because(string $text, array $with = []): static
    {
        return self::saying(new Message($text, $with));
    }

    public static function saying(Message $message): static
    {
        $error = new static((string) $message);
        $error->sentence = $message;

        return $error;
    }

    final public function __construct(string $message)
    {
        parent::__construct($message);
        $this->sentence = new Message($message);
    }

    public function message(): Message
    {
        return $this->sentence;
    }
}
