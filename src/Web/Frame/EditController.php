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
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Field;
use Vorhut\Core\Plan\Message;
use Vorhut\Core\Plan\Newcomer;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Removal;
use Vorhut\Core\Plan\Schema;
use Vorhut\Journal\Conflict;
use Vorhut\Journal\Journal;
use Vorhut\Journal\Refused;

/** Fields typed in place, records that come and go, undo and redo: all by the journal. */
final readonly class EditController
{
    /** What a technician writes down from a label; the rest of the plan is the lead's. */
    private const TECHNICIAN = ['devices' => ['serial', 'room', 'note'], 'nics' => ['mac'], 'values' => ['set'], 'accounts' => ['macEntered']];

    /** Evidence, marks and secrets have ways of their own; no form writes them. */
    private const NOT_BY_HAND = ['observations', 'fetches', 'marks', 'credentials'];

    public function __construct(private Rooms $rooms, private Journal $journal, private Slips $slips, private AuthorizationCheckerInterface $may)
    {
    }

    #[Route('/j/{slug}/edit', name: 'edit', methods: ['POST'])]
    #[IsGranted('ROLE_TECHNICIAN')]
    public function edit(Request $request, string $slug): Response
    {
        $this->rooms->checkToken($request);
        $room = $this->rooms->open($slug);
        $form = $request->request;
        [$section, $key] = explode('/', $form->getString('record'), 2) + [1 => ''];
        self::byHand($section);
        $name = $form->getString('field');
        $text = $form->getString('value');
        if (!$this->may->isGranted('ROLE_LEAD') && !\in_array($name, self::TECHNICIAN[$section] ?? [], true)) {
            throw new AccessDeniedHttpException('This is for the lead engineer to change.');
        }
        $at = $section.'/'.$key.':'.$name;
        try {
            $edit = $this->typed($room->plan, $section, $key, $name, $form->getString('before'), $text);
            if ($edit->before !== $edit->after) {
                $this->journal->write($room->job, new Change(new Message('{field} of {record}', ['field' => $name, 'record' => self::label($room->plan, $section, $key)]), [$edit, ...$this->follow($room->plan, $edit)]), $this->rooms->user()->name);
            }
        } catch (Malformed $e) {
            $this->slips->keep($at, ['value' => $text], ['value' => $e->getMessage()]);
        } catch (Conflict $e) {
            $type = 'values' === $section ? null : Schema::field($section, $name)?->type;
            $theirs = null === $type ? (\is_scalar($e->theirs) ? (string) $e->theirs : '') : $type->show($e->theirs);
            $this->slips->keep($at, ['value' => $text], [], ['theirs' => $theirs, 'by' => $e->by ?? '?']);
        }

        return $this->rooms->back($request, "/j/$slug/devices");
    }

    #[Route('/j/{slug}/add/{section}', name: 'add', methods: ['POST'])]
    #[IsGranted('ROLE_LEAD')]
    public function add(Request $request, string $slug, string $section): Response
    {
        $this->rooms->checkToken($request);
        $room = $this->rooms->open($slug);
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
                $row[$field->name] = self::pointed($room->plan, $field, $field->read($typed[$field->name] ?? ''));
            } catch (Malformed $e) {
                $errors[$field->name] = $e->getMessage();
            }
        }
        if ([] !== $errors) {
            $this->slips->keep('add:'.$section, $typed, $errors);

            return $this->rooms->back($request, "/j/$slug/networks");
        }
        try {
            $wish = $row['name'] ?? $row['tag'] ?? $row['number'] ?? $section;
            $row['key'] = $room->plan->freeKey($section, \is_scalar($wish) ? (string) $wish : $section);
            $edits = [Edit::add($section, $row), ...$this->alsoAdd($room->plan, $section, $row)];
            $this->journal->write($room->job, new Change(new Message('{record} added.', ['record' => \is_scalar($wish) ? (string) $wish : $section]), $edits), $this->rooms->user()->name);
        } catch (Conflict $e) {
            // Somebody added one of the same name in this moment: what was typed stays, to be sent again.
            $this->slips->keep('add:'.$section, $typed, ['' => $e->getMessage()]);
        }

        return $this->rooms->back($request, "/j/$slug/networks");
    }

    #[Route('/j/{slug}/remove', name: 'remove', methods: ['POST'])]
    #[IsGranted('ROLE_LEAD')]
    public function remove(Request $request, string $slug): Response
    {
        $this->rooms->checkToken($request);
        $room = $this->rooms->open($slug);
        [$section, $key] = explode('/', $request->request->getString('record'), 2) + [1 => ''];
        self::byHand($section);
        $row = $room->plan->row($section, $key);
        if (null !== $row && isset(Schema::sections()[$section])) {
            $this->journal->write($room->job, new Change(new Message('{record} removed.', ['record' => self::label($room->plan, $section, $key)]), [...Removal::leaning($room->plan, $section, $key), Edit::remove($section, $row)]), $this->rooms->user()->name);
        }

        return $this->rooms->back($request, "/j/$slug/devices");
    }

    #[Route('/j/{slug}/undo', name: 'undo', methods: ['POST'])]
    #[IsGranted('ROLE_TECHNICIAN')]
    public function undo(Request $request, string $slug): Response
    {
        $this->rooms->checkToken($request);
        $room = $this->rooms->open($slug);
        $by = $this->rooms->user()->name;
        $entry = 'redo' === $request->request->getString('way') ? $this->journal->redoable($room->job, $by) : $this->journal->undoable($room->job, $by);
        try {
            null === $entry ? $this->slips->tell('There is nothing of yours to take back.') : $this->journal->undo($room->job, $entry, $by);
        } catch (Refused $e) {
            $this->slips->tell($e->getMessage());
        }

        return $this->rooms->back($request, "/j/$slug/brief");
    }

    /**
     * From what stands in the form to an edit, with what the page showed as what is expected to be stored.
     *
     * @throws Malformed
     */
    private function typed(Plan $plan, string $section, string $key, string $name, string $before, string $text): Edit
    {
        if ('values' === $section) {
            $type = Schema::facedType($key) ?? throw new BadRequestHttpException();
            $face = Face::tryFrom($name) ?? throw new BadRequestHttpException();
            [$owner, $field] = explode('#', $key, 2);
            // "-" is how one says: left blank on purpose.
            $read = static fn (string $one): ?string => match (trim($one)) {
                '' => null,
                '-' => '',
                default => (string) self::scalar($type->read($one)),
            };

            return Edit::value($owner, $field, $face, $read($before), $read($text));
        }
        $field = Schema::field($section, $name) ?? throw new BadRequestHttpException();

        return Edit::put($section, $key, $name, '' === $before ? self::emptyOf('job' === $section ? $plan->jobRow() : $plan->row($section, $key) ?? [], $name) : $field->read($before), self::pointed($plan, $field, $field->read($text)));
    }

    /**
     * An empty field stands for nothing or an empty list: whichever of them is stored.
     *
     * @param array<string, scalar|list<mixed>|null> $row
     *
     * @return string|list<mixed>|null
     */
    private static function emptyOf(array $row, string $name): string|array|null
    {
        $stored = $row[$name] ?? null;

        return '' === $stored || [] === $stored ? $stored : null;
    }

    /**
     * @param string|int|bool|list<mixed>|null $value
     *
     * @return string|int|bool|list<mixed>|null
     */
    private static function pointed(Plan $plan, Field $field, string|int|bool|array|null $value): string|int|bool|array|null
    {
        if (null !== $field->pointsTo && \is_string($value) && ('kinds' === $field->pointsTo ? null === $plan->kinds->find($value) : null === $plan->row($field->pointsTo, $value))) {
            throw new Malformed(\sprintf('There is no "%s" in %s.', $value, $field->pointsTo));
        }

        return $value;
    }

    /** @return list<Edit> what was seen before says nothing once something else was put in */
    private function follow(Plan $plan, Edit $edit): array
    {
        $seen = $plan->row('values', $edit->key)['seen'] ?? null;

        return 'values' === $edit->section && 'set' === $edit->field && \is_string($seen) && $seen !== $edit->after ? [Edit::put('values', $edit->key, 'seen', $seen, null)] : [];
    }

    /**
     * A device comes with the interfaces of its kind; a segment with a gateway that a router has by the plan's word.
     *
     * @param array<string, scalar|list<mixed>|null> $row
     *
     * @return list<Edit>
     */
    private function alsoAdd(Plan $plan, string $section, array $row): array
    {
        return 'devices' === $section ? array_map(static fn (array $nic): Edit => Edit::add('nics', $nic), Newcomer::nics($plan, $row)) : [];
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

    private static function scalar(mixed $value): string
    {
        return \is_scalar($value) ? (string) $value : '';
    }
}
