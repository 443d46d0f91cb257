<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Finding;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Analysis\Findings;
use Vorhut\Core\Analysis\Questions;
use Vorhut\Core\Analysis\ShippedRules;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Tests\Support\Jobs;

/** What is right, or only not done yet, is no finding: a program that cries wolf is switched off. */
final class SilenceTest extends TestCase
{
    private static function job(): Jobs
    {
        $jobs = (new Jobs())
            ->segment('s', '10.64.30.0/24', '10.64.30.1', ['pools' => ['10.64.30.100-10.64.30.149']])
            ->segment('island', '10.64.99.0/24')
            ->router('r', ['s' => '10.64.30.1/24']);
        $jobs->job += [
            'timeZone' => 'Europe/Oslo',
            'extensionFirst' => '2100',
            'extensionLast' => '2199',
            'emergencyNumbers' => ['112'],
            'featureCodes' => ['*97'],
            'outsideDigit' => '0',
        ];

        return $jobs;
    }

    /** @return iterable<string, array{Jobs}> */
    public static function right(): iterable
    {
        $laptop = self::job()
            ->device('l', 'laptop', 's', ['address' => '10.64.30.50', 'address.set' => '192.168.1.20', 'mask.set' => '/24'])
            ->device('c', 'ptz-camera', 's', ['address' => '10.64.30.31']);
        $laptop->job['laptop'] = 'l';
        yield 'the laptop is where the stop wants it' => [$laptop];
        $pools = ['10.64.31.100-109', '10.64.31.110-119'];
        $two = self::job()->segment('t', '10.64.31.0/24', '10.64.31.1', ['dns' => '10.64.30.54', 'pools' => $pools])
            ->segment('u', '10.64.32.0/24', '10.64.32.1', ['dns' => '10.64.30.53']);
        $two->job['dns'] = '10.64.30.53';
        yield 'two DNS servers side by side, pools one behind the other' => [$two];
        yield 'two of one address, one after the other' => [
            self::job()
                ->device('c', 'ptz-camera', 's', ['address' => '10.64.30.31'])
                ->device('d', 'ptz-camera', 's', ['address' => '10.64.30.32'])
                ->done('c', 'hook-up', 'address')
                ->done('d', 'hook-up'),
        ];
        yield 'no gateway where nothing is routed' => [
            self::job()->device('c', 'ptz-camera', 'island', ['address' => '10.64.99.31', 'gateway' => '']),
        ];
        yield 'a reservation inside the pool' => [self::job()->device('p', 'desk-phone-poe', 's', ['address' => '10.64.30.120'])];
        yield 'in its box, all unknown' => [self::job()->device('c', 'ptz-camera', 's')->device('p', 'desk-phone-poe', null)];
        yield 'a phone that was not provisioned yet' => [
            self::job()
                ->device('pbx', 'on-site-pbx', 's', ['address' => '10.64.30.10'])
                ->device('p', 'desk-phone-poe', 's', ['address' => '10.64.30.31'])
                ->number('2101', 'p', null, ['voicemail' => true, 'location' => 'Hall']),
        ];
        yield 'an analogue extension on a fitted port' => [
            self::job()
                ->device('pbx', 'on-site-pbx', 's', ['address' => '10.64.30.10', 'analoguePorts' => '2'])
                ->row('extensions', ['key' => 'x', 'number' => '2150', 'pbx' => 'pbx', 'terminal' => 'analogue', 'location' => 'Lift']),
        ];
        yield 'a gateway outside the job that a router of the job uses' => [
            self::job()->device('v', 'media-server', 's', ['address' => '10.64.30.20', 'gateway' => '10.64.30.2'])
                ->row('routes', ['key' => 'up', 'router' => 'r', 'destination' => '0.0.0.0/0', 'via' => '10.64.30.2']),
        ];
        yield 'a second port without a gateway' => [
            self::job()
                ->segment('t', '10.64.31.0/24', '10.64.31.1')
                ->device('v', 'media-server', 's', ['address' => '10.64.30.20'])
                ->port('v', 'nic2', 't', ['address' => '10.64.31.20']),
        ];
        yield 'no router here, and said so' => [
            (new Jobs())
                ->segment('s', '10.64.30.0/24', 'none')
                ->device('c', 'ptz-camera', 's', ['address' => '10.64.30.31', 'gateway.set' => '']),
        ];
        yield 'set, seen and planned agree' => [
            self::job()->device('c', 'ptz-camera', 's', [
                'address' => '10.64.30.31',
                'address.seen' => '10.64.30.31',
                'gateway.seen' => '10.64.30.1',
            ]),
        ];
        yield 'two devices without a host name' => [
            self::job()
                ->device('c', 'ptz-camera', 's', ['address' => '10.64.30.31'])
                ->device('d', 'ptz-camera', 's', ['address' => '10.64.30.32']),
        ];
        yield 'a laptop without a gateway' => [
            self::job()->device('l', 'laptop', 's', ['address' => '10.64.30.50', 'gateway' => '']),
        ];
        yield 'a number that only begins like a code' => [
            self::job()->row('extensions', ['key' => 'x', 'number' => '2112', 'terminal' => 'none']),
        ];
    }

