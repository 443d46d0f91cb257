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
    /** What a sheet may show or read that is no setting. */
    public const FACTS = ['mac', 'serial', 'factory', 'login', 'url', 'authority-url'];
    private const DAY = 86400;
    /** Seconds of work for each second of a time window; more is not one key sequence. */
    private const PER_WINDOW = 4;

    /** @return list<Message> what is wrong; empty for a sound kind */
    public static function ofKind(Kind $kind): array
    {
        $wrong = [];
        $say = static function (string $text, array $with = []) use (&$wrong, $kind): void {
            /** @var array<string, string|int> $with */
            $wrong[] = new Message($text, ['kind' => $kind->code] + $with);
        };
        $codes = array_map(static fn (Step $step): string => $step->code, $kind->steps);
        foreach (array_diff_key($codes, array_unique($codes)) as $code) {
            $say('{kind}: two steps are called "{step}".', ['step' => $code]);
        }
        foreach ($kind->services as $service) {
            if (null !== $service->follows && ValueType::PortNumber !== $kind->setting($service->follows)?->type) {
                $say('{kind}, service {name}: "{setting}" is no setting of it that holds a port.', [
                    'name' => $service->name,
                    'setting' => $service->follows,
                ]);
            }
        }
        $time = 0;
        foreach ($kind->steps as $i => $step) {
            $time += $step->hands + $step->wait;
            foreach (self::names($step) as $where => $names) {
                foreach ($names as $name) {
                    if (!self::knows($kind, $name) && ('records' === $where || !\in_array($name, self::FACTS, true))) {
                        $say(
                            '{kind}, step {step}: "{name}" under {where} is no setting of it.',
                            ['step' => $step->code, 'name' => $name, 'where' => $where],
                        );
                    }
                }
            }
            foreach ($step->needs as $need) {
                if (!self::canBeMet($kind, $need)) {
                    $say('{kind}, step {step}: nothing can meet the need "{need}".', ['step' => $step->code, 'need' => (string) $need]);
                }
            }
            if (null !== $step->where && !isset($kind->settings[$step->where])) {
                $say('{kind}, step {step}: "{name}" under {where} is no setting of it.', [
                    'step' => $step->code,
                    'name' => $step->where,
                    'where' => 'where',
                ]);
            }
            $states = array_map(static fn (FactoryState $state): string => $state->when, $kind->factoryStates);
            if (null !== $step->only && !\in_array($step->only, $states, true)) {
                $say('{kind}, step {step}: there is no factory state "{state}" that could call for it.', [
                    'step' => $step->code,
                    'state' => $step->only,
                ]);
            }
            if (null !== $step->undoes && !\in_array($step->undoes, \array_slice($codes, 0, $i), true)) {
                $say(
                    '{kind}, step {step}: it puts back "{undoes}", which is no step before it.',
                    ['step' => $step->code, 'undoes' => $step->undoes],
                );
            }
        }
        foreach ($kind->steps as $step) {
            $ways = array_map(static fn (Way $way): string => $way->code, $kind->step($step->undoes ?? '')->ways ?? []);
            if (null !== $step->undoesWay && !\in_array($step->undoesWay, $ways, true)) {
                $say(
                    '{kind}, step {step}: "{way}" is no way of the step that it puts back.',
                    ['step' => $step->code, 'way' => $step->undoesWay],
                );
            }
        }
        foreach ($kind->handTests as $question) {
            foreach (array_filter($question->facts, static fn (string $one): bool => !str_starts_with($one, 'job:')) as $name) {
                if (!self::knows($kind, $name)) {
                    $say('{kind}, question {step}: "{name}" is no setting of it.', ['step' => $question->code, 'name' => $name]);
                }
            }
            foreach ($question->needs as $need) {
                if (!self::canBeMet($kind, $need)) {
                    $say(
                        '{kind}, question {step}: nothing can meet the need "{need}".',
                        ['step' => $question->code, 'need' => (string) $need],
                    );
                }
            }
        }
        $class = $kind->power?->poe();
        if (null !== $class && $kind->power->watts > $class->atDevice()) {
            $say('{kind}: it takes {watts} W, and class {class} leaves a device {left}.', [
                'watts' => (string) $kind->power->watts,
                'class' => $class->value,
                'left' => (string) $class->atDevice(),
            ]);
        }
        foreach ($kind->steps as $step) {
            foreach ($step->ways as $way) {
                // Whoever has to type or to wait within the window misses it.
                if ($way->window > 0 && ([] !== $way->copies || $way->wait > 0 || $way->hands > self::PER_WINDOW * $way->window)) {
                    $say('{kind}, step {step}: its time window covers more than one key sequence; split the step.', [
                        'step' => $step->code,
                    ]);
                }
            }
        }
        if ($time > self::DAY) {
            $say('{kind}: its steps take more than a day.');
        }
        foreach ($kind->licences as $licence) {
            foreach (array_diff([(string) $licence->counts, (string) $licence->wantedBy], ['']) as $name) {
                if (!self::knows($kind, $name)) {
                    $say('{kind}, licence {step}: "{name}" is no setting of it.', ['step' => $licence->code, 'name' => $name]);
                }
            }
        }
        if (null !== $kind->modules) {
            $setting = $kind->settings[$kind->modules->setting] ?? null;
            $odd = array_diff(array_keys($kind->modules->gives), $setting->choices ?? []);
            if (null === $setting || [] !== $odd) {
                $say('{kind}: its modules do not fit the choices of "{name}".', ['name' => $kind->modules->setting]);
            }
        }
        foreach (self::unwritable($kind) as $name) {
            $say('{kind}: nothing puts the setting "{name}" in: no step records it, no request and no file carries it.', ['name' => $name]);
        }
        foreach (array_keys($kind->admin->fields ?? []) as $name) {
            if (!self::knows($kind, $name)) {
                $say('{kind}: its admin page names "{name}", which is no setting of it.', ['name' => $name]);
            }
        }
        foreach ($kind->factoryStates as $state) {
            if (null !== $state->address && null !== $state->address->whyNotAHost()) {
                $say('{kind}: {address} is no address for a device to come with.', ['address' => (string) $state->address]);
            }
        }

        return $wrong;
    }

    /** @return list<Message> what is wrong with an agreement in this library */
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
