<?php

declare(strict_types=1);

namespace Vorhut\Tests\Lab;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Catalogue\Catalogue;
use Vorhut\Lab\FrontPanel;
use Vorhut\Lab\PanelServer;
use Vorhut\Lab\Part\Licence;
use Vorhut\Lab\Part\Parts;
use Vorhut\Lab\Simulation;
use Vorhut\Lab\StandIn;
use Vorhut\Lab\Stimulus;
use Vorhut\Socket\Loopback;
use Vorhut\Tests\Support\Jobs;

use function Amp\delay;
use function Amp\Socket\connect;
use function Amp\Socket\listen;

/** Stand-ins by hand: keys, dials, cables, locks. */
final class FrontPanelTest extends TestCase
{
    private string $keep;

    protected function setUp(): void
    {
        $this->keep = sys_get_temp_dir().'/vorhut-front-'.bin2hex(random_bytes(5)).'.json';
    }

    protected function tearDown(): void
    {
        foreach ($this->jobs as $job) {
            // One that starts later would stand at another test's address.
            $job->off();
        }
        @unlink($this->keep);
    }

    public function testEveryFamilyOfEveryKindIsKnownAndAsksForSettingsThatAreThere(): void
    {
        $played = [];
        foreach (Jobs::catalogue()->kinds() as $kind) {
            foreach ($kind->plays as $play) {
                $played[$play->family] = true;
                $wants = Parts::FAMILIES[$play->family] ?? self::fail($kind->code.': no family '.$play->family);
                foreach ($play->all() as $word => $value) {
                    self::assertArrayHasKey($word, $wants, $kind->code);
                    self::assertTrue(!$wants[$word] || isset($kind->settings[$value]), "$kind->code: no setting $value");
                }
                foreach (array_keys($play->pairs('equal') + $play->pairs('needs')) as $mine) {
                    self::assertArrayHasKey($mine, $kind->settings, $kind->code);
                }
            }
        }
        self::assertSame([], array_diff_key(Parts::FAMILIES, $played), 'no family is nobody\'s');
    }

    public function testWhatThisLabDoesNotKnowIsNotPlayedAndStopsNothing(): void
    {
        $kind = Jobs::catalogue()->read('x', ['plays' => [['family' => 'levitate']]] + Jobs::files('kinds')['scene-store']);
        $this->front('scene-store');
        self::assertSame([], Parts::of(
            new StandIn($kind, $this->standIn->state, $this->job, 1.0),
            $this->job,
        ));
    }

    public function testUnderANewVersionOfItsKindItHoldsWhatItHeldAndWhoIsGoneIsSilent(): void
    {
        $this->front('scene-store', ['address' => '10.31.20.9']);
        $this->standIn->configure('hostName', 'held');
        $jobs = static fn (): Jobs => (new Jobs())->segment('v', '10.31.20.0/24', '10.31.20.1');
        $one = $jobs()->device('it', 'scene-store', 'v', ['address' => '10.31.20.9'], ['serial' => 'NM1']);
        $this->job->follow($one->plan(), []);
        self::assertSame($this->standIn, $this->job->standIn('it'), 'nothing is new');

        $source = Catalogue::encode(['boot' => 33] + Jobs::files('kinds')['scene-store']);
        $this->job->follow($one->row('ownKinds', ['key' => 'scene-store', 'source' => $source, 'version' => 1])->plan(), []);
        $new = $this->job->standIn('it') ?? self::fail('nobody plays it');
        self::assertFalse($this->standIn->isUp());
        self::assertSame(33, $new->kind->boot);
        self::assertSame('held', $new->state->get('hostName'));
        $this->standIn = $new;
        $this->waits();
        self::assertTrue($new->isUp(), 'it starts anew');

        $this->job->follow($jobs()->plan(), []);
        self::assertNull($this->job->standIn('it'));
        self::assertFalse($new->isUp());
    }

