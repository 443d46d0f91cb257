<?php

declare(strict_types=1);

namespace Vorhut\Tests\Lab;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Analysis\TestPlan;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Range;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Proof\ProofTest;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Core\Wire\Radius\Code;
use Vorhut\Core\Wire\Radius\Eap;
use Vorhut\Core\Wire\Radius\RadiusPacket;
use Vorhut\Lab\InjectedFault;
use Vorhut\Outpost\Device\Readback;
use Vorhut\Outpost\Device\Reader;
use Vorhut\Outpost\Probe\Evidence;
use Vorhut\Outpost\Probe\Http;
use Vorhut\Outpost\Probe\NoAnswer;
use Vorhut\Outpost\Probe\RangeSearch;
use Vorhut\Outpost\Probe\TestRunner;
use Vorhut\Outpost\Probe\VantagePoint;
use Vorhut\Socket\Loopback;
use Vorhut\Socket\LoopbackDatagrams;
use Vorhut\Tests\Support\Jobs;
use Vorhut\Tests\Support\LabBench;

/** What the outpost brings home, probe by probe. */
final class ProbesTest extends TestCase
{
    private LabBench $bench;
    private string $net;

    protected function setUp(): void
    {
        static $net = 170;
        \assert(\is_int($net));
        $this->net = "10.$net";
        $this->bench = new LabBench($net++);
    }

    protected function tearDown(): void
    {
        $this->bench->close();
    }

    private function place(string $segment = 'v'): VantagePoint
    {
        return $this->bench->places()->on($segment);
    }

    public function testAReachNamesWhoAnswers(): void
    {
        $evidence = $this->bench->prove('reach:v>cam:80/tcp');

        self::assertSame([Outcome::Answers, 'HTTP 401, "PTZ camera"'], [$evidence->outcome, (string) $evidence->detail]);
        self::assertStringContainsString("$this->net.40.31:80/tcp", $evidence->lines[0]);
    }

    public function testADeviceThatIsStillStartingIsWaitedForAndNotCalledSilent(): void
    {
        $access = $this->bench->access();
        $prove = fn (string $test, float $patience): Evidence => (new TestRunner(
            $access,
            $this->bench->places(),
            static fn (): string => 'secret-of-2101',
            startSeconds: $patience,
        ))->probe(TestPlan::of($this->bench->plan)->test($test) ?? self::fail('There is no line '.$test));
        $camera = $this->bench->job->standIn('cam') ?? self::fail('nobody plays it');
        $camera->restart();
        self::assertSame(['cam'], $access->starting(Ipv4::fromString("$this->net.20.254")));
        $early = $prove('reach:v>cam:80/tcp', 0.0);
        self::assertSame([Outcome::NotAsked, 'still starting: CAM'], [$early->outcome, (string) $early->detail]);
        self::assertNotSame(Outcome::NotAsked, $prove('reach:v>codec:80/tcp', 0.0)->outcome, 'others are asked meanwhile');
        self::assertSame(Outcome::Answers, $prove('reach:v>cam:80/tcp', 10.0)->outcome);
        self::assertSame([], $access->starting(Ipv4::fromString("$this->net.20.254")));

        // A phone does its work once it has registered, or has tried to.
        $phone = $this->bench->job->standIn('b') ?? self::fail('nobody plays it');
        $phone->restart();
        self::assertSame('still starting: B', (string) $prove('call:2101>2102', 0.0)->detail);
        self::assertSame(Outcome::DeviceAnswers, $prove('call:2101>2102', 10.0)->outcome);

        // What an injected fault holds up is found as it is.
        $this->bench->job->play(InjectedFault::SlowBoot, 'cam');
        self::assertSame([], $access->starting(Ipv4::fromString("$this->net.20.254")));
    }

    public function testARefusedPortIsToldFromSilence(): void
    {
        $http = new Http($this->bench->access());
        foreach ([["$this->net.40.31", 81, Outcome::Refuses], ["$this->net.40.99", 80, Outcome::Silent]] as [$address, $port, $outcome]) {
            try {
                $http->ask($this->place(), Ipv4::fromString($address), $port, 'GET', '/', null, '', 0.8);
                self::fail('nobody is there');
            } catch (NoAnswer $e) {
                self::assertSame($outcome, $e->outcome, $address.':'.$port);
            }
        }
    }

    public function testSomethingThatIsNoWebPageIsStillAnAnswer(): void
    {
        $this->expectException(ParseError::class);
        (new Http($this->bench->access()))->ask($this->place(), Ipv4::fromString("$this->net.40.31"), 5678, 'GET', '/');
    }

