<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\MapInput;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Network\Reachability\Difference;
use Vorhut\Core\Network\Reachability\WhatIf;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\EditNotation;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Text\Message;

#[AsCommand('vorhut:whatif', 'Previews which connections a change adds or breaks; exit code 1 if one breaks')]
final readonly class WhatIfCommand
{
    public function __construct(private CommandInput $input)
    {
    }

    /** @param list<string> $edit */
    public function __invoke(
        OutputInterface $output,
        #[MapInput]
        DocumentInput $document,
        #[Option('"filters/f1 action=deny", "+routes router=r-1 destination=10.0.0.0/8 via=10.64.0.2", "-routerPorts/r-1-s1"')]
        array $edit = [],
        #[Option('planned, set or seen')]
        string $face = 'set',
    ): int {
        $plan = $this->input->plan($document->file);
        $asked = Face::tryFrom($face) ?? throw BadInput::because('--face is planned, set or seen, not "{face}".', ['face' => $face]);
        if ([] === $edit) {
            throw new BadInput('--edit is needed: what would be changed.');
        }
        $edits = [];
        foreach ($edit as $line) {
            // Each is read beside what those before it leave.
            $after = $plan->with(new Change(new Message(''), $edits));
            $edits = [...$edits, ...EditNotation::read($after, $line)];
        }
        $whatIf = WhatIf::of($plan, $asked, new Change(new Message('what if'), $edits));
        $this->input->answer($output, $document->format, $whatIf, [
            ...array_map(static fn (Difference $one): string => (string) $one->message(), $whatIf->differences),
            \sprintf(
                '%d begin, %d cease, %d fail by another cause',
                WhatIf::cells($whatIf->begins()),
                WhatIf::cells($whatIf->ceases()),
                WhatIf::cells($whatIf->otherwise()),
            ),
        ]);

        return [] === $whatIf->ceases() ? CommandInput::DONE : CommandInput::FOUND;
    }
}
