<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\Argument;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Net\Host;
use Vorhut\Core\Net\HostName;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Plan\FileAddress;
use Vorhut\Journal\Records;
use Vorhut\Secrets\FileCertificates;

#[AsCommand('vorhut:certificate', 'Shows, creates, imports, renews or removes the certificate for phone files over HTTPS')]
final readonly class CertificateCommand
{
    private const BY = 'command line';

    public function __construct(
        private CommandInput $input,
        private Records $records,
        private FileCertificates $certificates,
        private string $baseUrl,
    ) {
    }

    public function __invoke(
        OutputInterface $output,
        #[Argument('the job')]
        string $job,
        #[Option('create or renew a certificate for HOST or HOST:PORT, signed by the authority of the job')]
        string $make = '',
        #[Option('import a certificate chain from this PEM file (server first, authority last), with --key and --for')]
        string $take = '',
        #[Option('PEM file with its private key')]
        string $key = '',
        #[Option('HOST or HOST:PORT in the file URL of the phones')]
        string $for = '',
        #[Option('remove it; files are served over HTTP again')]
        bool $drop = false,
        #[Option('write the authority certificate to this PEM file')]
        string $authority = '',
        #[Option('text or json')]
        string $format = 'text',
    ): int {
        $stored = $this->input->job($job);
        if ('' !== $make) {
            [$host, $port] = self::place($make);
            $this->certificates->make($stored, $host, $port, self::BY);
        } elseif ('' !== $take) {
            [$host, $port] = self::place($for);
            $this->certificates->take($stored, $host, $port, self::file($take), self::file($key), time(), self::BY);
        } elseif ($drop) {
            $this->certificates->drop($stored, self::BY);
        }
        $stored = $this->input->job($job);
        $kept = $this->certificates->of($stored);
        if (null !== $kept && '' !== $authority && false === @file_put_contents($authority, $kept->authority)) {
            throw BadInput::because('{file} cannot be written.', ['file' => $authority]);
        }
        $address = FileAddress::of($this->records->plan($stored), $this->baseUrl);
        $this->input->answer($output, $format, [
            'files' => $address->base,
            'https' => $address->isSealed,
            'here' => null !== $kept,
            'names' => $kept->chain->names ?? [],
            'until' => $stored->filesUntil,
            'authority' => $stored->filesAuthority,
        ], $address->isSealed ? [
            \sprintf('%-10s %s', 'files', $address->base),
            \sprintf('%-10s %s', 'names', null === $kept ? 'the certificate is not here' : implode(', ', $kept->chain->names)),
            \sprintf('%-10s %s', 'until', (string) $stored->filesUntil),
            \sprintf('%-10s %s', 'authority', (string) $stored->filesAuthority),
        ] : [\sprintf('%-10s %s, in the clear', 'files', $address->base)]);

        return $address->isSealed && null === $kept ? CommandInput::FOUND : CommandInput::DONE;
    }

    /** @return array{HostName|Ipv4, int|null} */
    private static function place(string $text): array
    {
        [$host, $port] = explode(':', $text, 2) + [1 => ''];
        $number = '' === $port ? null : Port::tryFromString($port.'/tcp')?->number;
        if ('' !== $port && null === $number) {
            throw BadInput::because('"{text}" is not a port: 1 to 65535.', ['text' => $port]);
        }

        return [Host::fromString($host), $number];
    }

    private static function file(string $name): string
    {
        $text = is_file($name) ? @file_get_contents($name, length: 65536) : false;

        return false === $text ? throw BadInput::because('{file} cannot be read.', ['file' => $name]) : $text;
    }
}
