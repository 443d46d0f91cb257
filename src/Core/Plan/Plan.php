<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Catalogue\Catalogue;
use Vorhut\Core\Catalogue\Country;
use Vorhut\Core\Catalogue\Kind;
use Vorhut\Core\Catalogue\KindPort;
use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Catalogue\Setting;
use Vorhut\Core\Catalogue\SettingScope;
use Vorhut\Core\Catalogue\ValueType;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Ipv6;
use Vorhut\Core\Net\Mac;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Net\Mask;
use Vorhut\Core\Net\Network6;

/**
 * The snapshot: one job at one moment, immutable, indexed once. All computation reads this and nothing else.
 *
 * It keeps the plain rows it was made of beside the typed objects, so that a change can be tried on it (`with()`) and so that
 * what is exported is what was read.
 *
 * @phpstan-import-type RowData from Edit
 *
 * @phpstan-type Rows array<string, array<array-key, RowData>>
 */
final class Plan
{
    /** Settings of a provider's file that a prediction of its phones needs. */
    private const DECIDES_REGISTRATION = ['transport', 'registrarPort'];

    /** Sections of which nothing else in a snapshot is made. */
    public const LIGHT = ['routes', 'routes6', 'filters'];

    /** @var array<string, Segment> */
    public readonly array $segments;
    /** @var array<string, Device> in roster order */
    public readonly array $devices;
    /** @var array<string, Nic> */
    public readonly array $nics;
    /** @var array<string, RouterPort> */
    public readonly array $routerPorts;
    /** @var array<string, StaticRoute> */
    public readonly array $routes;
    /** @var array<string, StaticRoute6> */
    public readonly array $routes6;
    /** @var list<FilterRule> by position */
    public readonly array $filters;
    /** @var array<string, NamedTime> */
    public readonly array $timeFrames;
    /** @var array<string, Trunk> */
    public readonly array $trunks;
    /** @var list<CallRoute> by position */
    public readonly array $callRoutes;
    /** @var list<InboundRoute> by position */
    public readonly array $inboundRoutes;
    /** @var array<string, Terminal> */
    public readonly array $terminals;
    /** @var array<string, RingGroup> */
    public readonly array $ringGroups;
    /** @var array<string, CallMenu> */
    public readonly array $menus;
    /** @var array<string, Cable> */
    public readonly array $cables;
    /** @var array<string, Stream> */
    public readonly array $streams;
    /** @var array<string, SoundPatch> */
    public readonly array $soundPatches;
    /** @var list<Translation> by position */
    public readonly array $translations;
    /** @var array<string, Extension> by key, in the order of numbers */
    public readonly array $extensions;
    /** @var array<string, Account> */
    public readonly array $accounts;
    /** @var array<string, AddedTest> */
    public readonly array $tests;
    /** @var array<string, list<Observation>> test → observations, in the order in which they came */
    public readonly array $observations;
    public readonly Row $job;
    /** @var array<string, array<string, RowData>> record → slot → what is stored of it */
    private readonly array $values;

    /** @var array<string, list<Nic>>|null segment → ports */
    private ?array $nicsOn = null;
    /** @var array<string, list<RouterPort>>|null segment → interfaces of routers */
    private ?array $routerPortsOn = null;
    /** @var array<array-key, Device> by tag in small letters, and by key */
    private array $byTag = [];
    /** @var array<array-key, Extension> */
    private array $byNumber = [];
    /** @var array<string, list<Extension>> phone → its numbers */
    private array $extensionsOf = [];
    /** @var array<string, list<Terminal>> extension → its further terminals */
    private array $terminalsOf = [];
    /** @var array<string, list<Stream>>|null device → what it sends; made when somebody asks */
    private ?array $streamsOf = null;
    /** @var array<string, Account> extension → account */
    private array $accountOf = [];
    /** @var array<string, RowData> owner#purpose */
    private array $credentialRows = [];
    /** @var array<string, int> role → how many devices have it, of those that were asked for */
    private array $having = [];
    /** @var array<string, list<RowData>> device → its marks */
    private readonly array $markRows;
    /** What ships, with the job's own kinds over it. */
    public readonly Catalogue $catalogue;
    /** @var array<string, array<string, Mark>> device → step → mark, of those that were asked for */
    private array $marks = [];
    /** @var array<string, string>|null phone → the hosted registrar of its number */
    private ?array $providers = null;
    private ?EmergencyNumbers $emergencyNumbers = null;
    public readonly Derived $derived;
    private ?Country $country = null;

