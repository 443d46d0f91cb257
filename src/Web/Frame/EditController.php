<?php

declare(strict_types=1);

namespace Vorhut\Web\Frame;

use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Exception\AccessDeniedHttpException;
use Symfony\Component\HttpKernel\Exception\BadRequestHttpException;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Core\Authorization\AuthorizationCheckerInterface;
use Symfony\Component\Security\Http\Attribute\IsGranted;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Network\Reachability\WhatIf;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\DeviceDefaults;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Field;
use Vorhut\Core\Plan\FieldType;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Removal;
use Vorhut\Core\Plan\Row;
use Vorhut\Core\Plan\Schema;
use Vorhut\Core\Plan\SegmentCheck;
use Vorhut\Core\Plan\SettingRef;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\Numbers;
use Vorhut\Journal\Conflict;
use Vorhut\Journal\EditRight;
use Vorhut\Journal\Journal;
use Vorhut\Journal\Refused;

/** Fields typed in place, records that come and go, undo and redo: all by the journal. */
final readonly class EditController
{
    /** Evidence, marks, secrets and kinds have ways of their own; no form writes them. */
    private const NOT_BY_HAND = ['observations', 'fetches', 'marks', 'waits', 'credentials', 'ownKinds'];

    /** So many cells in one block. */
    private const BLOCK = 5_000;

    public function __construct(
        private JobPages $pages,
        private Journal $journal,
        private FormFeedback $feedback,
        private AuthorizationCheckerInterface $may,
    ) {
    }

    #[Route('/j/{slug}/edit', name: 'edit', methods: ['POST'])]
    #[IsGranted('ROLE_TECHNICIAN')]
    public function edit(Request $request, string $slug): Response
    {
        $this->pages->checkToken($request);
        $view = $this->pages->open($slug);
        $form = $request->request;
        [$section, $key] = explode('/', $form->getString('record'), 2) + [1 => ''];
        self::byHand($section);
        $name = $form->getString('field');
        $text = $form->getString('value');
        if (!$this->may->isGranted('ROLE_LEAD') && EditRight::needsLead(Edit::put($section, $key, $name, null, null))) {
            throw new AccessDeniedHttpException('This is for the lead engineer to change.');
        }
        $at = $section.'/'.$key.':'.$name;
        try {
            $edit = $this->readEdit($view->plan, $section, $key, $name, $form->getString('before'), $text);
            if ($form->has('ask')) {
                return $this->whatIf($view, $request, [$edit]);
            }
            if ($edit->before !== $edit->after) {
                // Only of a segment does the rest of the record say whether a value makes sense.
                if ('segments' === $section) {
                    self::sensible($view->plan->with(new Change(new Message(''), [$edit])), $key, [$name]);
                }
                $why = new Message('{field} of {record}', [
                    'field' => self::fieldLabel($view->plan, $section, $key, $name),
                    'record' => self::label($view->plan, $section, $key),
                ]);
                $this->journal->write($view->job, new Change($why, $this->withWhatFollows($view->plan, $edit)), $this->pages->user());
            }
        } catch (Malformed|Refused $e) {
            $this->feedback->keep($at, ['value' => $text], ['value' => $e->message()]);
        } catch (Conflict $e) {
            $this->feedback->keep($at, ['value' => $text], [], [
                'theirs' => self::theirs($view->plan, $section, $key, $name, $e->theirs),
                'by' => $e->by ?? '?',
            ]);
        }

        return $this->pages->back($request, "/j/$slug/devices");
    }

    /** Many cells at once, from a spreadsheet or filled down: all of them in one change, or none and every reason. */
    #[Route('/j/{slug}/block', name: 'block', methods: ['POST'])]
    #[IsGranted('ROLE_LEAD')]
    public function block(Request $request, string $slug): Response
    {
        $this->pages->checkToken($request);
        $view = $this->pages->open($slug);
        $cells = json_decode($request->request->getString('cells'), true, 8);
        $cells = \is_array($cells) ? $cells : [];
        $edits = $wrong = [];
        if (\count($cells) > self::BLOCK) {
            // Half a block is a roster that nobody intended.
            $wrong[] = ['of' => '', 'value' => '', 'why' => new Message('A block has at most {n} cells.', ['n' => self::BLOCK])];
            $cells = [];
        }
        // Each cell is read beside the plan as it is: to make a plan anew for every one of thousands would take minutes.
        foreach ($cells as $cell) {
            $row = new Row(\is_array($cell) ? $cell : []);
            [$section, $key] = explode('/', $row->text('record'), 2) + [1 => ''];
            self::byHand($section);
            try {
                $edit = $this->readEdit($view->plan, $section, $key, $row->text('field'), $row->text('before'), $row->text('value'));
                if ($edit->before !== $edit->after) {
                    foreach ($this->withWhatFollows($view->plan, $edit) as $one) {
                        $edits[] = $one;
                    }
                }
            } catch (Malformed $e) {
                $wrong[] = [
                    'of' => self::label($view->plan, $section, $key),
                    'value' => mb_substr($row->text('value'), 0, 60),
                    'why' => $e->message(),
                ];
            }
        }
        try {
            if ([] === $wrong && [] !== $edits) {
                $why = new Message('{n} cells changed at once', ['n' => \count($edits)]);
                $this->journal->write($view->job, new Change($why, $edits), $this->pages->user());
            }
        } catch (Conflict|Refused $e) {
            $wrong[] = ['of' => '', 'value' => '', 'why' => $e->message()];
        }[] === $wrong || $this->feedback->keep('block', [], [], ['wrong' => \array_slice($wrong, 0, 20)]);

        return $this->pages->back($request, "/j/$slug/devices");
    }

    #[Route('/j/{slug}/add/{section}', name: 'add', methods: ['POST'])]
    #[IsGranted('ROLE_LEAD')]
    public function add(Request $request, string $slug, string $section): Response
    {
        $this->pages->checkToken($request);
        $view = $this->pages->open($slug);
        self::byHand($section);
        $fields = Schema::sections()[$section] ?? throw new BadRequestHttpException();
        $typed = [];
        foreach ($request->request->all('row') as $name => $value) {
            $typed[(string) $name] = \is_string($value) ? $value : '';
        }
        $errors = [];
        $row = ['key' => ''];
        foreach ($fields as $field) {
            try {
                $row[$field->name] = self::read($view->plan, $field, $typed[$field->name] ?? '');
            } catch (Malformed $e) {
                $errors[$field->name] = $e->message();
            }
        }
        if ('extensions' === $section && !isset($errors['number']) && null !== $view->plan->extensionNumbered($typed['number'] ?? '')) {
            $errors['number'] = new Message('{number} is given already.', ['number' => $typed['number']]);
        }
        if ([] !== $errors) {
            $this->feedback->keep('add:'.$section, $typed, $errors);

            return $this->pages->back($request, "/j/$slug/networks");
        }
        try {
            $wish = $row['name'] ?? $row['tag'] ?? $row['number'] ?? $section;
            $row['key'] = $view->plan->freeKey($section, \is_scalar($wish) ? (string) $wish : $section);
            $edits = [Edit::add($section, $row), ...$this->alsoAdd($view->plan, $section, $row)];
            $after = 'segments' === $section ? $view->plan->with(new Change(new Message(''), [$edits[0]])) : $view->plan;
            if ('segments' === $section) {
                foreach (array_keys($typed) as $name) {
                    try {
                        self::sensible($after, Row::keyOf($row), [$name]);
                    } catch (Malformed $e) {
                        $errors[$name] = $e->message();
                    }
                }
            }
            if ([] !== $errors) {
                $this->feedback->keep('add:'.$section, $typed, $errors);

                return $this->pages->back($request, "/j/$slug/networks");
            }
            if ($request->request->has('ask')) {
                return $this->whatIf($view, $request, $edits);
            }
            $this->journal->write(
                $view->job,
                new Change(new Message('{record} added.', ['record' => \is_scalar($wish) ? (string) $wish : $section]), $edits),
                $this->pages->user(),
            );
        } catch (Conflict|Refused $e) {
            // Somebody added one of the same name in this moment: what was typed stays, to be sent again.
            $this->feedback->keep('add:'.$section, $typed, ['' => $e->message()]);
        }

        return $this->pages->back($request, "/j/$slug/networks");
    }

    #[Route('/j/{slug}/remove', name: 'remove', methods: ['POST'])]
    #[IsGranted('ROLE_LEAD')]
    public function remove(Request $request, string $slug): Response
    {
        $this->pages->checkToken($request);
        $view = $this->pages->open($slug);
        [$section, $key] = explode('/', $request->request->getString('record'), 2) + [1 => ''];
        self::byHand($section);
        $row = $view->plan->row($section, $key);
        if (null !== $row && $request->request->has('ask') && isset(Schema::sections()[$section])) {
            return $this->whatIf($view, $request, [...Removal::dependents($view->plan, $section, $key), Edit::remove($section, $row)]);
        }
        if (null !== $row && isset(Schema::sections()[$section])) {
            $this->journal->write(
                $view->job,
                new Change(
                    new Message('{record} removed.', ['record' => self::label($view->plan, $section, $key)]),
                    [...Removal::dependents($view->plan, $section, $key), Edit::remove($section, $row)],
                ),
                $this->pages->user(),
            );
        }

        return $this->pages->back($request, "/j/$slug/devices");
    }

    #[Route('/j/{slug}/undo', name: 'undo', methods: ['POST'])]
    #[IsGranted('ROLE_TECHNICIAN')]
    public function undo(Request $request, string $slug): Response
    {
        $this->pages->checkToken($request);
        $view = $this->pages->open($slug);
        $by = $this->pages->user();
        $entry = 'redo' === $request->request->getString('way')
            ? $this->journal->redoable($view->job, $by)
            : $this->journal->undoable($view->job, $by);
        try {
            match (true) {
                null === $entry => $this->feedback->tell(new Message('There is nothing of yours to take back.')),
                // What somebody may take back follows from what they may do now.
                !$this->may->isGranted('ROLE_LEAD') && EditRight::changeNeedsLead(Journal::change($entry)) => $this->feedback->tell(
                    new Message('This changes the plan: only a lead engineer takes it back.'),
                ),
                default => $this->journal->undo($view->job, $entry, $by),
            };
        } catch (Refused $e) {
            $this->feedback->tell($e->message());
        }

        return $this->pages->back($request, "/j/$slug/brief");
    }

    /**
     * Asked first: what would begin and cease to work, with the same form below to send it after all.
     *
     * @param list<Edit> $edits
     */
    private function whatIf(JobView $view, Request $request, array $edits): Response
    {
        $fields = [];
        foreach ($request->request->all() as $name => $value) {
            foreach (\is_array($value) ? $value : [null => $value] as $inner => $one) {
                if (\is_scalar($one) && !\in_array($name, ['ask', '_token'], true)) {
                    $fields[\is_array($value) ? "{$name}[$inner]" : (string) $name] = (string) $one;
                }
            }
        }

        return $this->pages->show($view, 'networks', $request, [
            'what' => WhatIf::of($view->plan, Face::Set, new Change(new Message('Asked first'), $edits)),
            'fields' => $fields,
            'action' => $request->getPathInfo(),
            'back' => $request->request->getString('_back'),
        ], 'networks/whatif.html.twig');
    }

    /**
     * From what stands in the form to an edit, with what the page showed as what is expected to be stored.
     *
     * @throws Malformed
     */
    private function readEdit(Plan $plan, string $section, string $key, string $name, string $before, string $text): Edit
    {
        if ('settings' === $section) {
            $ref = SettingRef::tryFromString($key) ?? throw new BadRequestHttpException();
            $face = Face::tryFrom($name) ?? throw new BadRequestHttpException();
            $setting = $plan->definition($ref) ?? throw new BadRequestHttpException();
            // What was seen is evidence: a probe brings it, or the step of a run sheet that reads it.
            if (null !== $setting->secret || Face::Seen === $face || ($setting->found && Face::Planned !== $face)) {
                throw new BadRequestHttpException('This is not written by hand.');
            }
            // "-" is how one says: left blank on purpose.
            $read = static fn (string $one): ?string => match (trim($one)) {
                '' => null,
                '-' => $setting->blank ? '' : throw new Malformed('This must not be left blank.'),
                default => $plan->readSetting($setting, $one),
            };

            return Edit::setting($ref, $face, $read($before), $read($text));
        }
        $field = Schema::field($section, $name) ?? throw new BadRequestHttpException();

        return Edit::put(
            $section,
            $key,
            $name,
            '' === $before
                ? self::emptyOf('job' === $section ? $plan->jobRow() : $plan->row($section, $key) ?? [], $name)
                : self::read($plan, $field, $before),
            // Something that was just done is done at the server's time.
            self::read($plan, $field, FieldType::Time === $field->type && 'now' === $text ? $this->journal->now() : $text),
        );
    }

    /**
     * What is of the right type may still make no sense beside the rest of its record: told where it is typed. Where the rest changes
     * later it is a finding.
     *
     * @param list<string> $fields that were typed
     *
     * @throws Malformed
     */
    private static function sensible(Plan $after, string $key, array $fields): void
    {
        $segment = $after->segments[$key] ?? null;
        foreach ($fields as $field) {
            $why = null === $segment ? null : SegmentCheck::whyNot($segment, $after->catalogue, $field);
            if (null !== $why) {
                throw Malformed::because('{why}', ['why' => $why]);
            }
        }
    }

    /**
     * An empty field stands for nothing, an empty list, or a no: whichever of them is stored.
     *
     * @param array<string, scalar|list<mixed>|null> $row
     *
     * @return string|list<mixed>|false|null
     */
    private static function emptyOf(array $row, string $name): string|array|false|null
    {
        $stored = $row[$name] ?? null;

        return \in_array($stored, ['', [], false], true) ? $stored : null;
    }

    private static function keyOfName(Plan $plan, string $section, string $name): ?string
    {
        foreach ($plan->rows($section) as $row) {
            if (($row['name'] ?? null) === $name) {
                return Row::keyOf($row);
            }
        }

        return null;
    }

    /**
     * What was typed into a field; where it points to a record, one may type what people call that.
     *
     * @return string|int|bool|list<mixed>|null
     *
     * @throws Malformed
     */
    private static function read(Plan $plan, Field $field, string $text): string|int|bool|array|null
    {
        $text = trim($text);
        if (null === $field->pointsTo || '' === $text) {
            return $field->read($text);
        }
        if ('kinds' === $field->pointsTo ? null !== $plan->catalogue->kind($text) : null !== $plan->row($field->pointsTo, $text)) {
            return $text;
        }
        $named = match ($field->pointsTo) {
            'devices' => $plan->deviceTagged($text)?->key,
            'segments' => $plan->segmentNamed($text)?->key,
            default => self::keyOfName($plan, $field->pointsTo, $text),
        };

        return $named ?? throw Malformed::because(
            'There is no "{value}" in {pointsTo}.',
            ['value' => mb_substr($text, 0, 80), 'pointsTo' => $field->pointsTo],
        );
    }

    /**
     * What was seen before says nothing once something else was put in; with a number goes the account's user.
     *
     * @return list<Edit>
     */
    private function withWhatFollows(Plan $plan, Edit $edit): array
    {
        $extension = 'extensions' === $edit->section && 'number' === $edit->field ? $plan->extensions[$edit->key] ?? null : null;
        if (null !== $extension && $extension->number === $edit->before && \is_string($edit->after)) {
            return Numbers::renumber($plan, $extension, $edit->after);
        }
        $moved = 'devices' === $edit->section && 'room' === $edit->field ? self::locations($plan, $edit) : [];
        if ([] !== $moved) {
            return [$edit, ...$moved];
        }
        $seen = 'settings' === $edit->section && 'set' === $edit->field ? $plan->setting($edit->key)->seen : null;

        return null === $seen || $seen === $edit->after ? [$edit] : [$edit, Edit::setting($edit->key, Face::Seen, $seen, null)];
    }

    /** @return list<Edit> emergency locations that were the room of a phone go with it */
    private static function locations(Plan $plan, Edit $edit): array
    {
        $edits = [];
        if (\is_string($edit->before) && '' !== $edit->before) {
            foreach ($plan->extensionsOf($edit->key) as $extension) {
                if ($extension->location === $edit->before) {
                    $edits[] = Edit::put('extensions', $extension->key, 'location', $extension->location, $edit->after);
                }
            }
        }

        return $edits;
    }

    private static function fieldLabel(Plan $plan, string $section, string $key, string $name): Message|string
    {
        $ref = 'settings' === $section ? SettingRef::tryFromString($key) : null;
        $setting = null === $ref ? null : $plan->definition($ref);

        return null === $setting ? $name : new Message($setting->label);
    }

    private static function theirs(Plan $plan, string $section, string $key, string $name, mixed $theirs): string
    {
        $ref = 'settings' === $section ? SettingRef::tryFromString($key) : null;
        $setting = null === $ref ? null : $plan->definition($ref);
        if (null !== $setting) {
            return match (true) {
                !\is_string($theirs) => '',
                '' === $theirs => '-',
                default => $plan->showSetting($setting, $theirs),
            };
        }
        $type = Schema::field($section, $name)?->type;

        return match (true) {
            null !== $type => $type->show($theirs),
            \is_scalar($theirs) => (string) $theirs,
            default => '',
        };
    }

    /**
     * A device comes with the ports of its kind, a SIP number with an account at its PBX.
     *
     * @param array<string, scalar|list<mixed>|null> $row
     *
     * @return list<Edit>
     */
    private function alsoAdd(Plan $plan, string $section, array $row): array
    {
        return match ($section) {
            'devices' => array_map(static fn (array $nic): Edit => Edit::add('nics', $nic), DeviceDefaults::nics($plan, $row)),
            'extensions' => Numbers::companions($plan, $row),
            default => [],
        };
    }

    private static function byHand(string $section): void
    {
        if (\in_array($section, self::NOT_BY_HAND, true)) {
            throw new BadRequestHttpException('This is not written by hand.');
        }
    }

    private static function label(Plan $plan, string $section, string $key): string
    {
        return 'job' === $section ? 'the job' : $plan->nameOf($section, $key);
    }
}
