<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Remote;

use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Plan\Segment;
use Vorhut\Entity\Job;
use Vorhut\Entity\Outpost;

/** Outposts of a job: let in by a code that is read out once, known by a token from then on, sent away again. */
final readonly class Pairing
{
    /** A code is read across a room and typed: eight digits, for a quarter of an hour. */
    private const CODE_MINUTES = 15;
    /** Seconds of silence after which an outpost gets no work. */
    private const LIVE_SECONDS = 60;
    private const ADAPTERS = 32;

    public function __construct(private EntityManagerInterface $manager, private ClockInterface $clock)
    {
    }

    /** @return string the code, shown now and never again */
    public function code(Job $job, string $by): string
    {
        $code = \sprintf('%04d-%04d', random_int(0, 9999), random_int(0, 9999));
        $outpost = new Outpost($job, $by);
        $outpost->codeHash = self::hash($code);
        $outpost->codeUntil = $this->now('+'.self::CODE_MINUTES.' minutes');
        $this->manager->persist($outpost);
        $this->manager->flush();

        return $code;
    }

    /** @return array{Outpost, string}|null the outpost and its token; null where the code opens nothing */
    public function pair(string $code, string $name): ?array
    {
        $digits = preg_replace('/\D+/', '', $code) ?? '';
        $code = substr($digits, 0, 4).'-'.substr($digits, 4);
        $outpost = $this->manager->getRepository(Outpost::class)->findOneBy(['codeHash' => self::hash($code), 'revoked' => false]);
        if (null === $outpost || (string) $outpost->codeUntil < $this->now()) {
            return null;
        }
        $token = bin2hex(random_bytes(24));
        // Of two who type one code at once the second finds it gone.
        $paired = $this->manager->getConnection()->executeStatement(
            'UPDATE outpost SET token_hash = ?, code_hash = NULL, code_until = NULL, name = ? '
                .'WHERE id = ? AND code_hash = ? AND revoked = 0',
            [
                self::hash($token),
                mb_substr(preg_replace('/[^\w.-]+/u', '-', $name) ?? '', 0, 80),
                $outpost->id,
                self::hash($code),
            ],
        );
        $this->manager->refresh($outpost);

        return 1 === (int) $paired ? [$outpost, $token] : null;
    }

    public function find(string $token): ?Outpost
    {
        return '' === $token
            ? null
            : $this->manager->getRepository(Outpost::class)->findOneBy(['tokenHash' => self::hash($token), 'revoked' => false]);
    }

    /** @param list<mixed> $adapters as it says: name and address of each */
    public function recordContact(Outpost $outpost, array $adapters): void
    {
        $known = [];
        foreach (\array_slice($adapters, 0, self::ADAPTERS) as $one) {
            $address = \is_array($one) && \is_string($one['address'] ?? null) ? Ipv4::tryFromString($one['address']) : null;
            if (null !== $address && !$address->isLoopback()) {
                $name = \is_string($one['name'] ?? null) ? $one['name'] : '';
                $known[] = ['name' => mb_substr(preg_replace('/[^\w.:@-]+/', '', $name) ?? '', 0, 40), 'address' => (string) $address];
            }
        }
        $outpost->adapters = $known;
        $outpost->seenAt = $this->now();
        $this->manager->flush();
    }

    /** @return list<Outpost> those that are paired or wait for their code, the newest first */
    public function all(Job $job): array
    {
        return $this->manager->getRepository(Outpost::class)->findBy(['job' => $job], ['id' => 'DESC'], 40);
    }

    public function isLive(Outpost $outpost): bool
    {
        return !$outpost->revoked && null !== $outpost->seenAt && $outpost->seenAt >= $this->now('-'.self::LIVE_SECONDS.' seconds');
    }

    /** Whether it has an adapter with an address in a segment. */
    public static function standsOn(Outpost $outpost, Segment $segment): bool
    {
        foreach ($outpost->adapters as $adapter) {
            $address = Ipv4::tryFromString($adapter['address']);
            if (null !== $address && $segment->network->contains($address)) {
                return true;
            }
        }

        return false;
    }

    public function revoke(Job $job, int $id): void
    {
        $outpost = $this->manager->getRepository(Outpost::class)->findOneBy(['job' => $job, 'id' => $id]);
        if (null !== $outpost) {
            $outpost->revoked = true;
            $outpost->codeHash = null;
            $this->manager->flush();
        }
    }

    private function now(string $shift = 'now'): string
    {
        return $this->clock->now()->setTimezone(new \DateTimeZone('UTC'))->modify($shift)->format('Y-m-d\TH:i:s\Z');
    }

    private static function hash(string $secret): string
    {
        return hash('sha256', 'outpost '.$secret);
    }
}
