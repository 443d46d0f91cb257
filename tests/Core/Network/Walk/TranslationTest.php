<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Network\Walk;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Network\Walk\Fault;
use Vorhut\Core\Network\Walk\Hop;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Network\Walk\Walk;
use Vorhut\Core\Network\Walk\Walker;
use Vorhut\Core\Plan\Face;
use Vorhut\Tests\Support\Jobs;

/** Addresses that are rewritten on the way (RFC 2663, RFC 3022), answered by proxy (RFC 1027), held besides, or handed out. */
final class TranslationTest extends TestCase
{
    /** An office behind R, whose outside is 203.0.113.0/29; a server of somebody else out there, which knows no way inside. */
    private static function job(bool $allow = true): Jobs
    {
        return (new Jobs())->segment('in', '10.40.12.0/24', '10.40.12.1')->segment('out', '203.0.113.0/29', '203.0.113.1')
            ->segment('far', '198.51.100.0/24', '198.51.100.1')
            ->router('r', ['in' => '10.40.12.1/24', 'out' => '203.0.113.2/29'], $allow, true)
            ->router('isp', ['out' => '203.0.113.1/29', 'far' => '198.51.100.1/24'])
            ->row('routes', ['key' => 'default', 'router' => 'r', 'destination' => '0.0.0.0/0', 'via' => '203.0.113.1'])
            ->device('a', 'room-codec', 'in', ['address' => '10.40.12.20'])
            ->device('b', 'room-codec', 'far', ['address' => '198.51.100.20']);
    }

    /** @param array<string, bool|float|int|string|list<mixed>|null> $more */
    private static function translation(Jobs $jobs, string $what, array $more = []): Jobs
    {
        return $jobs->row('translations', [
            'key' => $what,
            'router' => 'r',
            'outside' => 'out',
            'what' => $what,
            'position' => 1,
            'transport' => 'any',
        ] + $more);
    }

    private static function walk(Jobs $jobs, string $from, string $to, string $port = '5060/udp'): Walk
    {
        return Walker::between(NetworkModel::of($jobs->plan(), Face::Planned), $from, $to, Port::fromString($port));
    }

    /** @return iterable<string, array{Jobs, string, string, string, Fault|null}> */
    public static function ways(): iterable
    {
        yield 'none: the answer finds no way inside' => [self::job(), 'a', 'b', '5060/udp', Fault::NoRoute];
        $source = self::translation(self::job(), 'source');
        yield 'source: the answer comes back to the router' => [$source, 'a', 'b', '5060/udp', null];
        yield 'source opens nothing from outside' => [$source, 'b', 'a', '5060/udp', Fault::NoRoute];
        yield 'source for another host only' => [
            self::translation(self::job(), 'source', ['inside' => '10.40.12.99']),
            'a',
            'b',
            '5060/udp',
            Fault::NoRoute,
        ];
        $forward = self::translation(self::job(), 'forward', [
            'inside' => '10.40.12.20',
            'transport' => 'udp',
            'portFirst' => 5060,
            'portLast' => 5061,
        ]);
        yield 'forward: from outside at the outside address' => [$forward, 'b', 'a', '5060/udp', null];
        yield 'forward: another transport is not forwarded' => [$forward, 'b', 'a', '80/tcp', Fault::NoRoute];
        yield 'forward: a port beside it' => [$forward, 'b', 'a', '443/tcp', Fault::NoRoute];
        yield 'forward, behind a filter that denies' => [
            self::translation(self::job(false), 'forward', ['inside' => '10.40.12.20']),
            'b',
            'a',
            '5060/udp',
            Fault::NoRoute,
        ];
        yield 'forward from a port of another number' => [
            self::translation(self::job(), 'forward', [
                'inside' => '10.40.12.20',
                'portFirst' => 15060,
                'portLast' => 15069,
                'insidePort' => 5060,
            ]),
            'b',
            'a',
            '5060/udp',
            null,
        ];
        $static = self::translation(self::job(), 'static', ['address' => '203.0.113.5', 'inside' => '10.40.12.20']);
        yield 'static: from outside' => [$static, 'b', 'a', '5060/udp', null];
        yield 'static: from inside' => [$static, 'a', 'b', '5060/udp', null];
        // The answer goes round the router that translated: it bears an address that nobody asked.
        $round = self::translation(self::job(), 'forward', ['inside' => '10.40.12.20'])
            ->router('back', ['in' => '10.40.12.2/24', 'out' => '203.0.113.3/29'])
            ->row('routes', ['key' => 'back', 'router' => 'back', 'destination' => '0.0.0.0/0', 'via' => '203.0.113.1'])
            ->row('settings', ['key' => 'nics/a.lan#gateway', 'planned' => '10.40.12.2']);
        // Routed in without translation, the flow is known: its answer is not translated either, over UDP as over TCP (RFC 4787 §4.1).
        $routed = self::translation(self::job(), 'source')
            ->row('routes', ['key' => 'in', 'router' => 'isp', 'destination' => '10.40.12.0/24', 'via' => '203.0.113.2']);
        foreach (['5060/udp', '80/tcp'] as $port) {
            yield 'the answer to an untranslated flow, '.$port => [$routed, 'b', 'a', $port, null];
        }
        yield 'forward, and the answer leaves by another router' => [$round, 'b', 'a', '5060/udp', Fault::NoRoute];
    }

