<?php

declare(strict_types=1);

namespace Vorhut\Outpost;

use Amp\ByteStream\StreamException;
use Amp\CancelledException;
use Amp\Socket\ClientTlsContext;
use Amp\Socket\Socket;
use Amp\Socket\TlsException;
use Amp\TimeoutCancellation;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Wire\Http\Request;
use Vorhut\Core\Wire\Http\Response;
use Vorhut\Core\Wire\Sip\Digest;
use Vorhut\Core\Wire\Unreadable;

/**
 * One HTTP request to a device. A password is sent only once it was asked for, and by digest where that is offered (RFC 7616). Redirects
 * are not followed: an answer is not to send us elsewhere.
 */
final readonly class Http
{
    private const LARGEST = 262144;

    public function __construct(private NetworkAccess $access)
    {
    }

    /** What tells a device from a stranger, by the wire that this speaks over. */
    public function identity(Ipv4 $address, Device $device): Identity
    {
        return new Identity($this->access, $address, $device);
    }

    /**
     * @param array{string, string}|null $login
     * @param Trust|null                 $trust   where TLS is spoken, and the device signs its own certificate
     * @param array<string, string>      $headers
     * @param Identity|null              $secret  where the password is one that a stranger must not hear; null where everybody has it
     *
     * @throws NoAnswer
     * @throws Stranger
     * @throws Unreadable where something answers that is no HTTP
     */
    public function ask(
        Place $from,
        Ipv4 $to,
        int $port,
        string $method,
        string $path,
        ?array $login = null,
        string $body = '',
        float $seconds = 3.0,
        ?Trust $trust = null,
        array $headers = [],
        ?Identity $secret = null,
    ): Response {
        $headers += ['host' => (string) $to, 'user-agent' => 'Vorhut outpost'];
        if ('' !== $body) {
            $headers += ['content-type' => 'application/x-www-form-urlencoded'];
        }
        $response = $this->exchange($from, $to, $port, new Request($method, $path, $headers, $body), $seconds, $trust);
        if (null === $login || 401 !== $response->status) {
            return $response;
        }
        $answer = self::answer($response->headers['www-authenticate'] ?? '', $login, $method, $path);
        // A digest gives nothing away; what can be read on the way, or by whoever answers, goes to nobody unknown.
        str_starts_with((string) $answer, 'Basic ') && $secret?->mustBeKnown($trust?->known);
        $again = new Request($method, $path, $headers + ['authorization' => (string) $answer], $body);

        return null === $answer ? $response : $this->exchange($from, $to, $port, $again, $seconds, $trust);
    }

    /**
     * @param array{string, string} $login
     *
     * @return string|null null where it asks in a way we do not speak
     */
    private static function answer(string $challenge, array $login, string $method, string $path): ?string
    {
        $digest = Digest::tryFromString($challenge);
        if (null !== $digest) {
            return $digest->isKnown() ? (string) $digest->answer($login[0], $login[1], $method, $path, bin2hex(random_bytes(8))) : null;
        }

        return 1 === preg_match('/^\s*Basic\b/i', $challenge) ? 'Basic '.base64_encode($login[0].':'.$login[1]) : null;
    }

    /**
     * @throws NoAnswer
     * @throws Unreadable
     */
    private function exchange(Place $from, Ipv4 $to, int $port, Request $request, float $seconds, ?Trust $trust): Response
    {
        $tls = null === $trust ? null : (new ClientTlsContext())->withoutPeerVerification()->withPeerCapturing();
        $socket = $this->access->connect($from->address, $to, $port, $seconds, $tls);
        $bytes = '';
        $limit = new TimeoutCancellation($seconds);
        try {
            if (null !== $trust) {
                $socket->setupTls($limit);
                $trust->sees(self::fingerprint($socket));
            }
            $socket->write((string) $request);
            while (null !== ($more = $socket->read($limit)) && \strlen($bytes) < self::LARGEST) {
                $bytes .= $more;
            }
        } catch (TlsException) {
            throw new Unreadable('What answers there speaks no TLS.');
        } catch (StreamException) {
            throw NoAnswer::brokenOff();
        } catch (CancelledException) {
            throw NoAnswer::silence($seconds);
        } finally {
            $socket->close();
        }
        if ('' === $bytes) {
            throw NoAnswer::brokenOff();
        }

        return Response::fromString($bytes);
    }

    private static function fingerprint(Socket $socket): string
    {
        $certificate = $socket->getTlsInfo()?->getPeerCertificates()[0] ?? throw new Unreadable('It shows no certificate.');
        $pem = $certificate->toPem();

        return hash('sha256', (string) base64_decode(preg_replace('/-----[^-]+-----|\s/', '', \is_string($pem) ? $pem : '') ?? '', true));
    }
}
