<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Voice;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Plan\Credential;
use Vorhut\Core\Plan\Row;
use Vorhut\Core\Voice\SipSecret;

final class SipSecretTest extends TestCase
{
    #[DataProvider('secrets')]
    public function testWeaknessOfASecret(?string $weakness, string $secret): void
    {
        self::assertSame($weakness, SipSecret::weakness($secret, '2101'));
    }

    /** @return iterable<array{string|null, string}> */
    public static function secrets(): iterable
    {
        yield ['it is empty', ''];
        yield ['it is the extension', '2101'];
        yield ['it is shorter than 12 characters', 'kWq7mTzR4hv'];
        yield [null, 'kWq7mTzR4hvA'];
        yield ['it is digits only', '123456789012'];
        yield ['it is shorter than 12 characters', 'äöüäöüäöüäö'];
    }

    #[DataProvider('records')]
    public function testWeaknessFromTheRecordAlone(?string $weakness, int $length, ?string $recorded): void
    {
        $credential = Credential::fromRow(new Row(['key' => 'a.sip', 'length' => $length, 'weakness' => $recorded]));
        $said = SipSecret::recordedWeakness($credential);
        self::assertSame($weakness, null === $said ? null : (string) $said);
    }

    /** @return iterable<array{string|null, int, string|null}> */
    public static function records(): iterable
    {
        yield 'length unknown' => [null, 0, null];
        yield 'one short of enough' => ['it is 11 characters long and needs at least 12', 11, null];
        yield 'the shortest' => ['it is 2 characters long and needs at least 12', 2, null];
        yield 'just enough' => [null, 12, null];
        yield 'long, and found weak' => ['it is digits only', 16, 'it is digits only'];
    }
}