    /**
     * @param RowData   $jobRow
     * @param Rows      $rows
     * @param self|null $like   a snapshot that differs in nothing but what routers do with packets: all else is taken over as it is
     */
    private function __construct(private readonly array $jobRow, private readonly array $rows, Catalogue $catalogue, ?self $like = null)
    {
        $this->derived = new Derived();
        $this->catalogue = null !== $like ? $catalogue : $catalogue->with(array_map(
            static fn (array $row): string => (new Row($row))->text('source'),
            $rows['ownKinds'] ?? [],
        ));
        $this->routes = $this->each('routes', StaticRoute::fromRow(...));
        $this->routes6 = $this->each('routes6', StaticRoute6::fromRow(...));
        $this->filters = $this->indexAndSort(
            'filters',
            FilterRule::fromRow(...),
            static fn (FilterRule $one): array => [$one->position, $one->key],
        );
        $this->job = $like->job ?? new Row($jobRow);
        $this->segments = $like->segments ?? $this->each('segments', Segment::fromRow(...));
        $this->values = $like->values ?? self::valuesOf($rows['settings'] ?? []);
        $kindOf = null !== $like
            ? []
            : array_map(fn (array $row): ?Kind => $this->catalogue->kind((new Row($row))->text('kind')), $rows['devices'] ?? []);
        $this->nics = $like->nics ?? $this->each('nics', fn (Row $row): Nic => $this->nic($row, $kindOf[$row->text('device')] ?? null));
        $this->devices = $like->devices ?? $this->inRoster();
        $this->routerPorts = $like->routerPorts ?? $this->each('routerPorts', RouterPort::fromRow(...));
        $this->translations = $like->translations ?? $this->indexAndSort(
            'translations',
            Translation::fromRow(...),
            static fn (Translation $one): array => [$one->position, $one->key],
        );
        $extensions = $like->extensions ?? $this->each('extensions', Extension::fromRow(...));
        if (null === $like) {
            uasort($extensions, static fn (Extension $a, Extension $b): int => [$a->number, $a->key]
                <=> [$b->number, $b->key]);
        }
        $this->extensions = $extensions;
        $this->terminals = $like->terminals ?? $this->each('terminals', Terminal::fromRow(...));
        $this->accounts = $like->accounts ?? $this->each('accounts', $this->account(...));
        $this->timeFrames = $like->timeFrames ?? $this->each('timeFrames', NamedTime::fromRow(...));
        $this->trunks = $like->trunks ?? $this->each('trunks', Trunk::fromRow(...));
        $this->callRoutes = $like->callRoutes ?? $this->indexAndSort(
            'callRoutes',
            CallRoute::fromRow(...),
            static fn (CallRoute $one): array => [$one->position, $one->key],
        );
        $this->inboundRoutes = $like->inboundRoutes ?? $this->indexAndSort(
            'inboundRoutes',
            InboundRoute::fromRow(...),
            static fn (InboundRoute $one): array => [$one->position, $one->key],
        );
        $this->ringGroups = $like->ringGroups ?? $this->each('ringGroups', RingGroup::fromRow(...));
        $this->menus = $like->menus ?? $this->each('menus', CallMenu::fromRow(...));
        $this->cables = $like->cables ?? $this->each('cables', Cable::fromRow(...));
        $this->streams = $like->streams ?? $this->indexStreams();
        $this->soundPatches = $like->soundPatches ?? $this->each('soundPatches', SoundPatch::fromRow(...));
        $this->markRows = $like->markRows ?? self::markRowsOf($rows['marks'] ?? []);
        $this->tests = $like->tests ?? $this->each('tests', AddedTest::fromRow(...));
        $this->observations = $like->observations ?? $this->indexObservations();
        if (null === $like) {
            $this->index();
        } else {
            $this->indexAs($like);
        }
    }

    /**
     * @param array<array-key, RowData> $settings
     *
     * @return array<string, array<string, RowData>> record → slot → what is stored of it
     */
    private static function valuesOf(array $settings): array
    {
        $values = [];
        foreach ($settings as $key => $row) {
            $key = (string) $key;
            $at = strpos($key, '#') ?: \strlen($key);
            $values[substr($key, 0, $at)][substr($key, $at + 1)] = $row;
        }

        return $values;
    }

