<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\MapInput;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\ProvisioningFile;
use Vorhut\Provisioning\Files;

#[AsCommand('vorhut:provision', 'Generates the configuration files of all phones, or lists missing data')]
final readonly class ProvisionCommand
{
    /** A document holds no secrets; placeholders name each one that has to be entered. */
    private const SECRET = 'SECRET-OF-%s';

    public function __construct(private CommandInput $input, private Files $files)
    {
    }

    public function __invoke(
        OutputInterface $output,
        #[MapInput]
        DocumentInput $document,
        #[Option('folder to write to; created if missing')]
        string $out = '',
        #[Option('an earlier document of the job, to show the differences')]
        string $since = '',
    ): int {
        $plan = $this->input->plan($document->file);
        if ('' === $out || (!is_dir($out) && !@mkdir($out, 0o700, true))) {
            throw BadInput::because('--out wants a folder that can be written to, not "{out}".', ['out' => $out]);
        }
        $then = '' === $since ? null : $this->input->plan($since);
        $rows = $lines = [];
        $missing = 0;
        foreach ($plan->devices as $device) {
            if (null === $device->kind->provisioning) {
                continue;
            }
            $why = ProvisioningFile::obstacle($plan, $device);
            $mac = $device->nic()?->mac;
            $why ??= null === $mac ? new Message('{tag} has no MAC yet.', ['tag' => $device->tag]) : null;
            $name = '';
            if (null === $why && null !== $mac) {
                $number = $plan->extensionsOf($device->key)[0]->number;
                $file = ProvisioningFile::of($plan, $device, \sprintf(self::SECRET, $number), \sprintf(self::SECRET, $device->tag));
                $name = $mac->digits.'.'.$this->files->shape($device->kind);
                file_put_contents($out.'/'.$name, $this->files->render($file));
            }
            $missing += null === $why ? 0 : 1;
            $changed = null === $then || null !== $why ? [] : ProvisioningFile::changedSince($then, $plan, $device);
            $rows[] = ['tag' => $device->tag, 'file' => $name, 'why' => $why] + (null === $then ? [] : ['changed' => $changed]);
            $lines[] = \sprintf('%-12s %-18s %s', $device->tag, $name, $why ?? '');
            foreach ($changed as $one) {
                $lines[] = '             '.$one;
            }
        }
        $this->input->answer($output, $document->format, $rows, $lines);

        return 0 === $missing ? CommandInput::DONE : CommandInput::FOUND;
    }
}
