<?php

declare(strict_types=1);

namespace Vorhut\Core\Wire\Mdns;

use React\Dns\Model\Message;
use React\Dns\Model\Record;
use React\Dns\Protocol\BinaryDumper;
use React\Dns\Protocol\Parser;
use React\Dns\Query\Query as Question;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Core\Wire\Sanitizer;

/** DNS-SD questions and answers (RFC 6763) for one service type; the packets themselves are the DNS library's business. */
final class Query
{
    public const GROUP = '224.0.0.251';
    public const PORT = 5353;
    /** Bytes of a label (RFC 1035 §2.3.4), of a packet (RFC 6762 §17), and more records than any device announces at once. */
    private const LABEL = 63;
    private const LARGEST = 9000;
    private const RECORDS = 128;

    /** "Who offers this service?" `$type` as `_rtsp._tcp`. */
    public static function ask(string $type, int $id): string
    {
        $message = new Message();
        $message->id = $id;
        $message->qr = false;
        $message->rd = false;
        $message->questions[] = new Question($type.'.local', Message::TYPE_PTR, Message::CLASS_IN);

        return (new BinaryDumper())->toBinary($message);
    }

    /**
     * The requested service type, with the id of the question.
     *
     * @return array{id: int, type: string}|null null for any other question
     *
     * @throws ParseError
     */
    public static function read(string $packet): ?array
    {
        $message = self::parse($packet);
        if (!$message->qr) {
            foreach ($message->questions as $question) {
                if (Message::TYPE_PTR === $question->type && str_ends_with($question->name, '.local')) {
                    return ['id' => $message->id, 'type' => substr($question->name, 0, -6)];
                }
            }
        }

        return null;
    }

    /** A legacy unicast answer (RFC 6762 §6.7): the question's id comes back, the name, its host, port and address. */
    public static function answer(int $id, string $type, string $name, string $host, int $port, Ipv4 $address): string
    {
        $message = new Message();
        $message->id = $id;
        $message->qr = true;
        $message->aa = true;
        $message->questions[] = new Question($type.'.local', Message::TYPE_PTR, Message::CLASS_IN);
        $instance = str_replace('.', '-', $name).'.'.$type.'.local';
        $message->answers[] = new Record($type.'.local', Message::TYPE_PTR, Message::CLASS_IN, 10, $instance);
        // The library takes a map here, its phpdoc says strings.
        // @phpstan-ignore argument.type
        $message->additional[] = new Record($instance, Message::TYPE_SRV, Message::CLASS_IN, 10, [
            'priority' => 0,
            'weight' => 0,
            'port' => $port,
            'target' => $host.'.local',
        ]);
        $message->additional[] = new Record($host.'.local', Message::TYPE_A, Message::CLASS_IN, 10, (string) $address);

        return (new BinaryDumper())->toBinary($message);
    }

    /**
     * @return array{id: int, name: string, address: Ipv4|null}|null
     *
     * @throws ParseError
     */
    public static function readAnswer(string $packet): ?array
    {
        $message = self::parse($packet);
        $name = null;
        $address = null;
        foreach ([...$message->answers, ...$message->additional] as $record) {
            if (Message::TYPE_PTR === $record->type && \is_string($record->data)) {
                $name = Sanitizer::text(explode('.', $record->data, 2)[0], self::LABEL);
            } elseif (Message::TYPE_A === $record->type && \is_string($record->data)) {
                $address = Ipv4::tryFromString($record->data);
            }
        }

        return !$message->qr || null === $name ? null : ['id' => $message->id, 'name' => $name, 'address' => $address];
    }

    private static function parse(string $packet): Message
    {
        $counts = \strlen($packet) < 12 || \strlen($packet) > self::LARGEST ? false : unpack('n4', $packet, 4);
        if (false === $counts || array_sum($counts) > self::RECORDS) {
            // Names that point at names make long work of a short packet.
            throw new ParseError('Not a DNS message.');
        }
        try {
            return (new Parser())->parseMessage($packet);
        } catch (\InvalidArgumentException $e) {
            throw new ParseError('Not a DNS message.');
        }
    }
}
