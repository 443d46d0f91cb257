<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Catalogue\Role;

/**
 * The entry that must exist at a registrar before a phone with a number can register there. A phone is entered by its MAC; a program on a
 * computer has no MAC and is entered by its account only.
 */
final readonly class RegistrarEntry
{
    private function __construct(private Account|Terminal $record, private ?Device $phone)
    {
    }

    /** @return self|null null for a number without an account */
    public static function of(Plan $plan, Extension $extension, string $phone): ?self
    {
        $record = $plan->entryOf($extension, $phone);

        return null === $record ? null : new self($record, $plan->devices[$phone] ?? null);
    }

    /** The entry of a number's own phone. */
    public static function ofNumber(Plan $plan, Extension $extension): ?self
    {
        $account = $plan->accountOf($extension->key);

        return null === $account ? null : new self($account, $plan->devices[$extension->phone ?? ''] ?? null);
    }

    public function record(): string
    {
        return $this->record->record();
    }

    /** Whether it is entered by its MAC. */
    public function needsMac(): bool
    {
        return true !== $this->phone?->kind->has(Role::Program);
    }

    public function isEntered(): bool
    {
        return null !== $this->record->macEntered || (!$this->needsMac() && null !== $this->record->enteredAt);
    }

    /** Whether another device than the phone is entered. */
    public function isOfAnother(): bool
    {
        $mac = $this->phone?->nic()?->mac;

        return $this->needsMac() && null !== $this->record->macEntered && (null === $mac || !$mac->equals($this->record->macEntered));
    }

    /** Notes what isEntered() reads. */
    public function note(Facts $facts): void
    {
        $facts->note($this->record().':macEntered', null === $this->record->macEntered ? null : (string) $this->record->macEntered);
        if (!$this->needsMac()) {
            $facts->note($this->record().':enteredAt', $this->record->enteredAt);
        }
    }

    /**
     * Puts it in.
     *
     * @param string $at when, as the journal writes times
     *
     * @return Edit|null null where the MAC of the phone is not known
     */
    public function markEntered(string $at): ?Edit
    {
        [$section, $key] = explode('/', $this->record(), 2);
        if (!$this->needsMac()) {
            return Edit::put($section, $key, 'enteredAt', $this->record->enteredAt, $at);
        }
        $mac = $this->phone?->nic()?->mac;
        $before = null === $this->record->macEntered ? null : (string) $this->record->macEntered;

        return null === $mac ? null : Edit::put($section, $key, 'macEntered', $before, (string) $mac);
    }
}
