<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\Argument;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Plan\Device;
use Vorhut\Journal\Records;
use Vorhut\Outpost\Orders\Orders;
use Vorhut\Provisioning\FileServer;
use Vorhut\Provisioning\Freshness;

#[AsCommand('vorhut:refetch', 'Lists phones with an outdated file; exit code 1 if there are any')]
final readonly class RefetchCommand
{
    public function __construct(
        private CommandInput $input,
        private Records $records,
        private FileServer $files,
        private Freshness $freshness,
        private Orders $orders,
    ) {
    }

    public function __invoke(
        OutputInterface $output,
        #[Argument('the job')]
        string $job,
        #[Option('make phones fetch again if their admin page supports it')]
        bool $tell = false,
        #[Option('text or json')]
        string $format = 'text',
    ): int {
        $stored = $this->input->job($job);
        $this->files->prepare($stored);
        $files = $this->freshness->of($stored, $this->records->plan($stored));
        $told = $tell ? $this->orders->refetch($stored, array_keys($files->refetchable()), 'command line') : 0;
        $this->input->answer($output, $format, [
            'fresh' => self::tags($files->fresh),
            'old' => self::tags($files->old),
            'byHand' => self::tags($files->byHand()),
            'told' => $told,
        ], [
            \sprintf('%d of %d have the file of now', \count($files->fresh), \count($files->fresh) + \count($files->old)),
            ...array_map(
                static fn (Device $one): string => \sprintf('%-12s has an older one%s', $one->tag, isset($files->refetchable()[$one->key])
                    ? '' : ', and has to be restarted by hand'),
                array_values($files->old),
            ),
            ...($tell ? [\sprintf('%d are told', $told)] : []),
        ]);

        return [] === $files->old ? CommandInput::DONE : CommandInput::FOUND;
    }

    /**
     * @param array<string, Device> $devices
     *
     * @return list<string>
     */
    private static function tags(array $devices): array
    {
        return array_values(array_map(static fn (Device $one): string => $one->tag, $devices));
    }
}
