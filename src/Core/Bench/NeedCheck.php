<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench;

use Vorhut\Core\Catalogue\Need;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\JobQuestions;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\RegistrarEntry;
use Vorhut\Core\Text\Message;

/** Whether a step can be done yet, its prerequisites, and the person for each. */
final readonly class NeedCheck
{
    public function __construct(private Plan $plan, private Device $device)
    {
    }

    /** @return Obstacle|null why it is not met */
    public function unmet(Need $need): ?Obstacle
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

    private function extension(): ?Obstacle
    {
        return [] !== $this->plan->extensionsOf($this->device->key)
            ? null
            : new Obstacle(
                new Message('{tag} has no number yet: the lead gives one in Services.', ['tag' => $this->device->tag]),
                Stage::Services,
                $this->device->record(),
            );
    }

    private function registrarEntry(): ?Obstacle
    {
        foreach ($this->plan->extensionsOf($this->device->key) as $extension) {
            $entry = RegistrarEntry::of($this->plan, $extension, $this->device->key);
            if (true !== $entry?->isEntered()) {
                return new Obstacle(new Message(
                    false === $entry?->needsMac()
                        ? 'The account of {number} is not entered at the registrar: enter it there first, then here.'
                        : 'The MAC of {tag} is not entered at the registrar for {number}: enter it there first, then here.',
                    ['tag' => $this->device->tag, 'number' => $extension->number],
                ), Stage::Services, 'extensions/'.$extension->key);
            }
        }

        return null;
    }

    private function licence(string $code): ?Obstacle
    {
        $term = $this->device->kind->licence($code);
        $wants = null === $term ? null : LicenceNeed::of($this->plan, $this->device, $term);
        if (null === $wants || 0 === $wants->missing()) {
            return null;
        }
        $values = ['tag' => $this->device->tag, 'what' => new Message($wants->term->name)];

        $why = null !== $wants->ordered
            ? new Message('{what} of {tag}: ordered on {day}, not here yet.', $values + ['day' => $wants->ordered])
            : new Message('{what} of {tag}: [n more is|more are] needed; the lead engineer orders them, in [days day|days].', $values + [
                'n' => $wants->missing(),
                'days' => $wants->term->lead,
            ]);

        return $this->atDevice($why);
    }

    private function planned(string $local): ?Obstacle
    {
        $slot = $this->plan->settings()->slot($this->device, $local);
        if (null === $slot || null !== $slot->value->planned || RunSheet::of($this->plan, $this->device)->isOfUnusedPort($local)) {
            return null;
        }

        return $this->notPlanned($slot->label());
    }

    private function staged(string $local): ?Obstacle
    {
        $slot = $this->plan->settings()->slot($this->device, $local);
        $other = $this->plan->devices[$slot?->value->planned ?? ''] ?? null;
        if (null === $other) {
            return $this->notPlanned($slot?->label() ?? $local);
        }

        return RunSheet::of($this->plan, $other)->isDone()
            ? null
            : new Obstacle(new Message('{other} has to be staged first.', ['other' => $other->tag]), Stage::Bench, $other->record());
    }

    private function notPlanned(string $setting): Obstacle
    {
        return $this->atDevice(new Message('{setting} of {tag} is not planned yet.', [
            'tag' => $this->device->tag,
            'setting' => new Message($setting),
        ]));
    }

    private function atDevice(Message $why): Obstacle
    {
        return new Obstacle($why, Stage::Devices, $this->device->record());
    }

    private function known(string $field): ?Obstacle
    {
        return '' !== $this->plan->job->text($field) || [] !== $this->plan->job->list($field)
            ? null
            : new Obstacle(
                new Message('The Brief does not answer yet: {question}', [
                    'question' => new Message(JobQuestions::ADMINISTRATOR[$field] ?? $field),
                ]),
                Stage::Brief,
            );
    }
}
