<?php

declare(strict_types=1);

namespace Vorhut\Application;

use Doctrine\DBAL\Connection;
use Vorhut\Core\Catalogue\Catalogue;
use Vorhut\Core\Document\JobOutline;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;
use Vorhut\Entity\Job;
use Vorhut\Entity\User;
use Vorhut\Exchange\Jobs;
use Vorhut\Journal\ChangeWriter;
use Vorhut\Journal\Conflict;
use Vorhut\Journal\Records;
use Vorhut\Journal\Refused;
use Vorhut\Secrets\Vault;

/** Creates a job from its name, country, customer, networks and roster. */
final readonly class CreateJob
{
    private const LONGEST_CUSTOMER = 200;

    public function __construct(
        private Jobs $jobs,
        private ChangeWriter $changes,
        private Catalogue $catalogue,
        private Connection $connection,
        private Records $records,
        private Vault $vault,
    ) {
    }

    /**
     * @param string $country its code or English name; empty if it is not known
     * @param string $text    as JobOutline reads it
     *
     * @return array{Job, string} the job, and the part of the text that needs a decision
     *
     * @throws FieldErrors
     * @throws Conflict
     * @throws Refused
     */
    public function create(string $name, string $country, string $customer, string $text, User|string $by): array
    {
        $why = JobName::whyNot($name);
        $errors = null === $why ? [] : ['name' => $why];
        if (mb_strlen($customer) > self::LONGEST_CUSTOMER) {
            $errors['customer'] = new Message('That is longer than [n character|characters].', ['n' => self::LONGEST_CUSTOMER]);
        }
        $found = $this->catalogue->countries->find($country);
        if (null === $found && '' !== $country) {
            $errors['country'] = new Message('"{text}" is not a country that Vorhut knows.', ['text' => mb_substr($country, 0, 60)]);
        }
        try {
            $outline = JobOutline::read(Plan::of([], [], $this->catalogue), $text);
        } catch (Malformed $e) {
            throw new FieldErrors($errors + ['outline' => $e->message()]);
        }
        if ([] !== $errors) {
            throw new FieldErrors($errors);
        }
        $edits = $outline->edits;
        foreach (['country' => $found->code ?? '', 'customer' => $customer] as $field => $fact) {
            if ('' !== $fact) {
                $edits[] = Edit::put('job', '', $field, null, $fact);
            }
        }
        $change = new Change(new Message('Networks and devices of the new job.'), $edits);
        // A job whose content is refused must not stay behind empty.
        $job = $this->connection->transactional(function () use ($name, $change, $by): Job {
            $job = $this->jobs->create($name);
            if (!$change->isEmpty()) {
                $this->changes->write($job, $change, $by);
            }

            return $job;
        });

        if ($change->adds('accounts')) {
            $this->vault->fill($job, $this->records->plan($job), $by);
        }

        return [$job, $outline->left];
    }
}
