<?php

declare(strict_types=1);

namespace Vorhut\Outpost;

use Amp\ByteStream\StreamException;
use Amp\CancelledException;
use Amp\TimeoutCancellation;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Wire\Http\Request;
use Vorhut\Core\Wire\Http\Response;
use Vorhut\Core\Wire\Unreadable;

/** One HTTP request to a device. */
final readonly class Http
{
    private const LARGEST = 262144;

    public function __construct(private NetworkAccess $access)
    {
    }

    /**
     * @param array{string, string}|null $login
     *
     * @throws NoAnswer
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
    ): Response {
        $headers = ['host' => (string) $to, 'user-agent' => 'Vorhut outpost'];
        if (null !== $login) {
            $headers['authorization'] = 'Basic '.base64_encode($login[0].':'.$login[1]);
        }
        if ('' !== $body) {
            $headers['content-type'] = 'application/x-www-form-urlencoded';
        }
        $socket = $this->access->connect($from->address, $to, $port, $seconds);
        $bytes = '';
        try {
            $socket->write((string) new Request($method, $path, $headers, $body));
            $limit = new TimeoutCancellation($seconds);
            while (null !== ($more = $socket->read($limit)) && \strlen($bytes) < self::LARGEST) {
                $bytes .= $more;
            }
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
}
