<?php

declare(strict_types=1);

namespace Vorhut\Web\Frame;

use Psr\Log\LoggerInterface;
use Symfony\Component\HttpFoundation\RedirectResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpFoundation\StreamedResponse;
use Vorhut\Core\Text\Message;

/**
 * Long work reports its progress: to a client that asked for it as one JSON object per line, `{"said", "done", "of"}`, and at the end
 * `{"to"}`, the address of the result. Other clients are redirected at the end.
 */
final readonly class ProgressResponse
{
    private const TYPE = 'application/x-ndjson';
    /** For which it may go on: what takes longer belongs at the console. */
    private const SECONDS = 300;
    /** Seconds between two lines. */
    private const EVERY = 0.1;

    public function __construct(private Words $words, private LoggerInterface $log)
    {
    }

    /**
     * @param \Closure(\Closure(Message, int, int): void): RedirectResponse $work called with the current work, the number done, and the
     * total
     */
    public function of(Request $request, \Closure $work): Response
    {
        if (self::TYPE !== $request->headers->get('Accept')) {
            return $work(static function (): void {});
        }

        return new StreamedResponse(function () use ($request, $work): void {
            set_time_limit(self::SECONDS);
            $last = 0.0;
            $said = '';
            try {
                $answer = $work(function (Message $what, int $done, int $of) use (&$last, &$said): void {
                    $now = microtime(true);
                    if ($what->text !== $said || $now - $last >= self::EVERY) {
                        $said = $what->text;
                        $last = $now;
                        self::line(['said' => $this->words->say($what), 'done' => $done, 'of' => $of]);
                    }
                });
                self::line(['to' => FormFeedback::addTo($request, $answer->getTargetUrl())]);
            } catch (\Throwable $e) {
                // The response has begun: an error page of its own cannot be sent any more.
                $this->log->error('A long answer broke off.', ['exception' => $e]);
                self::line(['failed' => true]);
            }
        }, Response::HTTP_OK, ['Content-Type' => self::TYPE, 'Cache-Control' => 'no-store', 'X-Accel-Buffering' => 'no']);
    }

    /** @param array<string, string|int|bool> $data */
    private static function line(array $data): void
    {
        echo json_encode($data, \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_SLASHES), "\n";
        if (0 !== ob_get_level()) {
            ob_flush();
        }
        flush();
    }
}
