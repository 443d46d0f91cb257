<?php

declare(strict_types=1);

namespace Vorhut\Web\Frame;

use Doctrine\DBAL\Connection;
use Doctrine\DBAL\Exception as DatabaseError;
use Psr\Cache\CacheItemPoolInterface;
use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpFoundation\File\UploadedFile;
use Symfony\Component\HttpFoundation\RedirectResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Event\RequestEvent;
use Symfony\Component\HttpKernel\Event\ResponseEvent;
use Symfony\Component\HttpKernel\Exception\ConflictHttpException;

/**
 * Carries out a form once if it is sent twice: by a double click, by Enter and then leaving the field, or again after a lost connection.
 * The second request waits for the first and gets the same redirect.
 *
 * Two requests are one submission if address, fields, files and token are equal. The token tells renderings of a form apart, because
 * Symfony masks the session's token anew each time it is written into a page.
 *
 * The lock is one of the database's, by name: it holds between web machines, and ends with the connection if a process is killed.
 */
final readonly class DuplicateSubmission
{
    private const SECONDS = 3600;
    /** Seconds for which the second request waits for the first. */
    private const PATIENCE = 60;
    private const KEY = '_submission';

    public function __construct(
        #[Autowire(service: 'cache.doors')]
        private CacheItemPoolInterface $cache,
        private Connection $database,
    ) {
    }

    /** After the firewall, so that only a user who may be here gets an answer. */
    #[AsEventListener(priority: 0)]
    public function answerAgain(RequestEvent $event): void
    {
        $request = $event->getRequest();
        if (!$event->isMainRequest() || !self::isSubmission($request)) {
            return;
        }
        $key = self::key($request);
        $granted = $this->database->fetchOne('SELECT GET_LOCK(?, ?)', [self::lockOf($key), self::PATIENCE]);
        if (!\in_array($granted, [1, '1'], true)) {
            throw new ConflictHttpException('This form was sent before and is still being processed.');
        }
        $known = $this->cache->getItem($key)->get();
        if (\is_string($known)) {
            $this->release($key);
            $event->setResponse(new RedirectResponse($known, Response::HTTP_SEE_OTHER));

            return;
        }
        $request->attributes->set(self::KEY, $key);
    }

    /** After the feedback was added to the address. Only redirects are kept: what failed may be tried again. */
    #[AsEventListener(priority: -10)]
    public function remember(ResponseEvent $event): void
    {
        $attributes = $event->getRequest()->attributes;
        $key = $attributes->get(self::KEY);
        if (!$event->isMainRequest() || !\is_string($key)) {
            return;
        }
        $attributes->remove(self::KEY);
        $response = $event->getResponse();
        if ($response instanceof RedirectResponse) {
            $item = $this->cache->getItem($key);
            $this->cache->save($item->set($response->getTargetUrl())->expiresAfter(self::SECONDS));
        }
        try {
            $this->release($key);
        } catch (DatabaseError) {
            // The lock went with the connection.
        }
    }

    private function release(string $key): void
    {
        $this->database->executeStatement('DO RELEASE_LOCK(?)', [self::lockOf($key)]);
    }

    /** MariaDB takes names of up to 64 characters. */
    private static function lockOf(string $key): string
    {
        return substr($key, 0, 64);
    }

    /** A form that reports its progress is repeated on purpose: refused before it began, it is sent the plain way to get the reason. */
    private static function isSubmission(Request $request): bool
    {
        return $request->isMethod(Request::METHOD_POST)
            && '' !== $request->request->getString('_token')
            && !str_contains((string) $request->headers->get('Accept'), 'ndjson');
    }

    private static function key(Request $request): string
    {
        $files = $request->files->all();
        array_walk_recursive($files, static function (mixed &$file): void {
            $file = $file instanceof UploadedFile && $file->isValid() ? hash_file('sha256', $file->getPathname()) : null;
        });

        return 'sent.'.hash('sha256', serialize([$request->getRequestUri(), $request->request->all(), $files]));
    }
}