    /** @return array<string, Device> */
    private function inRoster(): array
    {
        $nicsOf = [];
        foreach ($this->nics as $nic) {
            $nicsOf[$nic->device][] = $nic;
        }
        $devices = $this->each('devices', fn (Row $row): Device => $this->device($row, $nicsOf[$row->text('key')] ?? []));
        uasort($devices, static fn (Device $a, Device $b): int => [$a->position, $a->key] <=> [$b->position, $b->key]);

        return $devices;
    }

    /** @return array<string, Stream> */
    private function indexStreams(): array
    {
        $receivers = [];
        foreach ($this->rows['deliveries'] ?? [] as $row) {
            $receivers[(new Row($row))->text('stream')][] = (new Row($row))->text('device');
        }

        return $this->each('streams', static fn (Row $row): Stream => Stream::fromRow($row, $receivers[$row->text('key')] ?? []));
    }

    /**
     * @param array<array-key, RowData> $rows
     *
     * @return array<string, list<RowData>> device → its marks
     */
    private static function markRowsOf(array $rows): array
    {
        $marks = [];
        foreach ($rows as $row) {
            $marks[(new Row($row))->text('device')][] = $row;
        }

        return $marks;
    }

    /** @return array<string, list<Observation>> */
    private function indexObservations(): array
    {
        $all = array_values($this->each('observations', Observation::fromRow(...)));
        usort($all, Observation::compare(...));
        $observations = [];
        foreach ($all as $observation) {
            $observations[$observation->test][] = $observation;
        }

        return $observations;
    }

    /** What is looked up there is found here as well. */
    private function indexAs(self $like): void
    {
        $this->byTag = $like->byTag;
        $this->byNumber = $like->byNumber;
        $this->extensionsOf = $like->extensionsOf;
        $this->terminalsOf = $like->terminalsOf;
        $this->accountOf = $like->accountOf;
        $this->credentialRows = $like->credentialRows;
        $this->nicsOn = $like->nicsOn;
        $this->routerPortsOn = $like->routerPortsOn;
        $this->having = $like->having;
        $this->marks = $like->marks;
    }

    /** What is looked up by something else than its key; of several the first counts. */
    private function index(): void
    {
        foreach ($this->devices as $device) {
            $this->byTag[$device->key] ??= $device;
        }
        foreach ($this->devices as $device) {
            $this->byTag[strtolower($device->tag)] ??= $device;
        }
        foreach ($this->extensions as $extension) {
            $this->byNumber[$extension->number] ??= $extension;
            if (null !== $extension->phone) {
                $this->extensionsOf[$extension->phone][] = $extension;
            }
        }
        foreach ($this->terminals as $terminal) {
            $extension = $this->extensions[$terminal->extension] ?? null;
            if (null !== $extension && $terminal->device !== $extension->phone) {
                $this->terminalsOf[$extension->key][] = $terminal;
                $this->extensionsOf[$terminal->device][] = $extension;
            }
        }
        foreach ($this->accounts as $account) {
            $this->accountOf[$account->extension] ??= $account;
        }
        foreach ($this->rows['credentials'] ?? [] as $row) {
            $credential = new Row($row);
            $this->credentialRows[$credential->text('owner').'#'.$credential->text('purpose')] ??= $row;
        }
    }

    /**
     * @param RowData                      $job
     * @param array<string, list<RowData>> $sections
     *
     * @throws Malformed where a record is not what its section holds
     */
    public static function of(array $job, array $sections, Catalogue $catalogue): self
    {
        $rows = [];
        foreach ($sections as $section => $records) {
            foreach ($records as $record) {
                $rows[$section][Row::keyOf($record)] = $record;
            }
        }

        return new self($job, $rows, $catalogue);
    }

    /**
     * @param RowData $job
     * @param Rows    $rows section → key → record
     *
     * @throws Malformed where a record is not what its section holds
     */
    public static function fromRows(array $job, array $rows, Catalogue $catalogue): self
    {
        return new self($job, $rows, $catalogue);
    }

