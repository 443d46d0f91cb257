<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\MapInput;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Catalogue\KindDifference;
use Vorhut\Core\Document\JobDocument;
use Vorhut\Core\Plan\Row;
use Vorhut\Core\Text\Message;
use Vorhut\Library\KindSource;

#[AsCommand('vorhut:kind', 'Shows a device kind of a job, and what a file would change in it')]
final readonly class KindCommand
{
    public function __construct(private CommandInput $input, private KindSource $source)
    {
    }

    public function __invoke(
        OutputInterface $output,
        #[MapInput]
        DocumentInput $document,
        #[Option('code of the kind')]
        string $of = '',
        #[Option('YAML file with the changes')]
        string $with = '',
        #[Option('print the document with the new version')]
        bool $take = false,
    ): int {
        $whole = $this->input->document($document->file);
        $plan = $this->input->planOf($whole);
        $why = KindSource::whyNotACode($of);
        if (null !== $why) {
            throw BadInput::because('{why}', ['why' => $why]);
        }
        if ('' === $with) {
            $yaml = $this->source->of($plan, $of);
            $row = $plan->row('ownKinds', $of);
            $this->input->answer($output, $document->format, [
                'kind' => $of,
                'version' => null === $row ? null : (new Row($row))->int('version'),
                'source' => $yaml,
            ], explode("\n", rtrim($yaml)));

            return CommandInput::DONE;
        }
        if (!is_file($with)) {
            throw BadInput::because('File "{file}" cannot be read.', ['file' => $with]);
        }
        $version = $this->source->version($plan, $of, (string) file_get_contents($with));
        if ($take && [] === $version->wrong) {
            $after = $version->isNew() ? $plan->with($version->change()) : $plan;
            $output->write(JobDocument::of($after, $whole->journal, $whole->sealed)->toJson(), false, OutputInterface::OUTPUT_RAW);

            return CommandInput::DONE;
        }
        $this->input->answer($output, $document->format, [
            'kind' => $of,
            'version' => $version->number,
            'devices' => $version->users,
            'wrong' => $version->wrong,
            'differences' => array_map(static fn (KindDifference $one): array => [
                'path' => $one->path, 'before' => $one->before, 'after' => $one->after,
            ], $version->differences),
        ], [
            ...array_map(static fn (Message $one): string => '! '.$one, $version->wrong),
            ...array_map(static fn (KindDifference $one): string => \sprintf(
                '%s: %s -> %s',
                $one->path,
                $one->before ?? '(not there)',
                $one->after ?? '(gone)',
            ), $version->differences),
            [] === $version->differences ? 'It equals the present version.' : \sprintf('%d devices.', $version->users),
        ]);

        return [] === $version->wrong ? CommandInput::DONE : CommandInput::FOUND;
    }
}
