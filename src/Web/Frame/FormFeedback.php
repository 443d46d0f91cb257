<?php

declare(strict_types=1);

namespace Vorhut\Web\Frame;

use Doctrine\DBAL\ParameterType;
use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpFoundation\RedirectResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\RequestStack;
use Symfony\Component\HttpKernel\Event\ResponseEvent;
use Symfony\Component\Security\Core\Authentication\Token\Storage\TokenStorageInterface;
use Vorhut\Core\Text\Message;

/**
 * Refused input and messages: kept outside the session, which every request has to load, under a number that the redirect passes on, so
 * that it is shown on the page it belongs to, stays there while that page refreshes itself, and never appears in another window. Works the
 * same with and without JavaScript.
 */
final readonly class FormFeedback
{
    private const NUMBER = 'told';
    private const SECONDS = 1800;
    /** `section/key:field`, the name under which a field that is edited in place is kept. */
    private const FIELD = '~^[a-zA-Z0-9]+/[^:]*:\w+$~D';

    public function __construct(
        private RequestStack $requests,
        private ClockInterface $clock,
        private EntityManagerInterface $manager,
        private TokenStorageInterface $tokens,
    ) {
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
        return $this->read($request->query->getString(self::NUMBER));
    }

    /** @return array<string, array<string, mixed>> */
    private function read(string $number): array
    {
        if (1 !== preg_match('/^[0-9a-f]{16}$/D', $number)) {
            return [];
        }
        $kept = $this->manager->getConnection()->fetchOne(
            'SELECT forms FROM form_note WHERE number = ? AND login = ? AND until_at >= ?',
            [$number, $this->login(), $this->clock->now()->getTimestamp()],
        );
        /** @var array<string, array<string, mixed>>|false $forms only written here */
        $forms = \is_string($kept) ? unserialize($kept) : false;

        return \is_array($forms) ? $forms : [];
    }

    /** The same address without its feedback: what a form comes back to. */
    public static function without(string $uri): string
    {
        return rtrim((string) preg_replace('~(?<=[?&])'.self::NUMBER.'=[0-9a-f]*(?:&|(?=\#|$))~', '', $uri), '?&');
    }

    #[AsEventListener]
    public function carry(ResponseEvent $event): void
    {
        $response = $event->getResponse();
        if ($response instanceof RedirectResponse) {
            $this->keepOthers($event->getRequest());
            $response->setTargetUrl(self::addTo($event->getRequest(), $response->getTargetUrl()));
        }
    }

    /** A field that was saved says nothing about the fields of the page that were refused before. */
    private function keepOthers(Request $request): void
    {
        if ($request->isMethod('POST') && !$request->attributes->has('_told')) {
            $refused = $this->refusedBefore($request);
            if ([] !== $refused) {
                $this->put($refused, self::SECONDS);
            }
        }
    }

    /** @return array<string, array<string, mixed>> the refused fields of the page that sent this form, except its own */
    private function refusedBefore(Request $request): array
    {
        parse_str((string) parse_url((string) $request->headers->get('Referer'), \PHP_URL_QUERY), $query);
        $number = $query[self::NUMBER] ?? '';
        ['record' => $record, 'field' => $field] = $request->request->all() + ['record' => '', 'field' => ''];
        $own = \is_string($record) && \is_string($field) ? $record.':'.$field : '';

        return array_filter(
            $this->read(\is_string($number) ? $number : ''),
            static fn (array $entry, string $form): bool => $form !== $own
                && 1 === preg_match(self::FIELD, $form)
                && ([] !== ($entry['errors'] ?? []) || [] !== ($entry['more'] ?? [])),
            \ARRAY_FILTER_USE_BOTH,
        );
    }

    /** An address with the feedback of a request, where there is some. */
    public static function addTo(Request $request, string $url): string
    {
        $number = $request->attributes->getString('_told');
        if ('' === $number) {
            return $url;
        }
        [$path, $part] = explode('#', self::without($url), 2) + [1 => ''];

        return $path.(str_contains($path, '?') ? '&' : '?').self::NUMBER.'='.$number.('' === $part ? '' : '#'.$part);
    }

    /** @param array<string, array<string, mixed>> $forms */
    private function put(array $forms, int $seconds): void
    {
        $request = $this->requests->getCurrentRequest();
        $forms += null === $request ? [] : $this->refusedBefore($request);
        $connection = $this->manager->getConnection();
        $now = $this->clock->now()->getTimestamp();
        $number = bin2hex(random_bytes(8));
        $connection->executeStatement('DELETE FROM form_note WHERE until_at < ? LIMIT 20', [$now]);
        $connection->insert('form_note', [
            'number' => $number,
            'login' => $this->login(),
            'until_at' => $now + $seconds,
            'forms' => serialize($forms),
        ], ['forms' => ParameterType::LARGE_OBJECT]);
        $request?->attributes->set('_told', $number);
    }

    private function login(): string
    {
        return $this->tokens->getToken()?->getUserIdentifier() ?? '';
    }
}
