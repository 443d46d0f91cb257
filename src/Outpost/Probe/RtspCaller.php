<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Amp\ByteStream\StreamException;
use Amp\CancelledException;
use Amp\Socket\Socket;
use Amp\TimeoutCancellation;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Core\Wire\Rtsp\RtspMessage;
use Vorhut\Core\Wire\Sanitizer;
use Vorhut\Core\Wire\Sdp\PictureFormat;

/** The outpost as an RTSP client: asks a sender for its options and streams (RFC 2326 §10), and sets up nothing. */
final readonly class RtspCaller
{
    public const PORT = 554;
    private const ANSWER_SECONDS = 2.0;

    public function __construct(private NetworkAccess $access, private VantagePoint $place)
    {
    }

    public function describe(Ipv4 $address, int $port, PictureFormat $wanted): Evidence
    {
        $uri = "rtsp://$address:$port/";
        $log = [\sprintf('%s > %s', $this->place->address, $uri)];
        try {
            $socket = $this->access->connect($this->place->address, $address, $port, self::ANSWER_SECONDS);
        } catch (NoAnswer $e) {
            return new Evidence($e->outcome, $e->message(), [...$log, $e->getMessage()]);
        }
        try {
            $socket->write((string) RtspMessage::request('OPTIONS', $uri, 1));
            $log[] = '> OPTIONS  < '.self::readMessage($socket)->status;
            $socket->write((string) RtspMessage::request('DESCRIBE', $uri, 2, ['accept' => 'application/sdp']));
            $answer = self::readMessage($socket);
            $log[] = '> DESCRIBE  < '.$answer->status;
            if (200 !== $answer->status) {
                // It is there, and wants a login, or calls its stream otherwise: which picture it has stays open.
                $said = new Message('RTSP {status} where its picture was asked', ['status' => $answer->status]);

                return new Evidence(Outcome::Answers, $said, $log);
            }
            $picture = PictureFormat::fromString($answer->body);
        } catch (ParseError $e) {
            return new Evidence(Outcome::Answers, new Message('the answer is not RTSP'), [...$log, $e->getMessage()]);
        } catch (CancelledException|StreamException) {
            return new Evidence(Outcome::BrokenOff, new Message('it broke off before it said what it has'), $log);
        } finally {
            $socket->close();
        }
        $at = ['picture' => Sanitizer::text((string) $picture), 'wanted' => (string) $wanted];

        return $picture->fits($wanted)
            ? new Evidence(Outcome::Pictures, new Message('it has {picture}', $at), $log)
            : new Evidence(Outcome::OtherPictures, new Message('it has {picture}, and {wanted} was planned', $at), $log);
    }

    /**
     * @throws ParseError
     * @throws CancelledException
     */
    private static function readMessage(Socket $socket): RtspMessage
    {
        $bytes = '';
        $until = new TimeoutCancellation(self::ANSWER_SECONDS);
        while (null === ($length = RtspMessage::length($bytes)) || \strlen($bytes) < $length) {
            $more = $socket->read($until);
            if (null === $more) {
                throw new ParseError('It ended in the middle.');
            }
            $bytes .= $more;
        }

        return RtspMessage::fromString(substr($bytes, 0, $length));
    }
}
