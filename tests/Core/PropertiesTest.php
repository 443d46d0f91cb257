<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core;

use PHPUnit\Framework\TestCase;
use Random\Engine\Mt19937;
use Random\Randomizer;
use Vorhut\Core\Allocation\Allocation;
use Vorhut\Core\Bench\Keypad;
use Vorhut\Core\Bench\KeypadProfile;
use Vorhut\Core\Bench\Queue;
use Vorhut\Core\Bench\StopKind;
use Vorhut\Core\Document\BadDocument;
use Vorhut\Core\Document\JobDocument;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Mac;
use Vorhut\Core\Net\Mask;
use Vorhut\Core\Net\Network;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Voice\Dialling\DigitMap;
use Vorhut\Tests\Support\Jobs;

/** What must hold whatever the job, tried on seeded random ones. */
final class PropertiesTest extends TestCase
{
    private static function roster(Randomizer $random): Plan
    {
        $jobs = (new Jobs())->segment('s', '10.64.30.0/26', '10.64.30.1', [
            'pools' => ['10.64.30.40-10.64.30.45'],
            'reserved' => [['range' => '10.64.30.2-10.64.30.4', 'for' => 'x']],
            'blocks' => [['range' => '10.64.30.10-10.64.30.14', 'for' => 'ptz-camera']],
        ])
            ->segment('t', '192.168.1.0/24', '192.168.1.1')->router('r', ['s' => '10.64.30.1/26', 't' => '192.168.1.1/24']);
        $kinds = ['ptz-camera', 'room-codec', 'streaming-encoder', 'desk-phone-poe', 'lighting-node', 'managed-switch'];
        for ($i = $random->getInt(3, 18); $i > 0; --$i) {
            $values = [];
            if ($random->getInt(0, 2) > 0) {
                $values['address'] = '10.64.30.'.$random->getInt(10, 30);
            } elseif ($random->getInt(0, 3) > 2) {
                $values = ['address' => '192.168.1.'.$random->getInt(95, 170)];
            }
            if (isset($values['address']) && $random->getInt(0, 3) > 2) {
                $values['address.set'] = $values['address'];
            }
            $jobs->device('d'.$i, $kinds[$random->getInt(0, 5)], $random->getInt(0, 5) > 0 ? 's' : 't', $values);
        }

        return $jobs->plan();
    }

    private static function letters(Randomizer $random, string $from, int $count): string
    {
        $text = '';
        for (; $count > 0; --$count) {
            $text .= $from[$random->getInt(0, \strlen($from) - 1)];
        }

        return $text;
    }

    public function testAllocationNeverCollidesNeverMovesWhatIsAppliedAndIsDoneOnce(): void
    {
        for ($seed = 1; $seed <= 300; ++$seed) {
            $plan = self::roster(new Randomizer(new Mt19937($seed)));
            foreach ([false, true] as $afresh) {
                $allocation = Allocation::of($plan, $afresh);
                $after = $plan->with($allocation->change());
                $given = array_column($allocation->given, 'after');
                self::assertSame($given, array_unique($given), "seed $seed");
                foreach ($allocation->given as $one) {
                    $segment = $after->segments[$one['nic']->segment ?? ''];
                    $address = Ipv4::fromString($one['after']);
                    self::assertTrue(
                        $segment->network->contains($address)
                            && !$segment->network->isEdge($address)
                            && null === $segment->poolWith($address),
                        "seed $seed: {$one['after']}",
                    );
                }
                foreach ($plan->nics as $key => $nic) {
                    if ($nic->isApplied() && null !== $nic->setting('address')->planned) {
                        self::assertSame($nic->setting('address')->planned, $after->nics[$key]->setting('address')->planned, "seed $seed");
                    }
                }
                self::assertSame([], Allocation::of($after)->given, "seed $seed: nothing left to give");
            }
        }
    }

    public function testNoTwoDevicesHoldOneAddressAtOneTimeOnAnyBench(): void
    {
        for ($seed = 1; $seed <= 200; ++$seed) {
            $plan = self::roster(new Randomizer(new Mt19937($seed)));
            $queue = Queue::of($plan);
            $worked = [];
            foreach ($queue->stops as $stop) {
                $spans = [];
                foreach ($stop->devices() as $device) {
                    $worked[] = $device->key;
                    $slots = array_values(array_filter(
                        $stop->timeline()->slots,
                        static fn (array $slot): bool => $slot['device'] === $device->key,
                    ));
                    self::assertSame(
                        array_map(static fn ($step): string => $step->code, $device->steps),
                        array_column($slots, 'step'),
                        "seed $seed: steps in order",
                    );
                    $named = array_column($slots, null, 'step');
                    if (StopKind::Fixed === $stop->how && isset($named['hook-up'], $named['restart'])) {
                        $spans[(string) $device->factory->address][] = [$named['hook-up']['from'], $named['restart']['waits']];
                    }
                }
                foreach ($spans as $address => $times) {
                    usort($times, static fn (array $a, array $b): int => $a[0] <=> $b[0]);
                    for ($i = 1; $i < \count($times); ++$i) {
                        self::assertGreaterThanOrEqual($times[$i - 1][1], $times[$i][0], "seed $seed: two at $address");
                    }
                }
                $hands = array_map(static fn (array $slot): array => [$slot['from'], $slot['to']], $stop->timeline()->slots);
                usort($hands, static fn (array $a, array $b): int => $a[0] <=> $b[0]);
                for ($i = 1; $i < \count($hands); ++$i) {
                    self::assertGreaterThanOrEqual($hands[$i - 1][1], $hands[$i][0], "seed $seed: one pair of hands");
                }
                self::assertGreaterThanOrEqual($stop->timeline()->bound, $stop->timeline()->finish, "seed $seed");
                if (null !== $stop->laptop) {
                    foreach ($stop->devices() as $device) {
                        self::assertNotSame((string) $stop->laptop, (string) $device->factory->address);
                        self::assertNotSame((string) $stop->laptop, $device->nic()?->setting('address')->planned);
                        self::assertTrue(
                            $device->factory->network()?->contains($stop->laptop),
                            "seed $seed: reaches every device of the stop",
                        );
                    }
                }
            }
            $expected = array_keys(array_filter($plan->devices, static fn ($device): bool => [] !== $device->kind->steps));
            sort($expected);
            sort($worked);
            self::assertSame($expected, $worked, "seed $seed: every device at exactly one stop");
        }
    }

