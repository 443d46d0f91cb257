<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Document;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Document\NumbersPaste;
use Vorhut\Core\Document\Schedules;
use Vorhut\Core\Plan\Plan;
use Vorhut\Exchange\Spreadsheet;
use Vorhut\Tests\Support\Jobs;

final class NumbersPasteTest extends TestCase
{
    private static function plan(): Plan
    {
        $jobs = (new Jobs())->segment('v', '10.64.20.0/24')->device('pbx', 'on-site-pbx', 'v', ['address' => '10.64.20.10']);
        $jobs->job += ['extensionFirst' => '2100', 'extensionLast' => '2199'];
        foreach (['2101', '2102'] as $i => $number) {
            $jobs->device('ph-0'.$i, 'desk-phone-poe', 'v', ['address' => '10.64.20.3'.$i], ['mac' => '00-00-5E-00-53-0'.$i]);
        }

        return $jobs->number('2101', 'ph-00', null, ['name' => 'Gate', 'location' => 'Gate 1'])->plan();
    }

    public function testEachRowHasItsFateAndTheGoodOnesAreTaken(): void
    {
        $paste = NumbersPaste::of(self::plan(), "2110,Tower,PH-01,tower@site.example,\"Tower, top\"\n2101,Gate 1\n2101,twice\n2101x,bad\n"
            ."2199,Nobody,PH-77\n2300,Outside\n2102,Lift,,lift,\n", 'pbx');
        self::assertSame(
            ['new', 'changed', 'refused', 'refused', 'refused', 'refused', 'refused'],
            array_column($paste->rows, 'fate'),
        );
        $whys = array_map(static fn (array $row): string => (string) $row['why'], $paste->rows);
        self::assertStringContainsString('twice', $whys[2]);
        self::assertStringContainsString('only digits', $whys[3]);
        self::assertStringContainsString('no device "PH-77"', $whys[4]);
        self::assertStringContainsString('outside the range', $whys[5]);
        self::assertStringContainsString('not a mail address', $whys[6]);
        $after = self::plan()->with($paste->change());
        $new = $after->extensionNumbered('2110') ?? self::fail('it is there');
        self::assertSame(
            ['Tower', 'ph-01', 'sip', 'Tower, top', 'tower@site.example', 'pbx'],
            [$new->name, $new->phone, $new->terminal, $new->location, $new->mail, $new->pbx],
        );
        self::assertSame('2110', $after->accountOf($new->key)?->user, 'with an account, and no entry that nobody made');
        self::assertNull($after->accountOf($new->key)->macEntered);
        self::assertSame(['Gate 1', 'Gate 1'], [$after->extensions['x2101']->name, $after->extensions['x2101']->location]);
        self::assertSame("2101,twice\n2101x,bad\n2199,Nobody,PH-77\n2300,Outside\n2102,Lift,,lift,", $paste->refusedText());
        self::assertSame('2 numbers pasted.', (string) $paste->change()->why);
    }

    public function testSeveralDevicesBehindOneNumberAllRing(): void
    {
        $plan = self::plan();
        $after = $plan->with(NumbersPaste::of($plan, "2110,Desk,PH-00 + PH-01\n2101,Gate,PH-00 + PH-01 + PH-00", 'pbx')->change());
        foreach (['2110', '2101'] as $number) {
            $one = $after->extensionNumbered($number) ?? self::fail('it is there');
            self::assertSame(['ph-00', 'ph-01'], $after->ringing($one), $number);
            self::assertNull($after->terminalsOf($one->key)[0]->macEntered, 'nobody has entered it yet');
        }
        $again = NumbersPaste::of($after, '2101,Gate,PH-00 + PH-01', 'pbx');
        self::assertSame(['same'], array_column($again->rows, 'fate'), 'whoever rings already is not joined twice');
    }

    public function testHeadingsOrderTheColumnsAndBringAnyField(): void
    {
        $plan = self::plan();
        $paste = NumbersPaste::of($plan, "Permission;Number;Caller id;Voicemail\nnational;2101;+47 21 00 00 00;yes", '');
        $one = $plan->with($paste->change())->extensions['x2101'];
        self::assertSame(['national', '+4721000000', true], [$one->permission, $one->callerId, $one->voicemail]);
        $odd = NumbersPaste::of($plan, "number,colour\n2101,red\n2102,", 'pbx');
        self::assertSame(['refused', 'new'], array_column($odd->rows, 'fate'));
        self::assertStringContainsString('What does "red" mean?', (string) $odd->rows[0]['why']);
        self::assertSame("number,colour\n2101,red", $odd->refusedText());
        self::assertSame(['refused'], array_column(NumbersPaste::of($plan, '2102', '')->rows, 'fate'), 'at which PBX');
    }

    public function testTheScheduleOfNumbersIsOneSuchTable(): void
    {
        $paste = NumbersPaste::of(self::plan(), Spreadsheet::csv(Schedules::numbers(self::plan())), 'pbx');
        self::assertSame(['same'], array_column($paste->rows, 'fate'), (string) ($paste->rows[0]['why'] ?? ''));
        self::assertTrue($paste->change()->isEmpty());
    }
}