    public function testAnAddressIsNotLeasedWhileADeviceStillRunsAtIt(): void
    {
        $this->front('presentation-gateway-internet', ['address' => '10.31.20.9']);
        $two = (new Jobs())->segment('v', '10.31.20.0/24', '10.31.20.1');
        foreach (['it' => '10.31.20.9', 'near' => '10.31.20.10'] as $key => $address) {
            $two->device($key, 'presentation-gateway-internet', 'v', ['address' => $address], ['serial' => 'NM1']);
        }
        $this->job->follow($two->plan(), []);
        $this->job->benchIn(null, true);
        $this->standIn->state->leased = true;
        $this->standIn->restart();
        $this->waits();
        $leased = (string) $this->standIn->runsAt();
        self::assertNotSame('10.31.20.9', $leased);
        $this->standIn->configure('address', '10.31.20.9');
        $other = $this->job->standIn('near') ?? self::fail('nobody plays it');
        $other->state->leased = true;
        $this->job->lease($other);
        self::assertNotSame($leased, $other->state->get('address'));
        $this->standIn->off();
        $this->job->lease($other);
        self::assertSame($leased, $other->state->get('address'));
    }

    public function testAStoreOfScenesIsProgrammedAtTheDeskAndNotWhileTheNetworkSends(): void
    {
        $front = $this->front('scene-store', ['holdSeconds.set' => '5']);
        self::assertFalse($front->touch(new Stimulus(Stimulus::HOLD, '1', 6)), 'nothing comes in yet');
        self::assertTrue($front->touch(new Stimulus(Stimulus::PLUG, 'warm house light')));
        self::assertSame('programming', $front->shows()['lamps']['mode']);
        self::assertFalse($front->touch(new Stimulus(Stimulus::HOLD, '1', 4)), 'too short');
        self::assertTrue($front->touch(new Stimulus(Stimulus::HOLD, '1', 5)));
        self::assertFalse($front->touch(new Stimulus(Stimulus::KEY, '1')), 'keys call nothing while it is programmed');
        $front->touch(new Stimulus(Stimulus::PULL));
        self::assertTrue($front->touch(new Stimulus(Stimulus::KEY, '1')));
        self::assertSame('warm house light', $front->shows()['lamps']['plays']);
        self::assertFalse($front->touch(new Stimulus(Stimulus::HOLD, '2', 9)), 'holding does nothing any more');
        $front->touch(new Stimulus(Stimulus::KEY, '1'));
        self::assertSame('', $front->shows()['lamps']['plays'], 'the same key puts it out');

        $front->touch(new Stimulus(Stimulus::PLUG, 'network'));
        self::assertSame('node', $front->shows()['lamps']['mode']);
        self::assertFalse($front->touch(new Stimulus(Stimulus::HOLD, '2', 9)), 'a node stores nothing');
        self::assertNull($front->put('sceneName.2', 'Show'), 'the third way: on its page, or by hand here');
        self::assertSame('1 warm house light', $front->shows()['lamps']['stored']);
    }

    public function testALockOpensForGoodOrForDaysAndAFullResetLocksItAgain(): void
    {
        // A day a second.
        $front = $this->front('multi-room-controller', [], 86400.0);
        self::assertSame('locked', $front->put('inputSource.1', '2'));
        self::assertFalse($front->touch(new Stimulus(Stimulus::UNLOCK, 'a guess')));
        self::assertTrue($front->touch(new Stimulus(Stimulus::UNLOCK, 'for 30 days')));
        self::assertStringStartsWith('open for ', $front->shows()['lamps']['lock']);
        self::assertNull($front->put('inputSource.1', '2'));
        $this->standIn->state->extra['unlocked since'] = (string) ($this->standIn->time() - 31 * 86400);
        self::assertSame('locked', $front->put('inputSource.1', '3'), 'after thirty days it shuts');
        self::assertTrue($front->touch(new Stimulus(Stimulus::UNLOCK, $this->standIn->state->firstPassword)));
        self::assertSame('open', $front->shows()['lamps']['lock']);
        $this->standIn->reset();
        $this->waits();
        self::assertSame('locked', $front->shows()['lamps']['lock']);
    }

    public function testAKeyIsGoodForOneDeviceAndOneNumber(): void
    {
        $front = $this->front('fax-server');
        self::assertSame('licensed for 2', $front->put('channels', '4'));
        $id = $front->shows()['lamps'][Licence::ID];
        self::assertFalse($front->touch(new Stimulus(Stimulus::LICENCE, Licence::key('another', 'fax-channels', 4))));
        self::assertFalse($front->touch(new Stimulus(Stimulus::LICENCE, '8-'.substr(Licence::key($id, 'fax-channels', 4), 2))));
        self::assertTrue($front->touch(new Stimulus(Stimulus::LICENCE, Licence::key($id, 'fax-channels', 4))));
        self::assertNull($front->put('channels', '4'));
        self::assertSame('licensed for 4', $front->put('channels', '6'));
    }

