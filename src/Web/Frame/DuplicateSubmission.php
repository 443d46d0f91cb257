<?php

declare(strict_types=1);

namespace Vorhut\Web\Frame;

use Psr\Cache\CacheItemPoolInterface;
use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpFoundation\File\UploadedFile;
use Symfony\Component\HttpFoundation\RedirectResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Event\RequestEvent;
use Symfony\Component\HttpKernel\Event\ResponseEvent;
use Symfony\Component\Lock\LockFactory;
use Symfony\Component\Lock\LockInterface;

/**
 * Carries out a form once if it is sent twice: by a double click, by Enter and then leaving the field, or again after a lost connection.
 * The second request waits for the first and gets the same redirect.
 *
 * Two requests are one submission if address, fields, files and token are equal. The token tells renderings of a form apart, because
 * Symfony masks the session's token anew each time it is written into a page.
 */
final readonly class DuplicateSubmission
{
    private const SECONDS = 3600;
    private const KEY = '_submission';
    private const LOCK = '_submission_lock';

    public function __construct(
        #[Autowire(service: 'cache.doors')]
        private CacheItemPoolInterface $cache,
        private LockFactory $locks,
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
        $lock = $this->locks->createLock($key);
        $lock->acquire(true);
        $known = $this->cache->getItem($key)->get();
        if (\is_string($known)) {
            $lock->release();
            $event->setResponse(new RedirectResponse($known, Response::HTTP_SEE_OTHER));

            return;
        }
        $request->attributes->set(self::KEY, $key);
        $request->attributes->set(self::LOCK, $lock);
    }

    /** After the feedback was added to the address. Only redirects are kept: what failed may be tried again. */
    #[AsEventListener(priority: -10)]
    public function remember(ResponseEvent $event): void
    {
        $attributes = $event->getRequest()->attributes;
        $lock = $attributes->get(self::LOCK);
        if (!$event->isMainRequest() || !$lock instanceof LockInterface) {
            return;
        }
        $response = $event->getResponse();
        if ($response instanceof RedirectResponse) {
            $item = $this->cache->getItem($attributes->getString(self::KEY));
            $this->cache->save($item->set($response->getTargetUrl())->expiresAfter(self::SECONDS));
        }
        $lock->release();
        $attributes->remove(self::LOCK);
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