    public function testASweepFindsWhoIsThereAndAsksOnlyInTheJob(): void
    {
        $range = Range::fromString("$this->net.20.8-14");
        for ($try = 0, $found = []; $try < 5 && \count($found) < 2; ++$try) {
            // On a busy machine the stand-ins are up later.
            $this->bench->settle(0.2 * $try);
            $found = (new RangeSearch($this->bench->access()))->answers($this->place(), $range, 80);
        }
        self::assertSame(["$this->net.20.10", "$this->net.20.12"], $found);
        $search = new RangeSearch($this->bench->access());
        self::assertSame([], $search->answers($this->place(), Range::fromString('192.0.2.1-192.0.2.20'), 80));
    }

    public function testARangeIsSearchedWholeWithoutABlockAndWithAWideOne(): void
    {
        foreach ([
            [[], 254, '.40.1-'],
            [[['range' => "$this->net.40.20-$this->net.40.39", 'for' => 'ptz-camera']], 20, '.40.20-'],
        ] as [$blocks, $count, $from]) {
            $plan = $this->bench->plan->with(new Change(new Message('x'), [
                Edit::put('segments', 'q', 'blocks', $this->bench->plan->row('segments', 'q')['blocks'] ?? null, $blocks),
            ]));
            $test = TestPlan::of($plan)->test('discover:v>cam') ?? self::fail('the camera is controlled from there');
            $evidence = $this->probe($plan, $test, null);
            self::assertStringContainsString("($count addresses)", $evidence->lines[1] ?? '');
            self::assertStringContainsString($from, $evidence->lines[1] ?? '');
        }
    }

    public function testAGroupQuestionStaysOnItsSegment(): void
    {
        $evidence = $this->bench->prove('discover:v>cam');
        self::assertSame('group question for _rtsp._tcp: no device answered', $evidence->lines[0]);
        $evidence = $this->bench->prove('discover:v>codec');
        self::assertStringContainsString("$this->net.20.12", $evidence->lines[0]);
    }

    public function testACallIsProvedByTheDeviceItselfAndItsReport(): void
    {
        $evidence = $this->bench->prove('call:2101>2102');

        self::assertStringContainsString('answered by Desk phone, PoE at 127.', (string) $evidence->detail);
        self::assertStringContainsString('(RTCP)', implode("\n", $evidence->lines));
        // Until both ways are heard, which on a busy machine takes longer.
        self::assertMatchesRegularExpression('/sound here: ([2-9]|1\d)\d of ([2-9]|1\d)\d packets/', implode("\n", $evidence->lines));
    }

    public function testAUniverseIsHeardFromWhomItWasPlannedAndAFightIsHeardToo(): void
    {
        $this->bench->close();
        $net = substr($this->net, 3);
        $this->bench = new LabBench((int) $net, static function (Jobs $jobs) use ($net): void {
            foreach (['desk' => [60, '120'], 'other' => [61, '90']] as $key => [$host, $priority]) {
                $planned = ['address' => "10.$net.40.$host", 'universesSent' => '3, 5', 'priority' => $priority];
                $jobs->device($key, 'lighting-console', 'q', $planned)
                    ->change('settings', "nics/$key.lan#address", 'set', "10.$net.40.$host")
                    ->row('settings', ['key' => "nics/$key.lan#mask", 'set' => '/24', 'setBy' => 'Jo', 'setAt' => '2026-03-01T09:00:00Z'])
                    ->change('settings', "devices/$key#universesSent", 'set', '3, 5')
                    ->change('settings', "devices/$key#priority", 'set', $priority);
            }
            $jobs->device('node', 'lighting-node', 'q', ['address' => "10.$net.40.70", 'universe.1' => '3']);
        });
        $found = $this->bench->prove('light:3:q');
        self::assertSame(Outcome::Heard, $found->outcome, (string) $found->detail);
        self::assertStringContainsString("at 127.$net.40.60, priority 120", (string) $found->detail);
        self::assertCount(2, $found->lines, 'whoever else sends is written down');
        $other = $this->bench->job->standIn('other');
        $other?->configure('priority', '120');
        $found = $this->bench->prove('light:3:q');
        self::assertSame(Outcome::OtherHeard, $found->outcome);
        self::assertStringContainsString('send it at once with priority 120', (string) $found->detail);
        $other?->configure('priority', '130');
        self::assertStringContainsString('with priority 130, and was not meant', (string) $this->bench->prove('light:3:q')->detail);
        $this->bench->play(InjectedFault::WrongUniverse, 'other');
        self::assertSame(Outcome::Heard, $this->bench->prove('light:3:q')->outcome, 'what sends another universe is not in the way here');
        $other?->off();
        $this->bench->job->standIn('desk')?->configure('priority', '80');
        self::assertStringContainsString('with priority 80, and 120 was planned', (string) $this->bench->prove('light:3:q')->detail);
        $this->bench->job->standIn('desk')?->configure('priority', '120');
        $this->bench->play(InjectedFault::SecondSender, 'desk');
        $found = $this->bench->prove('light:3:q');
        self::assertSame([Outcome::OtherHeard, 2], [$found->outcome, \count($found->lines)], 'a second program on the same machine');
        $this->bench->job->standIn('desk')?->off();
        self::assertSame(Outcome::Silent, $this->bench->prove('light:3:q')->outcome);
    }

