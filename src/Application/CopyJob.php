<?php

declare(strict_types=1);

namespace Vorhut\Application;

use Vorhut\Core\Catalogue\Catalogue;
use Vorhut\Core\Document\JobCopy;
use Vorhut\Core\Plan\Field;
use Vorhut\Core\Text\Message;
use Vorhut\Entity\Job;
use Vorhut\Journal\Records;

/** Makes a new job with the plan of another one, for a similar site. */
final readonly class CopyJob
{
    private const LONGEST_NAME = 200;

    public function __construct(private Records $records, private ImportJob $importJob, private Catalogue $catalogue)
    {
    }

    /** @throws FieldErrors */
    public function copy(Job $job, string $name): Job
    {
        if (Field::isBlank($name) || mb_strlen($name) > self::LONGEST_NAME) {
            throw new FieldErrors(['copy' => Field::isBlank($name)
                ? new Message('A job needs a name.')
                : new Message('That is longer than [n character|characters].', ['n' => self::LONGEST_NAME])]);
        }

        return $this->importJob->import(JobCopy::of($this->records->whole($job), $name, $this->catalogue));
    }
}
