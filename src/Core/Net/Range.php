<?php

declare(strict_types=1);

namespace Vorhut\Core\Net;

/** Addresses from first to last, both included. */
final readonly class Range implements \Stringable
{
    private function __construct(public Ipv4 $first, public Ipv4 $last)
    {
    }

    public static function of(Ipv4 $first, Ipv4 $last): self
    {
        if ($last->number < $first->number) {
            throw Malformed::because('The range {first}-{last} runs backwards.', ['first' => $first, 'last' => $last]);
        }

        return new self($first, $last);
    }

    /**
     * Reads "10.64.20.31-10.64.20.60", "10.64.20.31-60", a network, or one address.
     *
     * @throws Malformed
     */
    public static function fromString(string $text): self
    {
        $text = trim($text);
        if (str_contains($text, '/')) {
            return Network::fromString($text)->range();
        }
        $ends = array_map(trim(...), explode('-', $text));
        if (\count($ends) > 2) {
            throw Malformed::because('"{text}" is not a range: write first-last.', ['text' => $text]);
        }
        $first = Ipv4::fromString($ends[0]);
        $last = $ends[1] ?? $ends[0];
        // ".60" and "60" are what people write on paper for the end of a range in the same /24.
        if (1 === preg_match('/^\.?([0-9]{1,3})$/D', $last, $short)) {
            $last = preg_replace('/[0-9]+$/', $short[1], (string) $first) ?? $last;
        }

        return self::of($first, Ipv4::fromString($last));
    }

    /**
     * The fewest ranges that hold exactly these addresses.
     *
     * @param list<Ipv4> $addresses
     *
     * @return list<self>
     */
    public static function covering(array $addresses): array
    {
        $numbers = array_map(static fn (Ipv4 $address): int => $address->number, $addresses);
        sort($numbers);
        $ranges = [];
        foreach (array_unique($numbers) as $number) {
            $last = $ranges[array_key_last($ranges) ?? -1] ?? null;
            if (null !== $last && $number === $last->last->number + 1) {
                array_pop($ranges);
                $ranges[] = new self($last->first, Ipv4::fromNumber($number));
            } else {
                $ranges[] = new self(Ipv4::fromNumber($number), Ipv4::fromNumber($number));
            }
        }

        return $ranges;
    }

    public function contains(Ipv4 $address): bool
    {
        return $address->number >= $this->first->number && $address->number <= $this->last->number;
    }

    public function overlaps(self $other): bool
    {
        return $this->first->number <= $other->last->number && $other->first->number <= $this->last->number;
    }

    public function count(): int
    {
        return $this->last->number - $this->first->number + 1;
    }

    /** @return \Generator<int, Ipv4> */
    public function addresses(): \Generator
    {
        for ($number = $this->first->number; $number <= $this->last->number; ++$number) {
            yield Ipv4::fromNumber($number);
        }
    }

    public function __toString(): string
    {
        return $this->first->equals($this->last) ? (string) $this->first : $this->first.'-'.$this->last;
    }
}
