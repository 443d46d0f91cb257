<?php

declare(strict_types=1);

namespace Vorhut\Web\Frame;

use Symfony\Component\HttpFoundation\InputBag;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Core\Authorization\AuthorizationCheckerInterface;
use Symfony\Component\Security\Http\Attribute\IsGranted;
use Vorhut\Application\ApplyFix;
use Vorhut\Core\Analysis\Findings;
use Vorhut\Core\Analysis\ShippedRules;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Network\Walk\Cure;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;
use Vorhut\Journal\Conflict;
use Vorhut\Journal\Refused;

/**
 * Applies a fix to the plan, and sends the outpost to write it to devices that take it over the network. What a person enters is recorded
 * when that person says so.
 */
final readonly class CureController
{
    public function __construct(
        private JobPages $pages,
        private ApplyFix $applyFix,
        private FormFeedback $feedback,
        private AuthorizationCheckerInterface $may,
    ) {
    }

    #[Route('/j/{slug}/cure', name: 'cure', methods: ['POST'])]
    #[IsGranted('ROLE_TECHNICIAN')]
    public function __invoke(Request $request, string $slug): Response
    {
        $this->pages->checkToken($request);
        $view = $this->pages->open($slug);
        $form = $request->request;
        $port = Port::tryFromString($form->getString('port'));
        if (null === $port && '' !== $form->getString('port')) {
            $this->feedback->tell(new Message(
                '"{text}" is not a port: write it as 5060/udp or 80/tcp.',
                ['text' => mb_substr($form->getString('port'), 0, 40)],
            ));

            return $this->pages->back($request, "/j/$slug/proof");
        }
        $cure = '' !== $form->getString('finding')
            ? $view->findings()->group($form->getString('finding'))?->cure()
            : self::pick($view->plan, $form, $port);
        if (null === $cure) {
            $this->feedback->tell(new Message('This fix is not needed any more.'));

            return $this->pages->back($request, "/j/$slug/proof");
        }
        try {
            $boxed = $this->applyFix->apply(
                $view->job,
                $view->plan,
                $cure,
                $this->pages->user(),
                $this->may->isGranted('ROLE_LEAD'),
                $form->getBoolean('entered'),
                '' === $form->getString('test') ? null : $form->getString('test'),
            );
            if ([] !== $boxed) {
                $this->feedback->tell(self::notEntered($boxed));
            }
        } catch (Conflict|Refused $e) {
            $this->feedback->tell($e->message());
        }

        return $this->pages->back($request, "/j/$slug/proof");
    }

    /** @param list<Device> $boxed */
    private static function notEntered(array $boxed): Message
    {
        return new Message('{tags}: not connected yet, so nothing was recorded as entered. The run sheet has the value.', [
            'tags' => implode(', ', array_map(static fn (Device $one): string => $one->tag, $boxed)),
        ]);
    }

    /** What the fix would solve and break, before it is applied. */
    #[Route('/j/{slug}/cure/preview', name: 'cure_preview', methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function preview(Request $request, string $slug): Response
    {
        $view = $this->pages->open($slug);
        $key = $request->query->getString('finding');
        $group = $view->findings()->group($key);
        $cure = $group?->cure();
        $after = null === $cure ? null : Findings::of($view->plan->with($cure), ShippedRules::all());
        $keys = static fn (Findings $findings): array => array_map(static fn (Finding $one): string => $one->key(), $findings->all);

        return $this->pages->show($view, 'cure', $request, [
            'key' => $key,
            'group' => $group,
            'cure' => $cure,
            'fixes' => null === $after
                ? []
                : array_filter($view->findings()->all, static fn (Finding $one): bool => !\in_array($one->key(), $keys($after), true)),
            'breaks' => null === $after
                ? []
                : array_filter($after->all, static fn (Finding $one): bool => !\in_array($one->key(), $keys($view->findings()), true)),
        ]);
    }

    /**
     * The likeliest, or the one of the others that was picked by its sentence: the job may have moved on since the page was made.
     *
     * @param InputBag<bool|float|int|string> $form
     */
    private static function pick(Plan $plan, InputBag $form, ?Port $port): ?Change
    {
        $face = Face::tryFrom($form->getString('face')) ?? Face::Set;
        $picked = $form->getString('picked');
        if ('' === $picked) {
            return Cure::of($plan, $face, $form->getString('from'), $form->getString('to'), $port);
        }
        foreach (Cure::some($plan, $face, $form->getString('from'), $form->getString('to'), $port) as $cure) {
            if ((string) $cure->why === $picked) {
                return $cure;
            }
        }

        return null;
    }
}
