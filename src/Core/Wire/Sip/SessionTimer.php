<?php

declare(strict_types=1);

namespace Vorhut\Core\Wire\Sip;

/** How long a call lasts without a refresh, and which side must send one (RFC 4028). */
final readonly class SessionTimer
{
    public const EXTENSION = 'timer';
    /** Seconds: the shortest permitted value (§4). */
    public const LEAST = 90;
    public const LONGEST = 86_400;

    private function __construct(public int $seconds, public bool $isRefreshedByCaller)
    {
    }

    /**
     * What the called side makes of a request (§9).
     *
     * @return self|SipMessage|null a refusal where it is too short; null where the caller wants none, or knows nothing of it
     */
    public static function negotiate(SipMessage $request): self|SipMessage|null
    {
        $wanted = $request->header('Session-Expires') ?? $request->header('x');
        if (null === $wanted || 1 !== preg_match('/^([0-9]{1,9})(?:\s*;\s*refresher\s*=\s*(uac|uas))?/i', trim($wanted), $found)) {
            return null;
        }
        $knows = array_map(
            static fn (string $one): string => strtolower(trim($one)),
            explode(',', implode(',', [...$request->headers('Supported'), ...$request->headers('Require')])),
        );
        if (!\in_array(self::EXTENSION, $knows, true)) {
            return null;
        }
        $seconds = (int) $found[1];
        if ($seconds < self::LEAST) {
            return SipMessage::response($request, 422, null, [['Min-SE', (string) self::LEAST]]);
        }

        return new self(min($seconds, self::LONGEST), 'uas' !== strtolower($found[2] ?? ''));
    }

    /** @return list<array{string, string}> what the answer says of it */
    public function headers(): array
    {
        return [
            ['Session-Expires', $this->seconds.';refresher='.($this->isRefreshedByCaller ? 'uac' : 'uas')],
            ['Supported', self::EXTENSION],
            ...($this->isRefreshedByCaller ? [['Require', self::EXTENSION]] : []),
        ];
    }

    /** After so many seconds without a word the call is over, a little before the other end thinks so (§10). */
    public function patience(): float
    {
        return $this->seconds - min(32, $this->seconds / 3);
    }
}