    /** The snapshot as it would be after the change; this one stays as it is. */
    public function with(Change $change): self
    {
        $job = $this->jobRow;
        $rows = $this->rows;
        foreach ($change->edits as $edit) {
            if (EditKind::Add === $edit->kind) {
                $rows[$edit->section][$edit->key] = $edit->row ?? [];
            } elseif (EditKind::Remove === $edit->kind) {
                unset($rows[$edit->section][$edit->key]);
            } elseif ('job' === $edit->section) {
                $job[$edit->field] = $edit->after;
            } else {
                // A setting comes into being with its first face.
                $rows[$edit->section][$edit->key] ??= ['key' => $edit->key];
                $rows[$edit->section][$edit->key][$edit->field] = $edit->after;
                if ('settings' === $edit->section && self::isEmptySetting($rows[$edit->section][$edit->key])) {
                    unset($rows[$edit->section][$edit->key]);
                }
            }
        }

        return new self($job, $rows, $this->catalogue, $change->isWithin(self::LIGHT) ? $this : null);
    }

    /** The lab is the site of a practice job, and what is found there counts. */
    public function isPractice(): bool
    {
        return $this->job->bool('practice');
    }

    /** The country of the site; null where the job does not say, or names something that is not a country. */
    public function country(): ?Country
    {
        return $this->country ??= $this->catalogue->countries->find($this->job->text('country'));
    }

    public function emergencyNumbers(): EmergencyNumbers
    {
        return $this->emergencyNumbers ??= EmergencyNumbers::of($this);
    }

    /** @return RowData */
    public function jobRow(): array
    {
        return $this->jobRow;
    }

    /** @return list<RowData> the plain records of a section, in the order of their keys */
    public function rows(string $section): array
    {
        $rows = $this->rows[$section] ?? [];
        ksort($rows, \SORT_STRING);

        return array_values($rows);
    }

    /**
     * A setting that has no face left is none.
     *
     * @param RowData $row
     */
    public static function isEmptySetting(array $row): bool
    {
        return null === ($row['planned'] ?? $row['set'] ?? $row['seen'] ?? $row['odd'] ?? null);
    }

    /** @return RowData|null */
    public function row(string $section, string $key): ?array
    {
        return $this->rows[$section][$key] ?? null;
    }

    public function deviceTagged(string $tag): ?Device
    {
        return $this->byTag[strtolower($tag)] ?? null;
    }

    public function segmentNamed(string $name): ?Segment
    {
        foreach ($this->segments as $segment) {
            if (0 === strcasecmp($segment->name, trim($name))) {
                return $segment;
            }
        }

        return null;
    }

    public function extensionNumbered(string $number): ?Extension
    {
        return $this->byNumber[$number] ?? null;
    }

    public function accountOf(string $extensionKey): ?Account
    {
        return $this->accountOf[$extensionKey] ?? null;
    }

    /** @return list<Extension> */
    public function extensionsOf(string $deviceKey): array
    {
        return $this->extensionsOf[$deviceKey] ?? [];
    }

    /** @return list<Stream> what a device sends */
    public function streamsOf(string $device): array
    {
        if (null === $this->streamsOf) {
            $this->streamsOf = [];
            foreach ($this->streams as $stream) {
                $this->streamsOf[$stream->sender][] = $stream;
            }
        }

        return $this->streamsOf[$device] ?? [];
    }

    /** @return list<Terminal> those of a number beside its phone */
    public function terminalsOf(string $extension): array
    {
        return $this->terminalsOf[$extension] ?? [];
    }

    /** @return list<string> every device that rings for a number, its phone first */
    public function ringing(Extension $extension): array
    {
        $further = array_map(static fn (Terminal $one): string => $one->device, $this->terminalsOf($extension->key));

        return null === $extension->phone ? $further : [$extension->phone, ...$further];
    }

    /** Where it is written down which MAC was entered at the registrar, for a number at one of its devices; null where nothing is. */
    public function entryOf(Extension $extension, string $device): Account|Terminal|null
    {
        foreach ($this->terminalsOf($extension->key) as $terminal) {
            if ($terminal->device === $device) {
                return $terminal;
            }
        }

        return $this->accountOf($extension->key);
    }

    /** @return list<Nic> ports that are plugged into a segment, in the order of their devices */
    public function nicsOn(string $segment): array
    {
        if (null === $this->nicsOn) {
            $this->nicsOn = [];
            foreach ($this->devices as $device) {
                foreach ($device->nics as $nic) {
                    if (null !== $nic->segment) {
                        $this->nicsOn[$nic->segment][] = $nic;
                    }
                }
            }
        }

        return $this->nicsOn[$segment] ?? [];
    }

    /** @return list<RouterPort> interfaces of routers on a segment */
    public function routerPortsOn(string $segment): array
    {
        if (null === $this->routerPortsOn) {
            $this->routerPortsOn = [];
            foreach ($this->routerPorts as $port) {
                $this->routerPortsOn[$port->segment][] = $port;
            }
        }

        return $this->routerPortsOn[$segment] ?? [];
    }

