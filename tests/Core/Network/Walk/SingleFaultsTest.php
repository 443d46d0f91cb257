<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Network\Walk;

use PHPUnit\Framework\Attributes\Group;
use PHPUnit\Framework\TestCase;
use Random\Engine\Mt19937;
use Random\Randomizer;
use Vorhut\Core\Analysis\Findings;
use Vorhut\Core\Analysis\ShippedRules;
use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Network\Reachability\RequiredFlows;
use Vorhut\Core\Network\Walk\Cure;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Network\Walk\Walker;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Nic;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\SettingRef;
use Vorhut\Core\Sample\SampleJob;
use Vorhut\Core\Text\Message;
use Vorhut\Tests\Support\Jobs;

/** One slip in a sound job, and a walk that it broke: what is proposed first is what undoes it. `SLIPS=3000` tries as many. */
#[Group('seeds')]
final class SingleFaultsTest extends TestCase
{
    private const SLIPS = 120;
    private const SHARE = 0.97;

    public function testTheSlipThatWasMadeIsTheFirstThatIsProposed(): void
    {
        $wanted = (int) (getenv('SLIPS') ?: self::SLIPS);
        $tried = $right = 0;
        $other = $none = [];
        for ($seed = 1; $tried < $wanted; ++$seed) {
            $random = new Randomizer(new Mt19937($seed));
            $chance = static fn (int $below): int => $random->getInt(0, $below - 1);
            $sound = SampleJob::of(Jobs::catalogue(), $random->getInt(24, 60), $random->getInt(3, 7), $chance, 60);
            for ($n = 0; $n < 12 && $tried < $wanted; ++$n) {
                [$name, $slip] = self::slip($sound, $chance);
                if (null === $slip) {
                    continue;
                }
                $plan = $sound->with($slip);
                $walk = self::brokenBy($sound, $plan, $slip, $chance);
                if (null === $walk) {
                    continue;
                }
                ++$tried;
                [$from, $to, $port] = $walk;
                $cure = Cure::of($plan, Face::Set, $from, $to, $port);
                $said = "seed $seed, $name: ".json_encode($slip->edits).", $from > $to $port: "
                    .Walker::between(NetworkModel::of($plan, Face::Set), $from, $to, $port)->brokenHop()?->text;
                if (null === $cure) {
                    $none[] = $said;
                } elseif (self::undoes($cure, $slip)) {
                    ++$right;
                } else {
                    $other[] = "$said => $cure->why";
                }
            }
        }
        self::assertSame([], $none, 'never none');
        self::assertGreaterThanOrEqual(self::SHARE, $right / $tried, "$right of $tried\n".implode("\n", $other));
    }

    /** A job with one slip that keeps it from working has a finding about the very thing that slipped; `SLIPS=300` tries as many jobs. */
    public function testTheFindingsNameTheCause(): void
    {
        $wanted = (int) (getenv('SLIPS') ?: intdiv(self::SLIPS, 2));
        $tried = 0;
        $unnamed = [];
        for ($seed = 5000; $tried < $wanted; ++$seed) {
            $random = new Randomizer(new Mt19937($seed));
            $chance = static fn (int $below): int => $random->getInt(0, $below - 1);
            $sound = SampleJob::of(Jobs::catalogue(), $random->getInt(24, 60), $random->getInt(3, 7), $chance, 60);
            for ($n = 0, $made = false; $n < 12 && !$made; ++$n) {
                [$name, $slip] = self::slip($sound, $chance);
                $plan = null === $slip ? $sound : $sound->with($slip);
                $records = null === $slip ? [] : self::slipped($plan, $slip->edits[0]);
                if (null === $slip || null === self::brokenBy($sound, $plan, $slip, $chance) || !self::isNeeded($plan, $slip->edits[0])) {
                    continue;
                }
                $made = true;
                ++$tried;
                $named = array_filter(
                    Findings::of($plan, ShippedRules::all())->all,
                    static fn (Finding $one): bool => Severity::Blocks === $one->severity
                        && [] !== array_intersect($records, \array_slice($one->records, 0, 2)),
                );
                if ([] === $named) {
                    $unnamed[] = "seed $seed, $name: ".json_encode($slip->edits);
                }
            }
        }
        self::assertSame([], $unnamed);
    }

