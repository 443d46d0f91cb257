<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\Argument;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Application\WriteDevice;
use Vorhut\Core\Bench\WritePlan;
use Vorhut\Journal\Records;

#[AsCommand('vorhut:write', 'Has an outpost write the planned settings to devices that take them over the network')]
final readonly class WriteCommand
{
    public function __construct(private CommandInput $input, private Records $records, private WriteDevice $writeDevice)
    {
    }

    /** @param list<string> $tags */
    public function __invoke(
        OutputInterface $output,
        #[Argument('the job')]
        string $job,
        #[Argument('tags of the devices; omit them to list all that can be written to')]
        array $tags = [],
        #[Option('name for the history')]
        string $by = 'console',
    ): int {
        $stored = $this->input->job($job);
        $plan = $this->records->plan($stored);
        if ([] === $tags) {
            foreach (WriteDevice::plans($plan) as $one) {
                $output->writeln(self::line($one), OutputInterface::OUTPUT_RAW);
            }

            return CommandInput::DONE;
        }
        $keys = array_map(fn (string $tag): string => $this->input->device($plan, $tag)->key, $tags);
        $count = $this->writeDevice->order($stored, $plan, $keys, $by);
        $output->writeln(\sprintf('%d of %d ordered', $count, \count($keys)), OutputInterface::OUTPUT_RAW);

        return $count === \count($keys) ? CommandInput::DONE : CommandInput::FOUND;
    }

    private static function line(WritePlan $plan): string
    {
        return \sprintf('%-12s %d to write', $plan->device->tag, \count($plan->toDo()));
    }
}