    /** The name of a segment, or its key where the job has no such segment. */
    public function segmentName(string $key): string
    {
        return $this->segments[$key]->name ?? $key;
    }

    /** The segment of the telephone that has an extension; '' where there is none. */
    public function segmentOfPhone(Extension $extension): string
    {
        return ($this->devices[$extension->phone ?? ''] ?? null)?->nic()->segment ?? '';
    }

    /** Whether a provider, and no PBX of the job, serves an extension. */
    public function isHosted(Extension $extension): bool
    {
        return true === ($this->devices[$this->accountOf($extension->key)->registrar ?? ''] ?? null)?->kind->isHosted();
    }

    public function segmentOf(Device $device): ?Segment
    {
        return $this->segments[$device->nic()->segment ?? ''] ?? null;
    }

    /** The segment that an address belongs to by the plan. */
    public function segmentAround(Ipv4 $address): ?Segment
    {
        foreach ($this->segments as $segment) {
            if ($segment->network->contains($address)) {
                return $segment;
            }
        }

        return null;
    }

    public function credential(string $owner, string $purpose): ?Credential
    {
        $row = $this->credentialRows[$owner.'#'.$purpose] ?? null;

        return null === $row ? null : Credential::fromRow(new Row($row));
    }

    /** @return array<string, Credential> */
    public function credentials(): array
    {
        return $this->each('credentials', Credential::fromRow(...));
    }

    /** @return list<Row> of a section, as they stand */
    public function records(string $section): array
    {
        return array_map(static fn (array $row): Row => new Row($row), array_values($this->rows[$section] ?? []));
    }

    /** @return array<string, Mark> step → how it was marked */
    public function marksOf(string $device): array
    {
        if (!isset($this->marks[$device])) {
            $this->marks[$device] = [];
            foreach ($this->markRows[$device] ?? [] as $row) {
                $mark = Mark::fromRow(new Row($row));
                $this->marks[$device][$mark->step] = $mark;
            }
        }

        return $this->marks[$device];
    }

    /** What people call a record: the tag of its device, the name of its segment, its number; the key where it has no name. */
    public function nameOf(string $section, string $key): string
    {
        if ('settings' === $section) {
            [$section, $key] = explode('/', explode('#', $key)[0], 2) + [1 => ''];
        }

        return match ($section) {
            'devices' => $this->devices[$key]->tag ?? $key,
            'nics' => $this->devices[$this->nics[$key]->device ?? '']->tag ?? $key,
            'segments' => $this->segments[$key]->name ?? $key,
            'extensions' => $this->extensions[$key]->number ?? $key,
            'accounts' => $this->extensions[$this->accounts[$key]->extension ?? '']->number ?? $key,
            default => $key,
        };
    }

    /** A key for a new record that no other has: the wish made fit, with a number where it is taken. */
    public function freeKey(string $section, string $wish): string
    {
        $base = trim(preg_replace('/[^a-z0-9.-]+/', '-', strtolower($wish)) ?? '', '-.');
        $base = '' === $base ? 'x' : mb_substr($base, 0, 48);
        $key = $base;
        for ($n = 2; isset($this->rows[$section][$key]); ++$n) {
            $key = $base.'-'.$n;
        }

        return $key;
    }

    /**
     * What a setting holds, its own word or what it inherits.
     */
    public function setting(SettingRef|string $ref): TrackedValue
    {
        $ref = \is_string($ref) ? SettingRef::fromString($ref) : $ref;

        return match ($ref->section) {
            'nics' => ($this->nics[$ref->key] ?? null)?->setting($ref->slot),
            'devices' => ($this->devices[$ref->key] ?? null)?->setting($ref->slot),
            default => ($this->accounts[$ref->key] ?? null)?->setting($ref->slot),
        } ?? new TrackedValue();
    }

    /** What is true of a setting of a record of this job; null where the record has no such setting. */
    public function definition(SettingRef $ref): ?Setting
    {
        $device = $this->deviceOf($ref->section, $ref->key);
        $setting = $device?->kind->setting($ref->name);
        $passive = 'nics' === $ref->section && ($this->nics[$ref->key]->passive ?? true);
        $scope = match ($ref->section) {
            'nics' => [SettingScope::Port],
            'devices' => [SettingScope::Device, SettingScope::Item],
            default => [SettingScope::Account],
        };

        return null === $setting
            || $passive
            || !\in_array($setting->scope, $scope, true)
            || !\in_array($ref->slot, $setting->slots(), true) ? null : $setting;
    }

