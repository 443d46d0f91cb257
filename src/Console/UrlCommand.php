<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\Argument;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Media\StreamUrl;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Text\Message;

#[AsCommand('vorhut:url', 'Explains a stream URL and compares it with the other end; exit code 1 if they do not match')]
final readonly class UrlCommand
{
    public function __construct(private CommandInput $input)
    {
    }

    public function __invoke(
        OutputInterface $output,
        #[Argument('srt://, rtmp://, rtmps:// or rtsp://')]
        string $url,
        #[Option('URL at the other end')]
        string $against = '',
        #[Option('measured round-trip time in ms; 0 if unknown')]
        int $trip = 0,
        #[Option('text or json')]
        string $format = 'text',
    ): int {
        try {
            $one = StreamUrl::fromString($url);
            $other = '' === $against ? null : StreamUrl::fromString($against);
        } catch (Malformed $e) {
            throw new BadInput((string) $e->message());
        }
        $odd = [...$one->oddities($trip > 0 ? $trip : null), ...(null === $other ? [] : $one->against($other))];
        $this->input->answer($output, $format, ['url' => $one, 'odd' => $odd], [
            (string) $one,
            \sprintf('host     %s', '' === $one->host ? 'any caller' : $one->host),
            \sprintf('port     %s', $one->usedPort() ?? '–'),
            ...('' === $one->path ? [] : [\sprintf('path     %s', $one->path)]),
            ...('srt' === $one->scheme ? [\sprintf('mode     %s', $one->mode())] : []),
            ...(null === $one->latency() ? [] : [\sprintf('latency  %d ms', $one->latency())]),
            ...array_map(static fn (Message $why): string => 'odd: '.$why, $odd),
        ]);

        return [] === $odd ? CommandInput::DONE : CommandInput::FOUND;
    }
}
