<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

use Vorhut\Core\Text\Message;

/**
 * Whether a kind and the agreements hold together, beyond the shape of their files: what they name is there, every setting can be put in
 * somehow, every step can be reached.
 */
final class KindValidator
{
    /** Names other than settings that a sheet may show or read. */
    public const FACTS = ['mac', 'serial', 'factory', 'login', 'url', 'authority-url'];
    private const DAY = 86400;
    /** Seconds of work for each second of a time window; more is not one key sequence. */
    private const PER_WINDOW = 4;

    /** @return list<Message> errors; empty for a valid kind */
    public static function ofKind(Kind $kind): array
    {
        return array_values([
            ...self::ofServices($kind),
            ...self::ofSteps($kind),
            ...self::ofHandTests($kind),
            ...self::ofPower($kind),
            ...self::ofTimes($kind),
            ...self::ofLicences($kind),
            ...self::ofSettings($kind),
            ...self::ofFactoryStates($kind),
        ]);
    }

    /** @return iterable<Message> */
    private static function ofServices(Kind $kind): iterable
    {
        foreach ($kind->services as $service) {
            if (null !== $service->follows && ValueType::PortNumber !== $kind->setting($service->follows)?->type) {
                yield new Message('{kind}, service {name}: "{setting}" is not a port setting of this kind.', [
                    'kind' => $kind->code,
                    'name' => $service->name,
                    'setting' => $service->follows,
                ]);
            }
        }
    }

    /** @return iterable<Message> */
    private static function ofSteps(Kind $kind): iterable
    {
        $before = [];
        foreach ($kind->steps as $step) {
            if (\in_array($step->code, $before, true)) {
                yield new Message('{kind}: two steps are called "{step}".', ['kind' => $kind->code, 'step' => $step->code]);
            }
            yield from self::ofNames($kind, $step);
            yield from self::ofNeeds($kind, $step);
            yield from self::ofUndoing($kind, $step, $before);
            $before[] = $step->code;
        }
    }

    /** @return iterable<Message> */
    private static function ofNames(Kind $kind, Step $step): iterable
    {
        $names = self::names($step) + ['where' => null === $step->where ? [] : [$step->where]];
        foreach ($names as $where => $ofThem) {
            foreach ($ofThem as $name) {
                $isKnown = match ($where) {
                    'where' => isset($kind->settings[$name]),
                    'records' => self::knows($kind, $name),
                    default => self::knows($kind, $name) || \in_array($name, self::FACTS, true),
                };
                if (!$isKnown) {
                    yield new Message('{kind}, step {step}: "{name}" under {where} is not a setting of this kind.', [
                        'kind' => $kind->code,
                        'step' => $step->code,
                        'name' => $name,
                        'where' => $where,
                    ]);
                }
            }
        }
    }

    /** @return iterable<Message> */
    private static function ofNeeds(Kind $kind, Step $step): iterable
    {
        foreach ($step->needs as $need) {
            if (!self::canBeMet($kind, $need)) {
                yield new Message('{kind}, step {step}: nothing can meet the need "{need}".', [
                    'kind' => $kind->code,
                    'step' => $step->code,
                    'need' => (string) $need,
                ]);
            }
        }
        $states = array_map(static fn (FactoryState $state): string => $state->when, $kind->factoryStates);
        if (null !== $step->only && !\in_array($step->only, $states, true)) {
            yield new Message('{kind}, step {step}: this kind has no factory state "{state}".', [
                'kind' => $kind->code,
                'step' => $step->code,
                'state' => $step->only,
            ]);
        }
    }

