<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Amp\Future;
use Vorhut\Core\Net\Range;

use function Amp\async;
use function Amp\Future\await;

/** Asks a range address by address, once for all tests of a run that need the same range from the same place. */
final class RangeSearch
{
    private const AT_ONCE = 32;
    private const SECONDS = 0.7;

    /** @var array<string, Future<list<string>>> place, range and port → the addresses that answered */
    private array $searches = [];

    public function __construct(private readonly NetworkAccess $access)
    {
    }

    /** @return list<string> the addresses that answered, in natural order */
    public function answers(VantagePoint $place, Range $range, int $port): array
    {
        $key = $place->address.' '.$range.' '.$port;
        $this->searches[$key] ??= async(fn (): array => $this->search($place, $range, $port));

        /** @var list<string> $answers */
        $answers = $this->searches[$key]->await();

        return $answers;
    }

    /** @return list<string> */
    private function search(VantagePoint $place, Range $range, int $port): array
    {
        $answers = [];
        foreach (array_chunk(iterator_to_array($range->addresses(), false), self::AT_ONCE) as $some) {
            $asked = [];
            foreach ($some as $address) {
                if ($place->mayAsk($address)) {
                    $asked[] = async(function () use ($place, $address, $port): ?string {
                        try {
                            $this->access->connect($place->address, $address, $port, self::SECONDS)->close();
                        } catch (NoAnswer) {
                            return null;
                        }

                        return (string) $address;
                    });
                }
            }
            $answers = [...$answers, ...array_filter(await($asked), is_string(...))];
        }
        natsort($answers);

        return array_values($answers);
    }
}
