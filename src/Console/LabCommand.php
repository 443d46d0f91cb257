<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Amp\Socket\ServerSocket;
use Amp\Socket\SocketException;
use Doctrine\DBAL\Exception as DatabaseError;
use Doctrine\ORM\EntityManagerInterface;
use Symfony\Component\Console\Attribute\Argument;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Plan\FileAddress;
use Vorhut\Core\Plan\Plan;
use Vorhut\Entity\Job;
use Vorhut\Entity\WorkOrder;
use Vorhut\Exchange\Jobs;
use Vorhut\Journal\Records;
use Vorhut\Lab\AddressSpaces;
use Vorhut\Lab\InjectedFault;
use Vorhut\Lab\PanelServer;
use Vorhut\Lab\SealedFiles;
use Vorhut\Lab\Simulation;
use Vorhut\Lab\SocksGateway;
use Vorhut\Secrets\FileCertificates;
use Vorhut\Secrets\Vault;
use Vorhut\Socket\Background;
use Vorhut\Socket\Loopback;

use function Amp\Socket\listen;

#[AsCommand('vorhut:lab', 'Simulates the devices of a job, or of all jobs in rehearsal, on loopback')]
final class LabCommand
{
    /** Of the port that says by being taken that a lab plays with a shift; tools/setup.sh looks there for a free one. */
    private const PLACES = 20900;

    private AddressSpaces $spaces;
    /** @var array<int, Simulation> */
    private array $played = [];
    /** @var array<int, int> */
    private array $revisions = [];
    /** @var array<int, string> */
    private array $slugs = [];
    /** @var array<int, string> job → why it cannot be played, said once */
    private array $failing = [];

    public function __construct(
        private readonly CommandInput $input,
        private readonly Jobs $jobs,
        private readonly Records $records,
        private readonly Vault $vault,
        private readonly EntityManagerInterface $manager,
        private readonly LongRun $run,
        private readonly int $labPort,
        private readonly int $labShift,
        private readonly string $baseUrl,
        private readonly string $keyFile,
        private readonly FileCertificates $certificates,
        private readonly string $filesListen,
    ) {
    }

    /** @param list<string> $fault */
    public function __invoke(
        OutputInterface $output,
        #[Argument('the job; default: all jobs in rehearsal')]
        ?string $job = null,
        #[Option('how many times faster than real devices they start')]
        int $pace = 30,
        #[Option('stop after this many seconds; 0 runs until stopped')]
        int $seconds = 0,
        #[Option('inject a fault: NAME:TAG, for example wrong-gateway:CAM-01')]
        array $fault = [],
    ): int {
        if (null !== $job) {
            $stored = $this->input->job($job);
            if ([] !== $fault) {
                return $this->order($output, $stored, $fault);
            }
            $stored->rehearsed = true;
            $this->manager->flush();
        }
        $this->spaces = new AddressSpaces($this->labShift);
        $say = static fn (string $text) => $output->writeln(date('H:i:s ').$text, OutputInterface::OUTPUT_RAW);
        Background::reportTo(static fn (string $what, \Throwable $e) => $say(Background::line($what, $e)));
        $place = $this->takePlace();
        $closeGateway = SocksGateway::open($this->labPort, fn (): array => array_values($this->played));
        $closePanels = PanelServer::open($this->labPort + 1, fn (): array => array_combine(
            array_map(fn (int $id): string => $this->slugs[$id], array_keys($this->played)),
            $this->played,
        ));
        $this->run->go(
            0.7,
            $seconds,
            fn () => $this->look($job, (float) max(1, $pace), $say),
            $say,
            static fn (): string => 'The lab is open.',
        );
        foreach ($this->played as $one) {
            $one->off();
        }
        $closeGateway();
        $closePanels();
        $place->close();

        return CommandInput::DONE;
    }

    /** Two labs with the same loopback addresses would answer for one another, so the second one ends. */
    private function takePlace(): ServerSocket
    {
        try {
            return listen('127.0.0.1:'.(self::PLACES + $this->labShift));
        } catch (SocketException) {
            throw BadInput::because(
                'Another lab plays here with the shift {n}: set VORHUT_LAB_SHIFT to another.',
                ['n' => $this->labShift],
            );
        }
    }

    /** Checked at intervals: which jobs run in the lab, which values were set by hand, which faults to inject. */
    private function look(?string $only, float $pace, \Closure $say): void
    {
        foreach ($this->jobs->all() as $job) {
            $id = (int) $job->id;
            if (!$job->rehearsed || (null !== $only && $job->slug !== $only)) {
                if (isset($this->played[$id])) {
                    $this->played[$id]->off();
                    unset($this->played[$id], $this->revisions[$id]);
                    $this->spaces->release($id);
                    $say($job->slug.' no longer runs in the lab.');
                }
                continue;
            }
            try {
                $this->play($job, $id, $pace, $say);
            } catch (DatabaseError|\PDOException $e) {
                throw $e;
            } catch (\Throwable $e) {
                // Of this job only; the others are played on.
                $why = Background::line($job->slug, $e);
                if (($this->failing[$id] ?? '') !== $why) {
                    $say($why);
                }
                $this->failing[$id] = $why;
                $this->revisions[$id] = $job->revision;
            }
        }
    }