    /**
     * @param list<string> $before codes of the steps before it
     *
     * @return iterable<Message>
     */
    private static function ofUndoing(Kind $kind, Step $step, array $before): iterable
    {
        if (null !== $step->undoes && !\in_array($step->undoes, $before, true)) {
            yield new Message('{kind}, step {step}: it undoes "{undoes}", which is not an earlier step.', [
                'kind' => $kind->code,
                'step' => $step->code,
                'undoes' => $step->undoes,
            ]);
        }
        $ways = array_map(static fn (Way $way): string => $way->code, $kind->step($step->undoes ?? '')->ways ?? []);
        if (null !== $step->undoesWay && !\in_array($step->undoesWay, $ways, true)) {
            yield new Message('{kind}, step {step}: "{way}" is not an option of the step that it undoes.', [
                'kind' => $kind->code,
                'step' => $step->code,
                'way' => $step->undoesWay,
            ]);
        }
    }

    /** @return iterable<Message> */
    private static function ofHandTests(Kind $kind): iterable
    {
        foreach ($kind->handTests as $question) {
            $at = ['kind' => $kind->code, 'step' => $question->code];
            foreach ($question->facts as $name) {
                if (!str_starts_with($name, 'job:') && !self::knows($kind, $name)) {
                    yield new Message('{kind}, question {step}: "{name}" is not a setting of this kind.', $at + ['name' => $name]);
                }
            }
            foreach ($question->needs as $need) {
                if (!self::canBeMet($kind, $need)) {
                    yield new Message('{kind}, question {step}: nothing can meet the need "{need}".', $at + ['need' => (string) $need]);
                }
            }
        }
    }

    /** @return iterable<Message> */
    private static function ofPower(Kind $kind): iterable
    {
        $class = $kind->power?->poe();
        if (null !== $class && $kind->power->watts > $class->atDevice()) {
            yield new Message('{kind}: it takes {watts} W, and class {class} leaves a device {left}.', [
                'kind' => $kind->code,
                'watts' => (string) $kind->power->watts,
                'class' => $class->value,
                'left' => (string) $class->atDevice(),
            ]);
        }
    }

    /** @return iterable<Message> */
    private static function ofTimes(Kind $kind): iterable
    {
        $seconds = 0;
        foreach ($kind->steps as $step) {
            $seconds += $step->hands + $step->wait;
            foreach ($step->ways as $way) {
                // A step with typing or waiting misses the window.
                if ($way->window > 0 && ([] !== $way->copies || $way->wait > 0 || $way->hands > self::PER_WINDOW * $way->window)) {
                    yield new Message('{kind}, step {step}: its time window covers more than one key sequence; split the step.', [
                        'kind' => $kind->code,
                        'step' => $step->code,
                    ]);
                }
            }
        }
        if ($seconds > self::DAY) {
            yield new Message('{kind}: its steps take more than a day.', ['kind' => $kind->code]);
        }
    }

    /** @return iterable<Message> */
    private static function ofLicences(Kind $kind): iterable
    {
        foreach ($kind->licences as $licence) {
            foreach (array_diff([(string) $licence->counts, (string) $licence->wantedBy], ['']) as $name) {
                if (!self::knows($kind, $name)) {
                    yield new Message('{kind}, licence {step}: "{name}" is not a setting of this kind.', [
                        'kind' => $kind->code,
                        'step' => $licence->code,
                        'name' => $name,
                    ]);
                }
            }
        }
    }

    /** @return iterable<Message> */
    private static function ofSettings(Kind $kind): iterable
    {
        if (null !== $kind->modules) {
            $setting = $kind->settings[$kind->modules->setting] ?? null;
            $odd = array_diff(array_keys($kind->modules->gives), $setting->choices ?? []);
            if (null === $setting || [] !== $odd) {
                yield new Message('{kind}: its modules do not fit the choices of "{name}".', [
                    'kind' => $kind->code,
                    'name' => $kind->modules->setting,
                ]);
            }
        }
        foreach (self::unwritable($kind) as $name) {
            yield new Message(
                '{kind}: nothing puts the setting "{name}" in: no step records it, no request and no file carries it.',
                ['kind' => $kind->code, 'name' => $name],
            );
        }
        foreach (array_keys($kind->admin->fields ?? []) as $name) {
            if (!self::knows($kind, $name)) {
                yield new Message('{kind}: its admin page names "{name}", which is not a setting of this kind.', [
                    'kind' => $kind->code,
                    'name' => $name,
                ]);
            }
        }
    }

