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
    #[DataProvider('records')]
    public function testWeakness(?string $weakness, int $length, ?string $recorded): void
    {
        $credential = Credential::fromRow(new Row(['key' => 'a.sip', 'length' => $length, 'weakness' => $recorded]));
        $said = SipSecret::weakness($credential);
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
