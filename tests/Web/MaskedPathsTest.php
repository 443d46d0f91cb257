<?php

declare(strict_types=1);

namespace Vorhut\Tests\Web;

use Monolog\Handler\TestHandler;
use Monolog\Logger;
use PHPUnit\Framework\TestCase;
use Vorhut\Web\Frame\MaskedPaths;

/** No log tells what opens something by itself. */
final class MaskedPathsTest extends TestCase
{
    private const TOKEN = '3fa85f6457174562b3fc2c963f66afa6';

    public function testTokensAreMaskedWhereverTheyStand(): void
    {
        $handler = new TestHandler();
        $logger = new Logger('test', [$handler], [new MaskedPaths()]);
        $token = self::TOKEN;
        $logger->error("GET /p/$token/00005e005301.xml failed", ['request_uri' => "http://vorhut.example/a/$token?x=1"]);
        $logger->error('Matched route', ['route_parameters' => ['token' => $token, 'slug' => 'nordmole']]);
        $error = new \RuntimeException("No route for /9/$token/x.xml", 0, new \LogicException("/p/$token/"));
        $logger->error('failed', ['exception' => $error]);
        $logger->error('failed', ['headers' => ['authorization' => "Bearer $token", 'x' => "Bearer $token"]]);
        self::assertCount(4, $handler->getRecords());
        foreach ($handler->getRecords() as $record) {
            $text = $record->message.json_encode($record->context, \JSON_UNESCAPED_SLASHES | \JSON_THROW_ON_ERROR);
            self::assertStringNotContainsString($token, $text);
        }
        self::assertSame('GET /p/-/00005e005301.xml failed', $handler->getRecords()[0]->message);
        self::assertSame(['token' => '-', 'slug' => 'nordmole'], $handler->getRecords()[1]->context['route_parameters']);
        $told = (string) json_encode($handler->getRecords()[2]->context['exception'], \JSON_UNESCAPED_SLASHES);
        self::assertStringContainsString('RuntimeException: No route for /9/-/x.xml', $told);
        self::assertStringContainsString('caused by LogicException: /p/-/', $told);
    }

    public function testWhatIsNoTokenStays(): void
    {
        foreach (['/j/nordmole/proof', 'asked 10.64.20.31:5060/udp', '/people/jo', 'a/b/c', '/api/x'] as $text) {
            self::assertSame($text, MaskedPaths::mask($text));
        }
    }
}
