<?php

declare(strict_types=1);

namespace Vorhut\Core\Finding;

use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Text\Message;

/** The same finding at several places: one entry with a list, its effect once, and one fix for all where their fixes do not collide. */
final readonly class FindingGroup
{
    /** Fields whose value no two records may share: fixes computed one by one may propose the same one. */
    private const DISTINCT = '/(^|#)(address|startAddress)$/D';

    /** @param non-empty-list<Finding> $findings */
    private function __construct(public array $findings)
    {
    }

    /**
     * @param iterable<Finding> $findings
     *
     * @return list<self> in the order of their first finding
     */
    public static function all(iterable $findings): array
    {
        $groups = [];
        foreach ($findings as $finding) {
            $groups[implode("\n", [
                $finding->code,
                $finding->severity->value,
                $finding->stage->value,
                $finding->what->text,
                (string) $finding->why,
                $finding->label()->text,
                null === $finding->cure ? '' : 'fix',
            ])][] = $finding;
        }

        return array_map(static fn (array $some): self => new self($some), array_values($groups));
    }

    /** Identifies exactly these findings: one more or one fewer is another group. */
    public function key(): string
    {
        $keys = array_map(static fn (Finding $one): string => $one->key(), $this->findings);
        sort($keys);

        return 'all:'.$this->first()->code.':'.hash('xxh128', implode("\n", $keys));
    }

    public function first(): Finding
    {
        return $this->findings[0];
    }

    public function count(): int
    {
        return \count($this->findings);
    }

    /** The advice where it is the same for all; null where each finding has its own. */
    public function todo(): ?Message
    {
        $texts = array_unique(array_map(static fn (Finding $one): string => (string) $one->todo, $this->findings));

        return 1 === \count($texts) ? $this->first()->todo : null;
    }

    /** All fixes as one change; null where one has none, or where two of them cannot both be made. */
    public function cure(): ?Change
    {
        if (1 === $this->count()) {
            return $this->first()->cure;
        }
        $edits = [];
        $written = [];
        foreach ($this->findings as $finding) {
            foreach ($finding->cure->edits ?? [] as $edit) {
                $places = self::places($edit);
                if ([] !== array_intersect_key($written, $places)) {
                    return null;
                }
                $written += $places;
                $edits[] = $edit;
            }
            if (null === $finding->cure) {
                return null;
            }
        }

        return new Change(new Message('[n finding|findings] fixed. The first was: {what}', [
            'n' => $this->count(),
            'what' => $this->first()->what,
        ]), $edits);
    }

    /** @return array<string, true> what no other fix of the group may touch */
    private static function places(Edit $edit): array
    {
        $place = $edit->section.'/'.$edit->key;
        $isDistinct = 1 === preg_match(self::DISTINCT, 'settings' === $edit->section ? $edit->key : $edit->field);

        return [
            $place.(null === $edit->row ? '.'.$edit->field : '') => true,
            ...($isDistinct && \is_string($edit->after) ? ['value '.$edit->after => true] : []),
        ];
    }
}