    /** @return list<string> what slipped, and whose it is */
    private static function slipped(Plan $plan, Edit $edit): array
    {
        $record = 'settings' === $edit->section ? SettingRef::fromString($edit->key)->record() : $edit->record();
        $key = explode('/', $record)[1];
        $owner = match ($edit->section) {
            'settings', 'nics' => $plan->nics[$key]->device,
            'routerPorts' => $plan->routerPorts[$key]->router,
            'routes' => $plan->routes[$key]->router,
            'filters' => \is_string($edit->row['router'] ?? null) ? $edit->row['router'] : null,
            default => null,
        };

        return null === $owner ? [$record] : [$record, 'devices/'.$owner];
    }

    /** A laptop goes from wire to wire, and a rule may keep out what nobody needs. */
    private static function isNeeded(Plan $plan, Edit $edit): bool
    {
        if ('filters' === $edit->section) {
            $model = NetworkModel::of($plan, Face::Set);
            foreach (RequiredFlows::of($plan) as $flow) {
                if (!Walker::between($model, $flow->from, $flow->to, $flow->port)->holds()) {
                    return true;
                }
            }

            return false;
        }
        $owner = substr(self::slipped($plan, $edit)[1] ?? '', 8);

        return true !== ($plan->devices[$owner] ?? null)?->kind->has(Role::Workstation);
    }

    /** The cure touches the very fields that the slip touched, and nothing but their other faces. */
    private static function undoes(Change $cure, Change $slip): bool
    {
        $place = static fn (Edit $edit): string => 'settings' === $edit->section || null === $edit->row
            ? $edit->record().('settings' === $edit->section ? '' : ' '.$edit->field)
            : $edit->section.' of '.(\is_string($edit->row['router'] ?? null) ? $edit->row['router'] : '');
        $of = static fn (Change $change): array => array_values(array_unique(array_map($place, $change->edits)));
        $cured = $of($cure);
        $made = $of($slip);
        sort($cured);
        sort($made);

        return $cured === $made;
    }

