<?php

declare(strict_types=1);

namespace Vorhut\Web\Frame;

use Psr\Clock\ClockInterface;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpFoundation\RedirectResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\RequestStack;
use Symfony\Component\HttpKernel\Event\ResponseEvent;
use Vorhut\Core\Text\Message;

/**
 * What was typed and could not be taken, and what there is to say: kept in the session under a number that the redirect carries along, so
 * that it is shown on the very page it belongs to, stays there while that page refreshes itself, and never lands in another window. Works
 * the same with and without JavaScript.
 */
final readonly class FormFeedback
{
    private const BAG = 'vorhut.feedback';
    private const NUMBER = 'told';
    private const SECONDS = 1800;
    private const MOST = 24;

    public function __construct(private RequestStack $requests, private ClockInterface $clock)
    {
    }

    /**
     * @param string               $form   which form it was
     * @param array<string, mixed> $typed
     * @param array<string, mixed> $errors field → sentence; '' for the form as a whole
     * @param array<string, mixed> $more
     * @param int                  $seconds how long it may be shown
     */
    public function keep(string $form, array $typed, array $errors, array $more = [], int $seconds = self::SECONDS): void
    {
        $this->put(
            [
                $form => ['typed' => $typed, 'errors' => $errors, 'more' => $more],
            ] + (isset($errors['']) ? ['' => ['said' => $errors['']]] : []),
            $seconds,
        );
    }

    public function tell(Message $text): void
    {
        $this->put(['' => ['said' => $text]], self::SECONDS);
    }

    /** @return array<string, array<string, mixed>> form → what belongs to this page */
    public function of(Request $request): array
    {
        $entry = $this->bag()[$request->query->getString(self::NUMBER)] ?? null;
        if (null === $entry || $entry['until'] < $this->clock->now()->getTimestamp()) {
            return [];
        }

        return $entry['forms'];
    }

    /** The same address without its feedback: what a form comes back to. */
    public static function without(string $uri): string
    {
        return rtrim((string) preg_replace('~(?<=[?&])'.self::NUMBER.'=[0-9a-f]*(?:&|(?=\#|$))~', '', $uri), '?&');
    }

    #[AsEventListener]
    public function carry(ResponseEvent $event): void
    {
        $number = $event->getRequest()->attributes->getString('_told');
        $response = $event->getResponse();
        if ('' !== $number && $response instanceof RedirectResponse) {
            [$path, $part] = explode('#', self::without($response->getTargetUrl()), 2) + [1 => ''];
            $response->setTargetUrl($path.(str_contains($path, '?') ? '&' : '?').self::NUMBER.'='.$number.('' === $part ? '' : '#'.$part));
        }
    }

    /** @param array<string, array<string, mixed>> $forms */
    private function put(array $forms, int $seconds): void
    {
        $now = $this->clock->now()->getTimestamp();
        $bag = array_filter($this->bag(), static fn (array $entry): bool => $entry['until'] >= $now);
        $number = bin2hex(random_bytes(4));
        $bag[$number] = ['until' => $now + $seconds, 'forms' => $forms];
        $this->requests->getSession()->set(self::BAG, \array_slice($bag, -self::MOST, null, true));
        $this->requests->getCurrentRequest()?->attributes->set('_told', $number);
    }

    /** @return array<array-key, array{until: int, forms: array<string, array<string, mixed>>}> */
    private function bag(): array
    {
        /** @var array<array-key, array{until: int, forms: array<string, array<string, mixed>>}> $bag nobody else writes here */
        $bag = $this->requests->getSession()->get(self::BAG, []);

        return $bag;
    }
}
