<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Exchange\Jobs;
use Vorhut\Journal\EvidenceLog;
use Vorhut\Journal\JournalClock;

#[AsCommand('vorhut:evidence:prune', 'Deletes old evidence that no current result is based on')]
final readonly class EvidencePruneCommand
{
    public function __construct(
        private CommandInput $input,
        private Jobs $jobs,
        private JournalClock $time,
        private EvidenceLog $evidenceLog,
    ) {
    }

    public function __invoke(
        OutputInterface $output,
        #[Option('minimum age in days')]
        int $days = EvidenceLog::DAYS,
        #[Option('only in this job')]
        ?string $job = null,
    ): int {
        if ($days < 1) {
            throw BadInput::because('--days is at least 1.');
        }
        $before = $this->time->now("-$days days");
        foreach (null === $job ? $this->jobs->all() : [$this->input->job($job)] as $one) {
            $output->writeln(\sprintf('%s: %d dropped', $one->slug, $this->evidenceLog->prune($one, $before)), OutputInterface::OUTPUT_RAW);
        }

        return CommandInput::DONE;
    }
}
