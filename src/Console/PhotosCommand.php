<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\Argument;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Exchange\Photos;
use Vorhut\Journal\Records;

#[AsCommand('vorhut:photos', 'Exports the photos of a job')]
final readonly class PhotosCommand
{
    public function __construct(private CommandInput $input, private Photos $photos, private Records $records)
    {
    }

    public function __invoke(
        OutputInterface $output,
        #[Argument('the job')]
        string $job,
        #[Option('folder to write to; without it, the photos are listed')]
        string $out = '',
        #[Option('text or json')]
        string $format = 'text',
    ): int {
        $found = $this->input->job($job);
        $plan = $this->records->plan($found);
        if ('' !== $out && !is_dir($out)) {
            throw BadInput::because('Folder "{folder}" cannot be written.', ['folder' => $out]);
        }
        $lines = $data = [];
        foreach ($this->photos->of($found) as $photo) {
            $tag = $plan->devices[$photo['device']]->tag ?? $photo['device'];
            $whole = '' === $out ? null : $this->photos->find($found, $photo['id']);
            $name = null;
            if (null !== $whole) {
                $name = Photos::fileName($tag, $photo['step'], $photo['id'], $whole['type']);
                if (\strlen($whole['bytes']) !== file_put_contents($out.'/'.$name, $whole['bytes'])) {
                    throw BadInput::because('{file} could not be written whole.', ['file' => $name]);
                }
            }
            $lines[] = \sprintf('%-12s %-16s %s %s %s', $tag, $photo['step'], $photo['at'], $photo['by'], $name ?? '');
            $data[] = ['device' => $tag, 'file' => $name] + $photo;
        }
        $this->input->answer($output, $format, $data, [] === $lines ? ['No photos.'] : $lines);

        return CommandInput::DONE;
    }
}
