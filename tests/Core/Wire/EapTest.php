<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Wire;

use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Core\Wire\Radius\Eap;

/** RFC 3748 §4 and §5.3.1. */
final class EapTest extends TestCase
{
    public function testItIsReadAsItIsWritten(): void
    {
        self::assertSame('0207000a0168616c6c2d', bin2hex((string) new Eap(Eap::RESPONSE, 7, Eap::IDENTITY, 'hall-')));
        self::assertSame('03070004', bin2hex((string) new Eap(Eap::SUCCESS, 7)));
        $nak = Eap::fromString((string) hex2bin('020800070315190000'));
        $read = [$nak->code, $nak->id, $nak->type, $nak->desiredMethods()];
        self::assertSame([Eap::RESPONSE, 8, Eap::NAK, [21, 25]], $read, 'padding is none of it');
        self::assertSame([], Eap::fromString((string) hex2bin('020800060300'))->desiredMethods(), 'a zero wants none (§5.3.1)');
        self::assertSame([], (new Eap(Eap::RESPONSE, 1, 25, "\x15"))->desiredMethods());
    }

    #[TestWith(['020700'])]
    #[TestWith(['02070003'])]
    #[TestWith(['02070005'])]
    #[TestWith(['02070004'])]
    #[TestWith(['0507000401'])]
    #[TestWith(['0007000501'])]
    public function testWhatIsNoneIsRefused(string $hex): void
    {
        $this->expectException(ParseError::class);
        Eap::fromString((string) hex2bin($hex));
    }
}
