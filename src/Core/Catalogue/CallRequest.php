<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

/** How a telephone is told over its page to call a number and to hang up, and how it says what became of it. */
final readonly class CallRequest
{
    /** The purposes of its own names: the number to call; the state of a call, the other party, packets in each direction. */
    public const FIELDS = ['number', 'state', 'with', 'sent', 'heard'];

    /**
     * @param AdminRequest          $dial   with a number it calls, with none it hangs up
     * @param string                $talks  the word for "answered" in its state
     * @param string                $waits  how it says that it still calls or rings; anything else is the end
     * @param array<string, string> $names  of FIELDS → the device's own name
     */
    private function __construct(
        public AdminRequest $dial,
        public AdminRequest $status,
        public string $talks,
        public string $waits,
        public array $names,
    ) {
    }

    /** @throws \Vorhut\Core\Net\Malformed */
    public static function read(mixed $data): self
    {
        $data = \is_array($data) ? $data : [];
        $read = new Reading($data, 'admin, call');
        $names = [];
        foreach (self::FIELDS as $field) {
            $names[$field] = $read->text($field, $field);
        }

        return new self(
            AdminRequest::read($data['dial'] ?? '/', 'POST', BodyShape::Form, 'admin, call, dial'),
            AdminRequest::read($data['status'] ?? '/', 'GET', BodyShape::Json, 'admin, call, status'),
            $read->text('talks', 'talking'),
            $read->text('waits', 'calling'),
            $names,
        );
    }
}
