<?php

declare(strict_types=1);

namespace Vorhut\Core\Proof;

/**
 * How the lab makes a call that on the site only a person can make: whoever is outside is a stand-in there, and rings for nobody. It says
 * nothing of the site.
 */
final readonly class CallTrial
{
    /**
     * @param string|null  $caller  number of the phone that calls; null for somebody outside
     * @param string|null  $trunk   by which trunk it comes in; null for a call from inside
     * @param string       $keys    pressed when it is answered
     * @param list<string> $answers who may say that he speaks then: numbers as they are asserted (RFC 3325)
     * @param list<string> $needs   devices without which nobody can answer
     * @param list<string> $trunks  by which it may leave; none for a call that does not
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
