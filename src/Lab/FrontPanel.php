<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Vorhut\Core\Net\Malformed;

/**
 * The controls of a stand-in: power, screen, label, dials, keys, sockets, and those of its settings that are not on its web page: a cable
 * in an input, a module in a slot, a menu.
 */
final readonly class FrontPanel
{
    private const POWERED_AT = 'powered at';
    private const SHOWS_ADDRESS = ['screen', 'panel-menu', 'program', 'remote-control'];

    public function __construct(private StandIn $standIn)
    {
    }

    /**
     * @return array{
     *     kind: string, label: array<string, string>, power: string, screen: list<string>, lamps: array<string, string>,
     *     dials: list<string>, held: array<string, string>, reset: string,
     * } held: local name of a setting → what one sees that it is, by looking
     */
    public function shows(): array
    {
        $state = $this->standIn->state;
        $kind = $this->standIn->kind;
        $held = [];
        foreach ($kind->locals() as $local => $setting) {
            if (null === $setting->secret) {
                $held[$local] = $setting->type->format($state->get($local));
            }
        }

        return [
            'kind' => $kind->name,
            'label' => array_filter([
                'MAC' => [] === $kind->activePorts() ? '' : implode('-', str_split(strtoupper($state->mac), 2)),
                'serial' => $state->serial(),
                'login' => $state->labelLogin(),
            ], static fn (?string $line): bool => '' !== (string) $line),
            'power' => match (true) {
                !$state->powered => 'off',
                $this->standIn->isUp() => 'on',
                default => 'starting',
            },
            'screen' => $this->screen(),
            'lamps' => $this->standIn->isUp() ? $this->standIn->shows() : [],
            'dials' => $kind->panel->dials,
            'held' => $held,
            'reset' => $kind->panel->reset,
        ];
    }

    /** @return list<string> what its screen, its menu or its program's first message says once it is up */
    private function screen(): array
    {
        $state = $this->standIn->state;
        if (!$this->standIn->isUp() || [] === array_intersect(self::SHOWS_ADDRESS, $this->standIn->kind->tells)) {
            return [];
        }

        return array_values(array_filter(
            [$state->get('address'), $state->get('hostName')],
            static fn (?string $line): bool => '' !== (string) $line,
        ));
    }

    public function power(bool $on): void
    {
        $state = $this->standIn->state;
        if ($state->powered === $on) {
            return;
        }
        $state->powered = $on;
        if ($on) {
            $state->extra[self::POWERED_AT] = (string) $this->standIn->time();
            $this->standIn->restart();
        } else {
            $this->standIn->off();
        }
        $this->standIn->onChange();
    }

    /**
     * Sets a value by hand. A dial turned under power has no effect until the next start, and then it has its last position.
     *
     * @return string|null why it was not taken
     */
    public function put(string $local, string $value): ?string
    {
        $state = $this->standIn->state;
        $setting = $this->standIn->kind->locals()[$local] ?? null;
        if (null === $setting) {
            return \sprintf('There is no "%s" on it.', $local);
        }
        try {
            $read = null === $setting->secret ? $setting->read($value) : $value;
        } catch (Malformed $e) {
            return $e->getMessage();
        }
        if (\in_array($local, $this->standIn->kind->panel->dials, true) && $state->powered) {
            $state->saved[$local] = $read;
            $this->standIn->onChange();

            return null;
        }
        $why = $this->standIn->refuses($local, $read);
        if (null !== $why) {
            return $why;
        }
        $before = $state->get($local);
        $this->standIn->configure(match (true) {
            null === $setting->secret => $local,
            'admin' === $setting->secret => 'adminPassword',
            default => $local,
        }, $read);
        if ($state->powered && $before !== $read && $this->standIn->restartsFor($setting)) {
            $this->standIn->restartSoon();
        } else {
            $this->standIn->onChange();
        }

        return null;
    }

    /** The keys that set it back, held in the time in which they count. */
    public function reset(): bool
    {
        $panel = $this->standIn->kind->panel;
        $since = $this->standIn->time() - (float) ($this->standIn->state->extra[self::POWERED_AT] ?? 0);
        if ('' === $panel->reset || !$this->standIn->state->powered || ($panel->within > 0 && $since > $panel->within)) {
            return false;
        }
        $this->standIn->reset();

        return true;
    }

    /** @return string|null what a code of the remote control brings up; null for one that does nothing */
    public function code(string $code): ?string
    {
        return 'address' === ($this->standIn->kind->panel->codes[$code] ?? null) && $this->standIn->isUp()
            ? $this->standIn->state->get('address')
            : null;
    }

    public function touch(Stimulus $touch): bool
    {
        return $this->standIn->state->powered && $this->standIn->feels($touch);
    }
}