    /**
     * @param \Closure(int): int $chance
     *
     * @return array{string, Change|null}
     */
    private static function slip(Plan $plan, \Closure $chance): array
    {
        $nics = array_values(array_filter(
            $plan->nics,
            static fn (Nic $nic): bool => null !== $nic->plannedAddress() && null !== $nic->segment && 'backbone' !== $nic->segment,
        ));
        $nic = $nics[$chance(\count($nics))];
        $near = $nics[$chance(\count($nics))];
        $there = $plan->nicsOn((string) $nic->segment);
        $beside = $there[$chance(\count($there))]->plannedAddress();
        $address = (string) $nic->plannedAddress();
        $ports = array_values($plan->routerPorts);
        $port = $ports[$chance(\count($ports))];
        $routes = array_values($plan->routes);
        $segment = $plan->segments[(string) $nic->segment];
        // Typed other than planned, or the plan itself was wrong already and nobody knows any more what was meant.
        $set = static function (string $name, ?string $value) use ($nic, $chance): ?Change {
            $held = $nic->setting($name);
            if (null === $value || $value === $held->effective(Face::Set)) {
                return null;
            }
            $ref = $nic->record().'#'.$name;
            $typed = Edit::setting($ref, Face::Set, $held->set, $value);

            return new Change(new Message('slip'), 0 === $chance(2)
                ? [$typed]
                : [Edit::setting($ref, Face::Planned, $held->own(Face::Planned), $value), ...(null === $held->set ? [] : [$typed])]);
        };
        $swapped = static function (string $text) use ($chance): string {
            $at = $chance(\strlen($text) - 1);
            [$text[$at], $text[$at + 1]] = [$text[$at + 1], $text[$at]];

            return $text;
        };
        $slips = [
            'digits swapped' => static fn (): ?Change => null === \Vorhut\Core\Net\Ipv4::tryFromString($other = $swapped($address))
                ? null
                : $set('address', $other),
            'address of a neighbour' => static fn (): ?Change => $set('address', (string) $beside),
            'factory address left' => static fn (): ?Change => $set(
                'address',
                (string) ($plan->devices[$nic->device]->factory->address ?? '169.254.7.9'),
            ),
            'self-assigned' => static fn (): ?Change => $set('address', '169.254.17.4'),
            'mask too wide' => static fn (): ?Change => $set('mask', ['/16', '/12', '/8'][$chance(3)]),
            'mask too narrow' => static fn (): ?Change => $set('mask', ['/28', '/29', '/30'][$chance(3)]),
            'gateway blank' => static fn (): ?Change => $set('gateway', ''),
            'gateway of another segment' => static fn (): ?Change => $set(
                'gateway',
                (string) ($plan->segments[(string) $near->segment]->gateway ?? ''),
            ),
            'gateway is itself' => static fn (): ?Change => $set('gateway', $address),
            'gateway mistyped' => static fn (): ?Change => $set('gateway', preg_replace('/[0-9]+$/', '9', (string) $segment->gateway)),
            'wrong wire' => static fn (): ?Change => $near->segment === $nic->segment
                ? null
                : self::change(Edit::put('nics', $nic->key, 'segment', $nic->segment, $near->segment)),
            'interface of the router' => static fn (): Change => self::change(Edit::put(
                'routerPorts',
                $port->key,
                'address',
                (string) $port->address,
                (string) $port->address->plus(3),
            )),
            'mask of the router' => static fn (): Change => self::change(Edit::put(
                'routerPorts',
                $port->key,
                'mask',
                (string) $port->mask,
                '/30',
            )),
            'route by another' => static fn (): ?Change => [] === $routes ? null : self::change(Edit::put(
                'routes',
                $routes[0]->key,
                'via',
                (string) $routes[0]->via,
                (string) $routes[0]->via->plus(9),
            )),
            'rule that denies' => static fn (): Change => self::change(Edit::add('filters', [
                'key' => 'slip',
                'router' => $port->router,
                'position' => 50,
                'to' => $nic->segment,
                'transport' => 'any',
                'action' => 'deny',
            ])),
            'gateway of the segment' => static fn (): ?Change => null === $segment->gateway ? null : self::change(Edit::put(
                'segments',
                $segment->key,
                'gateway',
                (string) $segment->gateway,
                (string) $segment->gateway->plus(6),
            )),
        ];
        $name = array_keys($slips)[$chance(\count($slips))];

        return [$name, $slips[$name]()];
    }

    private static function change(Edit $edit): Change
    {
        return new Change(new Message('slip'), [$edit]);
    }

    /**
     * A walk that held and does not any more, of those that the slip has to do with.
     *
     * @param \Closure(int): int $chance
     *
     * @return array{string, string, Port|null}|null
     */
    private static function brokenBy(Plan $sound, Plan $plan, Change $slip, \Closure $chance): ?array
    {
        $before = NetworkModel::of($sound, Face::Set);
        $after = NetworkModel::of($plan, Face::Set);
        $nic = $sound->nics[explode('#', str_replace('nics/', '', $slip->edits[0]->key))[0]] ?? null;
        $devices = array_values(array_map(static fn (Nic $one): string => $one->device, array_filter(
            $sound->nics,
            static fn (Nic $one): bool => null !== $one->plannedAddress(),
        )));
        $places = array_map(static fn (string $key): string => 'outposts/'.$key, array_keys($sound->segments));
        for ($try = 0; $try < 60; ++$try) {
            $to = null !== $nic && $chance(3) > 0 ? $nic->device : $devices[$chance(\count($devices))];
            $from = 0 === $chance(2) ? $places[$chance(\count($places))] : $devices[$chance(\count($devices))];
            $services = $sound->devices[$to]->kind->services;
            $port = [] === $services ? null : ($services[$chance(\count($services))]->port ?? null);
            if (
                $from !== $to
                && Walker::between($before, $from, $to, $port)->holds()
                && !Walker::between($after, $from, $to, $port)->holds()
            ) {
                return [$from, $to, $port];
            }
        }

        return null;
    }
}
