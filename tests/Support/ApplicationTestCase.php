<?php

declare(strict_types=1);

namespace Vorhut\Tests\Support;

use Doctrine\ORM\EntityManagerInterface;
use Symfony\Bundle\FrameworkBundle\KernelBrowser;
use Symfony\Bundle\FrameworkBundle\Test\WebTestCase;
use Vorhut\Application\ImportJob;
use Vorhut\Core\Document\JobDocument;
use Vorhut\Core\Plan\Plan;
use Vorhut\Entity\Job;
use Vorhut\Entity\User;
use Vorhut\Exchange\Jobs as JobShelf;
use Vorhut\Journal\ChangeWriter;
use Vorhut\Journal\Records;
use Vorhut\Journal\UndoStack;

/** A test with a database, rolled back behind it. */
abstract class ApplicationTestCase extends WebTestCase
{
    protected KernelBrowser $browser;

    protected function setUp(): void
    {
        $this->browser = self::createClient();
        $this->browser->disableReboot();
    }

    protected function tearDown(): void
    {
        parent::tearDown();
        // A test is kept until the last of them, and by its browser it would keep all that it asked for; a request leaves its circles to
        // the end of its process, and here a hundred of them have one.
        unset($this->browser);
        gc_collect_cycles();
    }

    /**
     * @template T of object
     *
     * @param class-string<T> $class
     *
     * @return T
     */
    protected static function service(string $class): object
    {
        $service = self::getContainer()->get($class);
        self::assertInstanceOf($class, $service);

        return $service;
    }

    protected function jobOf(string $demo = 'port'): Job
    {
        return self::service(ImportJob::class)->import(JobDocument::fromJson(
            (string) file_get_contents(\dirname(__DIR__, 2)."/demo/$demo.json"),
            Jobs::catalogue(),
        ));
    }

    /** Requests forget what is in memory; this is the job as it is stored now. */
    protected function fresh(Job $job): Job
    {
        return self::service(JobShelf::class)->find($job->slug) ?? throw new \LogicException('The job is gone.');
    }

    protected function plan(Job $job): Plan
    {
        return self::service(Records::class)->plan($this->fresh($job));
    }

    protected function changes(): ChangeWriter
    {
        return self::service(ChangeWriter::class);
    }

    protected function undoStack(): UndoStack
    {
        return self::service(UndoStack::class);
    }

    protected function user(string $role): User
    {
        $user = new User('test-'.$role, ucfirst($role), $role);
        $user->passwordHash = '-';
        $manager = self::service(EntityManagerInterface::class);
        $manager->persist($user);
        $manager->flush();

        return $user;
    }

    /** The form on the page that posts to an address and holds these hidden values, sent with these others.
     *
     * @param array<string, string> $hidden
     * @param array<string, mixed>  $values
     */
    protected function send(string $action, array $hidden, array $values): void
    {
        foreach ($this->browser->getCrawler()->filter('form[method="post"]') as $node) {
            $form = $this->browser->getCrawler()->filter('form')->reduce(static fn ($one): bool => $one->getNode(0) === $node)->form();
            if (
                !str_ends_with($form->getUri(), $action)
                || array_intersect_assoc(
                    $hidden,
                    array_map(
                        static fn ($field): string => \is_scalar($field->getValue()) ? (string) $field->getValue() : '',
                        $form->all(),
                    ),
                ) !== $hidden
            ) {
                continue;
            }
            $this->browser->request('POST', $form->getUri(), array_replace_recursive($form->getPhpValues(), $values));

            return;
        }
        self::fail('There is no such form: '.$action.' '.json_encode($hidden));
    }
}
