<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench;

use Vorhut\Core\Catalogue\Need;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\RegistrarEntry;
use Vorhut\Core\Text\Message;

/** Whether a step can be done yet, its prerequisites, and the person for each. */
final readonly class NeedCheck
{
    public function __construct(private Plan $plan, private Device $device)
    {
    }

    /** @return Message|null why it is not met */
    public function unmet(Need $need): ?Message
    {
        return match ($need->word) {
            'extension' => $this->extension(),
            'registrar-entry' => $this->registrarEntry(),
            'licence' => $this->licence($need->of),
            'planned' => $this->planned($need->of),
            'staged' => $this->staged($need->of),
            default => $this->known($need->of),
        };
    }

    private function extension(): ?Message
    {
        return [] !== $this->plan->extensionsOf($this->device->key)
            ? null
            : new Message('{tag} has no number yet: the lead gives one in Services.', ['tag' => $this->device->tag]);
    }

    private function registrarEntry(): ?Message
    {
        foreach ($this->plan->extensionsOf($this->device->key) as $extension) {
            $entry = RegistrarEntry::of($this->plan, $extension, $this->device->key);
            if (true !== $entry?->isEntered()) {
                return new Message(
                    false === $entry?->needsMac()
                        ? 'The account of {number} is not entered at the registrar: enter it there first, then here.'
                        : 'The MAC of {tag} is not entered at the registrar for {number}: enter it there first, then here.',
                    ['tag' => $this->device->tag, 'number' => $extension->number],
                );
            }
        }

        return null;
    }

    private function licence(string $code): ?Message
    {
        $term = $this->device->kind->licence($code);
        $wants = null === $term ? null : LicenceNeed::of($this->plan, $this->device, $term);
        if (null === $wants || 0 === $wants->missing()) {
            return null;
        }
        $values = ['tag' => $this->device->tag, 'what' => new Message($wants->term->name)];

        return null !== $wants->ordered
            ? new Message('{what} of {tag}: ordered on {day}, not here yet.', $values + ['day' => $wants->ordered])
            : new Message('{what} of {tag}: [n more is|more are] needed; the lead engineer orders them, in [days day|days].', $values + [
                'n' => $wants->missing(),
                'days' => $wants->term->lead,
            ]);
    }

    private function planned(string $local): ?Message
    {
        $slot = $this->plan->settings()->slot($this->device, $local);
        if (null === $slot || null !== $slot->value->planned || RunSheet::of($this->plan, $this->device)->isOfUnusedPort($local)) {
            return null;
        }

        return $this->notPlanned($slot->label());
    }

    private function staged(string $local): ?Message
    {
        $slot = $this->plan->settings()->slot($this->device, $local);
        $other = $this->plan->devices[$slot?->value->planned ?? ''] ?? null;
        if (null === $other) {
            return $this->notPlanned($slot?->label() ?? $local);
        }

        return RunSheet::of($this->plan, $other)->isDone()
            ? null
            : new Message('{other} has to be staged first.', ['other' => $other->tag]);
    }

    private function notPlanned(string $setting): Message
    {
        return new Message('{setting} of {tag} is not planned yet.', ['tag' => $this->device->tag, 'setting' => new Message($setting)]);
    }

    private function known(string $field): ?Message
    {
        return '' !== $this->plan->job->text($field) || [] !== $this->plan->job->list($field)
            ? null
            : new Message('The job does not say "{what}" yet: it belongs in the Brief.', ['what' => $field]);
    }
}
