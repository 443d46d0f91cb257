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

    /**
     * @param list<AgreementEnd>              $ends  two of a pair; one of a group
     * @param string|null                     $per   of a group: within what its members are held against one another
     * @param list<array{string, string}>     $pairs for Relation::Complementary
     * @param string|null                     $gives name of the end that is changed to mend it
     * @param string                          $stage, $severity as findings name them
     */
    private function __construct(
        public string $code,
        public string $name,
        public array $ends,
        public ?string $per,
        public Relation $relation,
        public array $pairs,
        public ?string $gives,
        public string $stage,
        public string $severity,
        public string $broken,
        public string $why,
        public string $todo,
    ) {
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
        $read = new Reading($data, \sprintf('agreement %s', $code));
        $relation = Relation::tryFrom($read->requireText('relation'))
            ?? throw Malformed::because('{of}: there is no relation "{text}".', ['of' => $read->of(), 'text' => $read->text('relation')]);
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
                    ?? throw Malformed::because('{of}: there is no role "{text}".', ['of' => $end->of(), 'text' => $role]),
                $end->textOrNull('of'),
                $end->textOrNull('by'),
                $end->text('setting'),
                $end->textOrNull('with'),
            );
        }
        if ((null === $per ? 2 : 1) !== \count($ends) || null === $ends[0]->every) {
            throw Malformed::because('{of}: it needs two ends, the first of which says "every", or a group.', ['of' => $read->of()]);
        }
        $pairs = [];
        foreach ((array) ($data['pairs'] ?? []) as $pair) {
            [$a, $b] = array_values((array) $pair) + [1 => ''];
            $pairs[] = [\is_scalar($a) ? (string) $a : '', \is_scalar($b) ? (string) $b : ''];
        }

        return new self(
            $code,
            $read->requireText('name'),
            $ends,
            $per,
            $relation,
            $pairs,
            $read->textOrNull('gives'),
            $read->text('stage', 'services'),
            $read->text('severity', 'blocks'),
            $read->requireText('broken'),
            $read->requireText('why'),
            $read->requireText('todo'),
        );
    }
}