    /**
     * All settings of a device, in the order in which one works: of the device, of each port, of each account.
     *
     * @param bool $written only those of which something is written: planned by hand, set, seen or odd
     *
     * @return list<SettingSlot> secrets among them, without their values
     */
    public function slots(Device $device, bool $written = false): array
    {
        $slots = [];
        $own = $this->values['devices/'.$device->key] ?? [];
        foreach ($device->kind->deviceSlots as $slot => $setting) {
            if (!$written || isset($own[$slot])) {
                $slots[] = new SettingSlot(
                    SettingRef::ofDeclared('devices', $device->key, $slot),
                    $slot,
                    null,
                    $setting,
                    $device->setting($slot),
                );
            }
        }
        foreach ($device->activeNics() as $nic) {
            $own = $this->values['nics/'.$nic->key] ?? [];
            foreach ($device->kind->settingsOf(SettingScope::Port) as $name => $setting) {
                if (!$written || isset($own[$name])) {
                    $slots[] = new SettingSlot(
                        SettingRef::ofDeclared('nics', $nic->key, $name),
                        $nic->name.'.'.$name,
                        $nic->name,
                        $setting,
                        $nic->setting($name),
                    );
                }
            }
        }
        foreach ($this->accountsAt($device) as $number => $account) {
            $own = $this->values['accounts/'.$account->key] ?? [];
            foreach (array_keys($device->kind->settingsOf(SettingScope::Account)) as $name) {
                if (!$written || isset($own[$name])) {
                    $slots[] = $this->accountSlot($device, (string) $number, $account, $name);
                }
            }
        }

        return $slots;
    }

    /** @return array<array-key, Account> number → the account that the device registers it with, in the order of the numbers */
    private function accountsAt(Device $device): array
    {
        $accounts = [];
        foreach ($this->extensionsOf($device->key) as $extension) {
            $account = $this->accountOf($extension->key);
            if (null !== $account) {
                $accounts[$extension->number] = $account;
            }
        }

        return $accounts;
    }

    private function accountSlot(Device $device, string $number, Account $account, string $name): SettingSlot
    {
        return new SettingSlot(
            SettingRef::ofDeclared('accounts', $account->key, $name),
            $number.'.'.$name,
            null,
            $device->kind->settings[$name],
            $account->setting($name),
            $number,
        );
    }

    /**
     * What stands in the record of a device, its ports and its accounts, and is no setting of its kind: kept, and of no use.
     *
     * @return list<SettingRef>
     */
    public function strays(Device $device): array
    {
        $strays = [];
        $records = [
            $device->record(),
            ...array_map(static fn (Nic $nic): string => $nic->record(), $device->nics),
            ...array_map(static fn (Account $account): string => 'accounts/'.$account->key, array_values($this->accountsAt($device))),
        ];
        foreach ($records as $record) {
            foreach (array_keys($this->values[$record] ?? []) as $slot) {
                $ref = SettingRef::tryFromString($record.'#'.$slot);
                $row = new Row($this->values[$record][$slot] ?? []);
                if (null !== $ref && null === $this->definition($ref) && !TrackedValue::fromRow($row)->isEmpty()) {
                    $strays[] = $ref;
                }
            }
        }

        return $strays;
    }

    /**
     * One setting of a device by its name on sheets and in tables: `hostName`, `lan.address`, `2101.lineLabel`; `address` is that of
     * its first port, `lineLabel` that of its first account.
     */
    public function slot(Device $device, string $local): ?SettingSlot
    {
        [$first, $rest] = explode('.', $local, 2) + [1 => ''];
        [$port, $name] = '' !== $rest && null !== $device->nicNamed($first) ? [$first, $rest] : [null, $local];
        $setting = $device->kind->setting(explode('.', $name, 2)[0]);
        if (SettingScope::Port === $setting?->scope) {
            $nic = null === $port ? $device->nic() : $device->nicNamed($port);

            return null === $nic
                || $nic->passive
                    ? null
                    : new SettingSlot(
                        SettingRef::ofDeclared('nics', $nic->key, $name),
                        $nic->name.'.'.$name,
                        $nic->name,
                        $setting,
                        $nic->setting($name),
                    );
        }
        if (null === $setting) {
            $setting = $device->kind->setting($rest);
            $number = $first;
            $name = $rest;
        }
        if (SettingScope::Account === $setting?->scope) {
            $accounts = $this->accountsAt($device);
            $number ??= (string) array_key_first($accounts);

            return isset($accounts[$number]) ? $this->accountSlot($device, $number, $accounts[$number], $name) : null;
        }
        if (null === $setting || null !== $port || isset($number) || !\in_array($name, $setting->slots(), true)) {
            return null;
        }

        return new SettingSlot(SettingRef::ofDeclared('devices', $device->key, $name), $name, null, $setting, $device->setting($name));
    }

