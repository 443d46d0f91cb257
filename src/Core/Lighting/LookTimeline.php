<?php

declare(strict_types=1);

namespace Vorhut\Core\Lighting;

use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;

/**
 * Which scene is active when: live control over the network has precedence over a contact, a contact over a wall key. While the desk's
 * cable is plugged in, holding a key stores a scene; without the cable the same hold does nothing.
 */
final class LookTimeline
{
    private bool $cable = false;
    private bool $network = false;
    /** @var array<int, true> contacts that are closed */
    private array $closed = [];
    /** @var list<int> scenes that contacts called, the last one last */
    private array $byContact = [];
    private int $byKey = 0;
    /** @var list<LookSpan> */
    private array $spans = [];

    private function __construct(private readonly Device $store, private readonly ?Device $panel, private readonly Face $face)
    {
    }

    /**
     * @param list<string> $events `SECONDS WHAT`: cable in|out, network on|off, contact N closes|opens, key N, hold N
     *
     * @return list<LookSpan> each until the next one begins
     *
     * @throws Malformed
     */
    public static function of(Plan $plan, Device $store, array $events, Face $face = Face::Set): array
    {
        $panel = null;
        foreach ($plan->devices as $device) {
            if (null !== $device->kind->setting('controls') && $device->setting('controls')->effective($face) === $store->key) {
                $panel = $device;
            }
        }
        $self = new self($store, $panel, $face);
        $read = array_map(self::read(...), array_values(array_filter($events, static fn (string $one): bool => '' !== trim($one))));
        usort($read, static fn (array $a, array $b): int => $a[0] <=> $b[0]);
        $self->show(0.0);
        foreach ($read as [$at, $what, $number, $how]) {
            $note = $self->happens($what, $number, $how);
            $self->show($at, $note);
        }

        return $self->spans;
    }

    /**
     * @return array{float, string, int, string}
     *
     * @throws Malformed
     */
    private static function read(string $event): array
    {
        if (1 === preg_match('/^\s*([0-9]{1,6}(?:\.[0-9]{1,3})?)\s+(cable|network)\s+(in|out|on|off)\s*$/Di', $event, $found)) {
            $how = strtolower($found[3]);
            $isCable = 'cable' === strtolower($found[2]);
            if ($isCable === \in_array($how, ['in', 'out'], true)) {
                return [(float) $found[1], strtolower($found[2]), 0, $how];
            }
        }
        if (1 === preg_match('/^\s*([0-9]{1,6}(?:\.[0-9]{1,3})?)\s+contact\s+([1-9])\s+(closes|opens)\s*$/Di', $event, $found)) {
            return [(float) $found[1], 'contact', (int) $found[2], strtolower($found[3])];
        }
        if (1 === preg_match('/^\s*([0-9]{1,6}(?:\.[0-9]{1,3})?)\s+(key|hold)\s+([1-9])\s*$/Di', $event, $found)) {
            return [(float) $found[1], strtolower($found[2]), (int) $found[3], ''];
        }
        throw Malformed::because(
            '"{event}" is not an event. Examples: 0 cable in, 5 network on, 8 contact 1 closes, 12 key 2, 15 hold 3.',
            ['event' => mb_substr($event, 0, 60)],
        );
    }

    /** @return Message|null a message to show although nothing changes */
    private function happens(string $what, int $number, string $how): ?Message
    {
        switch ($what) {
            case 'cable':
                $this->cable = 'in' === $how;

                return null;
            case 'network':
                $this->network = 'on' === $how;

                return null;
            case 'contact':
                return $this->contact($number, 'closes' === $how);
            case 'hold':
                return match (true) {
                    !$this->cable => new Message('Holding key {n} does nothing: the cable of the desk is not in.', ['n' => $number]),
                    $this->network => new Message(
                        'Holding key {n} stores nothing: levels from the network are only passed on.',
                        ['n' => $number],
                    ),
                    default => new Message('The look of the desk is stored as scene {n}.', ['n' => $number]),
                };
            default:
                if ($this->cable) {
                    return new Message('Key {n} does nothing while it is being programmed.', ['n' => $number]);
                }
                $scene = $this->sceneOfKey($number);
                $this->byKey = $this->byKey === $scene ? 0 : $scene;
                // A key takes over from a contact that only held until the next switch.
                if ('hold until switched' === $this->mode()) {
                    $this->byContact = [];
                }

                return 0 === $scene ? new Message('No scene is on key {n}.', ['n' => $number]) : null;
        }
    }

    private function contact(int $number, bool $closes): ?Message
    {
        $scene = $this->sceneOfContact($number);
        $mode = $this->mode();
        $was = isset($this->closed[$number]);
        if ($closes) {
            $this->closed[$number] = true;
        } else {
            unset($this->closed[$number]);
        }
        if (null === $scene) {
            return new Message('No scene is on contact {n}.', ['n' => $number]);
        }
        $rest = array_values(array_filter($this->byContact, static fn (int $one): bool => $one !== $scene));
        $this->byContact = match (true) {
            $was === $closes, 'off' === $mode => $this->byContact,
            'on while closed' === $mode => $closes ? [...$rest, $scene] : $rest,
            !$closes => $this->byContact,
            'toggle' === $mode => \in_array($scene, $this->byContact, true) ? $rest : [...$rest, $scene],
            default => [$scene],
        };

        return 'off' === $mode && $closes ? new Message('Contacts do nothing: they are set to off.') : null;
    }

    private function show(float $at, ?Message $note = null): void
    {
        $contact = [] === $this->byContact ? null : $this->byContact[array_key_last($this->byContact)];
        [$scene, $look, $why] = match (true) {
            $this->cable => [null, 'desk', new Message('The cable of the desk is in: its look is on, and may be stored.')],
            $this->network => [null, 'network', new Message('Live control over the network has priority over contacts and keys.')],
            null !== $contact => [$contact, $this->name($contact), new Message('A contact recalls it, with priority over keys.')],
            0 !== $this->byKey => [$this->byKey, $this->name($this->byKey), new Message('A key of the wall called it.')],
            default => [0, 'dark', new Message('Nothing calls a look.')],
        };
        $last = $this->spans[array_key_last($this->spans) ?? 0] ?? null;
        if (null === $last || $last->look !== $look || null !== $note) {
            $this->spans[] = new LookSpan($at, $scene, $look, $note ?? $why);
        }
    }

    private function mode(): string
    {
        return (string) ($this->setting($this->store, 'contactMode') ?? 'on while closed');
    }

    private function name(int $scene): string
    {
        $name = (string) $this->setting($this->store, 'sceneName.'.$scene);

        return '' === $name ? (string) $scene : $name;
    }

    private function sceneOfContact(int $contact): ?int
    {
        $count = $this->store->kind->setting('sceneContact')->count ?? 0;
        for ($scene = 1; $scene <= $count; ++$scene) {
            if ($this->setting($this->store, 'sceneContact.'.$scene) === (string) $contact) {
                return $scene;
            }
        }

        return null;
    }

    private function sceneOfKey(int $key): int
    {
        // Without a wall panel its own keys are meant, each of its scene.
        return null === $this->panel ? $key : (int) ($this->setting($this->panel, 'keyScene.'.$key) ?? 0);
    }

    private function setting(Device $device, string $slot): ?string
    {
        return $device->setting($slot)->effective($this->face);
    }
}
