<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Voice;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Analysis\Findings;
use Vorhut\Core\Analysis\Questions;
use Vorhut\Core\Analysis\ShippedRules;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\Numbers;
use Vorhut\Core\Voice\ProvisioningFile;
use Vorhut\Tests\Support\Jobs;

final class NumbersTest extends TestCase
{
    private static function job(): Jobs
    {
        $jobs = (new Jobs())->segment('s', '10.64.20.0/24', '10.64.20.1')->device('pbx', 'on-site-pbx', 's', ['address' => '10.64.20.10'])
            ->device('p1', 'desk-phone-poe', 's', ['address' => '10.64.20.31'], ['room' => 'Gate 1', 'mac' => '00-00-5E-00-53-01'])
            ->device('p2', 'desk-phone-poe', 's', ['address' => '10.64.20.32'], ['room' => 'Gate 2'])
            ->device('c', 'ptz-camera', 's', ['address' => '10.64.20.33']);
        $jobs->job += ['extensionFirst' => '1000', 'extensionLast' => '1009', 'timeZone' => 'Europe/Oslo'];

        return $jobs;
    }

    private static function numbered(): Plan
    {
        $plan = self::job()->plan();

        return $plan->with(Numbers::bulk($plan, '1000', 'pbx', false));
    }

    public function testNumberingClosesNoQuestionThatNobodyAnswered(): void
    {
        $plan = self::numbered();
        self::assertSame([null, null, '', ''], [
            ...array_map(static fn ($account) => $account->macEntered, array_values($plan->accounts)),
            ...array_map(static fn ($extension) => $extension->location, array_values($plan->extensions)),
        ]);
        $open = array_map(static fn (array $one): string => (string) $one['text'], Questions::of($plan)->open);
        self::assertContains('Is the MAC entered at the registrar for 1000?', $open);
        self::assertContains('Where is 1001, as the emergency centre needs it: address, floor, room?', $open);
    }

    public function testARenumberedExtensionTakesItsAccountAlongIntoTheFile(): void
    {
        $plan = self::numbered();
        $plan = $plan->with(new Change(new Message(''), [
            \Vorhut\Core\Plan\Edit::put('accounts', 'a1000', 'macEntered', null, '00-00-5E-00-53-01'),
        ]));
        $after = $plan->with(new Change(
            new Message(''),
            Numbers::renumber($plan, $plan->extensionNumbered('1000') ?? self::fail(), '8000'),
        ));
        $values = ProvisioningFile::of($after, $after->devices['p1'], 'secret', 'admin')->values;
        self::assertSame(['8000', '8000'], [$values['extension'], $values['user']]);
        $own = $plan->with(new Change(new Message(''), [\Vorhut\Core\Plan\Edit::put('accounts', 'a1000', 'user', '1000', 'gate-1')]));
        $after = $own->with(new Change(
            new Message(''),
            Numbers::renumber($own, $own->extensionNumbered('1000') ?? self::fail(), '8000'),
        ));
        self::assertSame('gate-1', $after->accounts['a1000']->user, 'a user that is not the number is somebody\'s choice');
    }

    public function testTheRangeSaysHowManyPhonesAreLeftAndCountsPhonesOnly(): void
    {
        $this->expectException(Malformed::class);
        $this->expectExceptionMessage('1010 is outside the range 1000-1009 of this job: phones still without a number: 1.');
        Numbers::bulk(self::job()->plan(), '1009', 'pbx', false);
    }

    public function testASingleNumberBringsAnAccountOnlyWhereItIsSip(): void
    {
        $plan = self::job()->plan();
        $row = static fn (string $terminal): array => ['key' => 'x', 'number' => '1005', 'pbx' => 'pbx', 'terminal' => $terminal];
        self::assertCount(1, Numbers::companions($plan, $row('sip')));
        self::assertCount(0, Numbers::companions($plan, $row('analogue')));
    }

    public function testTheFileCarriesWhatItsKindSaysAndNoSecretIsCompared(): void
    {
        $plan = self::numbered();
        $written = array_map(static fn ($slot): string => $slot->local, ProvisioningFile::settingsIn($plan, $plan->devices['p1']));
        self::assertContains('timeZone', $written);
        self::assertContains('transport', $written);
        self::assertNotContains('adminPassword', $written);
        self::assertNotContains('lan.address', $written, 'which it has before it fetches');
    }

    public function testWhyThereIsNoFileIsSaidInTheOrderOfTheWork(): void
    {
        $why = static fn (Plan $plan): string => (string) ProvisioningFile::obstacle($plan, $plan->devices['p1']);
        self::assertSame('P1 has no number.', $why(self::job()->plan()));
        $plan = self::numbered();
        self::assertSame('The MAC of P1 is not entered at the registrar for 1000 yet.', $why($plan));
        $entered = $plan->with(new Change(new Message(''), [
            \Vorhut\Core\Plan\Edit::put('accounts', 'a1000', 'macEntered', null, '00-00-5E-00-53-01'),
        ]));
        self::assertSame('', $why($entered));
        self::assertSame(
            '1000 has an empty secret: generate one first.',
            (string) ProvisioningFile::obstacle($entered, $entered->devices['p1'], false),
        );
        $hourless = $entered->with(new Change(new Message(''), [\Vorhut\Core\Plan\Edit::put('job', '', 'timeZone', 'Europe/Oslo', null)]));
        self::assertSame('The job has no time zone: the phones would show the wrong hour.', $why($hourless));
        self::assertContains(
            'no-time-zone',
            array_map(static fn ($one): string => $one->code, Findings::of($hourless, ShippedRules::all())->all),
            'and it is found before anybody asks',
        );
    }
}
