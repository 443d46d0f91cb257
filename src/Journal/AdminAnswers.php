<?php

declare(strict_types=1);

namespace Vorhut\Journal;

use Doctrine\ORM\EntityManagerInterface;
use Vorhut\Core\Network\AdminSheet\AdminQuestion;
use Vorhut\Entity\AskAnswer;
use Vorhut\Entity\AskLink;
use Vorhut\Entity\Job;

/** Links for an administrator to answer without a login, and the answers until the lead accepts them. */
final readonly class AdminAnswers
{
    private const TOKEN_BYTES = 20;
    private const DAYS = 14;

    public function __construct(private EntityManagerInterface $manager, private JournalClock $clock)
    {
    }

    /** @return string the token, which is shown now and never again */
    public function link(Job $job, string $by): string
    {
        $token = bin2hex(random_bytes(self::TOKEN_BYTES));
        $this->manager->persist(new AskLink(
            $job,
            hash('sha256', $token),
            $by,
            $this->clock->now(),
            $this->clock->now('+'.self::DAYS.' days'),
        ));
        $this->manager->flush();

        return $token;
    }

    /** The link that a token opens, while it does. */
    public function findLink(string $token): ?AskLink
    {
        $link = $this->manager->getRepository(AskLink::class)->findOneBy(['tokenHash' => hash('sha256', $token)]);

        return null === $link || $link->revoked || $link->until < $this->clock->now() ? null : $link;
    }

    /** @return list<AskLink> the newest first */
    public function links(Job $job): array
    {
        return $this->manager->getRepository(AskLink::class)->findBy(['job' => $job], ['id' => 'DESC'], 20);
    }

    public function revoke(Job $job, int $id): void
    {
        $link = $this->manager->getRepository(AskLink::class)->findOneBy(['job' => $job, 'id' => $id]);
        if (null !== $link) {
            $link->revoked = true;
            $this->manager->flush();
        }
    }

    /** @return array<string, AskAnswer> code → answer that is not accepted yet */
    public function of(Job $job): array
    {
        $answers = [];
        foreach ($this->manager->getRepository(AskAnswer::class)->findBy(['job' => $job], ['id' => 'ASC']) as $answer) {
            $answers[$answer->code] = $answer;
        }

        return $answers;
    }

    public function keep(Job $job, AdminQuestion $asked, string $text, string $remark, string $by): void
    {
        $answer = $this->of($job)[$asked->code()] ?? new AskAnswer($job, $asked->code(), $text, '', $by);
        $answer->text = mb_substr($text, 0, 400);
        $answer->remark = mb_substr($remark, 0, 400);
        $answer->by = mb_substr($by, 0, 190);
        $answer->at = $this->clock->now();
        $this->manager->persist($answer);
        $this->manager->flush();
    }

    public function drop(AskAnswer $answer): void
    {
        $this->manager->remove($answer);
        $this->manager->flush();
    }
}
