<?php

declare(strict_types=1);

namespace Vorhut\Tests\App;

use Symfony\Bundle\FrameworkBundle\Console\Application;
use Symfony\Component\Console\Tester\CommandTester;
use Vorhut\Core\Plan\Plan;
use Vorhut\Exchange\Jobs;
use Vorhut\Journal\Records;
use Vorhut\Secrets\Vault;
use Vorhut\Tests\Support\ApplicationTestCase;

/** A new job from one form: name, country, customer, and a text with networks and a roster. */
final class CreateJobTest extends ApplicationTestCase
{
    private const OUTLINE = "Voice 10.64.20.0/24, gateway .1, VLAN 20\nHall 10.64.30.0/24, gateway .1\n\n"
        ."Tag\tType\tVLAN\tMAC\nPBX-1\tPBX\tVoice\t00:00:5e:00:53:30\nCAM-1\tPTZ\tHall\t0000.5e00.5331\n";

    /** @param array<string, string> $values */
    private function create(array $values): string
    {
        $this->browser->request('GET', '/');
        $this->send('/new', [], $values);
        $to = (string) $this->browser->getResponse()->headers->get('Location');
        $this->browser->followRedirect();

        return (string) parse_url($to, \PHP_URL_PATH);
    }

    private function planAt(string $path): Plan
    {
        $job = self::service(Jobs::class)->find(explode('/', $path)[2] ?? '') ?? self::fail('there is no job at '.$path);

        return self::service(Records::class)->plan($job);
    }

    public function testPhonesThatAreNotedWithAnExtensionGetASecret(): void
    {
        $this->browser->loginUser($this->user('lead'));
        $path = $this->create(['name' => 'Lock', 'outline' => "Voice 10.64.20.0/24, gateway .1\nPBX, .10\n2 IP phones, .101, ext 6201"]);
        $job = self::service(Jobs::class)->find(explode('/', $path)[2] ?? '') ?? self::fail($path);
        $plan = $this->planAt($path);
        self::assertCount(2, $plan->extensions);
        foreach ($plan->extensions as $extension) {
            $account = $plan->accountOf($extension->key) ?? self::fail($extension->number);
            self::assertArrayHasKey('sip', self::service(Vault::class)->purposesOf($job, 'accounts/'.$account->key));
        }
    }

    public function testEverythingThatIsKnownIsTakenInOneStep(): void
    {
        $this->browser->loginUser($this->user('lead'));
        $path = $this->create(['name' => 'Weir', 'country' => 'NO', 'customer' => 'Port', 'outline' => self::OUTLINE]);
        self::assertStringEndsWith('/brief', $path);
        $plan = $this->planAt($path);
        self::assertSame(['NO', 'Port'], [$plan->job->text('country'), $plan->job->text('customer')]);
        self::assertSame(['Voice', 'Hall'], array_values(array_map(static fn ($one): string => $one->name, $plan->segments)));
        foreach (['PBX-1' => 'voice', 'CAM-1' => 'hall'] as $tag => $segment) {
            $nic = $plan->deviceTagged($tag)?->nic();
            self::assertSame($segment, $nic?->segment);
            self::assertNotNull($nic->setting('address')->planned, 'addresses are assigned as well');
        }
        self::assertSame('Norway', $this->browser->request('GET', '/')->filter('#j-country')->attr('value'));
    }

    public function testARosterThatNeedsADecisionWaitsWhereRostersArePasted(): void
    {
        $this->browser->loginUser($this->user('lead'));
        $path = $this->create(['name' => 'Weir', 'outline' => str_replace('PTZ', 'toaster', self::OUTLINE)]);
        self::assertStringEndsWith('/devices', $path);
        self::assertCount(2, $this->planAt($path)->segments);
        self::assertCount(0, $this->planAt($path)->devices);
        self::assertStringContainsString('toaster', $this->browser->getCrawler()->filter('textarea[name=table]')->text());
    }

    public function testARefusedFormKeepsEveryValueAndCreatesNothing(): void
    {
        $this->browser->loginUser($this->user('lead'));
        $before = \count(self::service(Jobs::class)->all());
        $outline = "Voice 10.64.20.0/24, gateway .1\nHall 10.64.30.0/24, VLAN 9999";
        self::assertSame('/', $this->create(['name' => '', 'customer' => 'Port', 'outline' => $outline]));
        $form = $this->browser->getCrawler()->filter('form[action="/new"]');
        self::assertSame(['Port', $outline], [$form->filter('#f-customer')->attr('value'), $form->filter('textarea')->text(null, false)]);
        self::assertCount(2, $form->filter('.wrong'), 'both mistakes are shown at once');
        self::assertCount($before, self::service(Jobs::class)->all());
    }

    public function testTheCommandCreatesTheSame(): void
    {
        $file = (string) tempnam(sys_get_temp_dir(), 'vorhut');
        file_put_contents($file, self::OUTLINE);
        self::assertNotNull(self::$kernel);
        $command = new CommandTester((new Application(self::$kernel))->find('vorhut:new'));
        self::assertSame(0, $command->execute(['name' => 'Weir by console', 'file' => $file, '--country' => 'Norway']));
        self::assertCount(2, $this->planAt('/j/'.explode(' ', $command->getDisplay())[0])->devices);
        unlink($file);
    }
}
