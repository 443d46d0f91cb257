<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

use Vorhut\Core\Net\Malformed;

/** The kinds of a library, by code. A job has a dozen of fifty, so each is read when it is first asked for. */
final class Kinds
{
    /** @var array<string, Kind> */
    private array $read = [];
    /** @var array<string, Kind>|null code, name or other word, in small letters → kind; the first of the codes where two share a word */
    private ?array $named = null;

    /**
     * @param array<string, array<mixed>> $data  code → decoded data file, in the order of the codes
     * @param self|null                   $ships the kinds under those of one job
     */
    private function __construct(
        private readonly array $data,
        private readonly SharedSettings $shared,
        private readonly ?self $ships = null,
    ) {
    }

    /** @param array<string, array<mixed>> $data code → decoded data file */
    public static function of(array $data, SharedSettings $shared): self
    {
        ksort($data);

        return new self($data, $shared);
    }

    /** @param array<string, Kind> $own by code: others, or others in the place of these */
    public function under(array $own): self
    {
        $data = array_map(static fn (): array => [], $own) + $this->data;
        ksort($data);
        $all = new self($data, $this->shared, $this);
        $all->read = $own;

        return $all;
    }

    /** @throws Malformed where its file says what no kind can be */
    public function find(string $code): ?Kind
    {
        if (!isset($this->data[$code])) {
            return null;
        }

        return $this->read[$code] ??= $this->ships?->find($code) ?? Kind::fromArray($code, $this->data[$code], $this->shared);
    }

    /**
     * @return array<string, Kind> in the order of their codes
     *
     * @throws Malformed
     */
    public function all(): array
    {
        $all = [];
        foreach ($this->codes() as $code) {
            $all[$code] = $this->find($code) ?? throw new \LogicException($code);
        }

        return $all;
    }

    /** @param string $text its code, its name or another word for it */
    public function named(string $text): ?Kind
    {
        if (null === $this->named) {
            $this->named = [];
            foreach ($this->all() as $kind) {
                foreach ([$kind->code, $kind->name, ...$kind->words] as $word) {
                    $this->named[mb_strtolower($word)] ??= $kind;
                }
            }
        }

        return $this->named[mb_strtolower(trim($text))] ?? null;
    }

    /** @return list<string> */
    public function codes(): array
    {
        return array_map(strval(...), array_keys($this->data));
    }
}
