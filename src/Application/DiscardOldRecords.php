<?php

declare(strict_types=1);

namespace Vorhut\Application;

use Symfony\Component\Cache\PruneableInterface;
use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Vorhut\Exchange\Jobs;
use Vorhut\Journal\AuditTrail;
use Vorhut\Journal\EvidenceLog;
use Vorhut\Journal\JournalClock;

/** Deletes what need not be kept any longer: sign-in events, evidence that no result is based on, expired entries of the shared cache. */
final readonly class DiscardOldRecords
{
    public function __construct(
        private AuditTrail $trail,
        private Jobs $jobs,
        private EvidenceLog $evidenceLog,
        private JournalClock $time,
        #[Autowire(service: 'cache.doors')]
        private PruneableInterface $sharedCache,
    ) {
    }

    public function run(): void
    {
        $this->trail->forget();
        $this->sharedCache->prune();
        foreach ($this->jobs->all() as $job) {
            $this->evidenceLog->prune($job, $this->time->now('-'.EvidenceLog::DAYS.' days'));
        }
    }
}
