<?php

declare(strict_types=1);

namespace Vorhut\Tests\Lab;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Plan\Plan;
use Vorhut\Lab\Fault;
use Vorhut\Lab\Truth;
use Vorhut\Lab\Wire;
use Vorhut\Socket\Loopback;
use Vorhut\Tests\Support\Jobs;

/** Who hears whom in the lab, from what stand-ins really hold. */
final class WireTest extends TestCase
{
    private static function plan(bool $allow = true): Plan
    {
        return (new Jobs())->segment('v', '10.90.20.0/24', '10.90.20.1')->segment('q', '10.90.40.0/24', '10.90.40.1')
            ->router('r', ['v' => '10.90.20.1/24', 'q' => '10.90.40.1/24'], $allow)
            ->row('filters', ['key' => 'sip', 'router' => 'r', 'position' => 5, 'from' => 'v', 'to' => 'q', 'transport' => 'udp', 'portFirst' => 5060, 'portLast' => 5060, 'action' => 'allow'])
            ->device('a', 'desk-phone-poe', 'v', ['address' => '10.90.20.31'])
            ->device('b', 'desk-phone-poe', 'q', ['address' => '10.90.40.51'])->plan();
    }

    /** @return array<string, Truth> */
    private static function truths(Plan $plan): array
    {
        $truths = [];
        foreach (['a' => ['10.90.20.31', '10.90.20.1'], 'b' => ['10.90.40.51', '10.90.40.1']] as $key => [$address, $gateway]) {
            $truths[$key] = new Truth($key, $plan->devices[$key]->kind);
            $truths[$key]->powered = true;
            $truths[$key]->settings = ['address' => $address, 'mask' => '/24', 'gateway' => $gateway] + $truths[$key]->settings;
        }

        return $truths;
    }

    public function testItIsPlayedFromTheTruthNotFromThePlan(): void
    {
        $plan = self::plan();
        $truths = self::truths($plan);
        self::assertTrue((new Wire($plan, $truths))->carries('a', 5060, 'b', 5060));
        $truths['a']->settings['gateway'] = '10.90.20.9';
        self::assertFalse((new Wire($plan, $truths))->carries('a', 5060, 'b', 5060), 'the plan still says .1');
        $truths['b']->powered = false;
        self::assertNull((new Wire($plan, $truths))->nameOf(Ipv4::fromString('10.90.40.51')), 'what is off holds nothing');
    }

    public function testAnAnswerPassesAStatefulFilterOnlyWhereARequestWentOut(): void
    {
        $plan = self::plan(false);
        $wire = new Wire($plan, self::truths($plan));
        self::assertFalse($wire->carries('b', 5060, 'a', 5060), 'nobody asked');
        self::assertTrue($wire->carries('a', 5060, 'b', 5060));
        self::assertTrue($wire->carries('b', 5060, 'a', 5060), 'the answer');
        self::assertFalse($wire->carries('b', 5060, 'a', 40000), 'another flow');
        self::assertFalse($wire->carries('a', 40000, 'b', 40000), 'not allowed at all');
    }

    public function testARequestArrivesWhereTheAnswerCannotLeave(): void
    {
        $plan = self::plan();
        $truths = self::truths($plan);
        $truths['b']->settings['gateway'] = '';
        $wire = new Wire($plan, $truths);
        self::assertTrue($wire->carries('a', 5060, 'b', 5060));
        self::assertFalse($wire->carries('b', 5060, 'a', 5060));
        self::assertFalse($wire->connects('a', 'b', 80), 'a connection needs both ways');
    }

    public function testLoopbackTwinsAreKnownAndGuestsAreNot(): void
    {
        $plan = self::plan();
        $wire = new Wire($plan, self::truths($plan));
        $twin = Loopback::of(Ipv4::fromString('10.90.40.51'));
        self::assertSame(['127.90.40.51', '10.90.40.51', 'b'], [(string) $twin, (string) $wire->siteOf($twin), $wire->nameOf(Ipv4::fromString('10.90.40.51'))]);
        self::assertNull($wire->siteOf(Ipv4::fromString('127.0.0.1')));
        self::assertSame('q', $wire->segmentOfOutpost((string) $wire->nameOf(Ipv4::fromString('10.90.40.254'))));
        self::assertSame([20080, 80, 25353, 5060], [Loopback::port(80), Loopback::sitePort(20080), Loopback::port(5353), Loopback::port(5060)]);
    }

    public function testFaultsDoWhatTheirNamesSay(): void
    {
        $kind = Jobs::kinds()->find('ptz-camera') ?? throw new \LogicException();
        $held = static function (Fault $fault, string $field) use ($kind): array {
            $truth = new Truth('c', $kind);
            $truth->settings = ['address' => '10.90.40.12', 'mask' => '/24', 'gateway' => '10.90.40.1', 'secret' => 'abc'] + $truth->settings;
            $restarts = $fault->into($truth);

            return [$truth->get($field), $restarts, $truth->habits];
        };
        self::assertSame(['10.90.40.101', true, []], $held(Fault::WrongGateway, 'gateway'));
        self::assertSame(['10.90.40.21', true, []], $held(Fault::SwappedDigits, 'address'));
        self::assertSame(['/16', true, []], $held(Fault::WrongMask, 'mask'));
        self::assertNotSame('10.90.40.12', $held(Fault::NotRebooted, 'address')[0]);
        self::assertNotSame('abc', $held(Fault::WrongSipPassword, 'secret')[0]);
        self::assertSame(['voicemail-answers'], $held(Fault::VoicemailAnswers, 'address')[2]);
        self::assertSame(['slow-boot'], $held(Fault::SlowBoot, 'address')[2]);
    }

    public function testWhatALabKeepsComesBackAfterACut(): void
    {
        $kind = Jobs::kinds()->find('ptz-camera') ?? throw new \LogicException();
        $truth = new Truth('c', $kind);
        self::assertSame(['192.168.1.100', '/24', 'admin'], [$truth->get('address'), $truth->get('mask'), $truth->get('adminPassword')], 'as the factory made it');
        $truth->powered = true;
        $truth->settings['address'] = '10.90.40.12';
        $truth->habits[] = 'slow-boot';
        $again = new Truth('c', $kind);
        $kept = json_decode((string) json_encode($truth->keep()), true);
        $again->recall(\is_array($kept) ? $kept : []);
        self::assertEquals($truth, $again);
        $again->recall(['settings' => 'rubbish', 'habits' => 7]);
        self::assertFalse($again->powered);
    }
}
