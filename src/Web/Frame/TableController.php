<?php

declare(strict_types=1);

namespace Vorhut\Web\Frame;

use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;
use Vorhut\Application\AddRecord;
use Vorhut\Application\PasteTable;
use Vorhut\Application\RecordTable;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Text\Message;
use Vorhut\Journal\Conflict;
use Vorhut\Journal\Refused;
use Vorhut\Web\Form\RecordColumns;

/** Several records of a section at once, pasted below their form. */
final readonly class TableController
{
    /** Refused rows that are explained. */
    private const SHOWN = 20;

    public function __construct(
        private JobPages $pages,
        private AddRecord $addRecord,
        private PasteTable $pasteTable,
        private RecordColumns $columns,
        private FormFeedback $feedback,
    ) {
    }

    #[Route('/j/{slug}/table/{section}', name: 'table', methods: ['POST'])]
    #[IsGranted('ROLE_LEAD')]
    public function paste(Request $request, string $slug, string $section): Response
    {
        $this->pages->checkToken($request);
        $view = $this->pages->open($slug);
        $columns = $this->columns->of($section);
        if ([] === $columns->fields) {
            throw new NotFoundHttpException('No form has such records.');
        }
        $fixed = self::fixed($request->request->all('row'));
        $text = $request->request->getString('table');
        $at = 'table:'.$section.':'.($fixed['router'] ?? '');
        try {
            $table = RecordTable::of($this->addRecord, $view->plan, $section, $text, $columns->without(array_keys($fixed)), $fixed);
            $left = $this->pasteTable->store($view->job, $table, $this->pages->user());
            $added = \count($table->rows) - \count($table->refused());
            $this->feedback->tell(new Message('[n row|rows] added.', ['n' => $added]));
            if ('' !== $left) {
                $this->feedback->keep($at, ['table' => $left], [], ['refused' => \array_slice($table->refused(), 0, self::SHOWN)]);
            }
        } catch (Malformed|Conflict|Refused $e) {
            $this->feedback->keep($at, ['table' => $text], ['table' => $e->message()]);
        }

        return $this->pages->back($request, "/j/$slug/services");
    }

    /**
     * @param array<mixed> $row
     *
     * @return array<string, string>
     */
    private static function fixed(array $row): array
    {
        $fixed = [];
        foreach (array_filter($row, is_string(...)) as $name => $value) {
            $fixed[(string) $name] = $value;
        }

        return $fixed;
    }
}
