<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Vorhut\Entity\Job;
use Vorhut\Socket\Loopback;

/**
 * The network used to prove a job. The lab while it runs for the job; the site only on an outpost that was set up for it, never by
 * accident.
 */
final readonly class NetworkAccessChoice
{
    public function __construct(private string $outpostKind, private int $labPort, private int $labShift)
    {
    }

    public function for(Job $job): NetworkAccess
    {
        return match (true) {
            $job->rehearsed => new LabAccess($this->labPort, new Loopback($this->labShift + $job->labShift)),
            'site' === $this->outpostKind => new SiteAccess(),
            default => new NoAccess(),
        };
    }
}
