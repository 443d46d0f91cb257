<?php

declare(strict_types=1);

namespace Vorhut\Tests\Lab;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;
use Vorhut\Lab\InjectedFault;
use Vorhut\Lab\SimulatedNetwork;
use Vorhut\Lab\SimulatedState;
use Vorhut\Socket\Loopback;
use Vorhut\Tests\Support\Jobs;

/** Who hears whom in the lab, from what stand-ins really hold. */
final class SimulatedNetworkTest extends TestCase
{
    private static function plan(bool $allow = true): Plan
    {
        return (new Jobs())->segment('v', '10.90.20.0/24', '10.90.20.1')->segment('q', '10.90.40.0/24', '10.90.40.1')
            ->router('r', ['v' => '10.90.20.1/24', 'q' => '10.90.40.1/24'], $allow)
            ->row('filters', [
                'key' => 'sip',
                'router' => 'r',
                'position' => 5,
                'from' => 'v',
                'to' => 'q',
                'transport' => 'udp',
                'portFirst' => 5060,
                'portLast' => 5060,
                'action' => 'allow',
            ])
            ->device('a', 'desk-phone-poe', 'v', ['address' => '10.90.20.31'])
            ->device('b', 'desk-phone-poe', 'q', ['address' => '10.90.40.51'])->plan();
    }

    /** @return array<string, SimulatedState> */
    private static function truths(Plan $plan): array
    {
        $states = [];
        foreach (['a' => ['10.90.20.31', '10.90.20.1'], 'b' => ['10.90.40.51', '10.90.40.1']] as $key => [$address, $gateway]) {
            $states[$key] = new SimulatedState($plan->devices[$key]);
            $states[$key]->powered = true;
            $states[$key]->put('address', $address);
            $states[$key]->put('mask', '/24');
            $states[$key]->put('gateway', $gateway);
        }

        return $states;
    }

    public function testItIsPlayedFromTheTruthNotFromThePlan(): void
    {
        $plan = self::plan();
        $states = self::truths($plan);
        self::assertTrue((new SimulatedNetwork($plan, $states))->carries('a', 5060, 'b', 5060));
        $states['a']->put('gateway', '10.90.20.9');
        self::assertFalse((new SimulatedNetwork($plan, $states))->carries('a', 5060, 'b', 5060), 'the plan still says .1');
        $states['b']->powered = false;
        self::assertNull((new SimulatedNetwork($plan, $states))->nameOf(Ipv4::fromString('10.90.40.51')), 'what is off holds nothing');
    }

    public function testAnAnswerPassesAStatefulFilterOnlyWhereARequestWentOut(): void
    {
        $plan = self::plan(false);
        $network = new SimulatedNetwork($plan, self::truths($plan));
        self::assertFalse($network->carries('b', 5060, 'a', 5060), 'nobody asked');
        self::assertTrue($network->carries('a', 5060, 'b', 5060));
        self::assertTrue($network->carries('b', 5060, 'a', 5060), 'the answer');
        self::assertFalse($network->carries('b', 5060, 'a', 40000), 'another flow');
        self::assertFalse($network->carries('a', 40000, 'b', 40000), 'not allowed at all');
    }

    public function testARequestArrivesWhereTheAnswerCannotLeave(): void
    {
        $plan = self::plan();
        $states = self::truths($plan);
        $states['b']->put('gateway', '');
        $network = new SimulatedNetwork($plan, $states);
        self::assertTrue($network->carries('a', 5060, 'b', 5060));
        self::assertFalse($network->carries('b', 5060, 'a', 5060));
        self::assertFalse($network->connects('a', 'b', 80), 'a connection needs both ways');
    }

    public function testAHandsetThatLooksForAnotherNetworkHearsNobody(): void
    {
        $plan = (new Jobs())->segment('v', '10.90.20.0/24', '10.90.20.1')
            ->device('a', 'wireless-handset', 'v', ['address' => '10.90.20.31'])
            ->device('b', 'desk-phone-poe', 'v', ['address' => '10.90.20.51'])
            ->device('c', 'wireless-controller', 'v', ['address' => '10.90.20.20'])->plan();
        $states = [];
        foreach (['a' => '10.90.20.31', 'b' => '10.90.20.51', 'c' => '10.90.20.20'] as $key => $address) {
            $states[$key] = new SimulatedState($plan->devices[$key]);
            $states[$key]->powered = true;
            $states[$key]->put('address', $address);
            $states[$key]->put('mask', '/24');
        }
        $states['a']->put('networkName', 'Voice');
        $states['c']->put('networkName', 'Voice');
        self::assertTrue((new SimulatedNetwork($plan, $states))->carries('b', 5060, 'a', 5060));
        $states['a']->put('networkName', 'voice');
        self::assertFalse((new SimulatedNetwork($plan, $states))->carries('b', 5060, 'a', 5060));
        self::assertFalse((new SimulatedNetwork($plan, $states))->carries('a', 5060, 'b', 5060));
        self::assertTrue((new SimulatedNetwork($plan, $states))->carries('c', 5060, 'b', 5060));
    }

