<?php

declare(strict_types=1);

namespace Vorhut\Tests\App;

use Doctrine\ORM\EntityManagerInterface;
use PHPUnit\Framework\Attributes\TestWith;
use Vorhut\Application\PrepareDevice;
use Vorhut\Entity\Job;
use Vorhut\Entity\JobAccess;
use Vorhut\Entity\User;
use Vorhut\Exchange\Jobs;
use Vorhut\Tests\Support\JobPagesTestCase;

/** One device in hand, on the start page. */
final class PrepareDeviceTest extends JobPagesTestCase
{
    public function testThreeFieldsAndOnePressLeadToTheRunSheet(): void
    {
        $this->enter();
        $page = $this->prepare(['kind' => 'ptz', 'label' => 'NM-77', 'network' => '10.20.3.23/24']);
        self::assertStringContainsString('/j/loose-work/bench?sel=devices/cam-01', (string) $this->browser->getRequest()->getRequestUri());
        self::assertStringContainsString('CAM-01', $page);
        self::assertStringContainsString('10.20.3.23', $page);
        self::assertSame($this->job->country, $this->loose()->country, 'the country is that of the newest job');

        $this->prepare(['kind' => 'ptz', 'label' => '', 'network' => '10.20.3.0/24']);
        $plan = $this->plan($this->loose());
        self::assertSame(['cam-01', 'cam-02'], array_keys($plan->devices));
        self::assertCount(1, $plan->segments);
    }

    /** @param array<string, string> $typed */
    #[TestWith([['kind' => 'toaster', 'label' => 'NM-77', 'network' => ''], 'No kind is called "toaster"'])]
    #[TestWith([['kind' => '', 'label' => 'NM-77', 'network' => ''], 'Choose the kind'])]
    #[TestWith([['kind' => 'PTZ', 'label' => 'NM-77', 'network' => '10.20.3.23'], 'Add the mask'])]
    public function testABadValueIsToldInItsPlaceAndNothingIsLost(array $typed, string $why): void
    {
        $this->enter();
        $page = $this->prepare($typed);
        self::assertStringContainsString($why, $page);
        self::assertSame('NM-77', $this->browser->getCrawler()->filter('#prepare input[name=label]')->attr('value'));
        self::assertNull(self::service(Jobs::class)->find('loose-work'));
    }

    public function testATechnicianDoesNotPlan(): void
    {
        $this->enter('technician');
        self::assertCount(0, $this->browser->request('GET', '/')->filter('#prepare'));
        $this->browser->request('POST', '/prepare');
        self::assertResponseStatusCodeSame(403);
    }

    public function testTheRoleInTheJobCounts(): void
    {
        $lead = $this->user('lead');
        self::service(PrepareDevice::class)->prepare('PTZ', '', '', 'Jo');
        $manager = self::service(EntityManagerInterface::class);
        $stored = $manager->getRepository(User::class)->findOneBy(['login' => $lead->login]) ?? self::fail('the lead is there');
        $manager->persist(new JobAccess($this->loose(), $stored, 'viewer'));
        $manager->flush();
        $this->browser->loginUser($lead);
        $this->browser->submit($this->browser->request('GET', '/')->filter('#prepare form')->form(['kind' => 'PTZ']));
        self::assertResponseStatusCodeSame(403);
    }

    /** @param array<string, string> $typed */
    private function prepare(array $typed): string
    {
        $form = $this->browser->request('GET', '/')->filter('#prepare form')->form();
        foreach ($typed as $name => $value) {
            $form[$name] = $value;
        }
        $this->browser->submit($form);

        return $this->browser->followRedirect()->text();
    }

    private function loose(): Job
    {
        return self::service(Jobs::class)->find('loose-work') ?? self::fail('the job is there');
    }
}
