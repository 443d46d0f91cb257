<?php

declare(strict_types=1);

namespace Vorhut\Web\Frame;

use Symfony\Component\HttpFoundation\InputBag;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Exception\AccessDeniedHttpException;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Core\Authorization\AuthorizationCheckerInterface;
use Symfony\Component\Security\Http\Attribute\IsGranted;
use Vorhut\Application\AddRecord;
use Vorhut\Application\EditRecord;
use Vorhut\Application\FieldErrors;
use Vorhut\Application\FieldInput;
use Vorhut\Application\RemoveRecord;
use Vorhut\Application\UndoChange;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Network\Reachability\WhatIf;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Row;
use Vorhut\Core\Plan\Schema;
use Vorhut\Core\Plan\SettingRef;
use Vorhut\Core\Text\Message;
use Vorhut\Journal\Conflict;
use Vorhut\Journal\EditRight;
use Vorhut\Journal\Refused;

/** Fields that are edited in place, records that are added and removed, undo and redo. */
final readonly class EditController
{
    /** Cells of one block: half a block would be an unintended roster. */
    private const BLOCK = 5_000;
    /** Refused cells that are shown. */
    private const REFUSALS = 20;

    public function __construct(
        private JobPages $pages,
        private EditRecord $editRecord,
        private AddRecord $addRecord,
        private RemoveRecord $removeRecord,
        private UndoChange $undoChange,
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
        $input = FieldInput::of(
            $form->getString('record'),
            $form->getString('field'),
            $form->getString('before'),
            $form->getString('value'),
        );
        if (!$this->mayChangePlan() && EditRight::needsLead(Edit::put($input->section, $input->key, $input->field, null, null))) {
            throw new AccessDeniedHttpException('This is for the lead engineer to change.');
        }
        $at = $input->section.'/'.$input->key.':'.$input->field;
        try {
            if ($form->has('ask')) {
                return $this->whatIf($view, $request, $this->editRecord->edits($view->plan, $input));
            }
            $this->editRecord->edit($view->job, $view->plan, $input, $this->pages->user());
        } catch (Malformed|Refused $e) {
            $this->feedback->keep($at, ['value' => $input->text], ['value' => $e->message()]);
        } catch (Conflict $e) {
            $this->feedback->keep($at, ['value' => $input->text], [], [
                'theirs' => self::theirs($view->plan, $input, $e->theirs),
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
        $cells = array_map(self::cell(...), array_values(\is_array($cells) ? $cells : []));
        $refused = \count($cells) > self::BLOCK
            ? [['of' => '', 'value' => '', 'why' => new Message('A block has at most [n cell|cells].', ['n' => self::BLOCK])]]
            : $this->editRecord->editAll($view->job, $view->plan, $cells, $this->pages->user());
        if ([] !== $refused) {
            $this->feedback->keep('block', [], [], ['wrong' => \array_slice($refused, 0, self::REFUSALS)]);
        }

        return $this->pages->back($request, "/j/$slug/devices");
    }

    private static function cell(mixed $cell): FieldInput
    {
        $row = new Row(\is_array($cell) ? $cell : []);

        return FieldInput::of($row->text('record'), $row->text('field'), $row->text('before'), $row->text('value'));
    }

    #[Route('/j/{slug}/add/{section}', name: 'add', methods: ['POST'])]
    #[IsGranted('ROLE_LEAD')]
    public function add(Request $request, string $slug, string $section): Response
    {
        $this->pages->checkToken($request);
        $view = $this->pages->open($slug);
        $typed = self::row($request->request);
        try {
            if ($request->request->has('ask')) {
                return $this->whatIf($view, $request, $this->addRecord->edits($view->plan, $section, $typed));
            }
            $this->addRecord->add($view->job, $view->plan, $section, $typed, $this->pages->user());
        } catch (FieldErrors $e) {
            $this->feedback->keep('add:'.$section, $typed, $e->errors);
        } catch (Conflict|Refused $e) {
            // Another user added a record with the same name at this moment: the input stays and can be sent again.
            $this->feedback->keep('add:'.$section, $typed, ['' => $e->message()]);
        }

        return $this->pages->back($request, "/j/$slug/networks");
    }

    /**
     * @param InputBag<string> $form
     *
     * @return array<string, string> field → text
     */
    private static function row(InputBag $form): array
    {
        $typed = [];
        foreach ($form->all('row') as $name => $value) {
            $typed[(string) $name] = \is_string($value) ? $value : '';
        }

        return $typed;
    }

    #[Route('/j/{slug}/remove', name: 'remove', methods: ['POST'])]
    #[IsGranted('ROLE_LEAD')]
    public function remove(Request $request, string $slug): Response
    {
        $this->pages->checkToken($request);
        $view = $this->pages->open($slug);
        [$section, $key] = explode('/', $request->request->getString('record'), 2) + [1 => ''];
        $edits = $this->removeRecord->edits($view->plan, $section, $key);
        if ([] !== $edits && $request->request->has('ask')) {
            return $this->whatIf($view, $request, $edits);
        }
        $this->removeRecord->remove($view->job, $view->plan, $section, $key, $this->pages->user());

        return $this->pages->back($request, "/j/$slug/devices");
    }

    #[Route('/j/{slug}/undo', name: 'undo', methods: ['POST'])]
    #[IsGranted('ROLE_TECHNICIAN')]
    public function undo(Request $request, string $slug): Response
    {
        $this->pages->checkToken($request);
        $job = $this->pages->job($slug);
        try {
            if ('redo' === $request->request->getString('way')) {
                $this->undoChange->redo($job, $this->pages->user(), $this->mayChangePlan());
            } else {
                $this->undoChange->undo($job, $this->pages->user(), $this->mayChangePlan());
            }
        } catch (Refused $e) {
            $this->feedback->tell($e->message());
        }

        return $this->pages->back($request, "/j/$slug/brief");
    }

    private function mayChangePlan(): bool
    {
        return $this->may->isGranted('ROLE_LEAD');
    }

    /**
     * A preview: what the change would make reachable and unreachable, with the same form to send it.
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

    /** The value that another person stored in between, as it is typed. */
    private static function theirs(Plan $plan, FieldInput $input, mixed $theirs): string
    {
        $ref = 'settings' === $input->section ? SettingRef::tryFromString($input->key) : null;
        $setting = null === $ref ? null : $plan->settings()->definition($ref);
        if (null !== $setting) {
            return match (true) {
                !\is_string($theirs) => '',
                '' === $theirs => '-',
                default => $plan->settings()->show($setting, $theirs),
            };
        }
        $type = Schema::field($input->section, $input->field)?->type;

        return match (true) {
            null !== $type => $type->show($theirs),
            \is_scalar($theirs) => (string) $theirs,
            default => '',
        };
    }
}
