<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Random\Engine\Xoshiro256StarStar;
use Random\Randomizer;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Catalogue\Catalogue;
use Vorhut\Core\Document\JobDocument;
use Vorhut\Core\Sample\PlantedFaults;
use Vorhut\Core\Sample\SampleJob;

#[AsCommand('vorhut:generate', 'Generates a job of any size; the same seed gives the same document')]
final readonly class GenerateCommand
{
    public function __construct(private Catalogue $catalogue)
    {
    }

    public function __invoke(
        OutputInterface $output,
        #[Option('number of devices')]
        int $devices = 200,
        #[Option('number of segments')]
        int $segments = 10,
        #[Option('seed of the random numbers')]
        int $seed = 1,
        #[Option('percentage of devices that are configured')]
        int $staged = 50,
        #[Option('number of mistakes to add')]
        int $faults = 0,
        #[Option('file to write the added mistakes and the expected findings to')]
        string $truth = '',
    ): int {
        $chance = new Randomizer(new Xoshiro256StarStar($seed));
        $below = static fn (int $n): int => $chance->getInt(0, $n - 1);
        if ($staged < 0 || $staged > 100) {
            throw BadInput::because('{n} of a hundred devices: between 0 and 100.', ['n' => $staged]);
        }
        if ($faults < 0) {
            throw BadInput::because('[n mistake|mistakes] cannot be planted.', ['n' => $faults]);
        }
        $planted = PlantedFaults::into(SampleJob::of($this->catalogue, $devices, $segments, $below, $staged), $faults, $below);
        if ('' !== $truth) {
            $json = json_encode($planted->truth, \JSON_PRETTY_PRINT | \JSON_UNESCAPED_SLASHES)."\n";
            if (false === @file_put_contents($truth, $json)) {
                throw BadInput::because('"{file}" cannot be written.', ['file' => $truth]);
            }
        }
        $output->write(JobDocument::of($planted->plan)->toJson(), false, OutputInterface::OUTPUT_RAW);

        return CommandInput::DONE;
    }
}
