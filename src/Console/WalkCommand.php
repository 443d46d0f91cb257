<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\MapInput;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Net\IpVersion;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Net\Transport;
use Vorhut\Core\Network\Walk\Cure;
use Vorhut\Core\Network\Walk\Hop;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Network\Walk\Walker;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\OutpostKey;

#[AsCommand('vorhut:walk', 'Walks a packet from one device to another and back')]
final readonly class WalkCommand
{
    public function __construct(private CommandInput $input)
    {
    }

    public function __invoke(
        OutputInterface $output,
        #[MapInput]
        DocumentInput $document,
        #[Option('tag of the sender, or the key of a segment for its outpost')]
        string $from = '',
        #[Option('tag of the target')]
        string $to = '',
        #[Option('udp or tcp')]
        string $proto = 'tcp',
        #[Option('port; 0 checks the path only')]
        int $port = 0,
        #[Option('planned, set, seen, or box for factory defaults')]
        string $face = 'set',
        #[Option('IP version: 4 or 6')]
        int $ip = 4,
    ): int {
        $plan = $this->input->plan($document->file);
        $boxed = 'box' === $face;
        $asked = Face::tryFrom($boxed ? 'planned' : $face)
            ?? throw BadInput::because('--face is planned, set, seen or box, not "{face}".', ['face' => $face]);
        $transport = Transport::tryFrom($proto) ?? throw BadInput::because('--proto is udp or tcp, not "{proto}".', ['proto' => $proto]);
        if ('' === $from || '' === $to) {
            throw new BadInput('--from and --to are needed.');
        }
        $source = isset($plan->segments[$from]) ? OutpostKey::on($from) : $this->input->device($plan, $from)->key;
        $target = $this->input->device($plan, $to)->key;
        $service = 0 === $port ? null : Port::of($transport, $port);
        $version = IpVersion::tryFrom($ip) ?? throw BadInput::because('--ip is 4 or 6, not "{ip}".', ['ip' => (string) $ip]);
        $model = match (true) {
            IpVersion::Six === $version => NetworkModel::ofVersion6($plan, $asked),
            $boxed => NetworkModel::outOfTheBox($plan),
            default => NetworkModel::of($plan, $asked),
        };
        $walk = Walker::between($model, $source, $target, $service);
        // No IPv6 value is planned here, so no other value could fix it.
        $cures = $boxed || IpVersion::Six === $version || $walk->holds() ? [] : Cure::some($plan, $asked, $source, $target, $service);
        $cure = $cures[0] ?? null;
        $this->input->answer($output, $document->format, $walk->jsonSerialize() + ['cure' => $cure, 'or' => \array_slice($cures, 1)], [
            ...array_map(
                static fn (Hop $hop): string => \sprintf(
                    '%-4s %s %-14s %s',
                    $hop->back ? 'back' : 'out',
                    $hop->holds() ? 'stands' : 'BREAKS',
                    $hop->label,
                    $hop->text,
                ),
                $walk->hops,
            ),
            'verdict: '.$walk->verdict(),
            ...array_map(static fn (int $i, Change $one): string => (0 === $i ? 'cure: ' : 'or: ').$one->why, array_keys($cures), $cures),
        ]);

        return $walk->holds() ? CommandInput::DONE : CommandInput::FOUND;
    }
}
