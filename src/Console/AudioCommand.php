<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\Argument;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Audio\PatchBay;
use Vorhut\Core\Audio\SoundNetwork;
use Vorhut\Core\Audio\SoundWay;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\SoundPatch;

#[AsCommand('vorhut:audio', 'Shows networked audio: sample rates, clock leader, patches; exit code 1 if something does not match')]
final readonly class AudioCommand
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
        $networks = SoundNetwork::all($plan);
        $bay = PatchBay::of($plan);
        $lines = [
            ...self::networks($plan, $networks),
            ...self::paths($bay),
            ...self::mistakes($plan, $bay),
        ];
        $this->input->answer($output, $format, ['networks' => $networks, 'patch' => $bay], $lines);
        $unfit = array_filter(
            $networks,
            static fn (SoundNetwork $one): bool => !$one->isLed() || \count($one->rates) > 1 || [] !== $one->overfull(),
        );
        $late = array_filter($bay->ways, static fn (SoundWay $way): bool => $way->isLate());

        return [] === $unfit && [] === $late && $bay->isWhole() ? CommandInput::DONE : CommandInput::FOUND;
    }

    /**
     * @param iterable<SoundNetwork> $networks
     *
     * @return iterable<string>
     */
    private static function networks(Plan $plan, iterable $networks): iterable
    {
        foreach ($networks as $one) {
            yield \sprintf(
                '%s  clock %s  %.2f Mbit/s sent',
                $plan->segments[$one->segment]->name ?? $one->segment,
                $one->leader->tag ?? ([] === $one->leaders ? 'NO CLOCK LEADER' : 'SEVERAL CLOCK LEADERS'),
                $one->mbps,
            );
            foreach ($one->rates as $rate => $devices) {
                foreach ($devices as $device) {
                    $of = $one->channels[$device->key];
                    yield \sprintf(
                        '  %-12s %5s kHz  %-9s  sends %d%s',
                        $device->tag,
                        $rate,
                        SoundNetwork::role($device),
                        $of['sends'],
                        null === $of['has'] ? '' : ' of '.$of['has'].' channels',
                    );
                }
            }
        }
    }

    /** @return iterable<string> */
    private static function paths(PatchBay $bay): iterable
    {
        foreach ($bay->ways as $way) {
            yield \sprintf(
                '%s%s  %d samples, %.2f ms%s%s',
                '' === $way->name() ? '' : $way->name().'  ',
                $way,
                $way->latency->samples,
                $way->latency->milliseconds,
                $way->ends ? '' : '  COMES OUT NOWHERE',
                $way->isLate() ? '  LONGER THAN '.$way->most.' MS' : '',
            );
        }
    }

    /** @return iterable<string> */
    private static function mistakes(Plan $plan, PatchBay $bay): iterable
    {
        foreach ($bay->twice as $one) {
            yield \sprintf('%s of %s has several sources', SoundPatch::span($one['channel'], $one['count']), $one['device']->tag);
        }
        foreach ($bay->holes as $one) {
            yield \sprintf(
                '%s of %s %s',
                SoundPatch::span($one['channel'], $one['count']),
                $one['device']->tag,
                $one['given'] ? 'not routed to an output' : 'is sent but has no source',
            );
        }
        foreach ($bay->past as $one) {
            yield \sprintf('%s has %d channels, and %s wants more', $one['device']->tag, $one['has'], $one['patch']->key);
        }
        foreach ($bay->apart as $one) {
            yield \sprintf('%s and %s are in different networks', $plan->devices[$one->from]->tag, $plan->devices[$one->to]->tag);
        }
        foreach ($bay->circles as $devices) {
            yield implode(', ', array_map(static fn (Device $one): string => $one->tag, $devices)).' lead in a circle';
        }
        if ($bay->isCut) {
            yield 'there are more ways than are told';
        }
        if (0 !== $bay->left) {
            yield \sprintf('%d more patches are not followed: there are too many channels', $bay->left);
        }
    }
}