    /** @return iterable<Message> */
    private static function ofFactoryStates(Kind $kind): iterable
    {
        foreach ($kind->factoryStates as $state) {
            if (null !== $state->address && null !== $state->address->whyNotAHost()) {
                yield new Message('{kind}: {address} cannot be a factory address.', [
                    'kind' => $kind->code,
                    'address' => (string) $state->address,
                ]);
            }
        }
    }

    /** @return list<Message> errors of a must-match rule in this library */
    public static function ofAgreement(Catalogue $catalogue, Agreement $agreement): array
    {
        $wrong = [];
        $settings = $catalogue->settings();
        foreach ($agreement->ends as $end) {
            $fromSettings = !\in_array($end->by, ['segment', 'job'], true) && 'segment' !== $end->every;
            [$name, $number] = explode('.', $end->setting, 2) + [1 => ''];
            foreach (array_filter(
                [
                    $name,
                    trim($number, '{}'),
                    str_starts_with($end->by ?? '', 'setting:') ? substr((string) $end->by, 8) : '',
                    (string) $end->with,
                ],
                static fn (string $one): bool => '' !== $one,
            ) as $one) {
                if ($fromSettings && !isset($settings[$one]) && !isset(AgreementEnd::FIELDS[$one])) {
                    $wrong[] = new Message('{agreement}, {end}: no kind has a setting "{name}".', [
                        'agreement' => $agreement->code,
                        'end' => $end->name,
                        'name' => $one,
                    ]);
                }
            }
        }
        if (null !== $agreement->gives && null === $agreement->end($agreement->gives)) {
            $wrong[] = new Message(
                '{agreement}: the end that gives way, "{end}", is none of its ends.',
                ['agreement' => $agreement->code, 'end' => $agreement->gives],
            );
        }

        return $wrong;
    }

    /** @return array<string, list<string>> */
    private static function names(Step $step): array
    {
        $copies = array_merge(...array_map(static fn (Way $way): array => $way->copies, $step->ways));

        return ['records' => $step->records, 'reads' => $step->reads, 'copies' => array_values(array_unique($copies))];
    }

    /** By its own name, or with the port before it. */
    private static function knows(Kind $kind, string $name): bool
    {
        return isset($kind->settings[$name]) || isset($kind->locals()[$name]);
    }

    private static function canBeMet(Kind $kind, Need $need): bool
    {
        $setting = $kind->settings[$need->of] ?? $kind->locals()[$need->of] ?? null;

        return match ($need->word) {
            'extension', 'registrar-entry' => $kind->has(Role::Caller) || $kind->has(Role::Callee),
            'planned' => null !== $setting,
            'staged' => ValueType::Device === $setting?->type,
            'known' => '' !== $need->of,
            'licence' => null !== $kind->licence($need->of),
            default => false,
        };
    }

    /** @return list<string> */
    private static function unwritable(Kind $kind): array
    {
        $recorded = array_merge(...array_map(static fn (Step $step): array => $step->records, $kind->steps));
        $shown = array_merge(...array_map(static fn (Step $step): array => self::names($step)['copies'], $kind->steps));
        $unwritable = [];
        if ([] !== $kind->steps) {
            foreach ($kind->settings as $name => $setting) {
                $ways = [
                    $setting->found,
                    \in_array($name, $recorded, true),
                    [] !== array_filter(
                        $recorded,
                        static fn (string $one): bool => str_ends_with($one, '.'.$name) || str_starts_with($one, $name.'.'),
                    ),
                    // A secret is typed where it is shown.
                    null !== $setting->secret && \in_array($name, $shown, true),
                    \in_array('file', $setting->written, true) && null !== $kind->provisioning,
                    $kind->writable && isset($kind->admin->fields[$name]),
                ];
                if (!\in_array(true, $ways, true)) {
                    $unwritable[] = $name;
                }
            }
        }

        return $unwritable;
    }
}
