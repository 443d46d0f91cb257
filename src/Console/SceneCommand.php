<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\Argument;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Lighting\LookSpan;
use Vorhut\Core\Lighting\LookTimeline;
use Vorhut\Core\Net\Malformed;

#[AsCommand('vorhut:scene', 'Shows the active scene of a scene store after a sequence of events')]
final readonly class SceneCommand
{
    public function __construct(private CommandInput $input)
    {
    }

    /** @param list<string> $event */
    public function __invoke(
        OutputInterface $output,
        #[Argument('a job document')]
        string $file,
        #[Option('tag of the scene store')]
        string $store = '',
        #[Option('time in seconds and event: "10 contact 1 closes", "20 key 2", "30 hold 3", "0 cable in", "5 network on"')]
        array $event = [],
        #[Option('text or json')]
        string $format = 'text',
    ): int {
        $plan = $this->input->plan($file);
        $device = $plan->deviceTagged($store);
        if (null === $device || null === $device->kind->setting('sceneName')) {
            throw BadInput::because('This job has no scene store "{tag}".', ['tag' => $store]);
        }
        try {
            $spans = LookTimeline::of($plan, $device, $event);
        } catch (Malformed $e) {
            throw new BadInput((string) $e->message());
        }
        $this->input->answer($output, $format, $spans, array_map(
            static fn (LookSpan $one): string => \sprintf('%8.1f s  %-12s %s', $one->from, $one->look, $one->why),
            $spans,
        ));

        return CommandInput::DONE;
    }
}
