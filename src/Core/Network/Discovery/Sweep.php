<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Discovery;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Mac;
use Vorhut\Core\Net\Range;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Observation;
use Vorhut\Core\Plan\Plan;

/** The result of scanning a list, compared with the plan: devices found, missing and unknown. */
final readonly class Sweep
{
    /**
     * @param list<SweepLine> $lines by address
     * @param int             $asked how many addresses
     */
    private function __construct(public array $lines, public int $asked, public Observation $observation)
    {
    }

    /** Of the newest evidence; null before the first scan. */
    public static function latest(Plan $plan, RangeList $list): ?self
    {
        $observation = null;
        foreach ($plan->observations[$list->test()] ?? [] as $one) {
            if ('not-asked' !== $one->outcome && (null === $observation || Observation::compare($observation, $one) < 0)) {
                $observation = $one;
            }
        }

        return null === $observation ? null : self::of($plan, $list, $observation);
    }

    public static function of(Plan $plan, RangeList $list, Observation $observation): self
    {
        $answered = $at = [];
        foreach ($observation->evidence as $line) {
            $one = Answered::tryFromString($line);
            if (null !== $one) {
                $answered[$one->address->number] = $one;
                if (null !== $one->mac) {
                    $at[(string) $one->mac][] = $one->address->number;
                }
            }
        }
        $planned = $owner = [];
        foreach ($plan->nics as $nic) {
            $device = $plan->devices[$nic->device] ?? null;
            $address = $nic->addressAsSet();
            if (null !== $device && null !== $address && !$nic->passive) {
                $planned[$address->number][] = [$device, $nic->mac];
            }
            if (null !== $device && null !== $nic->mac) {
                $owner[(string) $nic->mac] = $device;
            }
        }
        foreach ($plan->routerPorts as $port) {
            $device = $plan->devices[$port->router] ?? null;
            if (null !== $device) {
                $planned[$port->address->number][] = [$device, null];
            }
        }
        $lines = [];
        foreach ($answered as $number => $one) {
            $lines[$number] = self::line($one, $planned[$number] ?? [], $owner, $at);
        }
        foreach ($planned as $number => $there) {
            $address = Ipv4::fromNumber($number);
            if (!isset($lines[$number]) && $list->contains($address)) {
                $lines[$number] = new SweepLine($address, SweepVerdict::Missing, null, $there[0][0], null);
            }
        }
        ksort($lines);

        return new self(array_values($lines), $list->count(), $observation);
    }

    /**
     * @param list<array{Device, Mac|null}> $planned
     * @param array<string, Device>         $owner   MAC → device
     * @param array<string, list<int>>      $at      MAC → addresses at which it answered
     */
    private static function line(Answered $one, array $planned, array $owner, array $at): SweepLine
    {
        $expected = $planned[0][0] ?? null;
        $device = null === $one->mac ? null : $owner[(string) $one->mac] ?? null;
        $meant = $planned[0][1] ?? null;
        // A router, and a port with several addresses, are at several by right.
        $severally = null !== $one->mac && \count($at[(string) $one->mac] ?? []) > 1 && null !== $device && $device !== $expected;
        $verdict = match (true) {
            \count($planned) > 1, $severally => SweepVerdict::Double,
            null !== $device && $device === $expected => SweepVerdict::Right,
            null !== $device => null === $expected ? SweepVerdict::Moved : SweepVerdict::Other,
            null === $expected => SweepVerdict::Stranger,
            null !== $one->mac && null !== $meant => SweepVerdict::Other,
            default => SweepVerdict::Unidentified,
        };

        return new SweepLine($one->address, $verdict, $device, $expected, $one->mac);
    }

    /** @return array<string, int> verdict → how many */
    public function tally(): array
    {
        $tally = [];
        foreach ($this->lines as $line) {
            $tally[$line->verdict->value] = ($tally[$line->verdict->value] ?? 0) + 1;
        }

        return $tally;
    }

    public function answeredCount(): int
    {
        return \count($this->lines) - ($this->tally()[SweepVerdict::Missing->value] ?? 0);
    }

    /**
     * The list without silent addresses that are not planned: those that answered stay, and so does a planned device that was off during
     * the scan.
     *
     * @return list<Range>
     */
    public function withoutSilent(): array
    {
        return Range::covering(array_map(static fn (SweepLine $line): Ipv4 => $line->address, $this->lines));
    }
}
