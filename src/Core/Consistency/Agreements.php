<?php

declare(strict_types=1);

namespace Vorhut\Core\Consistency;

use Vorhut\Core\Allocation\FreeAddress;
use Vorhut\Core\Catalogue\Agreement;
use Vorhut\Core\Catalogue\Relation;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Facts;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\SettingChange;
use Vorhut\Core\Plan\SettingRef;
use Vorhut\Core\Text\Message;

/**
 * The engine for settings that must match on two or more devices: it runs the rules in the library's data on the value *set*, else on the
 * planned one.
 */
final readonly class Agreements
{
    /** @param list<Agreed> $all */
    private function __construct(public array $all)
    {
    }

    public static function of(Plan $plan): self
    {
        return self::among($plan, $plan->catalogue->agreements);
    }

    /** Those that one device has a part in: of a large job a small part of the work. */
    public static function ofDevice(Plan $plan, Device $device): self
    {
        $agreements = array_filter(
            $plan->catalogue->agreements,
            static fn (Agreement $agreement): bool => $agreement->isFor($device->kind),
        );

        return new self(self::among($plan, $agreements)->about($device->key));
    }

    /** @param array<array-key, Agreement> $agreements */
    private static function among(Plan $plan, array $agreements): self
    {
        $all = [];
        $subjects = new Subjects($plan);
        foreach ($agreements as $agreement) {
            $all = [
                ...$all,
                ...($agreement->isGroup() ? self::groups($plan, $agreement, $subjects) : self::pairs($plan, $agreement, $subjects)),
            ];
        }

        return new self($all);
    }

    /** @return list<Agreed> */
    public function about(string $device): array
    {
        return array_values(array_filter($this->all, static fn (Agreed $one): bool => $one->isAbout($device)));
    }

    /** @return list<Agreed> those that a setting takes part in */
    public function around(SettingRef $ref): array
    {
        return array_values(array_filter($this->all, static fn (Agreed $one): bool => [] !== array_filter(
            $one->subjects,
            static fn (Subject $subject): bool => null !== $subject->ref && (string) $subject->ref === (string) $ref,
        )));
    }

    /**
     * How many of each agreement stand how.
     *
     * @return array<string, array{agreement: Agreement, holds: int, broken: int, unknown: int}> by code, broken rules first
     */
    public function tally(): array
    {
        $tally = [];
        foreach ($this->all as $one) {
            $code = $one->agreement->code;
            $tally[$code] ??= ['agreement' => $one->agreement, 'holds' => 0, 'broken' => 0, 'unknown' => 0];
            ++$tally[$code][$one->standing->value];
        }
        uasort($tally, static fn (array $a, array $b): int => [-$a['broken'], -$a['unknown'], $a['agreement']->name]
            <=> [-$b['broken'], -$b['unknown'], $b['agreement']->name]);

        return $tally;
    }

    /** @return list<Agreed> */
    public function with(Standing $standing): array
    {
        return array_values(array_filter($this->all, static fn (Agreed $one): bool => $one->standing === $standing));
    }

    /** @return list<Agreed> */
    private static function pairs(Plan $plan, Agreement $agreement, Subjects $subjects): array
    {
        $all = [];
        [$first, $second] = $agreement->ends;
        foreach ($subjects->every($first) as $left) {
            $facts = new Facts();
            $right = $subjects->linkedTo($second, $left, $facts);
            // An unused setting has nothing to match.
            if ([] === $right || (null !== $left->ref && null === $left->value->effective(Face::Set))) {
                continue;
            }
            foreach ([$left, ...$right] as $one) {
                self::note($facts, $one, $agreement);
            }
            $compare = static fn (Face $face): Standing => Comparison::between(
                $agreement->relation,
                $left,
                $right,
                $face,
                $agreement->pairs,
            );
            $standing = $compare(Face::Set);
            $broken = Standing::Broken === $standing;
            $gives = $agreement->gives === $second->name && 1 === \count($right) ? $right[0] : $left;
            $at = self::places($plan, [$left, $right[0]]);
            $all[] = new Agreed(
                $agreement,
                [$left, ...$right],
                $standing,
                $broken ? [$gives] : [],
                $broken && Standing::Holds === $compare(Face::Planned),
                $facts,
                new Message($agreement->broken, $at),
                new Message($agreement->why, $at),
                new Message($agreement->todo, $at),
                $broken && null !== $agreement->gives ? self::cure($plan, $agreement, $gives, $gives === $left ? $right[0] : $left) : null,
                null === $agreement->button ? null : new Message($agreement->button, $at),
            );
        }

        return $all;
    }

    /** @return list<Agreed> */
    private static function groups(Plan $plan, Agreement $agreement, Subjects $subjects): array
    {
        $groups = [];
        foreach ($subjects->every($agreement->ends[0]) as $subject) {
            $within = match ($agreement->per) {
                'segment' => $subject->segment,
                'device' => $subject->device?->key,
                'room' => $subject->device?->room,
                default => '',
            };
            if (null !== $within) {
                $groups[$within][] = $subject;
            }
        }
        $all = [];
        foreach ($groups as $members) {
            if (\count($members) > 1) {
                $all[] = self::group($plan, $agreement, $members);
            }
        }

        return $all;
    }

    /** @param non-empty-list<Subject> $members */
    private static function group(Plan $plan, Agreement $agreement, array $members): Agreed
    {
        $facts = new Facts();
        foreach ($members as $member) {
            self::note($facts, $member, $agreement);
        }
        $odd = self::odd($agreement, $members, Face::Set);
        $known = array_filter($members, static fn (Subject $one): bool => [] !== Comparison::parts($one, Face::Set));
        $isSegment = \in_array($agreement->relation, [Relation::SameSegment, Relation::DifferentSegment], true);
        $standing = match (true) {
            [] !== $odd => Standing::Broken,
            !$isSegment && \count($known) < \count($members) => Standing::Unknown,
            default => Standing::Holds,
        };
        $keeps = array_values(array_filter($members, static fn (Subject $one): bool => !\in_array($one, $odd, true)))[0] ?? $members[0];
        $at = [
            'names' => self::names(Relation::Distinct === $agreement->relation ? self::sharing($members, $odd) : $members),
            'odd' => self::names($odd),
            'odd.value' => self::valueText($plan, $odd[0] ?? $members[0]),
            'keeps' => $keeps->name,
            'value' => self::valueText($plan, $keeps),
        ];
        $edits = [];
        if (Relation::Equal === $agreement->relation) {
            foreach ($odd as $one) {
                $edits = [...$edits, ...(self::cure($plan, $agreement, $one, $keeps)->edits ?? [])];
            }
        }

        return new Agreed(
            $agreement,
            $members,
            $standing,
            $odd,
            [] !== $odd && [] === self::odd($agreement, $members, Face::Planned),
            $facts,
            new Message($agreement->broken, $at),
            new Message($agreement->why, $at),
            new Message($agreement->todo, $at),
            [] === $edits ? null : new Change(new Message('{names}: {setting} set to {value}.', [
                'names' => self::names($odd),
                'setting' => new Message($keeps->label),
                'value' => self::valueText($plan, $keeps),
            ]), $edits),
        );
    }

    /**
     * Of a group whose values must differ: those that share one.
     *
     * @param non-empty-list<Subject> $members
     * @param list<Subject>           $odd     all but the first of each value
     *
     * @return list<Subject>
     */
    private static function sharing(array $members, array $odd): array
    {
        $shared = array_map(static fn (Subject $one): ?string => $one->value->effective(Face::Set), $odd);

        return array_values(array_filter(
            $members,
            static fn (Subject $one): bool => \in_array($one->value->effective(Face::Set), $shared, true),
        ));
    }

    /**
     * The ends that differ: for "equal", those outside the largest group, the first of the roster deciding a tie; for "distinct", all but
     * the first with a value.
     *
     * @param non-empty-list<Subject> $members
     *
     * @return list<Subject>
     */
    private static function odd(Agreement $agreement, array $members, Face $face): array
    {
        if (Relation::Equal === $agreement->relation || Relation::Distinct === $agreement->relation) {
            $by = [];
            foreach ($members as $member) {
                $value = $member->value->effective($face);
                if (null !== $value && (Relation::Equal === $agreement->relation || '' !== $value)) {
                    $by[$value][] = $member;
                }
            }
            if (Relation::Distinct === $agreement->relation) {
                return array_merge(...array_values(array_map(static fn (array $same): array => \array_slice($same, 1), $by)));
            }
            // Sorting is stable: of two values that equally many hold, the one that came first in the roster stays.
            uasort($by, static fn (array $a, array $b): int => \count($b) <=> \count($a));

            return array_merge(...array_values(\array_slice($by, 1)));
        }
        $odd = [];
        foreach ($members as $i => $member) {
            $before = \array_slice($members, 0, $i);
            if ([] !== $before && Standing::Broken === Comparison::between($agreement->relation, $member, $before, $face)) {
                $odd[] = $member;
            }
        }

        return $odd;
    }

    private static function note(Facts $facts, Subject $subject, Agreement $agreement): void
    {
        if (\in_array($agreement->relation, [Relation::SameSegment, Relation::DifferentSegment], true)) {
            $facts->note($subject->record.':segment', $subject->segment);

            return;
        }
        $facts->note($subject->record.':'.$subject->field, $subject->value->effective(Face::Set));
    }

    /**
     * @param array{Subject, Subject} $pair
     *
     * @return array<string, string>
     */
    private static function places(Plan $plan, array $pair): array
    {
        $at = [];
        foreach ($pair as $subject) {
            $at[$subject->end] = $subject->name;
            $at[$subject->end.'.value'] = self::valueText($plan, $subject);
            $at[$subject->end.'.segment'] = $plan->segments[$subject->segment ?? '']->name ?? '?';
        }

        return $at;
    }

    private static function valueText(Plan $plan, Subject $subject): string
    {
        $value = $subject->value->effective(Face::Set);
        $setting = null === $subject->ref ? null : $plan->settings()->definition($subject->ref);

        return match (true) {
            null === $value => '?',
            '' === $value => '(blank)',
            null === $setting => $value,
            default => $setting->withUnit($plan->settings()->show($setting, $value)),
        };
    }

    private static function cure(Plan $plan, Agreement $agreement, Subject $gives, Subject $keeps): ?Change
    {
        if (Relation::SameSegment === $agreement->relation) {
            return self::moveToSegment($plan, $gives, $keeps);
        }
        $wanted = Comparison::parts($keeps, Face::Set)[0] ?? null;
        $wanted = match ($agreement->relation) {
            Relation::Equal => $keeps->value->effective(Face::Set),
            Relation::MemberOf => null !== $wanted && $gives->end === $agreement->ends[1]->name
                ? implode(', ', [...Comparison::parts($gives, Face::Set), $wanted])
                : $wanted,
            Relation::AtMost, Relation::AtLeast => $wanted,
            Relation::Complementary => self::complement($agreement, $wanted),
            default => null,
        };
        if (null === $wanted) {
            return null;
        }
        [$section, $key] = explode('/', $gives->record, 2) + [1 => ''];
        $edits = null === $gives->ref
            ? [Edit::put($section, $key, $gives->field, $gives->value->planned, $wanted)]
            : SettingChange::toHold($gives->ref, $gives->value, $wanted, Face::Set);
        $setting = null === $gives->ref ? null : $plan->settings()->definition($gives->ref);

        return new Change(new Message('{name}: {setting} set to {value}.', [
            'name' => $gives->name,
            'setting' => new Message($gives->label),
            'value' => null === $setting ? $wanted : $setting->withUnit($plan->settings()->show($setting, $wanted)),
        ]), $edits);
    }

    /** @param array<Subject> $some */
    private static function names(array $some): string
    {
        return implode(', ', array_map(static fn (Subject $one): string => $one->name, $some));
    }

    private static function complement(Agreement $agreement, ?string $of): ?string
    {
        foreach ($agreement->pairs as [$a, $b]) {
            if ($of === $a || $of === $b) {
                return $of === $a ? $b : $a;
            }
        }

        return null;
    }

    /** Into the other's segment, with an address that is free there. */
    private static function moveToSegment(Plan $plan, Subject $gives, Subject $keeps): ?Change
    {
        $nic = $gives->device?->nic();
        $segment = $plan->segments[$keeps->segment ?? ''] ?? null;
        if (null === $nic || null === $segment) {
            return null;
        }
        $address = FreeAddress::on($plan, $segment, $nic)->next($gives->device->kind->code);
        $edits = [Edit::put('nics', $nic->key, 'segment', $nic->segment, $segment->key)];
        if (null !== $address && null !== $nic->setting('address')->planned) {
            $edits[] = Edit::setting(
                $nic->record().'#address',
                Face::Planned,
                $nic->setting('address')->own(Face::Planned),
                (string) $address,
            );
        }

        return new Change(new Message('{name} moves to {segment}.', ['name' => $gives->name, 'segment' => $segment->name]), $edits);
    }
}
