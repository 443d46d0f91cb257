<?php

declare(strict_types=1);

namespace Vorhut\Core\Consistency;

use Vorhut\Core\Catalogue\Agreement;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Facts;
use Vorhut\Core\Text\Message;

/** One must-match rule between certain settings of a job: its result, its facts, and a possible fix. */
final readonly class Agreed implements \JsonSerializable
{
    /**
     * @param non-empty-list<Subject> $subjects all that take part
     * @param list<Subject>           $odd      of a broken one: those that are out of step
     * @param bool                    $typing   the plan agrees; what breaks it was typed other than planned
     */
    public function __construct(
        public Agreement $agreement,
        public array $subjects,
        public Standing $standing,
        public array $odd,
        public bool $typing,
        public Facts $facts,
        public Message $broken,
        public Message $why,
        public Message $todo,
        public ?Change $cure = null,
        public ?Message $button = null,
    ) {
    }

    /** How well it is known: from values seen at all ends, from values set, or from the plan only. */
    public function standsOn(): Face
    {
        $weakest = Face::Seen;
        foreach ($this->subjects as $subject) {
            if (null === $subject->ref) {
                continue;
            }
            if (null === $subject->value->set && null === $subject->value->seen) {
                return Face::Planned;
            }
            if (null === $subject->value->seen) {
                $weakest = Face::Set;
            }
        }

        return $weakest;
    }

    public function isAbout(string $device): bool
    {
        foreach ($this->subjects as $subject) {
            if ($subject->device?->key === $device) {
                return true;
            }
        }

        return false;
    }

    /** @return array<string, mixed> */
    public function jsonSerialize(): array
    {
        return [
            'agreement' => $this->agreement->code,
            'standing' => $this->standing->value,
            'standsOn' => $this->standsOn()->value,
            'ends' => array_map(static fn (Subject $one): array => [
                'end' => $one->end,
                'of' => $one->name,
                'setting' => $one->record.'#'.$one->field,
                'value' => $one->value->effective(Face::Set),
                'setBy' => $one->value->setBy,
            ], $this->subjects),
            'cure' => $this->cure,
            'facts' => $this->facts->texts(),
        ];
    }
}
