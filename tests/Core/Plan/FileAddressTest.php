<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Plan;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Bench\SheetValue;
use Vorhut\Core\Catalogue\Step;
use Vorhut\Core\Plan\FileAddress;
use Vorhut\Tests\Support\Jobs;

final class FileAddressTest extends TestCase
{
    private const SERVER = 'http://192.0.2.10:8400';

    /** @return iterable<string, array{array<string, string|int>, string}> */
    public static function jobs(): iterable
    {
        $authority = str_repeat('a', 64);
        yield 'no certificate' => [[], self::SERVER];
        yield 'a name alone' => [['filesHost' => 'files.site.example'], self::SERVER];
        yield 'an authority alone' => [['filesAuthority' => $authority], self::SERVER];
        yield 'both' => [['filesHost' => 'files.site.example', 'filesAuthority' => $authority], 'https://files.site.example'];
        yield 'the port of HTTPS' => [
            ['filesHost' => 'files.site.example', 'filesPort' => 443, 'filesAuthority' => $authority],
            'https://files.site.example',
        ];
        yield 'another port' => [
            ['filesHost' => '10.64.10.9', 'filesPort' => 8443, 'filesAuthority' => $authority],
            'https://10.64.10.9:8443',
        ];
    }

    /** @param array<string, string|int> $facts */
    #[DataProvider('jobs')]
    public function testWherePhonesFetch(array $facts, string $base): void
    {
        $jobs = new Jobs();
        $jobs->job += $facts;
        $address = FileAddress::of($jobs->plan(), self::SERVER);
        self::assertSame($base.'/p/t/', $address->long('t'));
        self::assertSame($base.'/9/123/', $address->short('123'));
        self::assertSame(self::SERVER !== $base, $address->isSealed);
    }

    /** @return list<string> */
    private static function steps(Jobs $jobs): array
    {
        return array_map(static fn (Step $step): string => $step->code, $jobs->plan()->devices['p']->steps);
    }

    public function testAPhoneIsToldWhomToTrustWhereThereIsSomebodyToTrustAndItFetchesHere(): void
    {
        $jobs = (new Jobs())->segment('s', '10.0.0.0/24')->device('p', 'desk-phone-poe', 's', ['address' => '10.0.0.9']);
        self::assertNotContains('trust', self::steps($jobs));
        $jobs->job['filesAuthority'] = str_repeat('a', 64);
        self::assertContains('trust', self::steps($jobs));
        $plan = $jobs->plan();
        $sheet = RunSheet::of($plan, $plan->devices['p']);
        $step = array_values(array_filter($plan->devices['p']->steps, static fn (Step $one): bool => 'trust' === $one->code))[0];
        $values = $sheet->values($step);
        self::assertSame(
            ['login', 'authority-url', 'authority'],
            array_map(static fn (SheetValue $value): string => $value->name, $values),
        );
        self::assertTrue($values[1]->isServedHere);
        self::assertSame(str_repeat('a', 64), $values[2]->text);
        $jobs->row('settings', ['key' => 'devices/p#authority', 'planned' => '']);
        $jobs->row('settings', ['key' => 'devices/p#provisioning', 'planned' => 'https://files.voice.example/x']);
        $plan = $jobs->plan();
        $server = array_values(array_filter($plan->devices['p']->steps, static fn (Step $one): bool => 'server' === $one->code))[0];
        $url = RunSheet::of($plan, $plan->devices['p'])->values($server)[0];
        self::assertSame([false, 'https://files.voice.example/x'], [$url->isServedHere, $url->text], 'what the provider gave');
        self::assertNotContains('trust', self::steps($jobs), 'a phone of a provider: left blank on purpose');
    }
}
