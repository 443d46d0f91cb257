<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\Argument;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Media\GroupStream;
use Vorhut\Core\Media\PlannedStreams;
use Vorhut\Core\Media\PushTarget;
use Vorhut\Core\Media\StreamRate;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Stream;

#[AsCommand('vorhut:stream', 'Lists streams with rates and receivers; exit code 1 if a rate or a receiver does not match')]
final readonly class StreamCommand
{
    public function __construct(private CommandInput $input)
    {
    }

    public function __invoke(
        OutputInterface $output,
        #[Argument('a job document')]
        string $file,
        #[Option('text or json')]
        string $format = 'text',
    ): int {
        $plan = $this->input->plan($file);
        $isFine = true;
        $lines = $streams = $pushes = [];
        foreach (PlannedStreams::of($plan) as $stream) {
            $rate = StreamRate::of($plan, $stream);
            $isFine = $isFine && $rate->isUsual();
            $group = GroupStream::of($plan, $stream);
            $to = self::to($plan, $stream);
            $at = null === $group ? null : $group->group->group->address.':'.$group->port;
            $lines[] = \sprintf(
                '%-28s %s → %s  %s%s  %s%s',
                $stream->name,
                $plan->devices[$stream->sender]->tag ?? $stream->sender,
                [] === $to ? 'not planned yet' : implode(', ', $to),
                $stream->transport,
                null === $at ? '' : ' to '.$at,
                null === $rate->kbit ? 'rate not known' : \sprintf('%.0f kbit/s', $rate->kbit),
                $rate->isUsual() ? '' : \sprintf(', USUALLY %.0f TO %.0f', $rate->usual[0] ?? 0, $rate->usual[1] ?? 0),
            );
            $streams[] = [
                'stream' => $stream->key,
                'name' => $stream->name,
                'from' => $plan->devices[$stream->sender]->tag ?? $stream->sender,
                'to' => $to,
                'transport' => $stream->transport,
                'group' => $at,
                'kbit' => null === $rate->kbit ? null : round($rate->kbit, 1),
                'usual' => $rate->isUsual(),
                'sameInH265' => $rate->sameInH265(),
            ];
        }
        foreach (PushTarget::all($plan) as $target) {
            $meets = $target->meets();
            $isFine = $isFine && false !== $meets;
            $lines[] = \sprintf(
                '%s pushes to %s  %s',
                $target->from->tag,
                $target->url,
                null === $target->taker
                    ? 'a device outside this job'
                    : $target->taker->tag.(true === $meets ? ' takes it' : ' TAKES IT OTHERWISE'),
            );
            $pushes[] = ['from' => $target->from->tag, 'to' => $target->url, 'taker' => $target->taker?->tag, 'meets' => $meets];
        }
        $offered = [];
        foreach (PushTarget::targets($plan) as $one) {
            $lines[] = \sprintf('%s takes %s%s', $one['device']->tag, $one['url'], $one['sealed'] ? ' with a passphrase' : '');
            $offered[] = ['taker' => $one['device']->tag, 'url' => (string) $one['url'], 'sealed' => $one['sealed']];
        }
        $this->input->answer($output, $format, ['streams' => $streams, 'pushes' => $pushes, 'offered' => $offered], $lines);

        return $isFine ? CommandInput::DONE : CommandInput::FOUND;
    }

    /** @return list<string> tags of who receives it, and whether it leaves the site */
    private static function to(Plan $plan, Stream $stream): array
    {
        $to = array_map(static fn (string $key): string => $plan->devices[$key]->tag ?? $key, $stream->receivers);

        return $stream->outside ? [...$to, 'out of the site'] : $to;
    }
}
