<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Amp\Socket\Certificate;
use Amp\Socket\SocketException;
use Doctrine\ORM\EntityManagerInterface;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Voice\FileShape;
use Vorhut\Core\Wire\Http\Request;
use Vorhut\Core\Wire\Http\Response;
use Vorhut\Exchange\Jobs;
use Vorhut\Provisioning\FastPath;
use Vorhut\Provisioning\FileRequest;
use Vorhut\Provisioning\FileResponse;
use Vorhut\Provisioning\PhoneDoor;
use Vorhut\Secrets\FileCertificates;
use Vorhut\Secrets\KeptCertificate;
use Vorhut\Secrets\Secrets;
use Vorhut\Socket\Background;
use Vorhut\Socket\SealedDoor;

use function Amp\Socket\listen;

#[AsCommand('vorhut:files', 'Serves phone files over HTTPS, each job with its own certificate')]
final class FilesCommand
{
    /** @var array<string, KeptCertificate> */
    private array $shown = [];

    public function __construct(
        private readonly EntityManagerInterface $manager,
        private readonly Jobs $jobs,
        private readonly FileCertificates $certificates,
        private readonly PhoneDoor $door,
        private readonly Secrets $secrets,
        private readonly LongRun $run,
        private readonly string $filesListen,
        private readonly string $keyFile,
    ) {
    }

    public function __invoke(
        OutputInterface $output,
        #[Option('address and port; default: VORHUT_FILES')]
        string $listen = '',
        #[Option('stop after this many seconds; 0 runs until stopped')]
        int $seconds = 0,
    ): int {
        $at = '' === $listen ? $this->filesListen : $listen;
        if (1 !== preg_match('/^(.+):([0-9]{1,5})$/D', $at, $found) || null === Ipv4::tryFromString($found[1]) || (int) $found[2] > 65535) {
            throw BadInput::because('--listen wants an address and a port as 0.0.0.0:8443, not "{text}".', ['text' => $at]);
        }
        $say = static fn (string $text) => $output->writeln(date('H:i:s ').$text, OutputInterface::OUTPUT_RAW);
        Background::reportTo(static fn (string $what, \Throwable $e) => $say(Background::line($what, $e)));
        try {
            // Doors may share a port while one takes over from the other; that of another program is not shared.
            listen($at)->close();
        } catch (SocketException) {
            throw BadInput::because('Nothing can listen at {at}: another program does, or this one may not.', ['at' => $at]);
        }
        $door = new SealedDoor($at, $this->answer(...));
        $this->run->go(
            1.0,
            $seconds,
            fn () => $this->look($door, $say),
            $say,
            fn (): string => \sprintf('Files are handed out at %s, under %d certificates.', $at, \count($this->shown)),
        );
        $door->close();
        self::clear($this->folder(), []);

        return CommandInput::DONE;
    }

    private function look(SealedDoor $door, \Closure $say): void
    {
        $wanted = [];
        foreach ($this->jobs->all() as $job) {
            $one = null === $job->filesAuthority ? null : $this->certificates->of($job);
            if (null !== $one) {
                $wanted[$one->host] = $one;
            }
        }
        // Keys are read again each time; they are the same until their records change.
        $print = static fn (KeptCertificate $one): string => $one->chain->fingerprints[0];
        if (array_map($print, $wanted) === array_map($print, $this->shown) && ([] === $wanted) !== $door->isOpen()) {
            return;
        }
        $named = [];
        $else = null;
        foreach ($wanted as $host => $one) {
            $file = $this->writeCertificate($one);
            $named[$host] = $file;
            if (null !== Ipv4::tryFromString((string) $host)) {
                $else = $file;
            }
        }
        $door->show($named, $else);
        $this->shown = $wanted;
        self::clear($this->folder(), array_map(fn (KeptCertificate $one): string => $this->file($one), $wanted));
        $say(\sprintf('Shown: %s.', implode(', ', array_keys($wanted)) ?: 'nothing'));
    }

    /** TLS reads certificate and key from a file: in a folder for this program only, next to the key that opens the sealed ones. */
    private function writeCertificate(KeptCertificate $one): Certificate
    {
        $file = $this->file($one);
        if (!is_file($file)) {
            @mkdir($this->folder(), 0o700, true);
            $before = umask(0o077);
            file_put_contents($file.'.new', $one->chain."\n".$one->key);
            umask($before);
            rename($file.'.new', $file);
        }

        return new Certificate($file);
    }

    private function file(KeptCertificate $one): string
    {
        return $this->folder().'/'.$one->chain->fingerprints[0].'.pem';
    }

    private function folder(): string
    {
        return \dirname($this->keyFile).'/files';
    }

    /** @param array<string> $but */
    private static function clear(string $folder, array $but): void
    {
        foreach (array_diff(glob($folder.'/*.pem') ?: [], $but) as $file) {
            @unlink($file);
        }
    }

    private function answer(Request $request, string $from): Response
    {
        $question = FileRequest::tryOf(
            $request->method,
            (string) strtok($request->path, '?'),
            $from,
            $request->headers['user-agent'] ?? '',
            isset($request->headers['authorization']),
            true,
        );
        if (null === $question || !\in_array($request->method, ['GET', 'HEAD'], true)) {
            return new Response(404);
        }
        try {
            $served = $this->quickly($question) ?? $this->thoroughly($question);
        } catch (\Throwable $e) {
            Background::report('HTTPS', $e);

            return new Response(503, ['retry-after' => '5']);
        }
        $headers = ['cache-control' => 'no-store', 'content-type' => FileShape::ofBody($served->body)->contentType()];
        $headers += PhoneDoor::TOO_OFTEN === $served->status ? ['retry-after' => '60'] : [];

        return new Response($served->status, $headers, $served->body);
    }

    private function quickly(FileRequest $question): ?FileResponse
    {
        $database = $this->manager->getConnection()->getNativeConnection();

        try {
            return $database instanceof \PDO ? (new FastPath($database, $this->secrets))->answer($question, time()) : null;
        } catch (\PDOException) {
            // The house knows how to say that the database is away.
            return null;
        }
    }

    private function thoroughly(FileRequest $question): FileResponse
    {
        // What another process wrote since the last question is not in memory.
        $this->manager->clear();

        return $this->door->answer($question);
    }
}
