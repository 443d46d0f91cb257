<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\Argument;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Lighting\Patch;
use Vorhut\Core\Lighting\UniversePatch;

#[AsCommand('vorhut:patch', 'Shows DMX slots and universes; exit code 1 if fixtures overlap')]
final readonly class PatchCommand
{
    public function __construct(private CommandInput $input)
    {
    }

    public function __invoke(
        OutputInterface $output,
        #[Argument('a job document')]
        string $file,
        #[Option('number of consecutive free slots to search for')]
        int $free = 0,
        #[Option('text or json')]
        string $format = 'text',
    ): int {
        $patch = Patch::of($this->input->plan($file));
        $lines = [];
        foreach ($patch->universes as $one) {
            $lines[] = \sprintf(
                'universe %d  %s  %d of 512 slots%s',
                $one->universe->number,
                $one->universe->group(),
                $one->usedSlots(),
                $free > 0 ? ', '.(null === $one->free($free) ? "no $free in a row" : "$free free from ".$one->free($free)) : '',
            );
            foreach ($one->fixtures as $fixture) {
                $lines[] = \sprintf(
                    '  %3d-%3d  %s%s',
                    $fixture->start,
                    $fixture->end,
                    $fixture->device->tag,
                    $fixture->runsOver() ? '  PAST THE END' : '',
                );
            }
            foreach ($one->overlaps() as [$first, $second]) {
                $lines[] = \sprintf(
                    '  both take %d-%d: %s, %s',
                    $second->start,
                    min($first->end, $second->end),
                    $first->device->tag,
                    $second->device->tag,
                );
            }
            foreach ($one->senders as [$device, $priority]) {
                $lines[] = \sprintf('  sent by %s with priority %d', $device->tag, $priority);
            }
            foreach ($one->receivers as [$device, $ports]) {
                $lines[] = \sprintf('  output by %s%s', $device->tag, [] === $ports ? '' : ' at port '.implode(', ', $ports));
            }
        }
        foreach ($patch->unplaced as $device) {
            $lines[] = \sprintf('no start address yet: %s', $device->tag);
        }
        $this->input->answer($output, $format, array_values($patch->universes), $lines);
        $wrong = array_filter($patch->universes, static fn (UniversePatch $one): bool => [] !== $one->overlaps()
            || [] !== $one->pastTheEnd() || [] !== $one->fighting());

        return [] === $wrong ? CommandInput::DONE : CommandInput::FOUND;
    }
}
