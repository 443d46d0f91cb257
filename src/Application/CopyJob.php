<?php

declare(strict_types=1);

namespace Vorhut\Application;

use Vorhut\Core\Catalogue\Catalogue;
use Vorhut\Core\Document\JobCopy;
use Vorhut\Entity\Job;
use Vorhut\Journal\Records;

/** Makes a new job with the plan of another one, for a similar site. */
final readonly class CopyJob
{
    public function __construct(private Records $records, private ImportJob $importJob, private Catalogue $catalogue)
    {
    }

    /** @throws FieldErrors */
    public function copy(Job $job, string $name): Job
    {
        $why = JobName::whyNot($name);
        if (null !== $why) {
            throw new FieldErrors(['copy' => $why]);
        }

        return $this->importJob->import(JobCopy::of($this->records->whole($job), $name, $this->catalogue));
    }
}
