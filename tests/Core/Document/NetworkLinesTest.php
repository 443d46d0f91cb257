<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Document;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Document\NetworkLines;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Edit;
use Vorhut\Tests\Support\Jobs;

final class NetworkLinesTest extends TestCase
{
    /** @return list<array<string, mixed>> without key and pattern */
    private static function rows(string $text): array
    {
        return array_map(
            static fn (Edit $edit): array => array_diff_key($edit->row ?? [], ['key' => 0, 'pattern' => 0]),
            NetworkLines::read((new Jobs())->plan(), $text)->edits,
        );
    }

    /** @return iterable<string, array{string, array<string, mixed>}> */
    public static function lines(): iterable
    {
        $voice = ['name' => 'Voice', 'network' => '10.64.20.0/24'];
        yield 'name and network' => ['Voice 10.64.20.0/24', $voice];
        yield 'network first' => ['10.64.20.0/24 Voice', $voice];
        yield 'a dotted mask' => ["Voice\t10.64.20.0 255.255.255.0", $voice];
        yield 'no name' => ['10.64.20.0/24', ['name' => '10.64.20.0/24'] + $voice];
        yield 'as in a mail' => [
            'Office 172.21.36.0/24, gateway .1, DNS .5, DHCP .100-.179',
            [
                'name' => 'Office', 'network' => '172.21.36.0/24', 'gateway' => '172.21.36.1', 'dns' => '172.21.36.5',
                'pools' => ['172.21.36.100-172.21.36.179'],
            ],
        ];
        yield 'in another order' => ['VLAN 20: Voice, 10.64.20.0/24 (GW 10.64.20.1)', $voice + ['gateway' => '10.64.20.1', 'vlan' => 20]];
        yield 'isolated' => ['Voice 10.64.20.0/24, no router', $voice + ['gateway' => 'none']];
        yield 'none by a dash' => ['Voice 10.64.20.0/24, gateway -, vlan -', $voice + ['gateway' => 'none', 'vlan' => 0]];
        yield 'more words are a note' => ['Voice 10.64.20.0/24, behind the stage', $voice + ['note' => 'behind the stage']];
        yield 'a pool in full' => [
            'Voice 10.64.20.0/24 DHCP 10.64.20.100 - 10.64.20.120',
            $voice + ['pools' => ['10.64.20.100-10.64.20.120']],
        ];
    }

    /** @param array<string, mixed> $row */
    #[DataProvider('lines')]
    public function testALineNamesANetworkAndWhatIsKnownOfIt(string $line, array $row): void
    {
        self::assertEquals([$row], self::rows($line));
    }

    public function testTheRosterBelowIsLeftAsItIs(): void
    {
        $roster = "tag\tkind\tIP\nCAM-01\tPTZ\t10.64.30.31/24";
        $read = NetworkLines::read((new Jobs())->plan(), "Voice 10.64.20.0/24\n\nVoice 10.64.21.0/24\n$roster\n");
        self::assertSame($roster, $read->rest);
        self::assertSame([['voice', 0], ['voice-2', 1]], array_map(
            static fn (Edit $edit): array => [$edit->key, $edit->row['pattern'] ?? null],
            $read->edits,
        ));
    }

    /** @return iterable<string, array{string, string}> line, what the message names */
    public static function mistakes(): iterable
    {
        yield 'a gateway elsewhere' => ['Voice 10.64.20.0/25, gateway .200', '.200'];
        yield 'a short host of a wide network' => ['Site 10.64.0.0/16, gateway .1', '.1'];
        yield 'a VLAN that does not exist' => ['Voice 10.64.20.0/24 VLAN 5000', '5000'];
        yield 'loopback' => ['Voice 127.0.0.0/24', '127.0.0.0/24'];
        yield 'a pool that is not one' => ['Voice 10.64.20.0/24, DHCP yes', 'yes'];
    }

    #[DataProvider('mistakes')]
    public function testAMistakeIsNamed(string $line, string $names): void
    {
        $this->expectException(Malformed::class);
        $this->expectExceptionMessage($names);
        self::rows($line);
    }
}
