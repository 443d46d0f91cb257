<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\MapInput;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Net\Malformed;
use Vorhut\Provisioning\Files;
use Vorhut\Rehearsal\DayResult;
use Vorhut\Rehearsal\InjectedMistake;
use Vorhut\Rehearsal\RehearsedDay;
use Vorhut\Socket\Background;
use Vorhut\Socket\Loopback;

#[AsCommand('vorhut:rehearse', 'Works through all run sheets of a document in the lab and reports the result')]
final readonly class RehearseCommand
{
    public function __construct(private CommandInput $input, private Files $files, private int $labShift)
    {
    }

    /** @param list<string> $slip */
    public function __invoke(
        OutputInterface $output,
        #[MapInput]
        DocumentInput $document,
        #[Option('a mistake to simulate: typed:TAG:SETTING=VALUE, left:TAG:SETTING, not-applied:TAG, password:TAG, misread:TAG:=MAC')]
        array $slip = [],
        #[Option('how many times faster than real devices they start')]
        int $pace = 50,
        #[Option('skip the final tests')]
        bool $noProbes = false,
    ): int {
        $plan = $this->input->plan($document->file);
        try {
            $slips = array_map(static fn (string $text): InjectedMistake => InjectedMistake::fromString(
                $text,
                static fn (string $tag): ?string => $plan->deviceTagged($tag)?->key,
            ), $slip);
        } catch (Malformed $e) {
            throw BadInput::because('{why}', ['why' => $e->getMessage()]);
        }
        Background::reportTo(static fn (string $what, \Throwable $e) => $output->writeln(Background::line($what, $e)));
        $result = RehearsedDay::rehearse(
            $plan,
            $this->files,
            $slips,
            (float) max(1, $pace),
            !$noProbes,
            'json' === $document->format ? null : static function (string $said) use ($output): void {
                $output->writeln($said, OutputInterface::OUTPUT_RAW);
            },
            // A lab that is already open keeps its addresses.
            new Loopback($this->labShift + 57),
        );
        $output->writeln(
            'json' === $document->format
                ? (string) json_encode(self::data($result), \JSON_PRETTY_PRINT | \JSON_UNESCAPED_SLASHES)
                : self::text($result),
            OutputInterface::OUTPUT_RAW,
        );

        return [] === $result->unfinished && [] === $result->findings && [] === $result->unseen ? CommandInput::DONE : CommandInput::FOUND;
    }

    private static function text(DayResult $result): string
    {
        $lines = [];
        foreach ($result->why as $key => $why) {
            $lines[] = \sprintf('%s is not done. %s', $result->plan->devices[$key]->tag, $why);
        }
        foreach ($result->findings as $finding) {
            $lines[] = \sprintf('%-6s %s', $finding->severity->value, $finding->what);
        }
        foreach ($result->failed() as [$test, $evidence]) {
            $lines[] = \sprintf('failed  %s: %s', $test->title, $evidence->detail);
        }
        $lines[] = \sprintf(
            '%d devices, %d not done; %d settings not seen as planned; %d findings; %d of %d tests passed; %.0f s.',
            \count($result->plan->devices),
            \count($result->unfinished),
            \count($result->unseen),
            \count($result->findings),
            \count($result->probes) - \count($result->failed()),
            \count($result->probes),
            $result->seconds,
        );

        return implode("\n", $lines);
    }

    /** @return array<string, mixed> */
    private static function data(DayResult $result): array
    {
        return [
            'notDone' => array_map(strval(...), $result->why),
            'notSeen' => array_map(static fn ($slot): string => (string) $slot->ref, $result->unseen),
            'findings' => $result->findings,
            'found' => array_map(static fn (Finding $finding): string => $finding->key(), $result->findings),
            'failed' => array_map(static fn (array $one): string => $one[0]->key, $result->failed()),
            'probes' => \count($result->probes),
            'seconds' => round($result->seconds, 1),
        ];
    }
}
