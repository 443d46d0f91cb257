<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Walk;

use Vorhut\Core\Net\Ipv4;

/** How a packet leaves the site for an address outside the job. */
final readonly class EgressResult
{
    /**
     * @param Walk      $walk   up to the last router; failed there even if it leaves, because its destination is outside the job
     * @param Ipv4|null $inside the address it was sent from
     * @param Ipv4|null $seenAs the one that is seen outside
     */
    public function __construct(public bool $leaves, public Walk $walk, public ?Ipv4 $inside, public ?Ipv4 $seenAs)
    {
    }

    /** A router puts its own address in the place of the sender's (RFC 2663 §4.1). */
    public function isTranslated(): bool
    {
        return null !== $this->inside && null !== $this->seenAs && !$this->inside->equals($this->seenAs);
    }

    /** An answer finds its way: the address that is seen outside is one that the public network knows. */
    public function isAnswerable(): bool
    {
        return $this->leaves && null !== $this->seenAs && !$this->seenAs->isPrivate();
    }
}
