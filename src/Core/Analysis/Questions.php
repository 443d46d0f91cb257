<?php

declare(strict_types=1);

namespace Vorhut\Core\Analysis;

use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Catalogue\Effect;
use Vorhut\Core\Catalogue\LoginPattern;
use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Plan\DeviceLogin;
use Vorhut\Core\Plan\JobQuestions;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\RegistrarEntry;
use Vorhut\Core\Text\Message;

/** The open questions before unpacking, in one list, each with the person to ask. */
final readonly class Questions
{
    /** @param list<array{ask: string, record: string, text: Message}> $open */
    private function __construct(public array $open, private int $all)
    {
    }

    // phpcs:ignore SlevomatCodingStandard.Functions, SlevomatCodingStandard.Complexity -- a table: one entry for each question
    public static function of(Plan $plan): self
    {
        $open = [];
        $all = 0;
        $ask = static function (
            bool $missing,
            string $contact,
            string $record,
            string|Message $text,
        ) use (&$open, &$all): void {
            ++$all;
            if ($missing) {
                $open[] = ['ask' => $contact, 'record' => $record, 'text' => \is_string($text) ? new Message($text) : $text];
            }
        };
        $job = $plan->job;
        foreach (JobQuestions::ADMINISTRATOR as $field => $text) {
            $ask('' === $job->text($field), 'administrator', 'job/'.$field, $text);
        }
        $hasPhones = [] !== array_filter($plan->devices, static fn ($device): bool => $device->kind->has(Role::Caller));
        if ($hasPhones) {
            $ask(
                '' === $job->text('extensionFirst') || '' === $job->text('extensionLast'),
                'customer',
                'job/extensionFirst',
                'Which range do the extensions come from?',
            );
            $ask(
                [] === $plan->emergencyNumbers()->numbers,
                'customer',
                'job/emergencyNumbers',
                'Which emergency numbers can be dialled at the site?',
            );
        }
        foreach ($plan->segments as $segment) {
            $ask(
                null === $segment->gateway && $segment->routed && !$segment->isSelfAssigned(),
                'administrator',
                'segments/'.$segment->key,
                new Message('Which gateway does {segment} have, or is it not routed?', ['segment' => $segment->name]),
            );
            $ask(
                !$segment->isVlanKnown,
                'administrator',
                'segments/'.$segment->key,
                new Message('Which VLAN does {segment} use, or is it untagged?', ['segment' => $segment->name]),
            );
        }
        foreach ($plan->devices as $device) {
            if ($device->kind->has(Role::Forwards) || $device->kind->has(Role::Workstation)) {
                continue;
            }
            if (LoginPattern::Held === $device->kind->login->pattern) {
                $ask(
                    null === $plan->credential($device->record(), 'label') && !RunSheet::of($plan, $device)->has(Effect::Secures),
                    'administrator',
                    'devices/'.$device->key,
                    new Message('Which login does {tag} have, and who can give it to us?', ['tag' => $device->tag]),
                );
            }
            foreach (DeviceLogin::purposesOf($device->kind) as $purpose => $label) {
                $ask(
                    0 === ($plan->credential($device->record(), $purpose)->length ?? 0),
                    'administrator',
                    'devices/'.$device->key,
                    new Message('{label} of {tag}: please tell us the value, or the person to ask.', [
                        'label' => $label,
                        'tag' => $device->tag,
                    ]),
                );
            }
            if ([] === $device->kind->activePorts()) {
                continue;
            }
            $ask(
                null === $device->nic()?->segment,
                'administrator',
                'devices/'.$device->key,
                new Message('In which segment is {tag}?', ['tag' => $device->tag]),
            );
            $ask(
                null === $device->nic()?->mac,
                'bench',
                'devices/'.$device->key,
                new Message('Which MAC is printed on the label of {tag}?', ['tag' => $device->tag]),
            );
        }
        foreach ($plan->extensions as $extension) {
            if (null !== $extension->phone || 'analogue' === $extension->terminal) {
                $ask(
                    '' === $extension->location,
                    'customer',
                    'extensions/'.$extension->key,
                    new Message(
                        'Where is {number}, as the emergency centre needs it: address, floor, room?',
                        ['number' => $extension->number],
                    ),
                );
            }
            if (null !== $extension->phone) {
                $entry = RegistrarEntry::ofNumber($plan, $extension);
                $ask(
                    true !== $entry?->isEntered(),
                    'registrar',
                    'extensions/'.$extension->key,
                    new Message(
                        false === $entry?->needsMac()
                            ? 'Is the account of {number} entered at the registrar?'
                            : 'Is the MAC entered at the registrar for {number}?',
                        ['number' => $extension->number],
                    ),
                );
                foreach ($plan->terminalsOf($extension->key) as $terminal) {
                    $ask(
                        true !== RegistrarEntry::of($plan, $extension, $terminal->device)?->isEntered(),
                        'registrar',
                        $terminal->record(),
                        new Message(
                            'Is the MAC of {tag} entered at the registrar for {number}?',
                            ['tag' => $plan->devices[$terminal->device]->tag ?? '?', 'number' => $extension->number],
                        ),
                    );
                }
            }
        }

        foreach ($plan->credentials() as $credential) {
            $device = $plan->devices[substr($credential->owner, 8)] ?? null;
            if (null !== $device && '' !== $credential->heldBy && !isset(DeviceLogin::purposesOf($device->kind)[$credential->purpose])) {
                $ask(
                    0 === $credential->length,
                    'administrator',
                    'devices/'.$device->key,
                    new Message(
                        'Which login for {tag} ({purpose}) does {who} hold?',
                        ['who' => $credential->heldBy, 'tag' => $device->tag, 'purpose' => $credential->purpose],
                    ),
                );
            }
        }

        return new self($open, $all);
    }

    /** Share of all questions that have an answer. */
    public function answeredShare(): float
    {
        return 0 === $this->all ? 0.0 : ($this->all - \count($this->open)) / $this->all;
    }
}