    private function play(Job $job, int $id, float $pace, \Closure $say): void
    {
        if (($this->revisions[$id] ?? -1) !== $job->revision) {
            $plan = $this->records->plan($job);
            $this->place($job, $id, $plan);
            if (!isset($this->played[$id])) {
                $this->played[$id] = new Simulation(
                    $plan,
                    \sprintf('%s/p/%s/', $this->baseUrl, $job->fileToken),
                    \dirname($this->keyFile).'/lab/'.$job->slug.'.json',
                    $pace,
                    $say,
                    new Loopback($this->labShift + $job->labShift),
                );
                $this->slugs[$id] = $job->slug;
                $say($job->slug.' is played.');
            }
            $this->played[$id]->filesAt($this->fileServerTls($job));
            $this->played[$id]->handsOn($plan, $this->vault->open($job));
            $this->revisions[$id] = $job->revision;
            unset($this->failing[$id]);
        }
        if (!isset($this->failing[$id])) {
            $this->faults($job, $say);
        }
    }

    /** Gives the job its part of loopback; a job that has to move is closed and opened there. */
    private function place(Job $job, int $id, Plan $plan): void
    {
        $shift = $this->spaces->assign($id, $plan, $job->labShift);
        if (null === $shift) {
            throw new \RuntimeException('the jobs that the lab plays leave no loopback addresses for another one');
        }
        if ($shift === $job->labShift) {
            return;
        }
        if (isset($this->played[$id])) {
            $this->played[$id]->off();
            unset($this->played[$id]);
        }
        // Not in the journal: where the lab runs is not a change of the job.
        $this->manager->getConnection()->executeStatement('UPDATE job SET lab_shift = ? WHERE id = ?', [$shift, $id]);
        $this->manager->refresh($job);
    }

    /** Where phones of the lab find the door for HTTPS: as the plan names it, at its place on this machine. */
    private function fileServerTls(Job $job): ?SealedFiles
    {
        $kept = $this->certificates->of($job);
        if (null === $kept) {
            return null;
        }
        $folder = \dirname($this->keyFile).'/lab';
        $file = $folder.'/authority-'.$kept->chain->authority().'.pem';
        if (!is_file($file)) {
            @mkdir($folder, 0o700, true);
            file_put_contents($file.'.new', $kept->authority);
            rename($file.'.new', $file);
        }

        return new SealedFiles(
            $kept->host,
            str_replace('0.0.0.0', '127.0.0.1', $this->filesListen),
            $job->filesPort ?? FileAddress::PORT,
            $kept->chain->authority(),
            $file,
        );
    }

    private function faults(Job $job, \Closure $say): void
    {
        foreach ($this->manager->getRepository(WorkOrder::class)->findBy(
            ['job' => $job, 'kind' => WorkOrder::FAULT, 'state' => 'waiting'],
            ['id' => 'ASC'],
        ) as $order) {
            $name = $order->what['fault'] ?? '';
            $device = $order->what['device'] ?? '';
            $fault = \is_string($name) ? InjectedFault::tryFrom($name) : null;
            $why = null === $fault
                || !\is_string($device) ? 'Unknown fault.' : $this->played[(int) $job->id]->play($fault, $device);
            $order->state = null === $why ? 'done' : 'failed';
            $order->result = $why ?? 'played';
            $this->manager->flush();
            $say(\sprintf(
                '%s: fault %s at %s: %s',
                $job->slug,
                \is_string($name) ? $name : '',
                \is_string($device) ? $device : '',
                $order->result,
            ));
        }
    }

    /** @param array<mixed> $faults */
    private function order(OutputInterface $output, Job $job, array $faults): int
    {
        $plan = $this->records->plan($job);
        foreach ($faults as $text) {
            [$name, $tag] = explode(':', \is_string($text) ? $text : '', 2) + [1 => ''];
            $known = InjectedFault::tryFrom($name) ?? throw BadInput::because('Unknown fault "{name}". Known are: {list}.', [
                'name' => $name,
                'list' => implode(', ', array_map(static fn (InjectedFault $one): string => $one->value, InjectedFault::cases())),
            ]);
            $this->manager->persist(new WorkOrder(
                $job,
                WorkOrder::FAULT,
                ['fault' => $known->value, 'device' => $this->input->device($plan, $tag)->key],
                'command line',
            ));
            $output->writeln(\sprintf('%s will be played at %s.', $name, $tag), OutputInterface::OUTPUT_RAW);
        }
        $this->manager->flush();

        return CommandInput::DONE;
    }
}