    public function testWhatAnAddressIsTranslatedToIsAskedAnewAfterAChange(): void
    {
        $jobs = (new Jobs())->segment('v', '10.90.20.0/24', '10.90.20.1')->segment('q', '10.90.40.0/24', '10.90.40.1')
            ->router('r', ['v' => '10.90.20.1/24', 'q' => '10.90.40.1/24'])
            ->device('a', 'desk-phone-poe', 'v', ['address' => '10.90.20.31'])
            ->device('b', 'desk-phone-poe', 'q', ['address' => '10.90.40.51']);
        $plain = $jobs->plan();
        $translated = $jobs->row('translations', [
            'key' => 'n', 'router' => 'r', 'outside' => 'q', 'what' => 'source', 'position' => 1, 'transport' => 'any',
        ])->plan();
        $states = self::truths($plain);
        $network = new SimulatedNetwork($translated, $states);
        self::assertSame('10.90.40.1', (string) $network->translatedTo('a', 5060, 'b', 5060));
        $network->rewire($plain, $states);
        self::assertNull($network->translatedTo('a', 5060, 'b', 5060));
    }

    public function testAnOutpostIsAnsweredAlthoughTheRouterTranslatesForOthers(): void
    {
        $plan = self::plan(false)->with(new Change(new Message('x'), [Edit::add('translations', [
            'key' => 'n', 'router' => 'r', 'outside' => 'q', 'what' => 'static', 'position' => 1, 'transport' => 'any',
            'inside' => '10.90.20.99', 'address' => '10.90.40.99',
        ])]));
        $network = new SimulatedNetwork($plan, self::truths($plan));
        self::assertTrue($network->carries('outposts/v', 5060, 'b', 5060));
        self::assertNull($network->translatedTo('outposts/v', 5060, 'b', 5060), 'it arrives with its own address');
        self::assertTrue($network->carries('b', 5060, 'outposts/v', 5060), 'the answer');
        self::assertFalse($network->carries('b', 5060, 'outposts/v', 40000), 'nobody asked for that');
    }

    public function testLoopbackTwinsAreKnownAndGuestsAreNot(): void
    {
        $plan = self::plan();
        $network = new SimulatedNetwork($plan, self::truths($plan));
        $twin = (new Loopback())->of(Ipv4::fromString('10.90.40.51'));
        self::assertSame(['127.90.40.51', '10.90.40.51', 'b'], [
            (string) $twin,
            (string) $network->siteOf($twin),
            $network->nameOf(Ipv4::fromString('10.90.40.51')),
        ]);
        self::assertNull($network->siteOf(Ipv4::fromString('127.0.0.1')));
        self::assertSame('q', $network->segmentOfOutpost((string) $network->nameOf(Ipv4::fromString('10.90.40.254'))));
        self::assertSame([20080, 80, 25353, 5060], [
            Loopback::port(80),
            Loopback::sitePort(20080),
            Loopback::port(5353),
            Loopback::port(5060),
        ]);
    }

    public function testFaultsDoWhatTheirNamesSay(): void
    {
        $camera = (new Jobs())->device('c', 'ptz-camera', null)->plan()->devices['c'];
        $held = static function (InjectedFault $fault, string $field) use ($camera): array {
            $state = new SimulatedState($camera);
            foreach (['address' => '10.90.40.12', 'mask' => '/24', 'gateway' => '10.90.40.1', 'secret' => 'abc'] as $name => $value) {
                $state->put($name, $value);
            }
            $restarts = $fault->into($state);

            return [$state->get($field), $restarts, $state->standingFaults];
        };
        self::assertSame(['10.90.40.101', true, []], $held(InjectedFault::WrongGateway, 'gateway'));
        self::assertSame(['10.90.40.21', true, []], $held(InjectedFault::SwappedDigits, 'address'));
        self::assertSame(['/16', true, []], $held(InjectedFault::WrongMask, 'mask'));
        self::assertNotSame('10.90.40.12', $held(InjectedFault::NotRebooted, 'address')[0]);
        self::assertNotSame('abc', $held(InjectedFault::WrongSipPassword, 'secret')[0]);
        self::assertSame(['voicemail-answers'], $held(InjectedFault::VoicemailAnswers, 'address')[2]);
        self::assertSame(['slow-boot'], $held(InjectedFault::SlowBoot, 'address')[2]);
    }

    public function testWhatALabKeepsComesBackAfterACut(): void
    {
        $camera = (new Jobs())->device('c', 'ptz-camera', null)->plan()->devices['c'];
        $state = new SimulatedState($camera);
        self::assertSame(
            ['192.168.1.100', '/24', 'admin'],
            [$state->get('address'), $state->get('mask'), $state->get('adminPassword')],
            'as the factory made it',
        );
        $state->powered = true;
        $state->put('address', '10.90.40.12');
        $state->standingFaults[] = 'slow-boot';
        $again = new SimulatedState($camera);
        $kept = json_decode((string) json_encode($state->keep()), true);
        $again->recall(\is_array($kept) ? $kept : []);
        self::assertEquals($state, $again);
        $again->recall(['settings' => 'rubbish', 'standingFaults' => 7]);
        self::assertFalse($again->powered);
    }
}
