<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\MapInput;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Allocation\Allocation;

#[AsCommand('vorhut:plan', 'Assigns addresses to devices without one, and lists those that did not fit')]
final readonly class PlanCommand
{
    public function __construct(private CommandInput $input)
    {
    }

    public function __invoke(
        OutputInterface $output,
        #[MapInput]
        DocumentInput $document,
        #[Option('reassign all addresses that are neither set nor locked')]
        bool $afresh = false,
    ): int {
        $plan = $this->input->plan($document->file);
        $allocation = Allocation::of($plan, $afresh);
        $lines = [];
        $data = ['given' => [], 'unplaced' => []];
        foreach ($allocation->given as $given) {
            $tag = $plan->devices[$given['nic']->device]->tag;
            $lines[] = \sprintf('%-12s %-6s %15s -> %s', $tag, $given['nic']->name, $given['before'] ?? '-', $given['after']);
            $data['given'][] = ['device' => $tag, 'nic' => $given['nic']->name, 'before' => $given['before'], 'after' => $given['after']];
        }
        foreach ($allocation->unplaced as $unplaced) {
            $lines[] = \sprintf(
                '%-12s %-6s not placed: %s',
                $plan->devices[$unplaced['nic']->device]->tag,
                $unplaced['nic']->name,
                $unplaced['why'],
            );
            $data['unplaced'][] = ['device' => $plan->devices[$unplaced['nic']->device]->tag, 'why' => (string) $unplaced['why']];
        }
        $this->input->answer($output, $document->format, $data, [] === $lines ? ['Everything has its address.'] : $lines);

        return CommandInput::DONE;
    }
}
