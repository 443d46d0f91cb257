<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Wire;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Wire\Srt\Handshake;
use Vorhut\Core\Wire\Srt\KeyMaterial;
use Vorhut\Core\Wire\Srt\KeyWrap;

/** Handshakes of SRT as bytes, and its keys. Against an independent party: tests/Contract/StreamToolTest. */
final class SrtTest extends TestCase
{
    /** @return iterable<string, array{string, string, string}> key, wrapped by, what comes of it (RFC 3394 §4) */
    public static function vectors(): iterable
    {
        yield '4.1 128 by 128' => [
            '00112233445566778899AABBCCDDEEFF', '000102030405060708090A0B0C0D0E0F', '1FA68B0A8112B447AEF34BD8FB5A7B829D3E862371D2CFE5',
        ];
        yield '4.3 128 by 256' => [
            '00112233445566778899AABBCCDDEEFF', '000102030405060708090A0B0C0D0E0F101112131415161718191A1B1C1D1E1F',
            '64E8C3F9CE0F5BA263E9777905818A2A93C8191E7D6E8AE7',
        ];
        yield '4.6 256 by 256' => [
            '00112233445566778899AABBCCDDEEFF000102030405060708090A0B0C0D0E0F',
            '000102030405060708090A0B0C0D0E0F101112131415161718191A1B1C1D1E1F',
            '28C9F404C4B810F4CBCCB35CFB87F8263F5786E2D80ED326CBC7F0E71A99F43BFB988B9B7A02DD21',
        ];
    }

    #[DataProvider('vectors')]
    public function testKeysAreWrappedAsTheStandardSays(string $key, string $kek, string $wrapped): void
    {
        [$key, $kek, $wrapped] = array_map(static fn (string $hex): string => (string) hex2bin($hex), [$key, $kek, $wrapped]);
        self::assertSame(bin2hex($wrapped), bin2hex(KeyWrap::wrap($kek, $key)));
        self::assertSame($key, KeyWrap::unwrap($kek, $wrapped));
        self::assertNull(KeyWrap::unwrap(strrev($kek), $wrapped));
        self::assertNull(KeyWrap::unwrap($kek, substr($wrapped, 1)));
    }

    public function testAPassphraseOpensItsOwnKeyAlone(): void
    {
        $key = random_bytes(24);
        $material = KeyMaterial::wrap('a passphrase of both', random_bytes(16), $key);
        self::assertSame($key, KeyMaterial::unwrap($material, 'a passphrase of both'));
        self::assertNull(KeyMaterial::unwrap($material, 'a passphrase of one'));
        self::assertNull(KeyMaterial::unwrap(substr($material, 0, -1), 'a passphrase of both'));
        self::assertNull(KeyMaterial::unwrap('', 'a passphrase of both'));
        self::assertNull(KeyMaterial::unwrap("\x13".substr($material, 1), 'a passphrase of both'));
    }

    public function testTwiceEachWay(): void
    {
        $here = Ipv4::fromString('192.0.2.7');
        $there = Ipv4::fromString('192.0.2.9');
        $first = Handshake::induction(0x1234, $here, 99);
        // §3.2.1: control, type 0; to nobody yet; version 4, no encryption, field 2; sequence, size, window, type 1, socket, no cookie.
        self::assertSame(
            '80000000000000000000000000000000000000040000000200000063000005dc000020000000000100001234'
            .'00000000070200c0'.str_repeat('0', 24),
            bin2hex((string) $first),
        );
        $answer = Handshake::fromString((string) $first->induct(0xC00C1E, $there));
        self::assertTrue($answer->isListener());
        self::assertFalse(Handshake::fromString((string) $first)->isListener(), 'a caller is none');
        self::assertSame([0x1234, 5, 0xC00C1E], [$answer->to, $answer->version, $answer->cookie]);
        $second = Handshake::fromString((string) $answer->conclusion(0x1234, $here, 99, [
            Handshake::HSREQ => Handshake::terms(200), Handshake::KMREQ => str_repeat('k', 56),
        ]));
        self::assertSame([true, 0xC00C1E, 3, [1, 3]], [
            $second->isConclusion(), $second->cookie, $second->field, array_keys($second->extensions),
        ]);
        self::assertSame(200, Handshake::latency($second->extensions[Handshake::HSREQ]));
        $accepted = Handshake::fromString((string) $second->accept(0x77, $there, [Handshake::HSRSP => Handshake::terms(300)]));
        self::assertSame([true, 0x1234, 0x77, null, 300], [
            $accepted->isConclusion(), $accepted->to, $accepted->socket, $accepted->reason(), Handshake::latency($accepted->extensions[2]),
        ]);
        $refused = Handshake::fromString((string) $second->reject(Handshake::UNSECURE, $there));
        self::assertSame([false, 1011, []], [$refused->isConclusion(), $refused->reason(), $refused->extensions]);
        self::assertSame('192.0.2.9', (string) $refused->peer);
        self::assertTrue(Handshake::isShutdown(Handshake::shutdown(7)));
        self::assertFalse(Handshake::isShutdown(Handshake::keepAlive(7)));
    }

    public function testWhatIsNoHandshakeIsNone(): void
    {
        $bytes = (string) Handshake::induction(1, Ipv4::fromString('192.0.2.7'), 1);
        self::assertNull(Handshake::tryFromString(substr($bytes, 1)));
        self::assertNull(Handshake::tryFromString("\0".substr($bytes, 1)), 'data');
        self::assertNull(Handshake::tryFromString("\x80\x05".substr($bytes, 2)), 'the end of it');
        $conclusion = (string) Handshake::fromString($bytes)->conclusion(1, Ipv4::fromString('192.0.2.7'), 1, [1 => Handshake::terms(1)]);
        self::assertNull(Handshake::tryFromString(substr($conclusion, 0, -1)), 'an extension that is cut off');
        self::assertNull(Handshake::latency('short'));
    }
}
