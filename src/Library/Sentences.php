<?php

declare(strict_types=1);

namespace Vorhut\Library;

use Symfony\Component\Yaml\Yaml;
use Vorhut\Core\Catalogue\Setting;
use Vorhut\Core\Text\MessagePattern;

/**
 * All sentences of Vorhut, gathered from their sources: the code, the pages, the library's data, and a list of words for codes. The English
 * text is its own key.
 */
final readonly class Sentences
{
    /** Whatever speaks takes the sentence as its first argument. */
    private const SPEAKING = ['Message', 'because', 'Malformed', 'BadInput', 'ParseError', 'NotOpened', 'tell'];
    /** What reads as one wherever it stands, handed on from place to place. */
    private const SENTENCE = '/^(?!SELECT |UPDATE )[\p{Lu}{[].* .*[.?!:]$|^[\p{Lu}{][^,]* .*\}$/u';
    private const STEP = ['do', 'see', 'caution', 'fails'];

    public function __construct(private string $projectDir)
    {
    }

    /** @return array<string, string> key → English, in the order of the keys */
    public function all(): array
    {
        $all = [];
        foreach ([...$this->inCode(), ...$this->onPages(), ...$this->inData()] as $text) {
            if (1 === preg_match('/\p{L}/u', $text)) {
                $all[$text] = MessagePattern::of($text);
            }
        }
        $all = $this->words() + $all;
        ksort($all, \SORT_STRING);

        return $all;
    }

    /** The catalogue in the form that the translator reads. */
    public function yaml(): string
    {
        $lines = '';
        foreach ($this->all() as $key => $english) {
            $lines .= Yaml::dump((string) $key).': '.Yaml::dump($english)."\n";
        }

        return "# Made by bin/console vorhut:translations; words for codes are in words.yaml.\n".$lines;
    }

    /** @return list<string> */
    private function inCode(): array
    {
        $found = [];
        foreach ($this->files('src', 'php') as $file) {
            $tokens = array_values(array_filter(
                \PhpToken::tokenize((string) file_get_contents($file)),
                static fn (\PhpToken $one): bool => !$one->isIgnorable(),
            ));
            foreach ($tokens as $i => $token) {
                if (\in_array($token->text, self::SPEAKING, true) && '(' === ($tokens[$i + 1]->text ?? '')) {
                    $found = [...$found, ...self::literals($tokens, $i + 1, ',')];
                }
                // What an enumeration or a table of labels says.
                if (('label' === $token->text && 'function' === ($tokens[$i - 1]->text ?? '')) || 'LABELS' === $token->text) {
                    $found = [...$found, ...self::literals($tokens, self::opening($tokens, $i), null)];
                }
                if ($token->is(\T_CONSTANT_ENCAPSED_STRING) && '.' !== $tokens[$i - 1]->text) {
                    $text = self::joinParts($tokens, $i);
                    $found = 1 === preg_match(self::SENTENCE, $text) ? [...$found, $text] : $found;
                }
            }
        }

        return $found;
    }

    /**
     * The literals from a bracket to its end, or to the first separator at its level.
     *
     * @param list<\PhpToken> $tokens
     *
     * @return list<string>
     */
    private static function literals(array $tokens, int $at, ?string $until): array
    {
        $found = [];
        $depth = 0;
        for ($i = $at, $n = \count($tokens); $i < $n; ++$i) {
            $depth += match ($tokens[$i]->text) {
                '(', '[', '{' => 1,
                ')', ']', '}' => -1,
                default => 0,
            };
            if (0 === $depth || (1 === $depth && $tokens[$i]->text === $until)) {
                break;
            }
            // Behind a comparison a literal is a code.
            $compared = \in_array($tokens[$i + 1]->text ?? '', ['===', '!=='], true)
                || \in_array($tokens[$i - 1]->text, ['===', '!==', '['], true);
            if ($tokens[$i]->is(\T_CONSTANT_ENCAPSED_STRING) && !$compared) {
                $found[] = self::joinParts($tokens, $i);
            }
        }

        return $found;
    }

    /**
     * A long sentence may be split over several lines; `$i` moves to the last of them.
     *
     * @param list<\PhpToken> $tokens
     */
    private static function joinParts(array $tokens, int &$i): string
    {
        $text = stripcslashes(substr($tokens[$i]->text, 1, -1));
        while ('.' === ($tokens[$i + 1]->text ?? '') && $tokens[$i + 2]->is(\T_CONSTANT_ENCAPSED_STRING)) {
            $i += 2;
            $text .= stripcslashes(substr($tokens[$i]->text, 1, -1));
        }

        return $text;
    }

    /** @param list<\PhpToken> $tokens */
    private static function opening(array $tokens, int $at): int
    {
        while (isset($tokens[$at]) && !\in_array($tokens[$at]->text, ['{', '[', ';'], true)) {
            ++$at;
        }

        return $at;
    }

    /** @return list<string> the text before the translating filter, and all other sentences or labels on a page */
    private function onPages(): array
    {
        $found = [];
        foreach ($this->files('templates', 'twig') as $file) {
            $page = (string) preg_replace('/\{#.*?#\}/s', '', (string) file_get_contents($file));
            preg_match_all('/\{[{%].*?[}%]\}/s', $page, $tags);
            foreach ($tags[0] as $tag) {
                preg_match_all(
                    '/(?<![\w\\\\])(?:\'((?:[^\'\\\\]|\\\\.)*)\'|"((?:[^"\\\\]|\\\\.)*)")(\s*\|\s*trans)?/su',
                    $tag,
                    $literals,
                    \PREG_SET_ORDER,
                );
                foreach ($literals as $literal) {
                    $text = stripcslashes(($literal[1] ?? '').($literal[2] ?? ''));
                    $label = 1 === preg_match('/^[\p{Lu}{“][^<>\[\]=|\\\\]*$|^[\p{Ll}]+(?: [(]?[\p{L}{}]+)+[^<>\[\]=|\\\\]*$/u', $text)
                        && !str_contains($text, '::')
                        && !str_starts_with($text, 'ROLE_');
                    if (isset($literal[3]) || $label) {
                        $found[] = $text;
                    }
                }
            }
        }

        return $found;
    }

    /** @return list<string> */
    private function inData(): array
    {
        $files = new CatalogueFiles($this->projectDir);
        $found = [];
        foreach ($files->files('agreements') as $agreement) {
            foreach (['name', 'broken', 'why', 'todo', 'button'] as $field) {
                $found[] = $agreement[$field] ?? '';
            }
        }
        foreach ($files->files('kinds') as $kind) {
            $found[] = $kind['name'] ?? '';
            foreach ((array) ($kind['steps'] ?? []) as $step) {
                $step = (array) $step;
                foreach ([$step, ...array_map(static fn (mixed $way): array => (array) $way, (array) ($step['ways'] ?? []))] as $one) {
                    foreach ([...self::STEP, 'name'] as $field) {
                        $found[] = $one[$field] ?? '';
                    }
                }
            }
            $firmware = (array) ($kind['firmware'] ?? []);
            $found = [...$found, ...array_values((array) ($kind['kit'] ?? [])), ...array_values((array) ($firmware['bad'] ?? []))];
            foreach ([
                'handTests' => ['ask', 'covers', 'unit'],
                'ports' => ['goesTo'],
                'sockets' => ['name', 'takes'],
                'licences' => ['name'],
            ] as $part => $fields) {
                foreach ((array) ($kind[$part] ?? []) as $one) {
                    foreach ($fields as $field) {
                        $found[] = ((array) $one)[$field] ?? '';
                    }
                }
            }
        }
        foreach ($files->catalogue()->kinds() as $kind) {
            foreach ($kind->settings as $setting) {
                $found = [...$found, ...self::ofSetting($setting)];
            }
        }

        return array_values(array_filter($found, is_string(...)));
    }

    /** @return list<string> */
    private static function ofSetting(Setting $setting): array
    {
        return [$setting->label, $setting->help, $setting->unit, $setting->group, ucfirst($setting->group), ...$setting->choices];
    }

    /** @return array<string, string> */
    private function words(): array
    {
        $words = [];
        $data = Yaml::parseFile($this->projectDir.'/translations/words.yaml');
        if (\is_array($data)) {
            foreach ($data as $code => $word) {
                $words[(string) $code] = \is_scalar($word) ? (string) $word : (string) $code;
            }
        }

        return $words;
    }

    /** @return list<string> */
    private function files(string $folder, string $ending): array
    {
        $files = [];
        foreach (new \RecursiveIteratorIterator(
            new \RecursiveDirectoryIterator($this->projectDir.'/'.$folder, \FilesystemIterator::SKIP_DOTS),
        ) as $file) {
            if ($file instanceof \SplFileInfo && $file->getExtension() === $ending) {
                $files[] = $file->getPathname();
            }
        }
        sort($files);

        return $files;
    }
}
