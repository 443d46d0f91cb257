<?php

declare(strict_types=1);

namespace Vorhut\Web\Drawing;

use Vorhut\Core\Media\StreamRate;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Stream;

/**
 * Streams as lines: senders on the left, receivers on the right, each once, in order of appearance. The width of a line follows its bit
 * rate; a multicast stream is one line that branches at its receivers.
 */
final readonly class CordsOfStreams
{
    private const LEFT = 8;
    private const PLATE = 132;
    private const RIGHT = 560;
    private const ROW = 34;
    private const THICKEST = 9.0;

    /**
     * @param list<array{x: int, y: int, tag: string}> $plates
     * @param list<array{d: string, width: float, group: bool, key: string, title: string}> $cords
     */
    private function __construct(public array $plates, public array $cords, public int $width, public int $height)
    {
    }

    /**
     * @param list<Stream>              $streams
     * @param array<string, StreamRate> $rates by stream
     * @param string                    $outside label of the box for everything outside the site
     */
    public static function of(Plan $plan, array $streams, array $rates, string $outside): self
    {
        $left = $right = [];
        foreach ($streams as $stream) {
            $left[$stream->sender] ??= \count($left);
            foreach (self::ends($stream) as $end) {
                $right[$end] ??= \count($right);
            }
        }
        $plates = $cords = [];
        $tag = static fn (string $key): string => '' === $key ? $outside : $plan->devices[$key]->tag ?? $key;
        foreach ($left as $key => $n) {
            $plates[] = ['x' => self::LEFT, 'y' => self::y($n), 'tag' => $tag((string) $key)];
        }
        foreach ($right as $key => $n) {
            $plates[] = ['x' => self::RIGHT, 'y' => self::y($n), 'tag' => $tag((string) $key)];
        }
        $most = max([1.0, ...array_values(array_map(static fn (StreamRate $rate): float => $rate->mbps(), $rates))]);
        foreach ($streams as $stream) {
            $mbps = $rates[$stream->key]->mbps();
            foreach (self::ends($stream) as $end) {
                [$from, $to] = [self::y($left[$stream->sender]), self::y($right[$end])];
                $cords[] = [
                    'd' => \sprintf(
                        'M%d %d C%d %d %d %d %d %d',
                        self::LEFT + self::PLATE,
                        $from,
                        self::LEFT + self::PLATE + 140,
                        $from + 10,
                        self::RIGHT - 140,
                        $to + 10,
                        self::RIGHT,
                        $to,
                    ),
                    // By its root, else the greatest leaves nothing to see of the others.
                    'width' => round(max(1.2, self::THICKEST * sqrt($mbps / $most)), 1),
                    'group' => $stream->multicast,
                    'key' => $stream->key,
                    'title' => $stream->name,
                ];
            }
        }

        return new self(
            $plates,
            $cords,
            self::RIGHT + self::PLATE + 12,
            16 + self::ROW * max(\count($left), \count($right)),
        );
    }

    /** @return list<string> device keys, '' for what leaves the site */
    private static function ends(Stream $stream): array
    {
        return $stream->outside ? [...$stream->receivers, ''] : $stream->receivers;
    }

    private static function y(int $n): int
    {
        return 22 + self::ROW * $n;
    }
}
