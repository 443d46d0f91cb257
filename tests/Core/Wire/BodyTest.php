<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Wire;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Catalogue\BodyShape;
use Vorhut\Core\Wire\Http\Body;
use Vorhut\Core\Wire\ParseError;

/** Every shape carries every value there and back, and none is thrown by what a hostile device sends. */
final class BodyTest extends TestCase
{
    private const FIELDS = [
        'ip' => '10.64.20.31', 'name' => 'Kamera Tür 3', 'url' => 'srt://a.example:9000?x=1&y=<2>', 'blank' => '', 'n' => '07',
    ];

    /** @return iterable<string, array{BodyShape}> */
    public static function shapes(): iterable
    {
        foreach (BodyShape::cases() as $shape) {
            yield $shape->value => [$shape];
        }
    }

    #[DataProvider('shapes')]
    public function testWhatIsWrittenIsRead(BodyShape $shape): void
    {
        self::assertSame(self::FIELDS, Body::read($shape, Body::write($shape, self::FIELDS)));
        self::assertSame([], Body::read($shape, Body::write($shape, [])));
    }

    #[DataProvider('shapes')]
    public function testBytesThatAreNoTextAndLinesWithinAValueDoNoHarm(BodyShape $shape): void
    {
        $read = Body::read($shape, Body::write($shape, ['a' => "Ger\xe4t", 'b' => "one\r\nc=two", 'd' => "\x00\x1b[31m"]));
        self::assertSame(['a', 'b', 'd'], array_keys($read), 'no field comes out of another');
        foreach ($read as $value) {
            self::assertTrue(mb_check_encoding($value, 'UTF-8'));
        }
    }

    /** @return iterable<string, array{BodyShape, string}> */
    public static function hostile(): iterable
    {
        yield 'no JSON' => [BodyShape::Json, '<html>'];
        yield 'JSON, but no object' => [BodyShape::Json, '3'];
        yield 'JSON too deep' => [BodyShape::Json, str_repeat('[', 4000)];
        yield 'no XML' => [BodyShape::Xml, 'ip=1'];
        yield 'nothing' => [BodyShape::Xml, ''];
        yield 'an entity that grows' => [BodyShape::Xml, '<!DOCTYPE s [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;">]><s><ip>&b;</ip></s>'];
        yield 'a file of ours' => [BodyShape::Xml, '<!DOCTYPE s [<!ENTITY f SYSTEM "file:///etc/hostname">]><s><ip>&f;</ip></s>'];
    }

    #[DataProvider('hostile')]
    public function testWhatIsNotOfItsShapeIsSaidToBeSo(BodyShape $shape, string $body): void
    {
        $this->expectException(ParseError::class);
        Body::read($shape, $body);
    }

    public function testOddEntriesAreLeftOutAndLongListsEnd(): void
    {
        self::assertSame(['a' => '1', 'b' => '2.5'], Body::read(BodyShape::Json, '{"a":1,"b":2.5,"c":[1],"d":null,"e":{"f":1}}'));
        self::assertSame(['a[]' => '1', 'b.c' => '2'], Body::read(BodyShape::Form, 'a[]=1&b.c=2'), 'names as they stand');
        self::assertSame(['a' => '1'], Body::read(BodyShape::Lines, "# a remark\n\n a = 1 \nnothing"));
        self::assertCount(2000, Body::read(BodyShape::Json, (string) json_encode(range(0, 5000))));
    }
}
