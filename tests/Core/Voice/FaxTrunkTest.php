<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Voice;

use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Voice\TrunkWay;
use Vorhut\Tests\Support\Jobs;

/** Whether a fax server takes what its PBX sends it. */
final class FaxTrunkTest extends TestCase
{
    /** @param array<string, string> $fax */
    private static function way(array $fax, string $sentIn = 'To', string $user = ''): TrunkWay
    {
        $plan = (new Jobs())->segment('s', '10.64.20.0/24', '10.64.20.1')
            ->device('pbx', 'on-site-pbx', 's', ['address' => '10.64.20.10', 'faxCalledIn' => $sentIn])
            ->device('fx', 'fax-server', 's', $fax + ['address' => '10.64.20.40'])
            ->row('trunks', [
                'pbx' => 'pbx', 'key' => 'fax', 'name' => 'Fax', 'far' => 'fx', 'transport' => 'udp', 'user' => $user,
            ])->plan();

        return TrunkWay::of(NetworkModel::of($plan, Face::Planned), $plan->trunks['fax']);
    }

    public function testItTakesCallsOfItsGatewayOnly(): void
    {
        self::assertSame([null, null], [self::way([])->outward, self::way([])->inward], 'what nobody wrote down refuses nobody');
        $right = self::way(['gatewayHost' => '10.64.20.10']);
        self::assertSame([null, null], [$right->outward, $right->inward]);
        $wrong = self::way(['gatewayHost' => '10.64.20.1']);
        self::assertSame('FX takes calls from 10.64.20.1 only, which is not PBX.', (string) $wrong->outward);
        self::assertSame((string) $wrong->outward, (string) $wrong->inward);
        self::assertContains('devices/fx:gatewayHost=10.64.20.1', $wrong->facts->texts());
    }

    #[TestWith(['To', 'To', '', true])]
    #[TestWith(['Diversion', 'Diversion', '', true])]
    #[TestWith(['Diversion', 'To', '', false])]
    #[TestWith(['History-Info', 'Diversion', '2901', false])]
    #[TestWith(['To', 'Diversion', '', false])]
    #[TestWith(['To', 'Diversion', '2901', true])]
    public function testItReadsTheCalledNumberWhereThePbxSendsIt(string $reads, string $sent, string $user, bool $comes): void
    {
        $way = self::way(['calledFrom' => $reads], $sent, $user);
        self::assertSame($comes, null === $way->outward, (string) $way->outward);
        self::assertNull($way->inward, 'what it sends itself does not depend on it');
    }
}
