<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Catalogue\Catalogue;
use Vorhut\Core\Catalogue\Country;
use Vorhut\Core\Catalogue\Setting;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Mac;
use Vorhut\Core\Net\Malformed;

/**
 * The snapshot: one job at one moment, immutable, indexed once. All computation reads this and nothing else.
 *
 * It keeps the plain rows from which it was made next to the typed objects, so that a change can be tried on it (`with()`) and so that an
 * export equals the import.
 *
 * @phpstan-import-type RowData from Edit
 *
 * @phpstan-type Rows array<string, array<array-key, RowData>>
 */
final class Plan
{
    /** Sections on which no other part of a snapshot depends. */
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
    private readonly Inheritance $inheritance;
    /** @var array<string, array<string, RowData>> record → slot → stored values */
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
    /** @var array<string, list<Stream>>|null device → the streams it sends; made on demand */
    private ?array $streamsOf = null;
    /** @var array<string, Account> extension → account */
    private array $accountOf = [];
    /** @var array<string, RowData> owner#purpose */
    private array $credentialRows = [];
    /** @var array<string, list<RowData>> device → its marks */
    private readonly array $markRows;
    /** What ships, with the job's own kinds over it. */
    public readonly Catalogue $catalogue;
    /** @var array<string, array<string, Mark>> device → step → mark, of those that were asked for */
    private array $marks = [];
    private ?EmergencyNumbers $emergencyNumbers = null;
    public readonly Derived $derived;

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
        $this->job = $like->job ?? new Row($jobRow);
        $values = $like->values ?? PlanRows::valuesOf($rows['settings'] ?? []);
        $this->values = $values;
        $this->inheritance = $like->inheritance ?? new Inheritance($this->job, $rows, $values, $this->catalogue);
        $from = new PlanRows($rows, $values, $this->catalogue, $this->inheritance);
        $this->routes = $from->each('routes', StaticRoute::fromRow(...));
        $this->routes6 = $from->each('routes6', StaticRoute6::fromRow(...));
        $this->filters = $from->sorted(
            'filters',
            FilterRule::fromRow(...),
            static fn (FilterRule $one): array => [$one->position, $one->key],
        );
        $this->segments = $like->segments ?? $from->each('segments', Segment::fromRow(...));
        $this->nics = $like->nics ?? $from->nics($this->segments);
        $this->devices = $like->devices ?? $from->devices($this->nics);
        $this->routerPorts = $like->routerPorts ?? $from->each('routerPorts', RouterPort::fromRow(...));
        $this->translations = $like->translations ?? $from->sorted(
            'translations',
            Translation::fromRow(...),
            static fn (Translation $one): array => [$one->position, $one->key],
        );
        $this->extensions = $like->extensions ?? $from->byNumber($from->each('extensions', Extension::fromRow(...)));
        $this->terminals = $like->terminals ?? $from->each('terminals', Terminal::fromRow(...));
        $this->accounts = $like->accounts ?? $from->accounts($this->devices, $this->extensions);
        $this->timeFrames = $like->timeFrames ?? $from->each('timeFrames', NamedTime::fromRow(...));
        $this->trunks = $like->trunks ?? $from->each('trunks', Trunk::fromRow(...));
        $this->callRoutes = $like->callRoutes ?? $from->sorted(
            'callRoutes',
            CallRoute::fromRow(...),
            static fn (CallRoute $one): array => [$one->position, $one->key],
        );
        $this->inboundRoutes = $like->inboundRoutes ?? $from->sorted(
            'inboundRoutes',
            InboundRoute::fromRow(...),
            static fn (InboundRoute $one): array => [$one->position, $one->key],
        );
        $this->ringGroups = $like->ringGroups ?? $from->each('ringGroups', RingGroup::fromRow(...));
        $this->menus = $like->menus ?? $from->each('menus', CallMenu::fromRow(...));
        $this->cables = $like->cables ?? $from->each('cables', Cable::fromRow(...));
        $this->streams = $like->streams ?? $from->streams();
        $this->soundPatches = $like->soundPatches ?? $from->each('soundPatches', SoundPatch::fromRow(...));
        $this->markRows = $like->markRows ?? $from->marks();
        $this->tests = $like->tests ?? $from->each('tests', AddedTest::fromRow(...));
        $this->observations = $like->observations ?? $from->observations();
        if (null === $like) {
            $this->index();
        } else {
            $this->indexAs($like);
        }
    }

    /** Records found by key are found here as well. */
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
        $this->marks = $like->marks;
    }

    /** Found by another field than the key; of several the first counts. */
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

    /** The lab is the site of a practice job, and its results count. */
    public function isPractice(): bool
    {
        return $this->job->bool('practice');
    }

    /** The country of the site; null where the job does not say, or names something that is not a country. */
    public function country(): ?Country
    {
        return $this->inheritance->country();
    }

    public function settings(): DeviceSettings
    {
        return new DeviceSettings($this, $this->values);
    }

    /** The hosted registrar of a phone's number; null where it has none. */
    public function providerOf(string $device): ?string
    {
        return $this->inheritance->providerOf($device);
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
        $credentials = [];
        foreach ($this->rows['credentials'] ?? [] as $key => $row) {
            $credentials[(string) $key] = Credential::fromRow(new Row($row));
        }

        return $credentials;
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
}
