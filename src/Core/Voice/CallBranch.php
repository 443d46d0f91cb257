<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice;

use Vorhut\Core\Text\Message;

/** One way that a call can take, from the dialled digits to where it ends. */
final readonly class CallBranch
{
    /**
     * @param list<string> $numbers the numbers it passes, the dialled one first, the one it ends at last
     * @param list<string> $records the forwards, groups, menus and routes it passes, as `section/key`
     */
    public function __construct(public BranchEnd $end, public array $numbers, public array $records)
    {
    }

    /** Whether only routes of a PBX lie between the first number and the end: no forward, group or menu. */
    public function isDirect(): bool
    {
        foreach ($this->records as $record) {
            if (!str_starts_with($record, 'callRoutes/')) {
                return false;
            }
        }

        return true;
    }

    /** Why a probe must not make the call; null for a branch that ends inside. */
    public function reason(): ?Message
    {
        $at = ['way' => implode(' → ', $this->numbers)];

        return match ($this->end) {
            BranchEnd::Inside => null,
            BranchEnd::Emergency => new Message('This call can reach the emergency centre ({way}), so Vorhut never makes it.', $at),
            BranchEnd::Outside => new Message('This call can leave the site ({way}), so a person makes it.', $at),
            BranchEnd::Provider => new Message('The provider decides where this call ends ({way}), so a person makes it.', $at),
            BranchEnd::Feature => new Message('This call can end at a feature code ({way}), so a person makes it.', $at),
        };
    }
}
