<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\Argument;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Power\PoeBudget;
use Vorhut\Core\Power\PoeDraw;
use Vorhut\Core\Power\PoeLoad;
use Vorhut\Core\Power\RoomLoad;

#[AsCommand('vorhut:power', 'What every switch feeds, or one device draws over a cable; exit code 1 when it is too much')]
final readonly class PowerCommand
{
    public function __construct(private CommandInput $input)
    {
    }

    public function __invoke(
        OutputInterface $output,
        #[Argument('a job document; none where a single device is reckoned')]
        string $file = '',
        #[Option('watts at a device that is reckoned by itself')]
        float $watts = 0.0,
        #[Option('metres of its cable')]
        float $metres = 90.0,
        #[Option('volts at the port')]
        float $volts = 44.0,
        #[Option('fed over four pairs')]
        bool $fourPairs = false,
        #[Option('degrees in the bundle')]
        float $celsius = 20.0,
        #[Option('rooms and racks instead: what they take from the mains, heat, weight')]
        bool $rooms = false,
        #[Option('mains voltage; 0 for that of the country of the job')]
        float $mains = 0.0,
        #[Option('ampere of a circuit')]
        float $circuit = 16.0,
        #[Option('text or json')]
        string $format = 'text',
    ): int {
        if ($watts > 0) {
            if ($volts <= 0 || $metres < 0) {
                throw new BadInput('--volts is more than 0, --metres is 0 or more.');
            }
            $draw = PoeDraw::of($watts, $metres, $volts, $fourPairs, $celsius);
            $this->input->answer(
                $output,
                $format,
                null === $draw ? ['fed' => false] : [
                    'fed' => true,
                    'ohm' => round($draw->ohm, 3),
                    'ampere' => round($draw->ampere, 4),
                    'watts' => round($draw->watts, 3),
                ],
                null === $draw
                    ? ['cannot be fed: no current brings so much to the far end']
                    : [\sprintf('loop %.2f Ω, %.4f A, %.2f W at the switch', $draw->ohm, $draw->ampere, $draw->watts)],
            );

            return null === $draw ? CommandInput::FOUND : CommandInput::DONE;
        }
        if ('' === $file) {
            throw new BadInput('Name a job document, or a single device by --watts=12.5 --metres=90.');
        }
        $plan = $this->input->plan($file);
        $budgets = PoeBudget::all($plan, celsius: $celsius);
        if ($rooms) {
            $volts = $mains > 0 ? $mains : (float) ($plan->country()->volts ?? 0);
            if ($volts <= 0 || $circuit <= 0) {
                throw new BadInput(
                    $circuit <= 0
                        ? '--circuit must be above 0 A.'
                        : 'The mains voltage is unknown, because the job does not name its country. Give it as --mains=230.',
                );
            }
            $all = RoomLoad::all($plan, $budgets);
            $this->input->answer($output, $format, $all, array_map(static fn (RoomLoad $one): string => \sprintf(
                '%-28s %3d devices  %7.1f W  %5.1f A on %d circuits  %7.1f W heat = %6.0f BTU/h  %6.1f kg%s%s',
                $one->room,
                $one->devices,
                $one->mains,
                $one->ampere($volts),
                $one->circuits($volts, $circuit),
                $one->heat,
                $one->btuPerHour(),
                $one->weight,
                0 === $one->units ? '' : \sprintf(' on %d U', $one->units),
                [] === $one->unknown ? '' : '  not known: '.implode(
                    ', ',
                    array_map(static fn ($device): string => $device->tag, $one->unknown),
                ),
            ), $all));

            return CommandInput::DONE;
        }
        $lines = [];
        foreach ($budgets as $one) {
            $lines[] = \sprintf(
                '%-12s %7.1f of %7.1f W by %s, %7.1f W when all start%s',
                $one->switch->tag,
                $one->sum,
                $one->has,
                $one->by,
                $one->peak,
                match (true) {
                    $one->isOver() => ', OVER',
                    $one->eatsReserve() => ', little left',
                    default => '',
                },
            );
            foreach ($one->loads as $load) {
                $lines[] = \sprintf(
                    '  %-12s port %-4s class %d  %6.1f W over %3d m%s  draws %s, counts %6.1f',
                    $load->device->tag,
                    $load->cable->port,
                    $load->class->value,
                    $load->watts,
                    $load->metres,
                    $load->assumed ? '?' : ' ',
                    null === $load->draw ? 'more than comes through' : \sprintf('%6.2f', $load->draw),
                    $load->counted,
                );
            }
        }
        foreach (PoeBudget::withoutSwitch($plan) as $device) {
            $lines[] = \sprintf('no switch yet: %s', $device->tag);
        }
        $this->input->answer($output, $format, $budgets, $lines);
        $isFine = [] === array_filter($budgets, static fn (PoeBudget $one): bool => $one->isOver()
            || [] !== array_filter($one->loads, static fn (PoeLoad $load): bool => !$load->isFed()));

        return $isFine ? CommandInput::DONE : CommandInput::FOUND;
    }
}