    public function testADialCountsWhenPowerComesAndAWindowOnlyForItsSeconds(): void
    {
        $front = $this->front('ptz-camera', [], 1.0);
        $front->put('dialSize', '3');
        self::assertSame('0', $front->shows()['held']['dialSize'], 'turned under power it does nothing');
        $front->power(false);
        $front->power(true);
        self::assertSame('3', $front->shows()['held']['dialSize']);
        self::assertNotNull($front->put('dialSize', '99'), 'it has sixteen places');
        self::assertNotNull($front->put('nothing', '1'));

        $phone = $this->front('desk-phone-poe', [], 1.0);
        self::assertTrue($phone->reset(), 'at once');
        $this->standIn->state->extra['powered at'] = (string) ($this->standIn->time() - 9);
        self::assertFalse($phone->reset(), 'after nine seconds the timer was quicker');
    }

    public function testTheFrontsAreServedToThisMachineAloneAndNoOtherSitePressesKeys(): void
    {
        $front = $this->front('scene-store');
        $probe = listen('127.0.0.1:0');
        $port = (int) substr((string) strrchr($probe->getAddress()->toString(), ':'), 1);
        $probe->close();
        PanelServer::open($port, fn (): array => ['story' => $this->job]);
        $ask = static function (string $method, string $path, string $body = '', string $more = '') use ($port): string {
            $socket = connect('127.0.0.1:'.$port);
            $socket->write("$method $path HTTP/1.1\r\nHost: 127.0.0.1:$port\r\n{$more}Content-Length: ".\strlen($body)."\r\n\r\n".$body);
            $all = '';
            while (null !== $part = $socket->read()) {
                $all .= $part;
            }

            return $all;
        };
        self::assertStringContainsString('href="/story/it"', $ask('GET', '/story'));
        self::assertStringContainsString('Scene store', $ask('GET', '/story/it'));
        self::assertStringContainsString('"mode":"standalone"', $ask('GET', '/story/it.json'));
        self::assertStringStartsWith('HTTP/1.1 303', $ask('POST', '/story/it', 'do=plug&with=desk'));
        self::assertSame('programming', $front->shows()['lamps']['mode']);
        self::assertStringStartsWith('HTTP/1.1 400', $ask('POST', '/story/it', 'do=pull', "Origin: https://elsewhere.example\r\n"));
        self::assertStringStartsWith('HTTP/1.1 400', $ask('GET', '/story', '', "Host: elsewhere.example\r\n"));
        self::assertSame('programming', $front->shows()['lamps']['mode'], 'nobody pulled it');
        self::assertStringStartsWith('HTTP/1.1 404', $ask('GET', '/story/nobody'));
        self::assertStringStartsWith('HTTP/1.1 422', $ask('POST', '/story/it.json', 'do=put&with=priority&value=999'));
        self::assertStringContainsString('&lt;b&gt;', $ask('GET', '/story/it?said=%3Cb%3E'));
    }

    private Simulation $job;
    /** @var list<Simulation> */
    private array $jobs = [];
    private StandIn $standIn;

    /** @param array<string, string> $values */
    private function front(string $kind, array $values = [], float $pace = 500.0): FrontPanel
    {
        $plan = (new Jobs())->segment('v', '10.31.20.0/24', '10.31.20.1')->device('it', $kind, 'v', $values, ['serial' => 'NM1'])->plan();
        $this->job = new Simulation($plan, 'http://127.0.0.1:1/', $this->keep, $pace, static function (string $said): void {
        }, new Loopback(31));
        $this->jobs[] = $this->job;
        $this->job->follow($plan, ['devices/it#label' => 'of the label']);
        $this->standIn = $this->job->standIn('it') ?? self::fail('nobody plays it');
        foreach ($values as $name => $value) {
            $this->standIn->configure(explode('.', $name)[0], $value);
        }
        $front = new FrontPanel($this->standIn);
        $front->power(true);
        // At the pace of life nobody waits for it here.
        if ($pace > 1.0) {
            $this->waits();
        }

        return $front;
    }

    private function waits(): void
    {
        for ($try = 0; $try < 100 && !$this->standIn->isUp(); ++$try) {
            delay(0.02);
        }
    }
}
