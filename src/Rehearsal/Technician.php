<?php

declare(strict_types=1);

namespace Vorhut\Rehearsal;

use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Bench\StepMark;
use Vorhut\Core\Catalogue\Effect;
use Vorhut\Core\Catalogue\Need;
use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Catalogue\Step;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\MarkState;
use Vorhut\Core\Plan\SettingSlot;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Lab\FrontPanel;
use Vorhut\Lab\Part\Licence;
use Vorhut\Lab\StandIn;
use Vorhut\Lab\Stimulus;
use Vorhut\Outpost\Device\DeviceDoor;
use Vorhut\Outpost\Probe\NoAnswer;

use function Amp\delay;

/**
 * The hands of a rehearsed day at one device: does what its sheet says, step by step, at the front and the web page of its stand-in, marks
 * what worked, and stops where something does not.
 */
final class Technician
{
    private const TRIES = 8;
    /** In seconds of this machine: a phone asks again after some. */
    private const PATIENCE = 12.0;

    private const AGAIN = 1.5;

    private readonly FrontPanel $front;
    private string $password;
    private bool $moved = false;

    /** @param list<InjectedMistake> $slips made at this device */
    public function __construct(
        private readonly RehearsedDay $day,
        private readonly string $key,
        private readonly StandIn $standIn,
        private readonly array $slips,
    ) {
        $this->front = new FrontPanel($standIn);
        $this->password = $standIn->state->firstPassword;
    }

    /** @return Message|null what it stopped at; null where the sheet is done */
    public function work(): ?Message
    {
        // Resumed after a break: a device that was not at its place yet is back where it was.
        if (!$this->moved && $this->standIn->state->powered) {
            $this->day->fetch($this->key);
        }
        while (null !== $step = $this->sheet()->next()) {
            $this->day->lift($this->device());
            $obstacles = $this->sheet()->obstacles($step);
            if ([] !== $obstacles) {
                return $obstacles[0]->message;
            }
            $read = [];
            $why = $this->does($step, $read);
            if (null !== $why && !$step->does(Effect::Secures)) {
                // Once more before one gives up, as anybody would: it may still have been starting.
                delay(self::AGAIN);
                $why = $this->does($step, $read);
            }
            $this->day->write($this->sheet()->changes()->mark(
                $step,
                new StepMark(null === $why ? MarkState::Done : MarkState::Failed, $why ?? '', [], $read),
                RehearsedDay::BY,
                $this->day->at(),
            ));
            if (null !== $why) {
                return new Message('{step}: {why}', ['step' => new Message($step->do), 'why' => $why]);
            }
        }

        return null;
    }

    private function device(): Device
    {
        return $this->day->plan->devices[$this->key];
    }

    private function sheet(): RunSheet
    {
        return RunSheet::of($this->day->plan, $this->device());
    }

    /**
     * @param array<string, string> $read filled with the values read
     *
     * @return string|null why it did not work
     */
    private function does(Step $step, array &$read): ?string
    {
        if ($step->does(Effect::Powers)) {
            $this->day->fetch($this->key);
            // Dials, modules and cables are set before power.
            $why = $this->enter($step);
            $this->front->power(true);

            return $why ?? $this->waitsUntilUp();
        }
        if ($step->does(Effect::Resets)) {
            return $this->resets();
        }
        foreach ($step->reads as $name) {
            $said = $this->read($name);
            if (null !== $said) {
                $read[$name] = $said;
            }
        }
        $this->unlocks($step);
        $why = $this->isReserved() && $step->does(Effect::Addresses) ? $this->isAtReserved() : $this->enter($step);
        if (null !== $why) {
            return $why;
        }
        if ($step->does(Effect::Secures) && [] === $this->secretsOf($step) && !$this->takesTheFilesPassword()) {
            return 'it does not take the password of its file';
        }
        if ($step->does(Effect::PutsInService)) {
            return $this->isInService();
        }

        return $step->does(Effect::Restarts) && $this->device()->kind->boot > 0 ? $this->waitsUntilUp() : null;
    }

    /** Off and on, and the keys while they count. */
    private function resets(): ?string
    {
        $this->front->power(false);
        $this->front->power(true);

        return $this->front->reset() ? $this->waitsUntilUp() : 'the timer was quicker';
    }

