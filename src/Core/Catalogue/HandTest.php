<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

use Vorhut\Core\Net\Malformed;

/**
 * A test that only a person can do: a question with yes or no, or a number that is compared with limits. It names its facts, so that the
 * answer becomes outdated when one of them changes.
 */
final readonly class HandTest
{
    /**
     * @param string       $ask    the question, as it is read out
     * @param string       $covers what it is there for
     * @param list<string> $facts  local names of settings, or `job:FIELD`
     * @param list<Need>   $needs  what the device must have before the question makes sense
     * @param string|null  $says   what a yes proves beyond itself: `called`
     * @param string|null  $unit   of the number to enter; null for yes or no
     * @param bool         $isSentRate whether the number is the rate of what the device sends, to be compared with the plan where that
     *     is known
     */
    private function __construct(
        public string $code,
        public string $ask,
        public string $covers,
        public array $facts,
        public array $needs,
        public ?string $says,
        public ?string $unit,
        public ?float $least,
        public ?float $most,
        public bool $isSentRate = false,
    ) {
    }

    /** A yes or a no to what the title of a test says; made of the plan and not of a kind. */
    public static function plain(string $code): self
    {
        return new self($code, '', '', [], [], null, null, null, null);
    }

    /** @throws Malformed naming the field */
    public static function read(Reading $read): self
    {
        $limit = static fn (string $name): ?float => $read->has($name) ? $read->number($name, 0.0) : null;
        if (null === $read->textOrNull('unit') && ($read->has('least') || $read->has('most'))) {
            throw Malformed::because('{of}: limits need a unit.', ['of' => $read->of()]);
        }

        return new self(
            $read->requireText('code'),
            $read->requireText('ask'),
            $read->requireText('covers'),
            $read->texts('facts'),
            array_map(Need::fromString(...), $read->texts('needs')),
            $read->textOrNull('says'),
            $read->textOrNull('unit'),
            $limit('least'),
            $limit('most'),
            'sent-rate' === $read->textOrNull('around'),
        );
    }

    /** The same question with a tolerance around a planned value. */
    public function around(float $planned, float $tolerance): self
    {
        return new self(
            $this->code,
            $this->ask,
            $this->covers,
            $this->facts,
            $this->needs,
            $this->says,
            $this->unit,
            round($planned * (1 - $tolerance)),
            round($planned * (1 + $tolerance)),
            $this->isSentRate,
        );
    }

    public function wantsNumber(): bool
    {
        return null !== $this->unit;
    }

    /** Whether a number is within the limits; a limit that is not given does not bind. */
    public function allows(float $number): bool
    {
        return (null === $this->least || $number >= $this->least) && (null === $this->most || $number <= $this->most);
    }
}
