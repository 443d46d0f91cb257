<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Amp\Socket\Socket;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Core\Wire\Rtsp\RtspMessage;
use Vorhut\Core\Wire\Sdp\PictureFormat;

/** An RTSP server for video (RFC 2326 §10): it describes the stream as set. */
final readonly class RtspServer
{
    private const ALLOWED = 'OPTIONS, DESCRIBE';

    private function __construct(private StandIn $standIn, private Ipv4 $address)
    {
    }

    public static function at(StandIn $standIn, Ipv4 $address, Ipv4 $host, int $port): Behaviour
    {
        return new TcpServer($host, $port, (new self($standIn, $address))->serve(...));
    }

    private function serve(Socket $client): void
    {
        $bytes = '';
        while (null !== $more = $client->read()) {
            $bytes .= $more;
            try {
                while (null !== ($length = RtspMessage::length($bytes)) && \strlen($bytes) >= $length) {
                    $client->write((string) $this->answer(RtspMessage::fromString(substr($bytes, 0, $length))));
                    $bytes = substr($bytes, $length);
                }
            } catch (ParseError) {
                $client->write("RTSP/1.0 400 Bad Request\r\n\r\n");

                return;
            }
        }
    }

    private function answer(RtspMessage $request): RtspMessage
    {
        return match ($request->method) {
            'OPTIONS' => RtspMessage::response($request, 200, ['public' => self::ALLOWED]),
            'DESCRIBE' => RtspMessage::response(
                $request,
                200,
                ['content-type' => 'application/sdp'],
                $this->picture()->describe((string) $this->address),
            ),
            default => RtspMessage::response($request, 405, ['allow' => self::ALLOWED]),
        };
    }

    private function picture(): PictureFormat
    {
        $state = $this->standIn->state;
        $isSize = 1 === preg_match('/^([0-9]{2,5})x([0-9]{2,5})$/D', $state->get('size'), $size);
        $rate = $state->get('frameRate');

        return new PictureFormat(
            $state->get('codec'),
            $isSize ? (int) $size[1] : null,
            $isSize ? (int) $size[2] : null,
            is_numeric($rate) ? (float) $rate : null,
        );
    }
}
