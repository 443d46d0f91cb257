<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

/** One step of a kind's run sheet: its effect on the record, its prerequisites, the values read at it. Times in seconds. */
final readonly class Step
{
    public string $do;
    public string $see;
    public int $hands;
    public int $wait;
    public int $window;
    public bool $keypad;
    /** @var list<string> */
    public array $copies;

    /**
     * @param non-empty-list<Way> $ways    the first is the one that is proposed
     * @param list<string>        $records settings that are *set* once it is done
     * @param list<string>        $reads   values read from the device and recorded as seen: settings, or `mac`, `serial`
     * @param list<Effect>        $effects
     * @param list<Need>          $needs
     * @param string|null         $fails   what to do when it does not work
     * @param string|null         $undoes  code of the step whose temporary change this one puts back
     * @param string|null         $only    the factory state that calls for it; null for any
     * @param string|null         $where   the setting that calls for it, by being planned for and not blank; null for always
     * @param string|null         $undoesWay the one of its ways that changes something; null for any
     */
    public function __construct(
        public string $code,
        public array $ways,
        public array $records,
        public array $reads,
        public array $effects,
        public array $needs,
        public ?string $caution,
        public ?string $fails,
        public ?string $undoes,
        public ?string $undoesWay = null,
        public ?string $only = null,
        public ?string $where = null,
    ) {
        $first = $ways[0];
        $this->do = $first->do;
        $this->see = $first->see;
        $this->hands = $first->hands;
        $this->wait = $first->wait;
        $this->window = $first->window;
        $this->keypad = $first->keypad;
        $this->copies = $first->copies;
    }

    public function does(Effect $effect): bool
    {
        return \in_array($effect, $this->effects, true);
    }

    public static function read(Reading $read): self
    {
        $ways = [];
        foreach ($read->children('ways') as $code => $way) {
            $ways[] = self::way($code, $way, $read);
        }

        return new self(
            $read->requireText('code'),
            [] === $ways ? [self::way('', $read, $read)] : $ways,
            $read->texts('records'),
            $read->texts('reads'),
            array_map(static fn (string $one): Effect => $read->word(Effect::class, 'effect', $one), $read->texts('effects')),
            array_map(Need::fromString(...), $read->texts('needs')),
            $read->textOrNull('caution'),
            $read->textOrNull('fails'),
            $read->textOrNull('undoes'),
            $read->textOrNull('undoesWay'),
            $read->textOrNull('only'),
            $read->textOrNull('where'),
        );
    }

    /** What a way does not say is said by its step. */
    private static function way(string $code, Reading $way, Reading $step): Way
    {
        $number = static fn (string $name, string $else): int => (int) $way->text($name, $step->text($name, $else));

        return new Way(
            $code,
            $way->text('name', $code),
            $way->text('do', $step->text('do')),
            $way->text('see', $step->text('see')),
            $number('hands', '30'),
            $number('wait', '0'),
            $way->texts('copies', $step->texts('copies')),
            $way->flag('keypad', $step->flag('keypad')),
            $number('window', '0'),
        );
    }
}
