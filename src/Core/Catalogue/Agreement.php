<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

use Vorhut\Core\Net\Malformed;

/** Settings that must match on two or more devices, as data. Core\Consistency computes whether they do. */
final readonly class Agreement
{
    public const EVERY = ['account', 'port', 'device', 'segment'];
    public const LINKS = ['device', 'segment', 'phone', 'registrar', 'ports', 'job', 'account'];
    public const PER = ['job', 'segment', 'device', 'room'];

    public string $code;
    public string $name;
    /** @var list<AgreementEnd> two of a pair; one of a group */
    public array $ends;
    /** @var string|null of a group: within what its members are held against one another */
    public ?string $per;
    public Relation $relation;
    /** @var list<array{string, string}> for Relation::Complementary */
    public array $pairs;
    /** @var string|null name of the end that is changed to fix it */
    public ?string $gives;
    /** One of Finding\Stage, and one of Finding\Severity. */
    public string $stage;
    public string $severity;
    public string $broken;
    public string $why;
    public string $todo;
    /** @var string|null what the computed fix does, where `todo` names an alternative to it as well */
    public ?string $button;

    /** @param array<mixed> $data */
    private function __construct(string $code, array $data)
    {
        $read = new Reading($data, \sprintf('agreement %s', $code));
        $relation = Relation::tryFrom($read->requireText('relation'))
            ?? throw Malformed::because('{of}: unknown relation "{text}".', ['of' => $read->of(), 'text' => $read->text('relation')]);
        $among = $read->children('between');
        $per = null;
        if (\is_array($data['among'] ?? null)) {
            $group = new Reading($data['among'], $read->of().', among');
            $per = $group->requireText('per');
            $among = ['one' => $group];
        }
        $ends = [];
        foreach ($among as $name => $end) {
            $role = $end->textOrNull('role');
            $ends[] = new AgreementEnd(
                $name,
                $end->textOrNull('every'),
                null === $role ? null : Role::tryFrom($role)
                    ?? throw Malformed::because('{of}: unknown role "{text}".', ['of' => $end->of(), 'text' => $role]),
                $end->textOrNull('of'),
                $end->textOrNull('by'),
                $end->text('setting'),
                $end->textOrNull('with'),
            );
        }
        if ((null === $per ? 2 : 1) !== \count($ends) || null === $ends[0]->every) {
            throw Malformed::because('{of}: it needs two ends, the first with "every", or a group.', ['of' => $read->of()]);
        }
        $pairs = [];
        foreach ((array) ($data['pairs'] ?? []) as $pair) {
            [$a, $b] = array_values((array) $pair) + [1 => ''];
            $pairs[] = [\is_scalar($a) ? (string) $a : '', \is_scalar($b) ? (string) $b : ''];
        }
        $this->code = $code;
        $this->name = $read->requireText('name');
        $this->ends = $ends;
        $this->per = $per;
        $this->relation = $relation;
        $this->pairs = $pairs;
        $this->gives = $read->textOrNull('gives');
        $this->stage = $read->text('stage', 'services');
        $this->severity = $read->text('severity', 'blocks');
        $this->broken = $read->requireText('broken');
        $this->why = $read->requireText('why');
        $this->todo = $read->requireText('todo');
        $this->button = $read->textOrNull('button');
    }

    /** Whether a device of a kind can have a part in it. */
    public function isFor(Kind $kind): bool
    {
        return [] !== array_filter($this->ends, static fn (AgreementEnd $end): bool => $end->isHeldBy($kind));
    }

    public function isGroup(): bool
    {
        return null !== $this->per;
    }

    public function end(string $name): ?AgreementEnd
    {
        foreach ($this->ends as $end) {
            if ($end->name === $name) {
                return $end;
            }
        }

        return null;
    }

    /**
     * @param array<mixed> $data
     *
     * @throws Malformed
     */
    public static function fromArray(string $code, array $data): self
    {
        return new self($code, $data);
    }
}
