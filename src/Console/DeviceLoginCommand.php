<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\Argument;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Plan\DeviceLogin;
use Vorhut\Core\Plan\FurtherLogin;
use Vorhut\Journal\Records;
use Vorhut\Secrets\Secrets;
use Vorhut\Secrets\Vault;

#[AsCommand('vorhut:device-login', 'Lists the additional logins of a device, or records one')]
final readonly class DeviceLoginCommand
{
    public function __construct(private CommandInput $input, private Records $records, private Vault $vault)
    {
    }

    public function __invoke(
        OutputInterface $output,
        #[Argument('the job')]
        string $job,
        #[Argument('tag of the device')]
        string $tag,
        #[Argument('purpose of the login: viewer, stream, installer; omit it to list all')]
        string $purpose = '',
        #[Option('user name')]
        string $user = '',
        #[Option('person who knows the password')]
        string $heldBy = '',
        #[Option('file that contains the password')]
        ?string $secretFile = null,
        #[Option('generate a password')]
        bool $make = false,
        #[Option('name for the history')]
        string $by = 'console',
    ): int {
        $stored = $this->input->job($job);
        $plan = $this->records->plan($stored);
        $device = $plan->deviceTagged($tag) ?? throw BadInput::because('This job has no device "{tag}".', ['tag' => $tag]);
        if ('' !== $purpose) {
            $secret = $make ? Secrets::generate(Vault::SIP_LENGTH) : self::read($secretFile);
            $login = FurtherLogin::tryFrom($purpose, $user, $heldBy, $secret);
            if (!$login instanceof FurtherLogin) {
                throw BadInput::because('{why}', ['why' => reset($login)]);
            }
            $this->vault->note($stored, $plan, $device->record(), $login, $by);
            $plan = $this->records->plan($stored);
        }
        $kept = $this->vault->purposesOf($stored, $device->record());
        foreach (DeviceLogin::of($plan, $plan->devices[$device->key] ?? $device) as $one) {
            $output->writeln(\sprintf(
                '%-16s %-16s %-14s %s',
                $one->purpose,
                $one->credential->user ?? '',
                isset($kept[$one->purpose]) ? 'stored encrypted' : 'not known yet',
                $one->credential->heldBy ?? '',
            ), OutputInterface::OUTPUT_RAW);
        }

        return CommandInput::DONE;
    }

    /** On a command line everybody on the machine could read it. */
    private static function read(?string $file): string
    {
        return match (true) {
            null === $file => '',
            is_file($file) => rtrim((string) file_get_contents($file), "\r\n"),
            default => throw BadInput::because('File "{file}" cannot be read.', ['file' => $file]),
        };
    }
}