    public function testAnyTypedTextCanBeReadBackFromItsKeys(): void
    {
        $random = new Randomizer(new Mt19937(4));
        foreach (KeypadProfile::names() as $name) {
            $profile = KeypadProfile::find($name) ?? throw new \LogicException();
            for ($i = 0; $i < 200; ++$i) {
                $text = self::letters($random, 'abcxyzABCXYZ0123456789./:', $random->getInt(1, 24));
                $keypad = Keypad::of($text, $profile);
                $mode = 0;
                $read = '';
                foreach ($keypad->groups as $group) {
                    if ($group->isMode()) {
                        $mode = ($mode + $group->presses) % \count($profile->modes);
                    } elseif (!$group->isPause()) {
                        $read .= mb_substr($profile->modes[$mode][$group->key], $group->presses - 1, 1);
                    }
                }
                self::assertSame($text, $read);
                self::assertSame($keypad->presses, array_sum(array_map(static fn ($group): int => $group->presses, $keypad->groups)));
            }
        }
    }

    public function testADigitMapTakesWhatItsPatternTakes(): void
    {
        $random = new Randomizer(new Mt19937(5));
        foreach ([
            '2xxx' => '2\d{3}',
            '0x.T' => '0\d*',
            '9[1-46]x.|11x' => '9[1-46]\d*|11\d',
            '*9[78]' => '\*9[78]',
            '1.2' => '1*2',
        ] as $map => $pattern) {
            $digits = DigitMap::fromString($map);
            for ($i = 0; $i < 400; ++$i) {
                $dialled = self::letters($random, '0112279*', $random->getInt(1, 6));
                self::assertSame(1 === preg_match("/^(?:$pattern)$/D", $dialled), 'full' === $digits->match($dialled), "$map $dialled");
            }
        }
    }

    public function testADamagedDocumentIsRefusedWithPointersAndNeverTakenInPart(): void
    {
        $random = new Randomizer(new Mt19937(6));
        $json = (string) file_get_contents(\dirname(__DIR__, 2).'/demo/museum.json');
        $refused = 0;
        for ($i = 0; $i < 120; ++$i) {
            $at = $random->getInt(0, \strlen($json) - 1);
            $damaged = substr_replace($json, self::letters($random, '0123456789abcxyz"{}[],:', 1), $at, 1);
            try {
                $document = JobDocument::fromJson($damaged, Jobs::catalogue());
                self::assertSame($document->toJson(), JobDocument::fromJson($document->toJson(), Jobs::catalogue())->toJson());
            } catch (BadDocument $e) {
                ++$refused;
                foreach ($e->errors as $error) {
                    self::assertMatchesRegularExpression('~^(/[^ ]*)?$~', $error['pointer']);
                    self::assertNotSame('', (string) $error['message']);
                }
            }
        }
        self::assertGreaterThan(30, $refused);
    }

    public function testEveryAddressAndMacReadsBackFromEveryWayOfWritingIt(): void
    {
        $random = new Randomizer(new Mt19937(7));
        for ($i = 0; $i < 2000; ++$i) {
            $address = Ipv4::fromNumber($random->getInt(0, 0xFFFFFFFF));
            self::assertTrue($address->equals(Ipv4::fromString((string) $address)));
            $mask = Mask::ofPrefix($random->getInt(0, 32));
            self::assertEquals($mask, Mask::fromString($mask->toDotted()));
            $network = Network::around($address, $mask);
            self::assertTrue($network->equals(Network::fromString((string) $network)));
            self::assertTrue($network->contains($network->firstHost()) && $network->contains($network->lastHost()));
            self::assertSame($network->range()->count(), 2 ** (32 - $mask->prefix));
            $mac = Mac::fromString(\sprintf('%02x%s', $random->getInt(0, 127) * 2 & 0xFC, bin2hex($random->getBytes(5))));
            foreach ([$mac->format(':'), $mac->format('-'), $mac->format('.', 4), strtoupper($mac->digits)] as $text) {
                self::assertTrue($mac->equals(Mac::fromString($text)));
            }
        }
    }
}
