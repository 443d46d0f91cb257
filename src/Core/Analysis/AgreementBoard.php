<?php

declare(strict_types=1);

namespace Vorhut\Core\Analysis;

use Vorhut\Core\Consistency\Agreed;
use Vorhut\Core\Consistency\Agreements;
use Vorhut\Core\Consistency\Rule\BrokenAgreement;
use Vorhut\Core\Consistency\Standing;
use Vorhut\Core\Consistency\Subject;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Text\Message;

/**
 * The must-match rules for display: counts per rule, and both sides of each broken one. Plain data, so that it can be cached.
 *
 * @phpstan-type Hand array{
 *     name: string, device: string|null, segment: string|null, label: string, value: string|null, setBy: string|null,
 *     setAt: string|null, isOdd: bool, isPlanned: bool,
 * }
 */
final readonly class AgreementBoard
{
    private const MOST = 20;
    private const HANDS = 6;

    /**
     * @param list<array{name: string, holds: int, broken: int, unknown: int}> $tally broken rules first
     * @param list<array{
     *     key: string, name: string, severity: string, relation: string, hands: list<Hand>, more: int, why: Message, todo: Message,
     *     cure: Message|null, isTyping: bool,
     * }> $broken the first of them
     * @param int $more how many more are broken
     */
    private function __construct(public array $tally, public array $broken, public int $more)
    {
    }

    public static function of(Agreements $agreements): self
    {
        $broken = $agreements->with(Standing::Broken);

        return new self(
            array_values(array_map(static fn (array $one): array => [
                'name' => $one['agreement']->name,
                'holds' => $one['holds'],
                'broken' => $one['broken'],
                'unknown' => $one['unknown'],
            ], $agreements->tally())),
            array_map(self::toRow(...), \array_slice($broken, 0, self::MOST)),
            max(0, \count($broken) - self::MOST),
        );
    }

    /**
     * @return array{
     *     key: string, name: string, severity: string, relation: string, hands: list<Hand>, more: int, why: Message, todo: Message,
     *     cure: Message|null, isTyping: bool,
     * }
     */
    private static function toRow(Agreed $one): array
    {
        return [
            'key' => BrokenAgreement::keyOf($one),
            'name' => $one->agreement->name,
            'severity' => $one->agreement->severity,
            'relation' => $one->agreement->relation->value,
            'hands' => array_map(static fn (Subject $subject): array => [
                'name' => $subject->name,
                'device' => $subject->device?->key,
                'segment' => $subject->segment,
                'label' => $subject->label,
                'value' => $subject->value->effective(Face::Set),
                'setBy' => $subject->value->setBy,
                'setAt' => $subject->value->setAt,
                'isOdd' => \in_array($subject, $one->odd, true),
                'isPlanned' => null !== $subject->ref,
            ], \array_slice($one->subjects, 0, self::HANDS)),
            'more' => max(0, \count($one->subjects) - self::HANDS),
            'why' => $one->why,
            'todo' => $one->todo,
            'cure' => $one->cure?->why,
            'isTyping' => $one->typing,
        ];
    }
}