    public function testAnAuthenticationServerAnswersItsClientsAlone(): void
    {
        $this->bench->close();
        $net = (int) substr($this->net, 3);
        $held = static fn (string $key, string $value): array => ['key' => $key, 'planned' => $value, 'set' => $value, 'setBy' => 'Jo',
            'setAt' => '2026-03-01T09:00:00Z'];
        $this->bench = new LabBench($net, static function (Jobs $jobs) use ($net, $held): void {
            foreach ([
                'au' => ['authentication-server', 'v', "10.$net.20.70", "10.$net.20.1"],
                'wc' => ['wireless-controller', 'v', "10.$net.20.71", "10.$net.20.1"],
                'wd' => ['wireless-controller', 'q', "10.$net.40.72", "10.$net.40.1"],
            ] as $key => [$kind, $segment, $address, $gateway]) {
                $jobs->device($key, $kind, $segment, ['address' => $address])
                    ->change('settings', "nics/$key.lan#address", 'set', $address)
                    ->row('settings', $held("nics/$key.lan#mask", '/24'))
                    ->row('settings', $held("nics/$key.lan#gateway", $gateway));
                if ('au' !== $key) {
                    $jobs->row('settings', $held("devices/$key#authServer", 'au'));
                }
            }
            $jobs->row('settings', $held('devices/au#clientAddresses', "10.$net.20.71, 10.$net.20.254"))
                ->row('credentials', ['key' => 'fleet', 'owner' => 'devices/au', 'purpose' => 'fleet', 'user' => 'handset-7']
                    + ['state' => 'changed']);
        });
        $secret = 'secret-of-evices/au#radius';
        $hands = fn (string $own) => $this->bench->job->handsOn($this->bench->plan, [
            'devices/au#radius' => $own,
            'devices/au#fleet' => 'let me in',
        ]);
        $hands($secret);
        $found = $this->bench->prove('radius:au:v');
        self::assertSame([Outcome::Answers, 'it knows this client, and its secret'], [$found->outcome, (string) $found->detail]);
        $stranger = $this->bench->prove('radius:au:q');
        self::assertSame(Outcome::NotAsked, $stranger->outcome);
        self::assertStringContainsString("enter 10.$net.40.254 there", (string) $stranger->detail);

        // A user by his password, asked from the place of the outpost.
        $socket = new LoopbackDatagrams(Ipv4::fromString("10.$net.20.254"), 0);
        foreach (['let me in' => Code::AccessAccept, 'let me out' => Code::AccessReject] as $password => $code) {
            $asked = RadiusPacket::request(Code::AccessRequest, 9, str_repeat("\6", 16), $secret, [
                [RadiusPacket::USER_NAME, 'handset-7'],
                [RadiusPacket::USER_PASSWORD, RadiusPacket::hidePassword($password, $secret, str_repeat("\6", 16))],
            ]);
            $socket->send((new Loopback())->of(Ipv4::fromString("10.$net.20.70")), 1812, (string) $asked);
            $answer = RadiusPacket::fromString($socket->receive(3.0)[2] ?? '');
            self::assertSame([$code, true], [$answer->code, $answer->answers($asked, $secret)]);
        }
        // By EAP a method is agreed on, and that is all that is looked at.
        $au = $this->bench->job->standIn('au') ?? throw new \LogicException();
        $eap = static function (Eap $said) use ($socket, $net, $secret): array {
            $asked = RadiusPacket::request(Code::AccessRequest, 10, str_repeat("\7", 16), $secret, [
                [RadiusPacket::USER_NAME, 'handset-7'], [RadiusPacket::EAP_MESSAGE, (string) $said],
            ]);
            $socket->send((new Loopback())->of(Ipv4::fromString("10.$net.20.70")), 1812, (string) $asked);
            $answer = RadiusPacket::fromString($socket->receive(3.0)[2] ?? '');
            $its = Eap::fromString((string) $answer->attribute(RadiusPacket::EAP_MESSAGE));

            return [$answer->code, $its->code, $its->type];
        };
        $au->configure('methods', 'PEAP, EAP-TLS');
        $me = new Eap(Eap::RESPONSE, 1, Eap::IDENTITY, 'handset-7');
        self::assertSame([Code::AccessChallenge, Eap::REQUEST, 13], $eap($me), 'its first');
        self::assertSame([Code::AccessChallenge, Eap::REQUEST, 25], $eap(new Eap(Eap::RESPONSE, 2, Eap::NAK, "\x15\x19")));
        self::assertSame([Code::AccessAccept, Eap::SUCCESS, null], $eap(new Eap(Eap::RESPONSE, 3, 25, 'hello')));
        self::assertSame([Code::AccessReject, Eap::FAILURE, null], $eap(new Eap(Eap::RESPONSE, 4, Eap::NAK, "\x15")));
        self::assertSame([Code::AccessReject, Eap::FAILURE, null], $eap(new Eap(Eap::RESPONSE, 5, 21, 'hello')), 'one that it has not');
        self::assertSame('2', $au->state->get('ruleHits'));
        $au->state->put('ruleHits', '1');
        $socket->close();
        self::assertSame('1', $this->bench->job->standIn('au')?->state->get('ruleHits'), 'the rule let one in');

        $hands('another');
        self::assertSame(Outcome::Silent, $this->bench->prove('radius:au:v')->outcome, 'with another secret it says nothing');
    }

