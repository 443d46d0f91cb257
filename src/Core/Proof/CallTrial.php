<?php

declare(strict_types=1);

namespace Vorhut\Core\Proof;

/**
 * How the lab makes a call that only a person can make on site: the outside party is a stand-in there, and no real phone rings. It says
 * nothing about the site.
 */
final readonly class CallTrial
{
    /**
     * @param string|null  $caller  number of the phone that calls; null for an outside caller
     * @param string|null  $trunk   the trunk for an inbound call; null for a call from inside
     * @param string       $keys    pressed when it is answered
     * @param list<string> $answers who may say that he speaks then: numbers as they are asserted (RFC 3325)
     * @param list<string> $needs   devices without which the call is not answered
     * @param list<string> $trunks  trunks for an outbound call; empty for an internal one
     * @param string       $at      wall time of the site at which it is made; empty for now
     */
    public function __construct(
        public ?string $caller,
        public ?string $trunk,
        public string $digits,
        public string $keys,
        public array $answers,
        public array $needs,
        public array $trunks = [],
        public string $at = '',
    ) {
    }
}
