<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Network\Reachability;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Net\Range;
use Vorhut\Core\Network\Reachability\RequiredFirewallRule;
use Vorhut\Core\Text\Message;

final class RequiredFirewallRuleTest extends TestCase
{
    /**
     * @param list<string> $from
     * @param list<string> $to
     */
    private static function rule(
        array $from = ['10.40.0.9'],
        array $to = ['192.0.2.7'],
        string $port = '5060/udp',
        int $last = 5069,
        string $router = 'r',
        string $segment = 's',
        string $toSegment = 't',
    ): RequiredFirewallRule {
        $ranges = static fn (array $texts): array => array_map(Range::fromString(...), array_values(array_filter($texts, \is_string(...))));

        return new RequiredFirewallRule($router, $segment, $toSegment, Port::fromString($port), $last, $ranges($from), $ranges($to), [
            new Message('why'),
        ], ['a'], []);
    }

    #[DataProvider('covered')]
    public function testARuleCoversAnother(bool $covers, RequiredFirewallRule $rule, RequiredFirewallRule $other): void
    {
        self::assertSame($covers, $rule->covers($other));
    }

    /** @return iterable<string, array{bool, RequiredFirewallRule, RequiredFirewallRule}> */
    public static function covered(): iterable
    {
        $rule = self::rule();
        yield 'itself' => [true, $rule, self::rule()];
        yield 'any sender covers one' => [true, self::rule(from: []), $rule];
        yield 'one sender not any' => [false, $rule, self::rule(from: [])];
        yield 'any receiver covers one' => [true, self::rule(to: []), $rule];
        yield 'one receiver not any' => [false, $rule, self::rule(to: [])];
        yield 'any covers any' => [true, self::rule([], []), self::rule([], [])];
        yield 'one of two senders' => [true, self::rule(['10.40.0.9', '10.40.0.12']), $rule];
        yield 'two senders by one' => [false, $rule, self::rule(['10.40.0.9', '10.40.0.12'])];
        yield 'another receiver' => [false, $rule, self::rule(to: ['192.0.2.8'])];
        yield 'its first port' => [true, $rule, self::rule(last: 5060)];
        yield 'its last port' => [true, $rule, self::rule(port: '5069/udp', last: 5069)];
        yield 'a port before' => [false, $rule, self::rule(port: '5059/udp')];
        yield 'a port behind' => [false, $rule, self::rule(last: 5070)];
        yield 'another transport' => [false, $rule, self::rule(port: '5060/tcp')];
        yield 'another router' => [false, $rule, self::rule(router: 'q')];
        yield 'from another segment' => [false, $rule, self::rule(segment: 'u')];
        yield 'to another segment' => [false, $rule, self::rule(toSegment: 'u')];
    }
}
