<?php

declare(strict_types=1);

namespace Vorhut\Web\Networks;

use Symfony\Component\HttpFoundation\HeaderUtils;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;
use Vorhut\Core\Document\Table;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Network\AdminSheet\AdminAnswer;
use Vorhut\Core\Network\AdminSheet\AdminSheet;
use Vorhut\Core\Network\AdminSheet\DhcpConfiguration;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\FileAddress;
use Vorhut\Core\Text\Message;
use Vorhut\Exchange\Spreadsheet;
use Vorhut\Journal\AdminAnswers;
use Vorhut\Journal\ChangeWriter;
use Vorhut\Journal\Conflict;
use Vorhut\Journal\JournalClock;
use Vorhut\Journal\Refused;
use Vorhut\Web\Frame\FormFeedback;
use Vorhut\Web\Frame\JobPages;
use Vorhut\Web\Frame\JobView;

/** The questions to the network administrator, and the answers: to review, and to accept or reject. */
final readonly class AskController
{
    /** Bytes of a table that came back by mail. */
    private const LARGEST = 500_000;

    public function __construct(
        private JobPages $pages,
        private ChangeWriter $changes,
        private JournalClock $time,
        private AdminAnswers $answers,
        private FormFeedback $feedback,
        private string $baseUrl,
    ) {
    }

    #[Route('/j/{slug}/networks/ask', name: 'ask', methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function page(Request $request, string $slug): Response
    {
        $still = $this->pages->notModified($request, $slug);
        if (null !== $still) {
            return $still;
        }
        $view = $this->pages->open($slug);
        $sheet = $this->sheet($view);
        $given = [];
        foreach ($this->answers->of($view->job) as $code => $answer) {
            $asked = $sheet->question($code);
            try {
                $read = null === $asked ? null : AdminAnswer::read($view->plan, $asked, $answer->text);
                $given[] = ['asked' => $asked, 'answer' => $answer, 'odd' => $read->odd ?? [], 'wrong' => null];
            } catch (Malformed $e) {
                $given[] = ['asked' => $asked, 'answer' => $answer, 'odd' => [], 'wrong' => $e->message()];
            }
        }

        return $this->pages->show($view, 'networks', $request, [
            'sheet' => $sheet,
            'given' => $given,
            'links' => $this->answers->links($view->job),
            'today' => $this->time->now(),
        ], 'networks/ask.html.twig');
    }

    #[Route('/j/{slug}/networks/ask.csv', name: 'ask_csv', methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function csv(string $slug): Response
    {
        return new Response(Spreadsheet::csv($this->sheet($this->pages->open($slug))->rows()), Response::HTTP_OK, [
            'Content-Type' => 'text/csv; charset=UTF-8',
            'Content-Disposition' => HeaderUtils::makeDisposition(HeaderUtils::DISPOSITION_ATTACHMENT, $slug.'-questions.csv'),
        ]);
    }

    /** Scopes, reservations and options as the configuration of a DHCP server. */
    #[Route('/j/{slug}/networks/dhcp.conf', name: 'ask_dhcp', methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function dhcp(string $slug): Response
    {
        $view = $this->pages->open($slug);

        return new Response(DhcpConfiguration::of($view->plan, $this->sheet($view)), Response::HTTP_OK, [
            'Content-Type' => 'text/plain; charset=UTF-8',
            'Content-Disposition' => HeaderUtils::makeDisposition(HeaderUtils::DISPOSITION_ATTACHMENT, $slug.'-dhcp.conf'),
        ]);
    }

    /** A new link for the administrator, shown once; or one revoked. */
    #[Route('/j/{slug}/networks/ask/link', name: 'ask_link', methods: ['POST'])]
    #[IsGranted('ROLE_LEAD')]
    public function link(Request $request, string $slug): Response
    {
        $this->pages->checkToken($request);
        $view = $this->pages->open($slug);
        if ($request->request->has('revoke')) {
            $this->answers->revoke($view->job, $request->request->getInt('revoke'));
        } else {
            $token = $this->answers->link($view->job, $this->pages->user()->name);
            $this->feedback->keep('link', [], [], ['url' => $this->baseUrl.'/a/'.$token]);
        }

        return $this->pages->back($request, "/j/$slug/networks/ask");
    }

    /** The table that came back by mail, or lines `code<tab>answer`. */
    #[Route('/j/{slug}/networks/ask/paste', name: 'ask_paste', methods: ['POST'])]
    #[IsGranted('ROLE_LEAD')]
    public function paste(Request $request, string $slug): Response
    {
        $this->pages->checkToken($request);
        $view = $this->pages->open($slug);
        $sheet = $this->sheet($view);
        $text = $request->request->getString('text');
        if (\strlen($text) > self::LARGEST) {
            $this->feedback->keep('paste', [], ['' => new Message(
                'That is more than {n} kB: paste it in parts. Nothing was taken.',
                ['n' => intdiv(self::LARGEST, 1000)],
            )]);

            return $this->pages->back($request, "/j/$slug/networks/ask");
        }
        try {
            $rows = Table::fromText($text)->rows;
        } catch (Malformed $e) {
            $this->feedback->keep('paste', ['text' => $text], ['' => $e->message()]);

            return $this->pages->back($request, "/j/$slug/networks/ask");
        }
        $taken = 0;
        $wrong = [];
        foreach ($rows as $row) {
            $code = $row['cells'][0];
            $answer = $row['cells'][array_key_last($row['cells'])] ?? '';
            $asked = $sheet->question($code);
            if (null === $asked || \count($row['cells']) < 2) {
                if ('code' !== $code) {
                    $wrong[] = new Message('Line {n}: "{code}" is not asked.', ['n' => $row['line'], 'code' => $code]);
                }
                continue;
            }
            if ('' === $answer) {
                continue;
            }
            try {
                AdminAnswer::read($view->plan, $asked, $answer);
                $this->answers->keep($view->job, $asked, $answer, '', $this->pages->user()->name);
                ++$taken;
            } catch (Malformed $e) {
                $wrong[] = new Message('Line {n}: {why}', ['n' => $row['line'], 'why' => $e->message()]);
            }
        }
        if ([] === $wrong) {
            $this->feedback->tell(new Message('[n answer is|answers are] stored for review.', ['n' => $taken]));
        } else {
            $this->feedback->keep('paste', ['text' => $text], ['' => $wrong[0]], ['wrong' => \array_slice($wrong, 0, 20)]);
        }

        return $this->pages->back($request, "/j/$slug/networks/ask");
    }

    /** Into the job, or away; each by itself. */
    #[Route('/j/{slug}/networks/ask/take', name: 'ask_take', methods: ['POST'])]
    #[IsGranted('ROLE_LEAD')]
    public function take(Request $request, string $slug): Response
    {
        $this->pages->checkToken($request);
        $view = $this->pages->open($slug);
        $sheet = $this->sheet($view);
        $code = $request->request->getString('code');
        $answer = $this->answers->of($view->job)[$code] ?? null;
        if (null === $answer) {
            return $this->pages->back($request, "/j/$slug/networks/ask");
        }
        try {
            $asked = $sheet->question($code);
            if ('take' === $request->request->getString('what') && null !== $asked) {
                $this->changes->write($view->job, new Change(
                    new Message('{field} of {for}, as {who} gave it.', [
                        'field' => new Message($asked->field),
                        'for' => $asked->for,
                        'who' => $answer->by,
                    ]),
                    [AdminAnswer::read($view->plan, $asked, $answer->text)->edit],
                ), $this->pages->user());
            }
            $this->answers->drop($answer);
        } catch (Malformed $e) {
            $this->feedback->tell($e->message());
        } catch (Conflict|Refused $e) {
            $this->feedback->tell($e->message());
        }

        return $this->pages->back($request, "/j/$slug/networks/ask");
    }

    private function sheet(JobView $view): AdminSheet
    {
        return AdminSheet::of($view->plan, FileAddress::of($view->plan, $this->baseUrl)->long($view->job->fileToken));
    }
}
