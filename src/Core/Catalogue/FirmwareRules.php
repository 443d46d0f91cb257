<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

/** Which versions of a kind's firmware may be used: compared part by part as numbers, 6.0.196 is newer than 6.0.99. */
final readonly class FirmwareRules
{
    /** @param array<string, string> $bad version → what does not work with it */
    public function __construct(public ?string $least, public array $bad)
    {
    }

    public static function read(Reading $read): self
    {
        return new self($read->textOrNull('least'), $read->map('bad'));
    }

    /** What does not work with a version; null where nothing is known against it. */
    public function against(string $version): ?string
    {
        foreach ($this->bad as $bad => $what) {
            if (0 === self::compare($version, (string) $bad)) {
                return $what;
            }
        }

        return null;
    }

    public function isTooOld(string $version): bool
    {
        return null !== $this->least && self::compare($version, $this->least) < 0;
    }

    /** Less than, equal to or greater than zero, by the numbers in it; what one has more of counts. */
    public static function compare(string $a, string $b): int
    {
        [$left, $right] = [self::parts($a), self::parts($b)];
        for ($i = 0; $i < max(\count($left), \count($right)); ++$i) {
            $by = ($left[$i] ?? 0) <=> ($right[$i] ?? 0);
            if (0 !== $by) {
                return $by;
            }
        }

        return 0;
    }

    /** @return list<int> */
    private static function parts(string $version): array
    {
        preg_match_all('/\d{1,15}/', $version, $numbers);

        return array_map(intval(...), $numbers[0]);
    }
}
