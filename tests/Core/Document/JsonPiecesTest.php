<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Document;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Document\BadDocument;
use Vorhut\Core\Document\JobDocument;
use Vorhut\Core\Document\JsonPieces;
use Vorhut\Tests\Support\Jobs;

final class JsonPiecesTest extends TestCase
{
    private const TEXT = '{ "a" : [ {"x":"}],\\"{", "y":[1,[2]]}, "q" , null, [] ], "empty":[ ],"n":-12.5e1,"t":true,'
        .'"o":{"0":"a","1":{"é":"\\u00e9"}},"s":"[\\\\"}'."\n";

    /**
     * @param int<1, max> $bytes
     *
     * @return list<array{string, int|null, mixed}>
     */
    private static function read(string $text, int $bytes): array
    {
        return array_map(
            static fn (array $piece): array => array_values($piece),
            iterator_to_array(JsonPieces::of(str_split($text, $bytes)), false),
        );
    }

    public function testWhereverItIsCutThePiecesAreThoseOfTheWhole(): void
    {
        $pieces = [
            ['a', 0, ['x' => '}],"{', 'y' => [1, [2]]]], ['a', 1, 'q'], ['a', 2, null], ['a', 3, []],
            ['empty', null, []], ['n', null, -125.0], ['t', null, true], ['o', null, ['a', ['é' => 'é']]], ['s', null, '[\\'],
        ];
        for ($bytes = 1; $bytes <= \strlen(self::TEXT); ++$bytes) {
            self::assertSame($pieces, self::read(self::TEXT, $bytes), "$bytes bytes at a time");
        }
        self::assertSame([], self::read(' {} ', 1));
    }

    /** @return iterable<string, array{string, string}> */
    public static function noJobs(): iterable
    {
        yield 'nothing' => ['', 'ends in the middle'];
        yield 'a page' => ['<p>', 'wanted at byte 0'];
        yield 'a list' => ['[{}]', 'not a Vorhut job'];
        yield 'a byte order mark' => ["\xEF\xBB\xBF{}", 'wanted at byte 0'];
        yield 'cut in a text' => ['{"a": "b', 'ends in the middle'];
        yield 'cut in a list' => ['{"a": [1, ', 'ends in the middle'];
        yield 'cut after a number' => ['{"a": 12', 'ends in the middle'];
        yield 'a comma too many' => ['{"a": [1,]}', 'wanted at byte 9'];
        yield 'a comma before the end' => ['{"a": 1,}', 'wanted at byte 8'];
        yield 'no comma' => ['{"a": 1 "b": 2}', 'wanted at byte 8'];
        yield 'no colon' => ['{"a" 1}', 'wanted at byte 5'];
        yield 'no name' => ['{1: 1}', 'wanted at byte'];
        yield 'more behind it' => ['{"a": 1} {', 'wanted at byte 9'];
        yield 'no value' => ['{"a": nul }', 'Syntax error'];
        yield 'brackets that do not meet' => ['{"a": {"b": [1}]}', 'malformed JSON'];
        yield 'no UTF-8' => ["{\"a\": \"\xE4\"}", 'UTF-8'];
        yield 'a member twice' => ['{"a": 1, "a": 2}', 'the same thing twice'];
        yield 'a list twice' => ['{"a": [1], "a": [2]}', 'the same thing twice'];
        yield 'twice further in' => ['{"a": [{"b": {"c": 1, "c": 2}}]}', 'the same thing twice'];
        yield 'deep' => ['{"a": '.str_repeat('[', 500).str_repeat(']', 500).'}', 'stack depth'];
        yield 'very deep' => ['{"a": '.str_repeat('[', 300_000).str_repeat(']', 300_000).'}', 'nested deeper'];
        yield 'values without end' => ['{"a": [['.str_repeat('0,', 3_000_000).'0]]}', '3 million values'];
        yield 'an endless text' => ['{"a": ["'.str_repeat('a', 17_000_000).'"]}', 'larger than 8 MB'];
    }

    #[DataProvider('noJobs')]
    public function testWhatIsNoJobIsRefusedWithTheReasonHoweverItComes(string $text, string $why): void
    {
        foreach (\strlen($text) > 1000 ? [65536] : [1, 3, 1000] as $bytes) {
            try {
                self::read($text, $bytes);
                self::fail('it was read');
            } catch (BadDocument $e) {
                self::assertCount(1, $e->errors);
                self::assertStringContainsString($why, (string) $e->errors[0]['message'], "$bytes bytes at a time");
            }
        }
    }

    public function testAnElementIsBoundedWhenAllComesAtOnceToo(): void
    {
        foreach ([8_000_000 => true, 8_000_001 => false] as $bytes => $isRead) {
            try {
                iterator_to_array(JsonPieces::of(['{"a": ["'.str_repeat('a', $bytes - 2).'"]}']), false);
                self::assertTrue($isRead);
            } catch (BadDocument $e) {
                self::assertFalse($isRead, (string) $e->errors[0]['message']);
            }
        }
    }

    public function testAnElementCostsItsLengthAndIsLetGo(): void
    {
        $read = 0;
        $chunks = (static function () use (&$read): \Generator {
            yield '{"a": [0';
            for (; $read < 2000; ++$read) {
                yield ', "'.str_repeat('x', 4096).'"';
            }
            yield ']}';
        })();
        $before = memory_get_usage();
        $far = [];
        foreach (JsonPieces::of($chunks) as $piece) {
            $far[(int) $piece['index']] = $read - (int) $piece['index'];
        }
        self::assertCount(2001, $far);
        self::assertLessThan(20, max($far), 'nothing is read ahead of what is given out');
        self::assertLessThan(2_000_000, memory_get_usage() - $before);
    }

    public function testADocumentIsWrittenAndReadWithoutBeingHeldWhole(): void
    {
        $document = JobDocument::fromJson(Jobs::demo('port'), Jobs::catalogue());
        $chunks = iterator_to_array($document->chunks(), false);
        self::assertGreaterThan(3, \count($chunks));
        self::assertSame(Jobs::demo('port'), implode('', $chunks));
        self::assertSame(Jobs::demo('port'), JobDocument::fromChunks($chunks, Jobs::catalogue())->toJson());
    }
}
