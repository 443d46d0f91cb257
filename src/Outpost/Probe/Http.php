<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Amp\ByteStream\StreamException;
use Amp\CancelledException;
use Amp\Socket\ClientTlsContext;
use Amp\Socket\TlsException;
use Amp\TimeoutCancellation;
use Symfony\Component\HttpClient\CurlHttpClient;
use Symfony\Component\HttpClient\Exception\InvalidArgumentException;
use Symfony\Contracts\HttpClient\Exception\TransportExceptionInterface;
use Symfony\Contracts\HttpClient\ResponseInterface;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Wire\Http\Request;
use Vorhut\Core\Wire\Http\Response;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Core\Wire\Sip\Digest;
use Vorhut\Outpost\Device\CertificatePin;
use Vorhut\Outpost\Device\Identity;
use Vorhut\Outpost\Device\UnidentifiedDevice;

use function Amp\delay;

/**
 * One HTTP request to a device. A password is sent only once it was asked for, and by digest where that is offered (RFC 7616). Redirects
 * are not followed: an answer is not to send us elsewhere.
 */
final readonly class Http
{
    /** Octets of an answer that are read. */
    private const LARGEST = 262144;
    /** Seconds from one look at the answer to the next. */
    private const STEP = 0.004;

    private CurlHttpClient $client;

    public function __construct(private NetworkAccess $access)
    {
        // A connection for each request: thousands of devices would leave as many of them open.
        $this->client = new CurlHttpClient(['extra' => ['curl' => [\CURLOPT_FORBID_REUSE => true]]]);
    }

    /** Recognises a device, by means of the network in use. */
    public function identity(Ipv4 $address, Device $device): Identity
    {
        return new Identity($this->access, $address, $device);
    }

    /**
     * @param array{string, string}|null $login
     * @param CertificatePin|null                 $trust   where TLS is spoken, and the device signs its own certificate
     * @param array<string, string>      $headers
     * @param Identity|null              $secret  where the password is one that a stranger must not hear; null where everybody has it
     *
     * @throws NoAnswer
     * @throws UnidentifiedDevice
     * @throws ParseError if the answer is not HTTP
     */
    public function ask(
        VantagePoint $from,
        Ipv4 $to,
        int $port,
        string $method,
        string $path,
        ?array $login = null,
        string $body = '',
        float $seconds = 3.0,
        ?CertificatePin $trust = null,
        array $headers = [],
        ?Identity $secret = null,
    ): Response {
        $headers += ['user-agent' => 'Vorhut outpost'];
        if ('' !== $body) {
            $headers += ['content-type' => 'application/x-www-form-urlencoded'];
        }
        $response = $this->exchange($from, $to, $port, new Request($method, $path, $headers, $body), $seconds, $trust);
        if (null === $login || 401 !== $response->status) {
            return $response;
        }
        $answer = self::answer($response->headers['www-authenticate'] ?? '', $login, $method, $path);
        // A digest reveals nothing; a password that can be read on the path, or by the answering device, is not sent to an unknown one.
        if (str_starts_with((string) $answer, 'Basic ')) {
            $secret?->mustBeKnown($trust?->known);
        }
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
     * @throws ParseError
     */
    private function exchange(VantagePoint $from, Ipv4 $to, int $port, Request $request, float $seconds, ?CertificatePin $trust): Response
    {
        $options = $this->access->http($from->address) + [
            // Of this machine's own proxy the devices of a site know nothing.
            'proxy' => '',
            'no_proxy' => '',
            'headers' => $request->headers,
            'body' => $request->body,
            'http_version' => '1.1',
            'max_redirects' => 0,
            'timeout' => $seconds,
            'max_duration' => $seconds,
            'buffer' => false,
        ];
        if (null !== $trust) {
            // No authority confirms the certificate: its key is read first, and the request goes to that key only.
            $key = $this->keyOf($from, $to, $port, $seconds, $trust);
            $options += ['verify_peer' => false, 'verify_host' => false, 'peer_fingerprint' => ['pin-sha256' => $key]];
        }
        $scheme = null === $trust ? 'http' : 'https';
        try {
            return $this->receive($this->client->request($request->method, "$scheme://$to:$port$request->path", $options), $seconds);
        } catch (InvalidArgumentException $e) {
            throw new ParseError('No request can be made of this: '.$e->getMessage());
        }
    }

    /**
     * Reads an answer to its end, or as far as LARGEST, while other work of this process goes on.
     *
     * @throws NoAnswer
     * @throws ParseError
     */
    private function receive(ResponseInterface $response, float $seconds): Response
    {
        $body = '';
        $until = microtime(true) + $seconds;
        try {
            while (microtime(true) < $until) {
                foreach ($this->client->stream($response, 0.0) as $chunk) {
                    if ($chunk->isTimeout()) {
                        break;
                    }
                    // The client treats an unread status as an error.
                    if ($chunk->isFirst()) {
                        $response->getStatusCode();
                    }
                    $body .= $chunk->getContent();
                    if ($chunk->isLast() || \strlen($body) >= self::LARGEST) {
                        return self::response($response, substr($body, 0, self::LARGEST));
                    }
                }
                delay(self::STEP);
            }
        } catch (TransportExceptionInterface $e) {
            $log = $response->getInfo('debug');

            throw HttpFailure::of($e->getMessage(), \is_string($log) ? $log : '', $seconds);
        } finally {
            $response->cancel();
        }

        throw NoAnswer::silence($seconds);
    }

    /** @throws TransportExceptionInterface */
    private static function response(ResponseInterface $response, string $body): Response
    {
        $status = $response->getStatusCode();
        $headers = [];
        foreach ($response->getHeaders(false) as $name => $values) {
            $headers[$name] = 'www-authenticate' === $name ? self::challenge($values) : implode(', ', $values);
        }
        $cookies = [];
        foreach ($response->getHeaders(false)['set-cookie'] ?? [] as $cookie) {
            $cookies[] = trim(explode(';', $cookie, 2)[0]);
        }

        return new Response($status, $headers, $body, $cookies);
    }

    /**
     * Of several ways to log in (RFC 9110 §11.6.1) the one that gives nothing away.
     *
     * @param list<string> $offered
     */
    private static function challenge(array $offered): string
    {
        foreach ($offered as $one) {
            if (true === Digest::tryFromString($one)?->isKnown()) {
                return $one;
            }
        }

        return $offered[0] ?? '';
    }

    /**
     * The public key that a device shows, once its certificate was compared with the one that is known.
     *
     * @return string SHA-256 of the key in DER form, in Base64 (RFC 7469 §2.4)
     *
     * @throws NoAnswer
     * @throws ParseError
     */
    private function keyOf(VantagePoint $from, Ipv4 $to, int $port, float $seconds, CertificatePin $trust): string
    {
        $tls = (new ClientTlsContext())->withoutPeerVerification()->withPeerCapturing();
        $socket = $this->access->connect($from->address, $to, $port, $seconds, $tls);
        try {
            $socket->setupTls(new TimeoutCancellation($seconds));
            $certificate = $socket->getTlsInfo()?->getPeerCertificates()[0] ?? throw new ParseError('It shows no certificate.');
        } catch (TlsException) {
            throw new ParseError('What answers there speaks no TLS.');
        } catch (StreamException) {
            throw NoAnswer::brokenOff();
        } catch (CancelledException) {
            throw NoAnswer::silence($seconds);
        } finally {
            $socket->close();
        }
        $pem = $certificate->toPem();
        $pem = \is_string($pem) ? $pem : '';
        $trust->sees(hash('sha256', self::der($pem)));
        $key = openssl_pkey_get_public($pem);
        $details = false === $key ? false : openssl_pkey_get_details($key);
        if (false === $details || !\is_string($details['key'])) {
            throw new ParseError('Its certificate has no key.');
        }

        return base64_encode(hash('sha256', self::der($details['key']), true));
    }

    private static function der(string $pem): string
    {
        return (string) base64_decode(preg_replace('/-----[^-]+-----|\s/', '', $pem) ?? '', true);
    }
}