    #[DataProvider('ways')]
    public function testWhatATranslationOpensAndWhatNot(Jobs $jobs, string $from, string $to, string $port, ?Fault $fault): void
    {
        $walk = self::walk($jobs, $from, $to, $port);
        self::assertSame($fault, $walk->brokenHop()?->fault, (string) $walk->brokenHop()?->text);
    }

    public function testAnAnswerFromAnotherAddressIsNotTakenForOne(): void
    {
        $jobs = self::job();
        self::translation($jobs, 'forward', ['inside' => '10.40.12.20', 'address' => '203.0.113.5']);
        // The far router knows the inside: the direct way is denied there, so that only the outside address is left.
        $jobs->router('back', ['in' => '10.40.12.2/24', 'out' => '203.0.113.3/29'])
            ->row('routes', ['key' => 'b2', 'router' => 'back', 'destination' => '0.0.0.0/0', 'via' => '203.0.113.1'])
            ->row('settings', ['key' => 'nics/a.lan#gateway', 'planned' => '10.40.12.2'])
            ->device('c', 'room-codec', 'out', ['address' => '203.0.113.4', 'gateway' => '']);
        // What c asks at 203.0.113.5 is answered round the translation, from 10.40.12.20.
        $walk = self::walk($jobs, 'c', 'a');
        self::assertFalse($walk->holds());
        $model = NetworkModel::of($jobs->plan(), Face::Planned);
        self::assertSame('203.0.113.5', (string) ($model->otherAddressesOf('a', Port::tcp(5060))[0][0] ?? ''));
    }

    public function testTheStonesSayWhatIsRewrittenThereAndBack(): void
    {
        $walk = self::walk(self::translation(self::job(), 'source'), 'a', 'b');
        $said = implode("\n", array_map(static fn (Hop $hop): string => (string) $hop->text, $walk->hops));
        self::assertStringContainsString('R sends it out as from 203.0.113.2; it came from 10.40.12.20.', $said);
        self::assertStringContainsString('R knows the flow and forwards the reply for 203.0.113.2:49152 to 10.40.12.20:49152.', $said);
        self::assertContains('translations/r:out out 10.40.12.20=1 source own=any any', $walk->facts->texts());
    }

    public function testARouterThatAnswersForOthersMendsAMaskThatIsTooWide(): void
    {
        $jobs = (new Jobs())->segment('s1', '10.40.12.0/24', '10.40.12.1')->segment('s2', '10.40.13.0/24', '10.40.13.1')
            ->router('r', ['s1' => '10.40.12.1/24', 's2' => '10.40.13.1/24'])
            ->device('a', 'room-codec', 's1', ['address' => '10.40.12.20'])
            ->device('b', 'room-codec', 's2', ['address' => '10.40.13.20', 'mask' => '/22']);
        self::assertSame(Fault::NextDoor, self::walk($jobs, 'a', 'b')->brokenHop()?->fault);
        self::assertTrue(self::walk($jobs->change('routerPorts', 'r-s2', 'proxyArp', true), 'a', 'b')->holds());
        // It answers for nobody on the wire that the question came from.
        $jobs->device('c', 'room-codec', 's2', ['address' => '10.40.13.30', 'mask' => '/22']);
        self::assertSame(Fault::NextDoor, self::walk($jobs->change('nics', 'c.lan', 'segment', 's1'), 'b', 'c')->brokenHop()?->fault);
    }

