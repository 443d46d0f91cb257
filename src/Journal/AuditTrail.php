<?php

declare(strict_types=1);

namespace Vorhut\Journal;

use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Wire\Sanitizer;
use Vorhut\Entity\AuditEvent;

/** The sign-in log, stored immediately: an entry stays even if the action that it reports fails afterwards. */
final readonly class AuditTrail
{
    private const LONGEST = 64;
    /** Days for which it is kept. */
    public const DAYS = 400;

    public function __construct(private EntityManagerInterface $manager, private ClockInterface $clock)
    {
    }

    /**
     * @param string $login   who it is, or says they are
     * @param string $address from where
     * @param int    $quiet   seconds in which an equal entry is not repeated
     */
    public function write(string $login, string $address, Message $what, int $quiet = 0): void
    {
        $event = new AuditEvent(
            $this->now(),
            Sanitizer::text($login, self::LONGEST),
            Sanitizer::text($address, self::LONGEST),
            $what->toStored(),
        );
        $text = json_encode($event->what, \JSON_THROW_ON_ERROR);
        if ($quiet > 0 && false !== $this->manager->getConnection()->fetchOne(
            'SELECT 1 FROM audit_event WHERE made_at > ? AND login = ? AND address = ? AND what = ? LIMIT 1',
            [$this->now("-$quiet seconds"), $event->login, $event->address, $text],
        )) {
            return;
        }
        // Separate from the entities in memory: none of them may be written because of this.
        $this->manager->getConnection()->insert('audit_event', [
            'made_at' => $event->at,
            'login' => $event->login,
            'address' => $event->address,
            'what' => $text,
        ]);
    }

    /** @return list<AuditEvent> the newest first */
    public function latest(int $most = 200): array
    {
        return $this->manager->getRepository(AuditEvent::class)->findBy([], ['id' => 'DESC'], $most);
    }

    /** @return int how much went */
    public function forget(): int
    {
        return (int) $this->manager->getConnection()->executeStatement(
            'DELETE FROM audit_event WHERE made_at < ?',
            [$this->now('-'.self::DAYS.' days')],
        );
    }

    private function now(string $moved = '+0 days'): string
    {
        return $this->clock->now()->modify($moved)->setTimezone(new \DateTimeZone('UTC'))->format('Y-m-d\TH:i:s\Z');
    }
}
