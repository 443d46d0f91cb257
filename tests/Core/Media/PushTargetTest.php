<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Media;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Analysis\TestPlan;
use Vorhut\Core\Media\PushTarget;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Tests\Support\Jobs;

/** Whom a push by SRT meets: by address or by name, at the port where it is taken, with one passphrase or none. */
final class PushTargetTest extends TestCase
{
    /** @return iterable<string, array{string, array<string, string>, array<string, string>, string|null, bool|null, bool}> */
    public static function pushes(): iterable
    {
        yield 'by address' => ['srt://10.0.0.12:9000?mode=caller', [], [], 'PC', true, true];
        yield 'without a mode it calls' => ['srt://10.0.0.12:9000', [], [], 'PC', true, true];
        yield 'by name' => ['srt://pc:9000', [], [], 'PC', true, true];
        yield 'by its whole name' => ['srt://PC.harbour.example:9000', [], [], 'PC', true, true];
        yield 'of another domain' => ['srt://pc.elsewhere.example:9000', [], [], null, null, false];
        yield 'both wait' => ['srt://10.0.0.12:9000?mode=listener', [], [], 'PC', false, true];
        yield 'another port' => ['srt://10.0.0.12:9001', [], [], 'PC', false, true];
        yield 'where it was moved to' => ['srt://10.0.0.12:9001', [], ['takePort' => '9001'], 'PC', true, true];
        yield 'sealed at one end' => ['srt://10.0.0.12:9000', ['pushesWith' => 'a passphrase'], [], 'PC', false, true];
        yield 'sealed at the other' => ['srt://10.0.0.12:9000', [], ['takesWith' => 'a passphrase'], 'PC', false, true];
        yield 'sealed' => ['srt://10.0.0.12:9000', ['pushesWith' => 'a passphrase'], ['takesWith' => 'a passphrase'], 'PC', true, true];
        yield 'to who takes none' => ['srt://10.0.0.13:9000', [], [], 'CAM', false, true];
        yield 'to itself' => ['srt://10.0.0.11:9000', [], [], null, null, true];
        yield 'to nobody of the network' => ['srt://10.0.0.99:9000', [], [], null, null, true];
        yield 'out of the site' => ['srt://198.51.100.7:9000', [], [], null, null, false];
    }

    /**
     * @param array<string, string> $from
     * @param array<string, string> $to
     */
    #[DataProvider('pushes')]
    public function testWhomItMeets(string $url, array $from, array $to, ?string $taker, ?bool $meets, bool $isOnSite): void
    {
        $plan = (new Jobs())->segment('s', '10.0.0.0/24')->fact('domain', 'harbour.example')
            ->device('enc', 'streaming-encoder', 's', $from + ['address' => '10.0.0.11', 'pushProtocol' => 'SRT', 'pushUrl' => $url])
            ->device('pc', 'production-computer', 's', $to + ['address' => '10.0.0.12', 'hostName' => 'pc'])
            ->device('cam', 'ptz-camera', 's', ['address' => '10.0.0.13'])->plan();
        $target = PushTarget::all($plan)['enc'];
        self::assertSame([$taker, $meets, $isOnSite], [$target->taker?->tag, $target->meets(), $target->isOnSite($plan)]);
        $line = TestPlan::of($plan)->test('push:enc');
        // Who waits to be called is asked by nobody.
        self::assertSame(null !== $taker && 'caller' === $target->url->mode(), null !== $line);
        if (null !== $line) {
            self::assertSame(true === $meets, Outcome::Takes === $line->expectedOutcome(), (string) $line->because());
        }
    }

    public function testWhatIsTypedIntoWhoeverPushesIsTakenThere(): void
    {
        $job = static fn (string $url): Jobs => (new Jobs())->segment('s', '10.0.0.0/24')
            ->device('enc', 'streaming-encoder', 's', ['address' => '10.0.0.11', 'pushProtocol' => 'SRT', 'pushUrl' => $url])
            ->device('pc', 'production-computer', 's', ['address' => '10.0.0.12', 'takePort' => '9040', 'latency' => '300'])
            ->device('bare', 'production-computer', 's');
        [$one] = $offered = PushTarget::targets($job('srt://10.0.0.99:1')->plan());
        self::assertCount(1, $offered, 'who has no address takes nothing');
        self::assertSame('srt://10.0.0.12:9040?mode=caller&latency=300', (string) $one['url']);
        self::assertSame(['PC', false], [$one['device']->tag, $one['sealed']]);
        self::assertTrue(PushTarget::all($job((string) $one['url'])->plan())['enc']->meets());
    }

    public function testWhatIsOffOrNoAddressIsNoPush(): void
    {
        $none = [['off', 'srt://10.0.0.12:9000'], ['SRT', ''], ['SRT', 'rtmp://10.0.0.12/live'], ['RTMP', 'srt://10.0.0.12:9000']];
        foreach ($none as [$by, $url]) {
            $plan = (new Jobs())->segment('s', '10.0.0.0/24')
                ->device('enc', 'streaming-encoder', 's', ['address' => '10.0.0.11', 'pushProtocol' => $by, 'pushUrl' => $url])->plan();
            self::assertSame([], PushTarget::all($plan), $by.' '.$url);
        }
    }
}