    #[DataProvider('right')]
    public function testItIsQuiet(Jobs $jobs): void
    {
        self::assertSame(
            [],
            array_map(
                static fn (Finding $finding): string => $finding->key().': '.$finding->what,
                Findings::of($jobs->plan(), ShippedRules::all())->all,
            ),
        );
    }

    public function testTheHeaviestComeFirstThenTheOrderOfTheWork(): void
    {
        $jobs = self::job()
            ->device('c', 'ptz-camera', 's', ['address' => '10.64.30.120', 'hostName' => 'x'])
            ->device('d', 'ptz-camera', 's', ['address' => '10.64.30.32', 'hostName' => 'x', 'gateway' => ''])
            ->row('extensions', ['key' => 'y', 'number' => '1001', 'terminal' => 'none', 'factoryMade' => true]);
        $findings = Findings::of($jobs->plan(), ShippedRules::all());

        self::assertSame(
            [Severity::Blocks, Severity::Risk, Severity::Risk, Severity::Risk],
            array_map(static fn (Finding $finding): Severity => $finding->severity, $findings->all),
        );
        self::assertSame(
            [Stage::Networks, Stage::Devices, Stage::Devices, Stage::Services],
            array_map(static fn (Finding $finding): Stage => $finding->stage, $findings->all),
        );
        self::assertTrue($findings->block());
        self::assertSame(
            ['duplicate-host-name', 'static-inside-pool'],
            array_map(static fn (Finding $finding): string => $finding->code, $findings->about('devices/c')),
        );
        self::assertCount(2, $findings->at(Stage::Devices));
    }

    public function testOnlyWhatBlocksBlocks(): void
    {
        $blocks = static fn (Jobs $jobs): bool => Findings::of($jobs->plan(), ShippedRules::all())->block();
        self::assertFalse($blocks(self::job()));
        $risk = self::job()->device('c', 'ptz-camera', 's', ['address' => '10.64.30.120']);
        self::assertNotSame([], Findings::of($risk->plan(), ShippedRules::all())->all);
        self::assertFalse($blocks($risk), 'a static address inside the pool is a risk');
        self::assertTrue($blocks(self::job()->device('c', 'ptz-camera', 's', ['address' => '10.64.30.31', 'gateway' => ''])));
    }

    public function testRoutersAndLaptopsAreAskedForNoLabel(): void
    {
        $texts = array_map(
            static fn (array $one): string => (string) $one['text'],
            Questions::of(self::job()->device('l', 'laptop', null)->device('c', 'ptz-camera', null)->plan())->open,
        );
        self::assertContains('Which MAC is printed on the label of C?', $texts);
        self::assertSame([], preg_grep('/ (L|R)( live)?\?$/', $texts));
    }

    public function testEveryRuleHasItsOwnFileAndSaysWhatItIsFor(): void
    {
        self::assertGreaterThanOrEqual(20, \count(ShippedRules::all()));
        foreach (ShippedRules::all() as $rule) {
            $docblock = (string) (new \ReflectionClass($rule))->getDocComment();
            self::assertMatchesRegularExpression('~^/\*\*\s+(?:\* )?[A-Z].{20,}\.\s+\*/$~s', $docblock);
        }
    }

    public function testOpenQuestionsAreWhatIsMissingAndGoAwayWithTheAnswer(): void
    {
        $jobs = self::job()->device('p', 'desk-phone-poe', null);
        $texts = array_map(static fn (array $one): string => $one['ask'].': '.$one['text'], Questions::of($jobs->plan())->open);
        self::assertContains('administrator: Which gateway does ISLAND have, or is it not routed?', $texts);
        self::assertContains('bench: Which MAC is printed on the label of P?', $texts);
        self::assertContains('administrator: In which segment is P?', $texts);
        self::assertNotContains('customer: Which range do the extensions come from?', $texts);
        $jobs->job += ['language' => 'en'];
        self::assertCount(\count($texts) - 1, Questions::of($jobs->plan())->open);
        self::assertGreaterThan(0.1, Questions::of($jobs->plan())->answeredShare());
    }

    public function testThatThereIsNoneIsAnAnswer(): void
    {
        $jobs = (new Jobs())->segment('s', '10.64.30.0/24', '10.64.30.1')->device('c', 'ptz-camera', 's', ['address' => '10.64.30.31']);
        $asked = static fn (): array => array_values(array_intersect(
            ['job/ntp', 'job/dns', 'segments/s'],
            array_column(Questions::of($jobs->plan())->open, 'record'),
        ));
        $value = static fn (string $name): ?string => $jobs->plan()->devices['c']->setting($name)->planned
            ?? $jobs->plan()->nics['c.lan']->setting($name)->planned;
        self::assertSame(['job/ntp', 'job/dns', 'segments/s'], $asked());
        $jobs->fact('ntp', 'none')->fact('dns', 'none')->change('segments', 's', 'vlan', 0);
        self::assertSame([], $asked());
        self::assertSame(['', ''], [$value('timeServer'), $value('dns')], 'left blank on the run sheet');
        $jobs->fact('dns', '10.64.30.5');
        self::assertSame('10.64.30.5', $value('dns'));
        $jobs->change('segments', 's', 'dns', 'none');
        self::assertSame('', $value('dns'), 'a segment without one does not use that of the job');
        self::assertNull($jobs->plan()->segments['s']->dnsServer($jobs->plan()->job));
    }
}
