<?php

declare(strict_types=1);

namespace Vorhut\Application;

use Doctrine\ORM\EntityManagerInterface;
use Vorhut\Core\Text\Message;
use Vorhut\Entity\Job;
use Vorhut\Journal\AuditTrail;

/** Deletes a job with its history, evidence and secrets. It cannot be undone, so its name is typed. */
final readonly class DeleteJob
{
    public function __construct(private EntityManagerInterface $manager, private AuditTrail $trail)
    {
    }

    /**
     * @param string $typed   the name of the job, exactly
     * @param string $login   of the user who deletes it
     * @param string $address where the request came from; empty for the command line
     *
     * @throws FieldErrors
     */
    public function delete(Job $job, string $typed, string $login, string $address): void
    {
        $name = (string) $job->name;
        if ($typed !== trim($name)) {
            throw new FieldErrors(['delete' => new Message('Type the name of the job to delete it: {name}', ['name' => $name])]);
        }
        $this->manager->remove($job);
        $this->manager->flush();
        $this->trail->write($login, $address, new Message('Job {name} deleted.', ['name' => $name]));
    }
}
