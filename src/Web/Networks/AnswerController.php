<?php

declare(strict_types=1);

namespace Vorhut\Web\Networks;

use Symfony\Component\HttpFoundation\RedirectResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\RateLimiter\RateLimiterFactory;
use Symfony\Component\Routing\Attribute\Route;
use Twig\Environment;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Network\AdminSheet\AdminAnswer;
use Vorhut\Core\Network\AdminSheet\AdminSheet;
use Vorhut\Entity\AskLink;
use Vorhut\Journal\AdminAnswers;
use Vorhut\Journal\Records;

/**
 * Where an administrator answers without a login: by a link that cannot be guessed, for one job, and only its questions. Answers do not
 * change the plan before the lead engineer accepts them.
 */
final readonly class AnswerController
{
    private const NAME = 80;

    public function __construct(
        private AdminAnswers $answers,
        private Records $records,
        private Environment $twig,
        private RateLimiterFactory $guessingLimiter,
    ) {
    }

    #[Route('/a/{token}', name: 'administrator', requirements: ['token' => '[0-9a-f]{40}'], methods: ['GET'])]
    public function page(Request $request, string $token): Response
    {
        $link = $this->findLink($request, $token);

        return $link instanceof Response ? $link : $this->show($link, [], []);
    }

    #[Route('/a/{token}', name: 'administrator_answers', requirements: ['token' => '[0-9a-f]{40}'], methods: ['POST'])]
    public function answer(Request $request, string $token): Response
    {
        $link = $this->findLink($request, $token);
        if ($link instanceof Response) {
            return $link;
        }
        $plan = $this->records->plan($link->job);
        $sheet = AdminSheet::of($plan);
        $by = mb_substr(trim($request->request->getString('by')), 0, self::NAME);
        $typed = $errors = [];
        foreach ($request->request->all('answer') as $code => $text) {
            $asked = $sheet->question((string) $code);
            $text = \is_string($text) ? trim($text) : '';
            if (null === $asked || '' === $text) {
                continue;
            }
            $remark = $request->request->all('remark')[$code] ?? '';
            $typed[$code] = $text;
            try {
                AdminAnswer::read($plan, $asked, $text);
                $this->answers->keep($link->job, $asked, $text, \is_string($remark) ? $remark : '', '' === $by ? 'administrator' : $by);
            } catch (Malformed $e) {
                $errors[$code] = $e->message();
            }
        }

        return [] === $errors
            ? new RedirectResponse('/a/'.$token.'?kept=1', Response::HTTP_SEE_OTHER)
            : $this->show($link, $typed, $errors);
    }

    private function findLink(Request $request, string $token): AskLink|Response
    {
        // Guessing links is stopped long before one is found; the holder of a link is never counted.
        $wrong = $this->guessingLimiter->create('ask '.$request->getClientIp());
        $link = 0 === $wrong->consume(0)->getRemainingTokens() ? null : $this->answers->findLink($token);
        if (null === $link) {
            $wrong->consume();

            return new Response($this->twig->render('networks/answered.html.twig', ['link' => null]), Response::HTTP_NOT_FOUND);
        }

        return $link;
    }

    /**
     * @param array<array-key, string> $typed
     * @param array<array-key, mixed>  $errors
     */
    private function show(AskLink $link, array $typed, array $errors): Response
    {
        $plan = $this->records->plan($link->job);

        return new Response($this->twig->render('networks/answered.html.twig', [
            'link' => $link,
            'plan' => $plan,
            'sheet' => AdminSheet::of($plan),
            'kept' => $this->answers->of($link->job),
            'typed' => $typed,
            'errors' => $errors,
        ]), [] === $errors ? Response::HTTP_OK : Response::HTTP_UNPROCESSABLE_ENTITY);
    }
}
