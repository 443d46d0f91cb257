<?php

declare(strict_types=1);

namespace Vorhut\Provisioning;

use Doctrine\ORM\EntityManagerInterface;
use Symfony\Component\RateLimiter\RateLimiterFactory;
use Vorhut\Entity\Job;

/** Where phones fetch: no login, an unguessable path, a MAC of the roster, a limit on how often. */
final readonly class PhoneDoor
{
    public const TOO_OFTEN = 429;

    public function __construct(
        private EntityManagerInterface $manager,
        private FileServer $files,
        private RateLimiterFactory $provisioningLimiter,
        private RateLimiterFactory $guessingLimiter,
        private RateLimiterFactory $strangersLimiter,
    ) {
    }

    public function answer(FileRequest $question): FileResponse
    {
        return '' === $question->code ? $this->byToken($question) : $this->byCode($question);
    }

    private function byToken(FileRequest $question): FileResponse
    {
        $strangers = $this->strangersLimiter->create($question->address);
        if (0 === $strangers->consume(0)->getRemainingTokens()) {
            return new FileResponse(self::TOO_OFTEN, '', null, null);
        }
        $job = $this->manager->getRepository(Job::class)->findOneBy(['fileToken' => $question->token]);
        // By phone, not only by address: eighty may share one address. For an invalid path only a count is kept.
        $phone = hash('sha256', $question->address.' '.$question->token.' '.strtolower($question->mac));
        if (null !== $job && !$this->provisioningLimiter->create($phone)->consume()->isAccepted()) {
            return new FileResponse(self::TOO_OFTEN, '', null, null);
        }
        $served = $this->serve($job, $question, false);
        if (\in_array($served->status, [403, 404], true)) {
            $strangers->consume();
        }

        return $served;
    }

    /** The short path, made for typing on a keypad: within the segment of the phone only, and guessing is limited. */
    private function byCode(FileRequest $question): FileResponse
    {
        $wrong = $this->guessingLimiter->create($question->address);
        if (0 === $wrong->consume(0)->getRemainingTokens()) {
            return new FileResponse(self::TOO_OFTEN, '', null, null);
        }
        $found = null;
        foreach ($this->manager->getRepository(Job::class)->findAll() as $job) {
            $found = hash_equals($job->keypadCode(), $question->code) ? $job : $found;
        }
        $served = $this->serve($found, $question, true);
        if (200 !== $served->status) {
            $wrong->consume();
        }

        return $served;
    }

    private function serve(?Job $job, FileRequest $question, bool $inItsSegment): FileResponse
    {
        return match (true) {
            null === $job => new FileResponse(404, '', null, null),
            // A request that only checks for the server fetched no file, and gets no information.
            'HEAD' === $question->method => new FileResponse(200, '', null, null),
            default => $this->files->serve($job, $question, $inItsSegment),
        };
    }
}
