<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Plan;

use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Analysis\Findings;
use Vorhut\Core\Analysis\Questions;
use Vorhut\Core\Analysis\ShippedRules;
use Vorhut\Core\Catalogue\Country;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Plan;
use Vorhut\Tests\Support\Jobs;

/** Mains and emergency numbers follow the country of the site, and are unknown where it is. */
final class CountryTest extends TestCase
{
    private static function plan(string $country): Plan
    {
        $jobs = (new Jobs())->segment('s', '10.64.20.0/24', '10.64.20.1')
            ->device('c', 'ptz-camera', 's', ['address' => '10.64.20.20'])
            ->device('pbx', 'on-site-pbx', 's', ['address' => '10.64.20.10'])
            ->device('p', 'desk-phone-poe', 's', ['address' => '10.64.20.31'], ['mac' => '00-00-5E-00-53-01'])
            ->number('2101', 'p', '00-00-5E-00-53-01');
        $jobs->job['country'] = $country;
        $jobs->job['outsideDigit'] = '9';

        return $jobs->plan();
    }

    /**
     * @param list<string> $numbers
     */
    #[TestWith(['US', '60', '30', 120, ['911']])]
    #[TestWith(['us ', '60', '30', 120, ['911']])]
    #[TestWith(['United States', '60', '30', 120, ['911']])]
    #[TestWith(['NO', '50', '25', 230, ['110', '112', '113']])]
    #[TestWith(['BR', '60', '30', null, ['190', '192', '193']])]
    #[TestWith(['JP', null, null, 100, ['110', '119']])]
    #[TestWith(['Atlantis', null, null, null, []])]
    #[TestWith(['', null, null, null, []])]
    public function testWhatTheCountryDecides(string $country, ?string $hertz, ?string $fps, ?int $volts, array $numbers): void
    {
        $plan = self::plan($country);
        $camera = $plan->devices['c'];
        self::assertSame([$hertz, $fps, $volts, $numbers], [
            $camera->setting('mainsFrequency')->planned,
            $camera->setting('frameRate')->planned,
            $plan->country()?->volts,
            $plan->emergencyNumbers()->numbers,
        ]);
    }

    #[TestWith(['US', '9911', '911'])]
    #[TestWith(['US', '911', '911'])]
    #[TestWith(['US', '112', '112'])]
    #[TestWith(['US', '999', null])]
    #[TestWith(['GB', '999', '999'])]
    #[TestWith(['', '9911', '911'])]
    #[TestWith(['', '000', '000'])]
    #[TestWith(['', '2101', null])]
    public function testWhichDigitsAreNeverDialled(string $country, string $digits, ?string $meant): void
    {
        self::assertSame($meant, self::plan($country)->emergencyNumbers()->match($digits));
    }

    public function testDigitByDigitAnEmergencyNumberIsReachedOnTheWay(): void
    {
        $numbers = self::plan('US')->emergencyNumbers();
        self::assertSame([true, true, false], [
            $numbers->isMeantOnTheWay('99115'),
            $numbers->isMeantOnTheWay('911'),
            $numbers->isMeantOnTheWay('9021234'),
        ]);
        self::assertSame(['911', '9911'], $numbers->neverDialled());
        self::assertContains('9000', self::plan('')->emergencyNumbers()->neverDialled());
    }

    #[TestWith(['', true])]
    #[TestWith(['NO', false])]
    public function testWhereItIsUnknownItIsAskedAndBlocks(string $country, bool $asked): void
    {
        $plan = self::plan($country);
        $codes = array_map(static fn (Finding $one): string => $one->code, Findings::of($plan, ShippedRules::all())->all);
        self::assertSame($asked, \in_array('emergency-numbers-unknown', $codes, true));
        $open = array_column(Questions::of($plan)->open, 'record');
        self::assertSame([$asked, $asked], [\in_array('job/country', $open, true), \in_array('job/emergencyNumbers', $open, true)]);
    }

    public function testEveryValueHasItsSource(): void
    {
        self::assertGreaterThan(200, \count(Jobs::catalogue()->countries->all()));
        foreach (Jobs::catalogue()->countries->all() as $code => $country) {
            self::assertMatchesRegularExpression('/^[A-Z]{2}$/', $code);
            self::assertContains($country->hertz, [null, 50, 60]);
            self::assertTrue(null === $country->volts || ($country->volts >= 100 && $country->volts <= 240));
        }
        $this->expectException(Malformed::class);
        Country::fromArray('XX', ['name' => 'Nowhere', 'hertz' => 50]);
    }
}