    /**
     * From what a person or a file says to what is kept: checked by the type of the setting, another device by its tag.
     *
     * @throws Malformed
     */
    public function readSetting(Setting $setting, string $text): string
    {
        if (ValueType::Device !== $setting->type || '' === trim($text)) {
            return $setting->read($text);
        }

        return $this->deviceTagged(trim($text))->key
            ?? throw Malformed::because('There is no device "{tag}" in this job.', ['tag' => trim($text)]);
    }

    /** What is kept as a person writes it: another device by its tag. */
    public function showSetting(Setting $setting, string $value): string
    {
        return ValueType::Device === $setting->type ? $this->devices[$value]->tag ?? $value : $value;
    }

    /** The device that a record belongs to. */
    public function deviceOf(string $section, string $key): ?Device
    {
        return match ($section) {
            'devices' => $this->devices[$key] ?? null,
            'nics' => $this->devices[$this->nics[$key]->device ?? ''] ?? null,
            'accounts' => $this->devices[$this->extensions[$this->accounts[$key]->extension ?? '']->phone ?? ''] ?? null,
            default => null,
        };
    }

    private function account(Row $row): Account
    {
        $phone = $this->devices[$this->extensions[$row->text('extension')]->phone ?? ''] ?? null;

        return Account::fromRow($row, new Settings(
            $this->values['accounts/'.$row->text('key')] ?? [],
            $phone?->kind->settingsOf(SettingScope::Account) ?? [],
            fn (Setting $setting): ?string => $this->inheritedValue($setting, null),
        ));
    }

    private function nic(Row $row, ?Kind $kind): Nic
    {
        $port = $kind?->port($row->text('name'));
        $segment = $this->segments[$row->text('segment')] ?? null;
        $values = $this->values['nics/'.$row->text('key')] ?? [];
        // A port without an address has no use for a mask or a gateway, and inherits none.
        $addressed = isset($values['address']['planned']);
        [$address6, $network6] = '' === $row->text('address6') ? [null, null] : Network6::interface($row->text('address6'));

        return new Nic(
            $row->text('key'),
            $row->text('device'),
            $row->text('name'),
            Mac::tryFromString($row->text('mac')),
            $row->textOrNull('segment'),
            'reserved' === $row->text('mode'),
            'dhcp' === $row->text('mode'),
            $row->bool('locked'),
            true === $port?->passive,
            array_map(static function (string $held): array {
                [$address, $prefix] = explode('/', $held, 2) + [1 => ''];

                return [Ipv4::fromString($address), Mask::fromString('/'.$prefix)];
            }, $row->texts('also')),
            $address6,
            $network6,
            Ipv6::tryFromString($row->text('gateway6')) ?? (null === $address6 ? null : $segment?->gateway6),
            new Settings(
                $values,
                $kind?->settingsOf(SettingScope::Port) ?? [],
                fn (Setting $setting): ?string => $addressed && ('gateway' !== $setting->name || false !== $port?->gateway)
                    ? $this->inheritedValue($setting, $segment)
                    : null,
            ),
        );
    }