    /** Items that arrived for this step are entered first: a key for its hardware ID, credentials. */
    private function unlocks(Step $step): void
    {
        foreach (array_filter($step->needs, static fn (Need $need): bool => 'licence' === $need->word) as $need) {
            $term = $this->device()->kind->licence($need->of);
            $number = null === $term?->counts ? '' : $this->device()->setting($term->counts)->planned ?? '';
            $id = $this->front->shows()['lamps'][Licence::ID] ?? '';
            $this->front->touch(new Stimulus(Stimulus::LICENCE, Licence::key($id, $need->of, (int) $number)));
            $this->front->touch(new Stimulus(Stimulus::UNLOCK, $this->standIn->state->firstPassword));
        }
    }

    /** What a step puts in, by the web page where there is one that takes it, else by hand. */
    private function enter(Step $step): ?string
    {
        $byHand = $byPage = [];
        $kind = $this->device()->kind;
        $fields = $kind->adminFields();
        $apply = true;
        $moves = false;
        foreach ($this->sheet()->slots(array_values(array_unique([...$step->records, ...$this->secretsOf($step)]))) as $slot) {
            $value = $this->typedValue($slot);
            if (null === $value) {
                continue;
            }
            $apply = $apply && !('address' === $slot->setting->name && $this->forgetsToApply());
            $own = $fields[$slot->local] ?? null;
            $typed = null === $slot->setting->secret ? $slot->setting->type->format($value) : $value;
            if (null !== $own && $this->standIn->isUp()) {
                $byPage[$own] = $typed;
                $moves = $moves || ('address' === $slot->setting->name && $value !== $this->standIn->state->get($slot->local));
            } else {
                $byHand[$slot->local] = $typed;
            }
        }
        foreach ($byHand as $local => $value) {
            $why = $this->front->put($local, $value);
            if (null !== $why) {
                return $local.': '.$why;
            }
        }
        $why = [] === $byPage ? null : $this->fill($byPage, $apply);
        if (null === $why && isset($byPage[$fields['adminPassword'] ?? ''])) {
            $this->password = $byPage[$fields['adminPassword']];
        }
        if (null === $why && ($moves || $this->handMoves($byHand))) {
            $this->moveDevice();
        } elseif (null === $why && [] !== $byPage && null !== $kind->admin?->apply) {
            delay(0.1);
            $this->waitsUntilUp();
        }

        return $why;
    }

    /** @return string|null the text to type, including injected mistakes; null to leave the field unchanged */
    private function typedValue(SettingSlot $slot): ?string
    {
        $value = $this->plannedValue($slot);
        foreach ($this->slips as $slip) {
            if (null === $value || !\in_array($slip->local, [$slot->local, $slot->setting->name], true)) {
                continue;
            }
            $value = match ($slip->what) {
                InjectedMistake::TYPED => $slip->value,
                InjectedMistake::LEFT => null,
                default => $value,
            };
        }

        return $value;
    }

    private function forgetsToApply(): bool
    {
        $mistakes = array_map(static fn (InjectedMistake $slip): string => $slip->what, $this->slips);

        return \in_array(InjectedMistake::NOT_APPLIED, $mistakes, true);
    }

    /** @param array<string, string> $byHand */
    private function handMoves(array $byHand): bool
    {
        foreach (array_keys($byHand) as $local) {
            if ('address' === $this->device()->kind->locals()[$local]->name) {
                return true;
            }
        }

        return false;
    }

    /** Its address is another one now: it goes to its place, and is waited for there. */
    private function moveDevice(): void
    {
        $this->moved = true;
        delay(0.1);
        $this->day->place($this->key);
        $this->waitsUntilUp();
    }

    /** @return list<string> secrets that are typed at this step; one that came with a file before is not */
    private function secretsOf(Step $step): array
    {
        return array_values(array_filter($step->copies, function (string $name): bool {
            $slot = $this->day->plan->settings()->slot($this->device(), $name);

            return null !== $slot?->setting->secret
                && (['file'] !== $slot->setting->written || !$this->sheet()->has(Effect::Provisions));
        }));
    }

    private function plannedValue(SettingSlot $slot): ?string
    {
        if (null !== $slot->setting->secret) {
            $left = array_filter($this->slips, static fn (InjectedMistake $slip): bool => InjectedMistake::PASSWORD === $slip->what);

            return [] === $left || 'admin' !== $slot->setting->secret ? $this->day->secret($this->device(), $slot->setting->secret) : null;
        }

        return $slot->setting->found ? null : $slot->value->planned;
    }

