<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Reachability;

use Vorhut\Core\Network\Walk\Fault;
use Vorhut\Core\Network\Walk\Walk;

/** The prediction for one place and one service. */
final readonly class Cell
{
    /** @param 'holds'|'one-way'|'broken' $verdict */
    private function __construct(public string $verdict, public ?Fault $fault)
    {
    }

    public static function of(Walk $walk): self
    {
        return new self(match (true) {
            $walk->holds() => 'holds',
            $walk->isOneWay() => 'one-way',
            default => 'broken',
        }, $walk->brokenHop()?->fault);
    }

    public function holds(): bool
    {
        return 'holds' === $this->verdict;
    }

    public function equals(self $other): bool
    {
        return $this->verdict === $other->verdict && $this->fault === $other->fault;
    }
}
