<?php

declare(strict_types=1);

namespace Vorhut\Core\Wire\Sip;

/** Checks of every user agent before it looks at the request itself (RFC 3261 §8.2). */
final class Refusal
{
    /**
     * @param list<string> $allowed methods that it knows
     * @param list<string> $knows   extensions that may be required of it (§19.2)
     *
     * @return SipMessage|null null where the request may be looked at; an ACK is never answered
     */
    public static function of(SipMessage $request, array $allowed, array $knows = []): ?SipMessage
    {
        if ('ACK' === $request->method) {
            return null;
        }
        if (!\in_array($request->method, $allowed, true)) {
            return SipMessage::response($request, 405, null, [['Allow', implode(', ', $allowed)]]);
        }
        if (1 !== preg_match('/^(?:sips?|tel):./i', $request->uri)) {
            return SipMessage::response($request, 416);
        }
        $hops = $request->header('Max-Forwards');
        if (null !== $hops && 1 !== preg_match('/^[0-9]{1,3}$/D', $hops)) {
            return SipMessage::response($request, 400);
        }
        if ('CANCEL' === $request->method) {
            return null;
        }
        // Required but unsupported extensions are named (§8.2.2.3).
        $wanted = implode(',', [...$request->headers('Require'), ...$request->headers('Proxy-Require')]);
        $strange = array_values(array_filter(
            array_map(trim(...), explode(',', $wanted)),
            static fn (string $one): bool => '' !== $one && !\in_array(strtolower($one), $knows, true),
        ));
        if ([] !== $strange) {
            return SipMessage::response($request, 420, null, [['Unsupported', implode(', ', $strange)]]);
        }
        $type = strtolower(trim(explode(';', $request->header('Content-Type') ?? '')[0]));
        if ('INVITE' === $request->method && '' !== $request->body && !\in_array($type, ['', 'application/sdp'], true)) {
            return SipMessage::response($request, 415, null, [['Accept', 'application/sdp']]);
        }

        return null;
    }
}