    public function testWhatABadLineLosesIsHeardAndRated(): void
    {
        $loss = function (): array {
            $lines = implode("\n", $this->bench->prove('call:2101>2102')->lines);
            preg_match('/sound here: (\d+) of (\d+) packets/', $lines, $found);
            preg_match('/MOS ([0-9]\.[0-9]+)/', $lines, $score);

            return [1 - (int) ($found[1] ?? 0) / max(1, (int) ($found[2] ?? 1)), (float) ($score[1] ?? 0)];
        };
        [$none, $good] = $loss();
        $this->bench->play(InjectedFault::LossyLine, 'b');
        [$some, $bad] = $loss();
        self::assertLessThan(0.03, $none);
        self::assertEqualsWithDelta(1 / 7, $some, 0.04);
        self::assertLessThan($good - 0.5, $bad, 'and it is worth less (ITU-T G.107)');
    }

    public function testOverUdpAReachIsAskedInSip(): void
    {
        foreach (['pbx' => Outcome::Answers, 'cam' => Outcome::Silent] as $device => $outcome) {
            $plan = $this->bench->plan->with(new Change(new Message('x'), [
                Edit::add('tests', ['key' => 'l', 'what' => 'reach', 'from' => 'v', 'to' => $device, 'port' => '5060/udp']),
            ]));
            $test = TestPlan::of($plan)->test("reach:v>$device:5060/udp") ?? self::fail('the added line is missing');
            $evidence = $this->probe($plan, $test, null);
            self::assertSame($outcome, $evidence->outcome, $device);
            self::assertStringStartsWith('> OPTIONS sip:127.', $evidence->lines[0] ?? '');
        }
    }

    public function testAnEmergencyNumberIsNeverDialledWhateverTheLineSays(): void
    {
        $plan = $this->bench->plan->with(new Change(new Message('x'), [Edit::put('extensions', 'x2102', 'number', '2102', '112')]));
        $tests = array_filter(TestPlan::of($plan)->tests, static fn (ProofTest $one): bool => '112' === $one->called);
        self::assertNotSame([], $tests, 'the plan is wrong enough to yield some');
        foreach ($tests as $test) {
            $evidence = $this->probe($plan, $test);
            self::assertSame([Outcome::NotAsked, []], [$evidence->outcome, $evidence->lines], $test->key);
        }
    }