    /** @param array<string, string> $values its own name → value as it is typed */
    private function fill(array $values, bool $apply): ?string
    {
        for ($try = 1;; ++$try) {
            $door = $this->door();
            if (null === $door) {
                return 'there is nowhere to reach its page from';
            }
            try {
                $response = $door->put($this->password, $values, $apply);

                return $response->status < 300 ? null : $response->status.' '.trim(strip_tags($response->body));
            } catch (NoAnswer|ParseError $e) {
                // A page that refuses has taken nothing: the device restarts after the step before, so it is tried again.
                if (self::TRIES === $try || !$e instanceof NoAnswer || Outcome::Refuses !== $e->outcome) {
                    return $e->getMessage();
                }
                delay(0.25);
                $this->waitsUntilUp();
            }
        }
    }

    private function isReserved(): bool
    {
        return true === $this->device()->nic()?->reserved;
    }

    /** A value read from it, in its stored form. */
    private function read(string $name): ?string
    {
        $shows = $this->front->shows();
        if ('mac' === $name) {
            $mac = $shows['label']['MAC'] ?? null;
            foreach ($this->slips as $slip) {
                if (null !== $mac && InjectedMistake::MISREAD === $slip->what) {
                    $mac = $slip->value;
                }
            }

            return $mac;
        }
        if ('serial' === $name) {
            return $shows['label']['serial'] ?? null;
        }
        $slot = $this->day->plan->settings()->slot($this->device(), $name);
        $said = null === $slot ? '' : $shows['held'][$slot->local] ?? '';

        return null === $slot || '' === $said ? null : $slot->setting->read($said);
    }

    private function isAtReserved(): ?string
    {
        $planned = $this->device()->nic()?->setting('address')->planned;
        $has = $this->standIn->state->get('address');

        return $planned === $has ? null : \sprintf('no lease: it is at %s', '' === $has ? 'no address' : $has);
    }

    private function isInService(): ?string
    {
        $device = $this->device();
        if ($device->kind->has(Role::FileClient)) {
            return $this->day->registers($device, $this->standIn) ? null : 'it does not register';
        }
        $address = $device->nic()?->addressAsSet();
        $service = $device->serviceNamed('admin');
        if (null === $address || null === $service || null === $device->kind->admin) {
            return $this->standIn->isUp() || [] === $device->kind->activePorts() ? null : 'it does not come up';
        }
        $this->day->place($this->key);
        for ($try = 0; $try < self::TRIES; ++$try) {
            $door = $this->doorAt($address);
            try {
                if (null === $door || null !== $door->status($this->password)) {
                    return null === $door ? 'there is nowhere to look from' : null;
                }

                return 'it does not take the password';
            } catch (NoAnswer|ParseError) {
                delay(0.25);
            }
        }

        return \sprintf('nothing answers at %s', $address);
    }

    /** The password comes with the file that it fetches: tried until it is taken. */
    private function takesTheFilesPassword(): bool
    {
        $password = $this->day->secret($this->device(), 'admin');
        for ($until = microtime(true) + self::PATIENCE; microtime(true) < $until; delay(0.25)) {
            $door = $this->door();
            try {
                if (null === $door || null !== $door->status($password)) {
                    $this->password = $password;

                    return true;
                }
            } catch (NoAnswer|ParseError) {
                continue;
            }
        }

        return false;
    }

    private function door(): ?DeviceDoor
    {
        $address = Ipv4::tryFromString($this->standIn->state->get('address'));

        return null === $address ? null : $this->doorAt($address);
    }

    private function doorAt(Ipv4 $address): ?DeviceDoor
    {
        $place = $this->day->placeOf($this->key);

        return null === $place ? null : DeviceDoor::of($this->day->http, $place, $address, $this->device());
    }

    private function waitsUntilUp(): ?string
    {
        // Longer than any start: one that does not come up in this time does not come up.
        for ($until = $this->standIn->time() + 4 * $this->device()->kind->boot + 60; $this->standIn->time() < $until; delay(0.05)) {
            if ($this->standIn->isUp()) {
                return null;
            }
        }

        return 'it does not come up';
    }
}
