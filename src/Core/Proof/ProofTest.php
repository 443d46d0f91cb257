<?php

declare(strict_types=1);

namespace Vorhut\Core\Proof;

use Vorhut\Core\Catalogue\HandTest;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Plan\Facts;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Walk\Walk;

/** One thing to prove: what, from where, to what, and what is expected, as computed. */
final readonly class ProofTest implements \JsonSerializable
{
    /** Where a person stands. */
    public const BY_HAND = 'people';

    /**
     * @param string      $key      names the test for good, so that observations stay with it
     * @param string      $from     `outposts/SEGMENT`, or BY_HAND
     * @param string      $to       device key
     * @param Outcome     $wanted   what the job needs
     * @param Outcome     $expected what is computed from what was set, else planned
     * @param Message     $because  why that is expected
     * @param Message     $covers   what this test is there for
     * @param string|null $caller   number that calls, `$called` number that is called
     * @param HandTest|null $question what a person is asked, where no probe can say
     */
    public function __construct(
        public string $key,
        public string $what,
        public string $from,
        public string $to,
        public Message $title,
        public Outcome $wanted,
        public Outcome $expected,
        public Message $because,
        public Message $covers,
        public Facts $facts,
        public ?Walk $walk = null,
        public ?Port $port = null,
        public ?string $caller = null,
        public ?string $called = null,
        public ?HandTest $question = null,
    ) {
    }

    /** Nobody but a person can tell. */
    public function isByHand(): bool
    {
        return null !== $this->question;
    }

    /** The computation already says that it will not be as wanted. */
    public function isForeseenToFail(): bool
    {
        return $this->wanted !== $this->expected;
    }

    /** @return array<string, mixed> */
    public function jsonSerialize(): array
    {
        return [
            'test' => $this->key,
            'what' => $this->what,
            'byHand' => $this->isByHand(),
            'title' => $this->title,
            'wanted' => $this->wanted->value,
            'expected' => $this->expected->value,
            'because' => $this->because,
            'covers' => $this->covers,
            'facts' => $this->facts->texts(),
        ];
    }
}
