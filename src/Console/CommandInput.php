<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Catalogue\Catalogue;
use Vorhut\Core\Document\JobDocument;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Plan;
use Vorhut\Entity\Job;
use Vorhut\Exchange\FileChunks;
use Vorhut\Exchange\Jobs;

/** What the commands share: a plan from a document, a job from the database, an answer as text or JSON. */
final readonly class CommandInput
{
    /** Exit codes: done; something that blocks was found; the input was bad. */
    public const DONE = 0;
    public const FOUND = 1;
    public const BAD = 2;

    public function __construct(private Catalogue $kinds, private Jobs $jobs)
    {
    }

    /** @param string $file a path, or - for standard input */
    public function document(string $file): JobDocument
    {
        $stream = match (true) {
            '-' === $file => \STDIN,
            is_file($file) && is_readable($file) => fopen($file, 'r'),
            default => false,
        };

        return false === $stream
            ? throw BadInput::because('File "{file}" cannot be read.', ['file' => $file])
            : JobDocument::fromChunks(FileChunks::of($stream), $this->kinds);
    }

    public function plan(string $file): Plan
    {
        // Computed once and gone: looking for circles in values that have none would be a good part of the time.
        gc_disable();

        return $this->planOf($this->document($file));
    }

    public function planOf(JobDocument $document): Plan
    {
        return $document->plan($this->kinds);
    }

    /** The content of a text file. */
    public function text(string $file): string
    {
        $text = is_file($file) ? file_get_contents($file) : false;

        return false === $text ? throw BadInput::because('File "{file}" was not found.', ['file' => $file]) : $text;
    }

    public function job(string $slug): Job
    {
        return $this->jobs->find($slug) ?? throw BadInput::because('Job "{slug}" was not found.', ['slug' => $slug]);
    }

    public function device(Plan $plan, string $tag): Device
    {
        return $plan->deviceTagged($tag) ?? throw BadInput::because('This job has no device "{tag}".', ['tag' => $tag]);
    }

    /**
     * @param string $from key of the segment that is looked from
     *
     * @throws BadInput where there is none of it
     */
    public function place(Plan $plan, string $from): void
    {
        if (!isset($plan->segments[$from])) {
            throw BadInput::because(
                '' === $from
                    ? 'Say from which segment is looked: one of {keys}.'
                    : 'This job has no segment "{key}"; it has {keys}.',
                ['key' => $from, 'keys' => implode(', ', array_keys($plan->segments))],
            );
        }
    }

    /** @param iterable<string> $lines */
    public function answer(OutputInterface $output, string $format, mixed $data, iterable $lines): void
    {
        if ('json' === $format) {
            $output->writeln(
                json_encode($data, \JSON_PRETTY_PRINT | \JSON_UNESCAPED_SLASHES | \JSON_UNESCAPED_UNICODE | \JSON_THROW_ON_ERROR),
                OutputInterface::OUTPUT_RAW,
            );

            return;
        }
        if ('text' !== $format) {
            throw BadInput::because('--format is text or json, not "{format}".', ['format' => $format]);
        }
        foreach ($lines as $line) {
            $output->writeln($line, OutputInterface::OUTPUT_RAW);
        }
    }
}