    public function testAnEmergencyNumberThatATestWasNotPlannedForIsNotDialled(): void
    {
        $test = array_values(array_filter(
            TestPlan::of($this->bench->plan)->tests,
            static fn (ProofTest $one): bool => '2102' === $one->called && $one->canBeAsked(true),
        ))[0] ?? throw new \LogicException();
        // Between planning and dialling somebody names that very number.
        $plan = $this->bench->plan->with(new Change(new Message('x'), [Edit::put('job', '', 'emergencyNumbers', ['112'], ['2102'])]));
        $evidence = $this->probe($plan, $test);
        self::assertSame(
            [Outcome::NotAsked, 'This call can reach the emergency centre (2102), so Vorhut never makes it.', []],
            [$evidence->outcome, (string) $evidence->detail, $evidence->lines],
        );
    }

    private function probe(Plan $plan, ProofTest $test, ?string $secret = 'secret-of-2101'): Evidence
    {
        $runner = new TestRunner($this->bench->access(), $this->bench->places($plan), static fn (): ?string => $secret);

        return $runner->probe($test);
    }

    public function testAWrongSecretIsRejectedAndWithoutARegistrarNothingIsAsked(): void
    {
        $test = TestPlan::of($this->bench->plan)->test('register:2101') ?? throw new \LogicException();
        self::assertSame(Outcome::Rejected, $this->probe($this->bench->plan, $test, 'guess')->outcome);
        $without = $this->bench->plan->with(new Change(new Message('x'), [
            Edit::remove('accounts', $this->bench->plan->row('accounts', 'a2101') ?? []),
        ]));
        self::assertSame(Outcome::NotAsked, $this->probe($without, $test, 'x')->outcome);
    }

    public function testReadBackIsAChangeOnlyWhereSomethingNewWasSeen(): void
    {
        $camera = $this->bench->plan->devices['cam'];
        $passwords = ['admin' => 'wrong', 'factory' => 'admin'];
        $read = (new Reader(new Http($this->bench->access())))->read($this->bench->places(), $camera, $passwords)
            ?? self::fail('it did not answer');
        $seen = $read->seen;
        self::assertSame('factory', $read->took);
        self::assertSame(["$this->net.40.31", '/24', "$this->net.40.1", '', '4.2.10'], [
            $seen['lan.address'] ?? null,
            $seen['lan.mask'] ?? null,
            $seen['lan.gateway'] ?? null,
            $seen['lan.dns'] ?? null,
            $seen['firmware'] ?? null,
        ]);
        $change = Reader::change($this->bench->plan, $camera, $read);
        $after = $this->bench->plan->with($change);
        self::assertSame("$this->net.40.1", $after->nics['cam.lan']->setting('gateway')->seen);
        self::assertTrue(Reader::change($after, $after->devices['cam'], $read)->isEmpty(), 'the second look sees nothing new');
    }

    public function testWhatASettingCannotBeIsKeptApartAndTakesTheOldAnswerWithIt(): void
    {
        $camera = $this->bench->plan->devices['cam'];
        $first = Reader::change($this->bench->plan, $camera, new Readback(['lan.gateway' => "$this->net.40.1", 'lan.mask' => '/24'], ''));
        $plan = $this->bench->plan->with($first);
        $odd = Reader::change($plan, $plan->devices['cam'], new Readback(['lan.gateway' => 'ask me later', 'lan.mask' => '/24'], ''));
        self::assertSame([['seen', null], ['odd', 'ask me later']], array_map(
            static fn (Edit $edit): array => [$edit->field, $edit->after],
            $odd->edits,
        ));
        $plan = $plan->with($odd);
        $gateway = $plan->nics['cam.lan']->setting('gateway');
        self::assertSame([null, 'ask me later', "$this->net.40.1"], [
            $gateway->seen, $gateway->odd, $gateway->effective(\Vorhut\Core\Plan\Face::Seen),
        ], 'it counts for nothing');
        $again = Reader::change($plan, $plan->devices['cam'], new Readback(['lan.gateway' => "$this->net.40.1"], ''));
        $gateway = $plan->with($again)->nics['cam.lan']->setting('gateway');
        self::assertSame(["$this->net.40.1", null], [$gateway->seen, $gateway->odd]);
    }

    public function testASearchOfAWholeRangeLeavesNothingOpenInTheLab(): void
    {
        $open = static fn (): int => \count(scandir('/proc/self/fd') ?: []);
        $before = $open();
        (new RangeSearch($this->bench->access()))->answers(
            $this->place(),
            Range::fromString("$this->net.40.64-$this->net.40.254"),
            80,
        );
        $this->bench->settle(0.3);
        self::assertLessThan($before + 20, $open(), 'outpost and lab are one process here');
    }
}
