<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

/** One place where two descriptions of a kind differ: `steps/hook-up/wait`, from 50 to 60. */
final readonly class KindDifference
{
    /** What an entry of a list is known by, so that one put in at the front does not change all that follow. */
    private const NAMES = ['code', 'name', 'when'];

    /**
     * @param string|null $before as JSON writes it; null where it was not there
     * @param string|null $after  null where it is gone
     */
    private function __construct(public string $path, public ?string $before, public ?string $after)
    {
    }

    /**
     * @param array<mixed> $before decoded data files
     * @param array<mixed> $after
     *
     * @return list<self> in the order of the paths
     */
    public static function between(array $before, array $after): array
    {
        $old = self::leaves($before);
        $new = self::leaves($after);
        $found = [];
        foreach ($old + $new as $path => $value) {
            if (($old[$path] ?? null) !== ($new[$path] ?? null)) {
                $found[] = new self((string) $path, $old[$path] ?? null, $new[$path] ?? null);
            }
        }
        usort($found, static fn (self $a, self $b): int => $a->path <=> $b->path);

        return $found;
    }

    /**
     * @param array<mixed> $data
     *
     * @return array<string, string> path → value
     */
    private static function leaves(array $data, string $at = ''): array
    {
        $leaves = [];
        foreach (self::byName($data) as $name => $value) {
            $path = '' === $at ? (string) $name : $at.'/'.$name;
            if (\is_array($value) && [] !== $value && !self::isPlainList($value)) {
                $leaves += self::leaves($value, $path);
            } else {
                $leaves[$path] = Catalogue::encode($value);
            }
        }

        return $leaves;
    }

    /**
     * @param array<mixed> $list
     *
     * @return array<mixed> its entries by their names, where all have one
     */
    private static function byName(array $list): array
    {
        if (!array_is_list($list)) {
            return $list;
        }
        $named = [];
        foreach ($list as $i => $entry) {
            $name = \is_scalar($entry) ? (string) $entry : (string) $i;
            foreach (self::NAMES as $field) {
                if (\is_array($entry) && \is_string($entry[$field] ?? null)) {
                    $name = $entry[$field];
                    break;
                }
            }
            $named[isset($named[$name]) ? $name.'#'.$i : $name] = $entry;
        }

        return $named;
    }

    /** @param array<mixed> $value */
    private static function isPlainList(array $value): bool
    {
        return array_is_list($value) && [] === array_filter($value, is_array(...));
    }
}
