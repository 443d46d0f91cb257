<?php

declare(strict_types=1);

namespace Vorhut\Core\Wire\Ptp;

use Vorhut\Core\Net\Mac;
use Vorhut\Core\Wire\ParseError;

/** What a clock that leads says of itself, over and over (IEEE 1588-2008 §13.3, §13.5). */
final readonly class Announce implements \Stringable
{
    /** Announce is a general message: the general port of UDP (annex D.2). */
    public const PORT = 320;
    /** All domains' messages but those for peer delay (annex D.3). */
    public const GROUP = '224.0.1.129';

    private const TYPE = 0xB;
    private const VERSION = 2;
    private const LENGTH = 64;
    /** Of messages that are none of the four with a number of their own (§13.3.2.10). */
    private const CONTROL = 5;

    /**
     * @param string $clock       identity of the clock that speaks, 8 bytes (EUI-64, §7.5.2.2)
     * @param string $grandmaster identity of the clock that all of this is about, 8 bytes
     * @param int    $priority1   the least wins; `$priority2` among equals
     * @param int    $class       6 where it holds to a reference, 248 by itself (§7.6.2.4)
     * @param int    $stepsRemoved clocks between the two
     */
    public function __construct(
        public string $clock,
        public string $grandmaster,
        public int $domain = 0,
        public int $sequence = 0,
        public int $priority1 = 128,
        public int $priority2 = 128,
        public int $class = 248,
        public int $stepsRemoved = 0,
        public int $interval = 0,
    ) {
    }

    /** Null for other messages of the protocol, which come to the same port. */
    public static function tryFromString(string $bytes): ?self
    {
        try {
            return self::fromString($bytes);
        } catch (ParseError) {
            return null;
        }
    }

    /** @throws ParseError */
    public static function fromString(string $bytes): self
    {
        if (\strlen($bytes) < self::LENGTH) {
            throw new ParseError('An Announce has 64 bytes.');
        }
        /** @var array{type: int, version: int, length: int, domain: int} $head */
        $head = unpack('Ctype/Cversion/nlength/Cdomain', $bytes);
        if (self::TYPE !== ($head['type'] & 15) || self::VERSION !== ($head['version'] & 15)) {
            throw new ParseError('No Announce of version 2.');
        }
        if ($head['length'] < self::LENGTH || $head['length'] > \strlen($bytes)) {
            throw new ParseError('Its length is not that of what came.');
        }
        /** @var array{sequence: int, control: int, interval: int} $more */
        $more = unpack('nsequence/Ccontrol/cinterval', $bytes, 30);
        /** @var array{priority1: int, class: int, accuracy: int, variance: int, priority2: int} $body */
        $body = unpack('Cpriority1/Cclass/Caccuracy/nvariance/Cpriority2', $bytes, 47);
        /** @var array{steps: int} $last */
        $last = unpack('nsteps', $bytes, 61);

        return new self(
            substr($bytes, 20, 8),
            substr($bytes, 53, 8),
            $head['domain'],
            $more['sequence'],
            $body['priority1'],
            $body['priority2'],
            $body['class'],
            $last['steps'],
            $more['interval'],
        );
    }

    public function __toString(): string
    {
        return pack('CCnCx', self::TYPE, self::VERSION, self::LENGTH, $this->domain)
            .str_repeat("\0", 2 + 8 + 4)
            .$this->clock.pack('n', 1)
            .pack('nCc', $this->sequence & 0xFFFF, self::CONTROL, $this->interval)
            .str_repeat("\0", 10)
            // 37 s between UTC and TAI since 2017; accuracy unknown, variance at its maximum (§7.6.2.5, §7.6.3.3).
            .pack('nxCCCnC', 37, $this->priority1, $this->class, 0xFE, 0xFFFF, $this->priority2)
            .$this->grandmaster
            .pack('nC', $this->stepsRemoved, 0xA0);
    }

    /** The identity that a clock makes of its MAC: with ff fe in the middle (§7.5.2.2.2). */
    public static function identity(Mac $mac): string
    {
        return hex2bin(substr($mac->digits, 0, 6).'fffe'.substr($mac->digits, 6)) ?: '';
    }

    /** The MAC that an identity was made of; null where it was made otherwise. */
    public static function macOf(string $identity): ?Mac
    {
        $hex = bin2hex($identity);

        return 16 === \strlen($hex) && 'fffe' === substr($hex, 6, 4) ? Mac::tryFromString(substr($hex, 0, 6).substr($hex, 10)) : null;
    }
}
