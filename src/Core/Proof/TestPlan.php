<?php

declare(strict_types=1);

namespace Vorhut\Core\Proof;

use Vorhut\Core\Kind\Service;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Extension;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Facts;
use Vorhut\Core\Plan\Message;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Voice\Dial;
use Vorhut\Core\Voice\Registration;
use Vorhut\Core\Walk\Fabric;
use Vorhut\Core\Walk\Walker;

/**
 * The test lines that a plan yields: few, each says what it covers. Expected is what the walk and the dial plan compute from what was *set*, else
 * planned; an expected "not found by group question, found by range" is a passing expectation.
 */
final readonly class TestPlan
{
    /** @param list<TestLine> $lines */
    private function __construct(public array $lines)
    {
    }

    public static function of(Plan $plan): self
    {
        $fabric = Fabric::of($plan, Face::Set);
        $lines = [];
        foreach ($plan->devices as $device) {
            $from = self::lookedAtFrom($plan, $device);
            $service = $device->kind->serviceNamed('admin');
            if (null === $from || null === $device->nic()?->address->planned) {
                continue;
            }
            if (null !== $service && !$device->kind->isPhone()) {
                $lines[] = self::reach($fabric, $device, $from, $service->port, new Message('{tag} is managed from {segment}.', ['tag' => $device->tag, 'segment' => $plan->segments[$from]->name]));
            }
            if (\in_array('mdns', $device->kind->discovery, true)) {
                $lines[] = self::discover($fabric, $device, $from, $service);
            }
        }
        foreach ($plan->extensions as $extension) {
            if ('sip' === $extension->terminal && null !== $extension->phone) {
                $lines[] = self::register($fabric, $extension);
            }
        }
        foreach (self::calls($plan) as [$caller, $called, $covers]) {
            $lines[] = self::call($fabric, $caller, $called, $covers);
        }
        foreach (self::directCalls($plan) as [$from, $codec]) {
            $lines[] = self::directCall($fabric, $from, $codec);
        }
        foreach ($plan->lines as $added) {
            $to = $plan->deviceTagged($added->to);
            $segment = $plan->segments[$added->from] ?? null;
            if ('reach' === $added->what && null !== $to && null !== $segment) {
                $lines[] = self::reach($fabric, $to, $segment->key, Port::fromString('' === $added->port ? '80/tcp' : $added->port), new Message('Added by hand. {note}', ['note' => $added->note]));
            }
        }
        $unique = [];
        foreach ($lines as $line) {
            $unique[$line->key] ??= $line;
        }

        return new self(array_values($unique));
    }

    public function line(string $key): ?TestLine
    {
        foreach ($this->lines as $line) {
            if ($line->key === $key) {
                return $line;
            }
        }

        return null;
    }

    private static function lookedAtFrom(Plan $plan, Device $device): ?string
    {
        $segment = $device->controlledFrom ?? $device->nic()?->segment;

        return isset($plan->segments[$segment ?? '']) ? $segment : null;
    }

    private static function reach(Fabric $fabric, Device $device, string $segment, Port $port, Message $covers): TestLine
    {
        $from = 'outposts/'.$segment;
        $walk = Walker::between($fabric, $from, $device->key, $port);
        $facts = new Facts();
        $facts->take($walk->facts);

        return new TestLine(
            "reach:$segment>{$device->key}:$port",
            'reach',
            $from,
            $device->key,
            new Message('{tag} answers on {port}, asked from {segment}', ['tag' => $device->tag, 'port' => (string) $port, 'segment' => $fabric->segmentName($segment)]),
            Outcome::Answers,
            $walk->holds() ? Outcome::Answers : Outcome::Silent,
            $walk->broken()->text ?? new Message('The walk holds both ways.'),
            $covers,
            $facts,
            $walk,
            $port,
        );
    }

    private static function discover(Fabric $fabric, Device $device, string $segment, ?Service $service): TestLine
    {
        $facts = new Facts();
        $nic = $device->nic();
        $facts->note('nics/'.($nic->key ?? '').':segment', $nic?->segment);
        $facts->note('devices/'.$device->key.':controlledFrom', $device->controlledFrom);
        $at = ['tag' => $device->tag, 'segment' => $fabric->segmentName($segment)];
        $walk = null;
        if ($nic?->segment === $segment) {
            $held = $nic->address->asOf(Face::Set);
            $facts->note('nics/'.$nic->key.':address', $held);
            $expected = null === $held || '' === $held ? Outcome::NotFound : Outcome::FoundByGroup;
            $because = new Message('Asker and {tag} share {segment}; a group question reaches all of it (RFC 6762).', $at);
        } else {
            $walk = Walker::between($fabric, 'outposts/'.$segment, $device->key, $service->port ?? Port::tcp(80));
            $facts->take($walk->facts);
            $expected = $walk->holds() ? Outcome::FoundByRange : Outcome::NotFound;
            $because = $walk->holds()
                ? new Message('No router passes a group question to 224.0.0.251 on (RFC 6762 §3); its address answers.')
                : new Message('No router passes the group question on, and the address does not answer: {reason}', ['reason' => (string) $walk->broken()?->text]);
        }

        return new TestLine("discover:$segment>{$device->key}", 'discover', 'outposts/'.$segment, $device->key, new Message('{tag} is found from {segment}', $at), $nic?->segment === $segment ? Outcome::FoundByGroup : Outcome::FoundByRange, $expected, $because, new Message('The program that controls {tag} runs on {segment}.', $at), $facts, $walk, $service?->port);
    }

    private static function register(Fabric $fabric, Extension $extension): TestLine
    {
        $segment = self::segmentOfPhone($fabric, $extension);
        // The outpost asks with the account but from its own place: what it proves is the entry, the secret and the way.
        $registration = Registration::fromOutpost($fabric, $extension, 'outposts/'.$segment);
        $at = ['number' => $extension->number, 'segment' => $fabric->segmentName($segment)];

        return new TestLine(
            'register:'.$extension->number,
            'register',
            'outposts/'.$segment,
            (string) $extension->pbx,
            new Message('{number} registers, asked from {segment}', $at),
            Outcome::Registered,
            match (true) {
                $registration->holds => Outcome::Registered,
                true === $registration->walk?->holds() => Outcome::Rejected,
                default => Outcome::Silent,
            },
            $registration->why,
            new Message('Account and secret of {number}, beside the binding of its phone.', $at),
            $registration->facts,
            $registration->walk,
            null,
            $extension->number,
        );
    }

    /**
     * Every phone calls once and is called once, every ordered pair of voice segments is crossed. A ring over all phones does the first with n
     * calls, which is the least possible; the phones stand in it by segment in turn, so that most pairs are crossed on the way, and what is
     * missing is added.
     *
     * @return list<array{Extension, Extension, Message}>
     */
    private static function calls(Plan $plan): array
    {
        $bySegment = [];
        foreach ($plan->extensions as $extension) {
            $phone = $plan->devices[$extension->phone ?? ''] ?? null;
            if ('sip' === $extension->terminal && null !== $phone && null !== $plan->accountOf($extension->key)) {
                $bySegment[$phone->nic()->segment ?? ''][] = $extension;
            }
        }
        ksort($bySegment);
        $ring = [];
        for ($turn = 0; [] !== array_filter($bySegment, static fn (array $list): bool => isset($list[$turn])); ++$turn) {
            foreach ($bySegment as $list) {
                if (isset($list[$turn])) {
                    $ring[] = $list[$turn];
                }
            }
        }
        $segment = static fn (Extension $extension): string => ($plan->devices[$extension->phone ?? ''] ?? null)?->nic()->segment ?? '';
        $calls = [];
        $crossed = [];
        $n = \count($ring);
        for ($i = 0; $i < $n && $n > 1; ++$i) {
            $caller = $ring[$i];
            $called = $ring[($i + 1) % $n];
            $crossed[$segment($caller).'>'.$segment($called)] = true;
            $calls[] = [$caller, $called, new Message('{caller} calls once, {called} is called once.', ['caller' => $caller->number, 'called' => $called->number])];
        }
        foreach ($bySegment as $a => $callers) {
            foreach ($bySegment as $b => $called) {
                if ($a !== $b && !isset($crossed[$a.'>'.$b])) {
                    $calls[] = [$callers[0], $called[0], new Message('The pair {a} to {b} is crossed.', ['a' => $plan->segments[$a]->name ?? '?', 'b' => $plan->segments[$b]->name ?? '?'])];
                }
            }
        }

        return $calls;
    }

    private static function call(Fabric $fabric, Extension $caller, Extension $called, Message $covers): TestLine
    {
        $segment = self::segmentOfPhone($fabric, $caller);
        $dial = Dial::of($fabric, $caller, $called->number, 'outposts/'.$segment);
        $facts = new Facts();
        $facts->take($dial->facts);
        $at = ['caller' => $caller->number, 'called' => $called->number, 'tag' => $fabric->device($called->phone)->tag ?? '?'];

        return new TestLine(
            "call:{$caller->number}>{$called->number}",
            'call',
            'outposts/'.$segment,
            (string) $called->phone,
            new Message('{caller} calls {called}, {tag} answers', $at),
            Outcome::DeviceAnswers,
            match (true) {
                'device' === $dial->outcome && $dial->sound => Outcome::DeviceAnswers,
                'device' === $dial->outcome => Outcome::OneWaySound,
                'voicemail' === $dial->outcome => Outcome::Voicemail,
                default => Outcome::NotAnswered,
            },
            $dial->steps[array_key_last($dial->steps) ?? 0] ?? new Message(''),
            $covers,
            $facts,
            $dial->walk,
            null,
            $caller->number,
            $called->number,
        );
    }

    /**
     * Each codec is called from the segment of each other codec, or from its own where it is alone.
     *
     * @return list<array{string, Device}>
     */
    private static function directCalls(Plan $plan): array
    {
        $codecs = array_values(array_filter($plan->devices, static fn (Device $device): bool => 'codec' === $device->kind->family && null !== $device->nic()?->segment && null !== $device->nic()->address->planned));
        $calls = [];
        foreach ($codecs as $codec) {
            foreach (\count($codecs) > 1 ? $codecs : [] as $other) {
                if ($other !== $codec) {
                    $calls[$other->nic()?->segment.'>'.$codec->key] = [(string) $other->nic()?->segment, $codec];
                }
            }
            if (1 === \count($codecs)) {
                $calls[] = [(string) $codec->nic()?->segment, $codec];
            }
        }

        return array_values($calls);
    }

    private static function directCall(Fabric $fabric, string $segment, Device $codec): TestLine
    {
        $facts = new Facts();
        $walk = Walker::between($fabric, 'outposts/'.$segment, $codec->key, Port::udp(Registration::SIP_PORT));
        $facts->take($walk->facts);
        $at = ['tag' => $codec->tag, 'segment' => $fabric->segmentName($segment)];

        return new TestLine(
            "direct:$segment>{$codec->key}",
            'call',
            'outposts/'.$segment,
            $codec->key,
            new Message('{tag} is called directly from {segment}', $at),
            Outcome::DeviceAnswers,
            $walk->holds() ? Outcome::DeviceAnswers : Outcome::NotAnswered,
            $walk->broken()->text ?? new Message('The walk holds both ways.'),
            new Message('Codec {tag} answers without a PBX.', $at),
            $facts,
            $walk,
            Port::udp(Registration::SIP_PORT),
        );
    }

    private static function segmentOfPhone(Fabric $fabric, Extension $extension): string
    {
        return $fabric->device($extension->phone)?->nic()->segment ?? '';
    }
}
