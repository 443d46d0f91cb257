<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\Argument;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Media\Headroom;
use Vorhut\Core\Media\LinkBudget;
use Vorhut\Core\Media\LinkLoad;
use Vorhut\Core\Media\Uplink;

#[AsCommand('vorhut:budget', 'Shows the load of each link and how many more streams fit; exit code 1 if a link is overloaded')]
final readonly class BudgetCommand
{
    public function __construct(private CommandInput $input)
    {
    }

    /** @param list<string> $stream */
    public function __invoke(
        OutputInterface $output,
        #[Argument('a job document; omit it to calculate a single link')]
        string $file = '',
        #[Option('speed of a single link in Mbit/s')]
        float $link = 0.0,
        #[Option('headroom in percent')]
        int $keep = Headroom::SCHOOLS[0],
        #[Option('streams on the link: 4x130 for four streams of 130 Mbit/s')]
        array $stream = [],
        #[Option('key of a stream to add more of, as a calculation')]
        string $more = '',
        #[Option('number of additional streams')]
        int $times = 1,
        #[Option('text or json')]
        string $format = 'text',
    ): int {
        if ($link > 0) {
            return $this->singleLink($output, $link, $keep, $stream, $format);
        }
        if ('' === $file) {
            throw new BadInput('Name a job document, or a single link by --link=1000 --stream=4x130.');
        }
        $plan = $this->input->plan($file);
        if ('' !== $more && (!isset($plan->streams[$more]) || $times < 1 || $times > 99)) {
            throw BadInput::because('Unknown stream "{key}", or the number is outside 1 to 99.', ['key' => mb_substr($more, 0, 80)]);
        }
        $budget = '' === $more ? LinkBudget::of($plan) : LinkBudget::withMore($plan, $more, $times);
        $uplink = Uplink::of($plan, $budget->pushed);
        $over = array_filter($budget->links, static fn (LinkLoad $one): bool => $one->isOver());
        $lines = array_map(static fn (LinkLoad $one): string => \sprintf(
            '%-6s %-14s > %-14s %9.2f of %9.2f Mbit/s, %9.2f free%s',
            match (true) {
                $one->isFull() => 'full',
                $one->isOver() => 'over',
                default => '',
            },
            $one->from,
            $one->to,
            $one->sum,
            $one->usable,
            $one->free(),
            $one->assumed ? ' (speed assumed)' : '',
        ), $budget->links);
        $lines[] = null === $uplink->measured
            ? \sprintf('out of the site %.2f Mbit/s; upload not measured', $uplink->pushed)
            : \sprintf('out of the site %.2f Mbit/s, asks for %.2f of %.2f', $uplink->pushed, $uplink->demand(), (float) $uplink->usable());
        $this->input->answer($output, $format, ['budget' => $budget, 'uplink' => $uplink], $lines);

        return [] === $over && false !== $uplink->holds() ? CommandInput::DONE : CommandInput::FOUND;
    }

    /** @param list<string> $streams */
    private function singleLink(OutputInterface $output, float $mbps, int $keep, array $streams, string $format): int
    {
        $parts = [];
        foreach ($streams as $text) {
            if (1 !== preg_match('/^(?:([0-9]{1,4})x)?([0-9]{1,7}(?:\.[0-9]+)?)$/D', $text, $found)) {
                throw BadInput::because('"{text}" is not a stream rate: write 130, or 4x130 for four of them.', ['text' => $text]);
            }
            $n = '' === $found[1] ? 1 : (int) $found[1];
            $parts = [...$parts, ...array_fill(0, max(0, $n), ['name' => $found[2], 'mbps' => (float) $found[2], 'ref' => ''])];
        }
        $link = LinkLoad::ofSingleLink($mbps, $parts, Headroom::of($keep));
        $lines = [
            \sprintf('usable  %.2f Mbit/s of %.2f, %d %% stay free', $link->usable, $mbps, $link->headroom->percent),
            \sprintf('sum     %.2f Mbit/s, %.1f %% of the link', $link->sum, 100 * $link->share()),
            $link->isOver() ? \sprintf('over by %.2f Mbit/s', -$link->free()) : \sprintf('free    %.2f Mbit/s', $link->free()),
        ];
        foreach (array_unique(array_column($parts, 'mbps')) as $size) {
            $lines[] = \sprintf('%d more of %s fit', $link->more($size), $size);
        }
        $this->input->answer($output, $format, $link, $lines);

        return $link->isOver() ? CommandInput::FOUND : CommandInput::DONE;
    }
}
