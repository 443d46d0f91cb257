<?php

declare(strict_types=1);

namespace Vorhut\Tests\App;

use Symfony\Bundle\FrameworkBundle\Console\Application;
use Symfony\Component\Console\Tester\CommandTester;
use Vorhut\Console\BadInput;
use Vorhut\Entity\WorkOrder;
use Vorhut\Outpost\Orders\Orders;
use Vorhut\Tests\Support\ApplicationTestCase;

/** Commands that change a stored job do what the pages do. */
final class JobCommandsTest extends ApplicationTestCase
{
    private string $file = '';

    protected function setUp(): void
    {
        parent::setUp();
        $this->file = (string) tempnam(sys_get_temp_dir(), 'rows');
    }

    protected function tearDown(): void
    {
        unlink($this->file);
        parent::tearDown();
    }

    public function testATableOfAnySectionNamesItsFieldsInTheFirstRow(): void
    {
        $job = $this->jobOf('port');
        $before = \count($this->plan($job)->records('cables'));
        $tester = $this->command('vorhut:paste');
        $options = ['job' => $job->slug, 'file' => $this->file, '--section' => 'cables', '--store' => true];
        file_put_contents($this->file, "device,switch,port,metres\nCAM-01,SW-02,71,12\nGONE,SW-02,72,3\n");
        self::assertSame(1, $tester->execute($options));
        self::assertCount($before + 1, $this->plan($this->fresh($job))->records('cables'));
        file_put_contents($this->file, "device,colour\nCAM-01,blue\n");
        $this->expectException(BadInput::class);
        $tester->execute($options);
    }

    public function testATableIsCheckedAndStoredOnlyWhenAsked(): void
    {
        $job = $this->jobOf('port');
        file_put_contents($this->file, "tag,kind,room\nCAM-90,PTZ camera,Annex\nCAM-01,Router,Annex\n");
        $tester = $this->command('vorhut:paste');
        self::assertSame(1, $tester->execute(['job' => $job->slug, 'file' => $this->file]));
        self::assertMatchesRegularExpression('/CAM-90 +new.*CAM-01 +refused/s', $tester->getDisplay());
        self::assertNull($this->plan($this->fresh($job))->deviceTagged('CAM-90'));
        self::assertSame(1, $tester->execute(['job' => $job->slug, 'file' => $this->file, '--store' => true]));
        self::assertSame('Annex', $this->plan($this->fresh($job))->deviceTagged('CAM-90')?->room);
    }

    public function testNumbersComeWithTheSecretsOfTheirAccounts(): void
    {
        $job = $this->jobOf('port');
        file_put_contents($this->file, "number,name,phone\n2188,Store,PH-01\n");
        $arguments = ['job' => $job->slug, 'file' => $this->file, '--numbers' => true, '--pbx' => 'PBX-01', '--store' => true];
        $tester = $this->command('vorhut:paste');
        self::assertSame(0, $tester->execute($arguments), $tester->getDisplay());
        $plan = $this->plan($this->fresh($job));
        $account = $plan->accountOf($plan->extensionNumbered('2188')->key ?? '');
        self::assertNotNull($account, $tester->getDisplay());
        self::assertNotNull($plan->credential('accounts/'.$account->key, 'sip'));
    }

    public function testADeviceIsOrderedToBeWrittenOnce(): void
    {
        $job = $this->jobOf('port');
        $tester = $this->command('vorhut:write');
        $tester->execute(['job' => $job->slug]);
        self::assertMatchesRegularExpression('/^([A-Z0-9-]+) +\d+ to write$/m', $tester->getDisplay());
        $tag = explode(' ', trim($tester->getDisplay()))[0];
        self::assertSame(0, $tester->execute(['job' => $job->slug, 'tags' => [$tag]]));
        self::assertSame(1, $tester->execute(['job' => $job->slug, 'tags' => [$tag]]), 'it waits already');
        $orders = array_filter(
            self::service(Orders::class)->open($this->fresh($job)),
            static fn (WorkOrder $order): bool => WorkOrder::WRITE === $order->kind,
        );
        self::assertCount(1, $orders);
    }

    private function command(string $name): CommandTester
    {
        self::assertNotNull(self::$kernel);

        return new CommandTester((new Application(self::$kernel))->find($name));
    }
}
