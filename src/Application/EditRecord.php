<?php

declare(strict_types=1);

namespace Vorhut\Application;

use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\SegmentCheck;
use Vorhut\Core\Plan\SettingRef;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\Numbers;
use Vorhut\Entity\Job;
use Vorhut\Entity\User;
use Vorhut\Journal\ChangeWriter;
use Vorhut\Journal\Conflict;
use Vorhut\Journal\Refused;

/** Stores fields that were typed in place, one or many, with everything that changes along with them. */
final readonly class EditRecord
{
    /** Characters of a refused value that are repeated. */
    private const QUOTED = 60;

    public function __construct(private ChangeWriter $changes, private FieldReader $reader)
    {
    }

    /**
     * @return list<Edit> empty where the value stays as it is
     *
     * @throws Malformed   if the value has the wrong form or does not fit the rest of its record
     * @throws NotEditable
     */
    public function edits(Plan $plan, FieldInput $input): array
    {
        $edit = $this->reader->edit($plan, $input);
        if ($edit->before === $edit->after) {
            return [];
        }
        if ('segments' === $input->section) {
            self::checkSegment($plan->with(new Change(new Message(''), [$edit])), $input->key, $input->field);
        }

        return self::withConsequences($plan, $edit);
    }

    /**
     * @throws Malformed|NotEditable|Refused
     * @throws Conflict where another person changed the value in between
     */
    public function edit(Job $job, Plan $plan, FieldInput $input, User|string $by): void
    {
        $edits = $this->edits($plan, $input);
        if ([] === $edits) {
            return;
        }
        $why = new Message('{field} of {record}', [
            'field' => self::fieldLabel($plan, $input),
            'record' => RecordLabel::of($plan, $input->section, $input->key),
        ]);
        $this->changes->write($job, new Change($why, $edits), $by);
    }

    /**
     * Many cells as one change: all of them, or none and every reason.
     *
     * @param list<FieldInput> $cells
     *
     * @return list<array{of: Message|string, value: string, why: Message}> the cells that were refused; empty where all were stored
     *
     * @throws NotEditable
     */
    public function editAll(Job $job, Plan $plan, array $cells, User $by): array
    {
        $edits = $refused = [];
        // Each cell is read against the plan as it is: making a plan for each of thousands would take minutes.
        foreach ($cells as $cell) {
            try {
                $edit = $this->reader->edit($plan, $cell);
                if ($edit->before !== $edit->after) {
                    array_push($edits, ...self::withConsequences($plan, $edit));
                }
            } catch (Malformed $e) {
                $refused[] = [
                    'of' => RecordLabel::of($plan, $cell->section, $cell->key),
                    'value' => mb_substr($cell->text, 0, self::QUOTED),
                    'why' => $e->message(),
                ];
            }
        }
        if ([] !== $refused || [] === $edits) {
            return $refused;
        }
        try {
            $this->changes->write($job, new Change(new Message('[n cell|cells] changed at once', ['n' => \count($edits)]), $edits), $by);
        } catch (Conflict|Refused $e) {
            return [['of' => '', 'value' => '', 'why' => $e->message()]];
        }

        return [];
    }

    /**
     * A value of the right type may still not fit the rest of its segment. When the rest changes later, that is a finding.
     *
     * @throws Malformed
     */
    public static function checkSegment(Plan $after, string $key, string $field): void
    {
        $segment = $after->segments[$key] ?? null;
        $why = null === $segment ? null : SegmentCheck::whyNot($segment, $after->catalogue, $field);
        if (null !== $why) {
            throw Malformed::because('{why}', ['why' => $why]);
        }
    }

    /**
     * A new number changes the account's user, a phone keeps its emergency location, and a value read back says nothing once another value
     * was entered.
     *
     * @return list<Edit>
     */
    private static function withConsequences(Plan $plan, Edit $edit): array
    {
        $extension = 'extensions' === $edit->section && 'number' === $edit->field ? $plan->extensions[$edit->key] ?? null : null;
        if (null !== $extension && $extension->number === $edit->before && \is_string($edit->after)) {
            return Numbers::renumber($plan, $extension, $edit->after);
        }
        if ('devices' === $edit->section && 'room' === $edit->field) {
            return [$edit, ...self::locations($plan, $edit)];
        }
        $seen = 'settings' === $edit->section && 'set' === $edit->field ? $plan->settings()->value($edit->key)->seen : null;

        return null === $seen || $seen === $edit->after ? [$edit] : [$edit, Edit::setting($edit->key, Face::Seen, $seen, null)];
    }

    /** @return list<Edit> emergency locations that name exactly the room that the phone leaves */
    private static function locations(Plan $plan, Edit $edit): array
    {
        $edits = [];
        if (!\is_string($edit->before) || '' === $edit->before) {
            return [];
        }
        foreach ($plan->extensionsOf($edit->key) as $extension) {
            if ($extension->location === $edit->before) {
                $edits[] = Edit::put('extensions', $extension->key, 'location', $extension->location, $edit->after);
            }
        }

        return $edits;
    }

    private static function fieldLabel(Plan $plan, FieldInput $input): Message|string
    {
        $ref = 'settings' === $input->section ? SettingRef::tryFromString($input->key) : null;
        $setting = null === $ref ? null : $plan->settings()->definition($ref);

        return null === $setting ? $input->field : new Message($setting->label);
    }
}
