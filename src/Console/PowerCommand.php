<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\Argument;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Power\PoeBudget;
use Vorhut\Core\Power\PoeDraw;
use Vorhut\Core\Power\PoeLoad;
use Vorhut\Core\Power\RoomLoad;

#[AsCommand('vorhut:power', 'Shows PoE budgets, or the draw of one device over a cable; exit code 1 if a budget is exceeded')]
final readonly class PowerCommand
{
    public function __construct(private CommandInput $input)
    {
    }

    public function __invoke(
        OutputInterface $output,
        #[Argument('a job document; omit it to calculate a single device')]
        string $file = '',
        #[Option('power at a single device in W')]
        float $watts = 0.0,
        #[Option('cable length in m')]
        float $metres = 90.0,
        #[Option('port voltage in V')]
        float $volts = 44.0,
        #[Option('power over four pairs')]
        bool $fourPairs = false,
        #[Option('cable bundle temperature in °C')]
        float $celsius = 20.0,
        #[Option('show rooms and racks instead: mains load, heat, weight')]
        bool $rooms = false,
        #[Option('mains voltage in V; 0 uses the country of the job')]
        float $mains = 0.0,
        #[Option('circuit rating in A')]
        float $circuit = 16.0,
        #[Option('text or json')]
        string $format = 'text',
    ): int {
        if ($watts > 0) {
            if ($volts <= 0 || $metres < 0) {
                throw new BadInput('--volts is more than 0, --metres is 0 or more.');
            }

            return $this->oneDevice($output, $format, PoeDraw::of($watts, $metres, $volts, $fourPairs, $celsius));
        }
        if ('' === $file) {
            throw new BadInput('Name a job document, or a single device by --watts=12.5 --metres=90.');
        }
        $plan = $this->input->plan($file);
        $budgets = PoeBudget::all($plan, celsius: $celsius);
        if ($rooms) {
            return $this->rooms($output, $format, $plan, $budgets, $mains, $circuit);
        }
        $this->input->answer($output, $format, $budgets, self::lines($plan, $budgets));

        return self::isFine($budgets) ? CommandInput::DONE : CommandInput::FOUND;
    }

    private function oneDevice(OutputInterface $output, string $format, ?PoeDraw $draw): int
    {
        if (null === $draw) {
            $lines = ['cannot be fed: no current brings so much to the far end'];
            $this->input->answer($output, $format, ['fed' => false], $lines);

            return CommandInput::FOUND;
        }
        $this->input->answer(
            $output,
            $format,
            [
                'fed' => true,
                'ohm' => round($draw->ohm, 3),
                'ampere' => round($draw->ampere, 4),
                'watts' => round($draw->watts, 3),
            ],
            [\sprintf('loop %.2f Ω, %.4f A, %.2f W at the switch', $draw->ohm, $draw->ampere, $draw->watts)],
        );

        return CommandInput::DONE;
    }

    /** @param list<PoeBudget> $budgets */
    private function rooms(OutputInterface $output, string $format, Plan $plan, array $budgets, float $mains, float $circuit): int
    {
        $volts = $mains > 0 ? $mains : (float) ($plan->country()->volts ?? 0);
        if ($circuit <= 0) {
            throw new BadInput('--circuit must be above 0 A.');
        }
        if ($volts <= 0) {
            throw new BadInput('The mains voltage is unknown, because the job does not name its country. Give it as --mains=230.');
        }
        $all = RoomLoad::all($plan, $budgets);
        $lines = array_map(static fn (RoomLoad $one): string => self::room($one, $volts, $circuit), $all);
        $this->input->answer($output, $format, $all, $lines);

        return CommandInput::DONE;
    }

    private static function room(RoomLoad $room, float $volts, float $circuit): string
    {
        $unknown = array_map(static fn (Device $device): string => $device->tag, $room->unknown);

        return \sprintf(
            '%-28s %3d devices  %7.1f W  %5.1f A on %d circuits  %7.1f W heat = %6.0f BTU/h  %6.1f kg%s%s',
            $room->room,
            $room->devices,
            $room->mains,
            $room->ampere($volts),
            $room->circuits($volts, $circuit),
            $room->heat,
            $room->btuPerHour(),
            $room->weight,
            0 === $room->units ? '' : \sprintf(' on %d U', $room->units),
            [] === $unknown ? '' : '  not known: '.implode(', ', $unknown),
        );
    }

    /**
     * @param list<PoeBudget> $budgets
     *
     * @return list<string>
     */
    private static function lines(Plan $plan, array $budgets): array
    {
        $lines = [];
        foreach ($budgets as $budget) {
            $lines[] = self::budget($budget);
            foreach ($budget->loads as $load) {
                $lines[] = self::load($load);
            }
        }
        foreach (PoeBudget::withoutSwitch($plan) as $device) {
            $lines[] = \sprintf('no switch yet: %s', $device->tag);
        }

        return $lines;
    }

    private static function budget(PoeBudget $budget): string
    {
        return \sprintf(
            '%-12s %7.1f of %7.1f W by %s, %7.1f W when all start%s',
            $budget->switch->tag,
            $budget->sum,
            $budget->has,
            $budget->by,
            $budget->peak,
            match (true) {
                $budget->isOver() => ', OVER',
                $budget->eatsReserve() => ', little left',
                default => '',
            },
        );
    }

    private static function load(PoeLoad $load): string
    {
        return \sprintf(
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

    /** @param list<PoeBudget> $budgets */
    private static function isFine(array $budgets): bool
    {
        foreach ($budgets as $budget) {
            $unfed = array_filter($budget->loads, static fn (PoeLoad $load): bool => !$load->isFed());
            if ($budget->isOver() || [] !== $unfed) {
                return false;
            }
        }

        return true;
    }
}