    /** @param list<Nic> $nics */
    private function device(Row $row, array $nics): Device
    {
        $kind = $this->catalogue->kind($row->text('kind')) ?? throw Malformed::because(
            '{tag} is of a kind "{kind}" that the library does not hold.',
            ['tag' => $row->text('tag'), 'kind' => $row->text('kind')],
        );
        if (\count($nics) > 1) {
            $order = array_flip(array_map(static fn (KindPort $port): string => $port->name, $kind->ports));
            usort($nics, static fn (Nic $a, Nic $b): int => [$order[$a->name] ?? 99, $a->key] <=> [$order[$b->name] ?? 99, $b->key]);
        }

        return new Device(
            $row->text('key'),
            $row->text('tag'),
            $kind,
            $row->text('room'),
            $row->text('serial'),
            $row->textOrNull('controlledFrom'),
            'deny' !== $row->text('filterDefault'),
            $row->bool('stateful', true),
            'deny' !== $row->text('filterSameInterface'),
            $kind->factoryState($row->text('arrives'))->at(
                Ipv4::tryFromString($row->text('labelAddress')),
                Mask::tryFromString($row->text('labelMask')),
            ),
            $row->textOrNull('labelUser'),
            $row->textOrNull('labelHostName'),
            $nics,
            new Settings(
                $this->values['devices/'.$row->text('key')] ?? [],
                $kind->deviceSlots,
                fn (Setting $setting): ?string => $this->inheritedBy($row->text('key'), $setting),
            ),
            $row->int('position', 9999),
        );
    }

    /** How many devices have a role; asked for only by the few settings that follow from it. */
    private function having(string $role): int
    {
        return $this->having[$role] ??= \count(array_filter(
            $this->rows['devices'] ?? [],
            fn (array $row): bool => [] !== array_filter(
                $this->catalogue->kind((new Row($row))->text('kind'))->roles ?? [],
                static fn (Role $one): bool => $one->value === $role,
            ),
        ));
    }

    /**
     * What a device takes where a setting is silent. A phone of a provider has its settings from the provider's file: of those only the
     * address of the file is known here, and what decides whether it can register.
     */
    private function inheritedBy(string $device, Setting $setting): ?string
    {
        $provider = $this->providerOf($device);
        if (null === $provider) {
            return $this->inheritedValue($setting, null);
        }
        foreach ($setting->inherits as [$of, $field]) {
            if ('registrar' === $of) {
                $row = new Row($this->values['devices/'.$provider][$field] ?? []);
                $given = $row->textOrNull('seen') ?? $row->textOrNull('set') ?? $row->textOrNull('planned');

                return '' === $given ? null : $given;
            }
        }
        $isSupplied = ['file'] === $setting->written && !\in_array($setting->name, self::DECIDES_REGISTRATION, true);

        return $isSupplied ? null : $this->inheritedValue($setting, null);
    }

    /** The hosted registrar of a phone's number; null where it has none. */
    public function providerOf(string $device): ?string
    {
        if (null === $this->providers) {
            $this->providers = [];
            $phones = array_map(static fn (array $row): string => (new Row($row))->text('phone'), $this->rows['extensions'] ?? []);
            foreach ($this->rows['accounts'] ?? [] as $account) {
                $row = new Row($account);
                $registrar = $row->text('registrar');
                $phone = $phones[$row->text('extension')] ?? '';
                $kind = $this->catalogue->kind((new Row($this->rows['devices'][$registrar] ?? []))->text('kind'));
                if ('' !== $phone && true === $kind?->isHosted()) {
                    $this->providers[$phone] = $registrar;
                }
            }
        }

        return $this->providers[$device] ?? null;
    }

    /** What the plan takes where a setting is silent: the first of its sources that knows, else the default of the kind. */
    private function inheritedValue(Setting $setting, ?Segment $segment): ?string
    {
        foreach ($setting->inherits as [$of, $field]) {
            $value = match ($of) {
                'job' => $this->job->textOrNull($field),
                'country' => $this->country()?->settingDefault($field),
                // Of a registrar only a phone of a provider inherits anything.
                'registrar' => null,
                'peers' => (string) max(0, $this->having($field) - 1),
                default => $segment?->dhcpValue($field),
            };
            if (null !== $value && ('job' !== $of || '' !== $value)) {
                return $value;
            }
        }

        return $setting->default;
    }

    /**
     * @template T of object
     *
     * @param callable(Row): T                  $make
     * @param callable(T): array{int, string} $by
     *
     * @return list<T> in the order of what is given
     */
    private function indexAndSort(string $section, callable $make, callable $by): array
    {
        $all = array_values($this->each($section, $make));
        usort($all, static fn (object $a, object $b): int => $by($a) <=> $by($b));

        return $all;
    }

    /**
     * @template T
     *
     * @param callable(Row): T $make
     *
     * @return array<string, T>
     */
    private function each(string $section, callable $make): array
    {
        $objects = [];
        foreach ($this->rows[$section] ?? [] as $key => $row) {
            $objects[(string) $key] = $make(new Row($row));
        }

        return $objects;
    }
}
