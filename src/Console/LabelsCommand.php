<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\MapInput;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Document\Labels;
use Vorhut\Exchange\LabelFormat;
use Vorhut\Exchange\LabelSheet;

#[AsCommand('vorhut:labels', 'Lists device labels, or prints them as PDF')]
final readonly class LabelsCommand
{
    public function __construct(private CommandInput $input)
    {
    }

    /** @param list<string> $of */
    public function __invoke(
        OutputInterface $output,
        #[MapInput]
        DocumentInput $document,
        #[Option('PDF file to write')]
        ?string $pdf = null,
        #[Option('70x37, 48x25, 99x38, strip-62 or strip-24')]
        string $sheet = '70x37',
        #[Option('URL in the QR code')]
        string $url = 'https://vorhut.example/j/job/bench?sel=devices/',
        #[Option('tag of a device; can be repeated')]
        array $of = [],
    ): int {
        $plan = $this->input->plan($document->file);
        $format = LabelFormat::tryFrom($sheet) ?? throw BadInput::because('--sheet is one of {list}, not "{sheet}".', [
            'list' => implode(', ', array_column(LabelFormat::cases(), 'value')),
            'sheet' => $sheet,
        ]);
        $labels = Labels::of($plan, $of);
        if (null !== $pdf) {
            if (!is_dir(\dirname($pdf))) {
                throw BadInput::because('"{file}" cannot be written.', ['file' => $pdf]);
            }
            file_put_contents($pdf, LabelSheet::pdf($plan, $format, $url, $of));
        }
        $this->input->answer($output, $document->format, ['labels' => $labels], array_map(
            static fn (array $one): string => \sprintf(
                '%-16s %-22s %s',
                $one['tag'],
                implode(' ', array_column($one['lines'], 'address')),
                $one['room'],
            ),
            $labels,
        ));

        return CommandInput::DONE;
    }
}
