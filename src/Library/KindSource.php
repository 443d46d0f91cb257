<?php

declare(strict_types=1);

namespace Vorhut\Library;

use Symfony\Component\Yaml\Exception\ParseException;
use Symfony\Component\Yaml\Yaml;
use Vorhut\Core\Catalogue\Catalogue;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\KindVersion;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Row;
use Vorhut\Core\Text\Message;

/** A kind as a person writes it: YAML, reduced to the differences if a shipped kind has that code. */
final readonly class KindSource
{
    public function __construct(private CatalogueFiles $files, private Shape $shape)
    {
    }

    /**
     * @return array<mixed> the whole description
     *
     * @throws Malformed
     */
    public function read(string $code, string $yaml): array
    {
        if (\strlen($yaml) > KindVersion::LONGEST) {
            throw Malformed::because('That is longer than {longest} characters.', ['longest' => KindVersion::LONGEST]);
        }
        self::mustBeUtf8($yaml);
        try {
            // A few aliases of aliases would fill the memory.
            $data = Yaml::parse($yaml, Yaml::PARSE_EXCEPTION_ON_ALIAS);
        } catch (ParseException $e) {
            throw Malformed::because('Line {line}: {reason}', ['line' => max(1, $e->getParsedLine()), 'reason' => $e->getMessage()]);
        }
        if (!\is_array($data) || array_is_list($data)) {
            throw Malformed::because('This is not a description of a kind: it must begin with "name: …".');
        }
        $whole = $this->files->resolve($code, $data);
        if (\is_array($whole['steps'] ?? null)) {
            foreach ($whole['steps'] as $step) {
                $name = \is_array($step) ? $step['like'] ?? null : $step;
                if (\is_string($name)) {
                    throw Malformed::because('Unknown shared step "{step}". Write it out, or name one of {list}.', [
                        'step' => $name,
                        'list' => implode(', ', $this->files->sharedSteps()),
                    ]);
                }
            }
        }
        $errors = $this->shape->errors('kind', $whole);
        if ([] !== $errors) {
            throw Malformed::because('{errors}', ['errors' => implode('; ', $errors)]);
        }

        return $whole;
    }

    /** As it is shown for changing: what the job has, else what ships, else a beginning. */
    public function of(Plan $plan, string $code): string
    {
        $row = $plan->row('ownKinds', $code);
        $data = null === $row ? $this->ships($code) : Catalogue::decode((new Row($row))->text('source'));

        return Yaml::dump($data ?? [
            'name' => '',
            'roles' => ['controlled'],
            'factory' => [['when' => 'new', 'state' => 'dhcp']],
            'ports' => [['name' => 'lan']],
            'settings' => ['ip', 'name', 'firmware'],
            'services' => [],
            'tells' => ['label'],
            'steps' => ['unpack', 'reach', 'address', 'name-only', 'verify'],
        ], 5, 2);
    }

    /** @return array<mixed>|null what ships under this code */
    public function ships(string $code): ?array
    {
        return $this->files->files('kinds')[$code] ?? null;
    }

    public function version(Plan $plan, string $code, string $yaml): KindVersion
    {
        return KindVersion::of($plan, $code, $this->read($code, $yaml), $this->ships($code));
    }

    /** @return array<string, string> */
    public function help(): array
    {
        return $this->shape->fields('kind');
    }

    /** @throws Malformed with the line and the octet within it at which the text is not UTF-8 */
    private static function mustBeUtf8(string $yaml): void
    {
        if (!mb_check_encoding($yaml, 'UTF-8')) {
            foreach (explode("\n", $yaml) as $n => $line) {
                if (mb_check_encoding($line, 'UTF-8')) {
                    continue;
                }
                // The sanitized text differs from the first wrong octet on.
                $sound = strspn($line ^ mb_scrub($line, 'UTF-8'), "\0");

                throw Malformed::because('Line {line}, octet {octet}: not valid UTF-8.', [
                    'line' => $n + 1,
                    'octet' => $sound + 1,
                ]);
            }
        }
    }

    /** @return Message|null why a code cannot be that of a kind */
    public static function whyNotACode(string $code): ?Message
    {
        return 1 === preg_match('/^[a-z0-9][a-z0-9-]{0,59}$/D', $code)
            ? null
            : new Message('"{text}" is not a key: lower-case letters, digits, dot and hyphen.', ['text' => $code]);
    }
}