    public function testARuleLooksAtAddresses(): void
    {
        $jobs = self::translation(self::job(false), 'source')->row('filters', [
            'key' => 'f',
            'router' => 'r',
            'position' => 1,
            'from' => 'in',
            'to' => 'out',
            'transport' => 'any',
            'action' => 'allow',
            'fromAddresses' => ['10.40.12.16-10.40.12.31'],
            'toAddresses' => ['198.51.100.20'],
        ])->device('d', 'room-codec', 'in', ['address' => '10.40.12.32'])
            ->device('e', 'room-codec', 'far', ['address' => '198.51.100.21']);
        self::assertTrue(self::walk($jobs, 'a', 'b')->holds());
        self::assertSame(Fault::Filtered, self::walk($jobs, 'd', 'b')->brokenHop()?->fault);
        self::assertSame(Fault::Filtered, self::walk($jobs, 'a', 'e')->brokenHop()?->fault);
    }

    public function testAFurtherAddressIsSentFromAndAskedWhereItIsNearer(): void
    {
        $jobs = (new Jobs())->segment('s', '10.40.12.0/24', '10.40.12.1')
            ->device('a', 'room-codec', 's', ['address' => '10.40.12.20', 'gateway' => ''])
            ->device('b', 'room-codec', 's', ['address' => '192.168.1.100', 'gateway' => '', 'mask' => '/24']);
        self::assertFalse(self::walk($jobs, 'a', 'b')->holds());
        $jobs->also('a', '192.168.1.254/24');
        self::assertTrue(self::walk($jobs, 'a', 'b')->holds());
        self::assertTrue(self::walk($jobs, 'b', 'a')->holds());
    }

    public function testADhcpClientHoldsWhatItIsGivenOrMakesItsOwn(): void
    {
        $jobs = (new Jobs())->segment('s', '10.40.12.0/24', '10.40.12.1', ['pools' => ['10.40.12.100-10.40.12.101']])
            ->router('r', ['s' => '10.40.12.1/24', 't' => '10.40.13.1/24'])->segment('t', '10.40.13.0/24', '10.40.13.1')
            ->device('b', 'room-codec', 't', ['address' => '10.40.13.20']);
        foreach (['a', 'c', 'd'] as $client) {
            $jobs->device($client, 'room-codec', 's')->change('nics', $client.'.lan', 'mode', 'dhcp');
        }
        $model = NetworkModel::of($jobs->plan(), Face::Set);
        foreach (['a' => '10.40.12.100', 'c' => '10.40.12.101', 'd' => '169.254.'] as $client => $held) {
            self::assertStringStartsWith($held, (string) ($model->hostsOf($client)[0]->address ?? ''), 'the pool has two');
        }
        self::assertTrue(self::walk($jobs, 'a', 'b')->holds());
        self::assertSame(Fault::LinkLocalOnly, self::walk($jobs, 'd', 'b')->brokenHop()?->fault);
        $jobs->change('segments', 's', 'dhcp', 'none');
        self::assertSame(Fault::LinkLocalOnly, self::walk($jobs, 'a', 'b')->brokenHop()?->fault);
    }

    public function testTwoEqualWaysAreChanceAndANarrowerOneIsNot(): void
    {
        $jobs = (new Jobs())->segment('s', '10.40.12.0/24')->segment('t', '10.40.12.0/24')
            ->device('m', 'media-server', 's', ['address' => '10.40.12.10'])
            ->device('b', 'room-codec', 's', ['address' => '10.40.12.20']);
        $second = $jobs->plan()->devices['m']->activeNics()[1]->name ?? self::fail('a media server has two ports');
        $jobs->port('m', $second, 't', ['address' => '10.40.12.11']);
        self::assertSame(Fault::Ambiguous, self::walk($jobs, 'm', 'b')->brokenHop()?->fault);
        $jobs->row('settings', ['key' => 'nics/m.'.$second.'#mask', 'planned' => '/28']);
        self::assertTrue(self::walk($jobs, 'm', 'b')->holds());
    }
}
