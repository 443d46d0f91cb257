<?php

declare(strict_types=1);

namespace Vorhut\Provisioning;

use Vorhut\Exchange\Jobs;

/** What the worker does for phones between its orders: enters what they took, and lays their files ready where something has moved. */
final class Rounds
{
    /** @var array<int, string> job → the state for which its files lie ready */
    private array $ready = [];

    public function __construct(
        private readonly Jobs $jobs,
        private readonly PhoneFileCache $phoneFiles,
        private readonly FileServer $files,
    ) {
    }

    public function go(): void
    {
        foreach ($this->jobs->all() as $job) {
            $this->phoneFiles->enter($job);
            $id = (int) $job->id;
            if (($this->ready[$id] ?? '') !== $job->filesStamp) {
                $stamp = $job->filesStamp;
                $this->files->prepare($job);
                $this->ready[$id] = $stamp;
            }
        }
    }
}
