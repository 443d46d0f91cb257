<?php

declare(strict_types=1);

namespace Vorhut\Tests\App;

use Doctrine\ORM\EntityManagerInterface;
use Symfony\Bundle\FrameworkBundle\Console\Application;
use Symfony\Component\Console\Tester\CommandTester;
use Vorhut\Exchange\Jobs;
use Vorhut\Journal\AuditTrail;
use Vorhut\Journal\Records;
use Vorhut\Tests\Support\JobPagesTestCase;

final class CopyJobTest extends JobPagesTestCase
{
    public function testACopyIsPlannedAndNothingOfItWasDone(): void
    {
        $this->enter();
        $original = $this->plan($this->job);
        $this->page('brief');
        $this->send('/copy', [], ['copy' => 'Second port']);
        $slug = explode('/', (string) $this->browser->getResponse()->headers->get('Location'))[2] ?? '';
        $job = self::service(Jobs::class)->find($slug) ?? self::fail('no copy');
        $plan = self::service(Records::class)->plan($job);
        self::assertSame('Second port', $job->name);
        self::assertSame(array_keys($original->devices), array_keys($plan->devices));
        foreach ($original->nics as $key => $nic) {
            self::assertSame($nic->setting('address')->planned, $plan->nics[$key]->setting('address')->planned);
            self::assertNull($plan->nics[$key]->mac);
            self::assertNull($plan->nics[$key]->setting('address')->set);
        }
        self::assertSame([[], [], []], [$plan->rows('marks'), $plan->rows('observations'), $plan->rows('credentials')]);
        self::assertSame([''], array_values(array_unique(array_map(static fn ($one): string => $one->location, $plan->extensions))));
        self::assertSame([''], array_values(array_unique(array_map(static fn ($one): string => $one->serial, $plan->devices))));
    }

    public function testAJobIsDeletedOnlyByItsName(): void
    {
        $this->enter();
        [$id, $slug] = [$this->job->id, $this->job->slug];
        $this->page('brief');
        $this->send('/delete', [], ['delete' => 'Ferry']);
        self::assertStringContainsString('Type the name of the job', $this->browser->followRedirect()->filter('#delete .wrong')->text());
        $this->send('/delete', [], ['delete' => (string) $this->job->name]);
        $this->browser->followRedirect();
        self::assertNull(self::service(Jobs::class)->find($slug));
        $database = self::service(EntityManagerInterface::class)->getConnection();
        foreach (['device', 'credential', 'journal_entry', 'observation'] as $table) {
            self::assertFalse($database->fetchOne("SELECT 1 FROM $table WHERE job_id = ?", [$id]), $table);
        }
        $last = self::service(AuditTrail::class)->latest(1)[0];
        self::assertStringContainsString('deleted', json_encode($last->what, \JSON_THROW_ON_ERROR));
        $this->browser->request('GET', "/j/$slug/brief");
        self::assertSame(404, $this->browser->getResponse()->getStatusCode());
    }

    public function testTheCommandsDoTheSame(): void
    {
        $this->enter();
        self::assertNotNull(self::$kernel);
        $application = new Application(self::$kernel);
        $copy = new CommandTester($application->find('vorhut:copy'));
        self::assertSame(0, $copy->execute(['job' => $this->job->slug, 'name' => 'Third port']));
        $slug = explode(' ', $copy->getDisplay())[0];
        self::assertNotNull(self::service(Jobs::class)->find($slug));
        (new CommandTester($application->find('vorhut:delete')))->execute(['job' => $slug, 'name' => 'Third port']);
        self::assertNull(self::service(Jobs::class)->find($slug));
    }
}
