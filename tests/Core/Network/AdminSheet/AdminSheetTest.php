<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Network\AdminSheet;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Network\AdminSheet\AdminAnswer;
use Vorhut\Core\Network\AdminSheet\AdminQuestion;
use Vorhut\Core\Network\AdminSheet\AdminSheet;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Wire\Dhcp\Option;
use Vorhut\Tests\Support\Jobs;

/** The administrator is asked for what is missing and nothing else, and his answers are held against what is known. */
final class AdminSheetTest extends TestCase
{
    private static function jobs(): Jobs
    {
        $jobs = (new Jobs())
            ->segment('v', '10.64.20.0/24', '10.64.20.1', ['vlan' => 20, 'voice' => true])
            ->segment('q', '10.64.40.0/24', null)
            ->router('r', ['v' => '10.64.20.1/24', 'q' => '10.64.40.1/24'])
            ->device('pbx', 'on-site-pbx', 'v', ['address' => '10.64.20.10'])
            ->device('cam', 'ptz-camera', 'q', ['address' => '10.64.40.31']);
        $jobs->job += ['domain' => 'av.example'];

        return $jobs;
    }

    /** @return list<string> */
    private static function codes(Plan $plan): array
    {
        return array_map(static fn (AdminQuestion $one): string => $one->code(), AdminSheet::of($plan)->questions);
    }

    public function testOnlyWhatIsMissingIsAsked(): void
    {
        self::assertSame([
            'job/:dns', 'job/:ntp', 'segments/v:dns', 'segments/q:gateway', 'segments/q:vlan', 'segments/q:dns',
        ], self::codes(self::jobs()->plan()));
        $answered = self::jobs();
        $answered->job += ['dns' => '10.64.20.53', 'ntp' => '10.64.20.1'];
        $answered->change('segments', 'q', 'vlan', 40)->change('segments', 'q', 'gateway', '10.64.40.1');
        self::assertSame([], self::codes($answered->plan()));
    }

    public function testDhcpIsAskedForOnlyWhereADeviceWaitsForIt(): void
    {
        $jobs = self::jobs()->change('nics', 'cam.lan', 'mode', 'reserved');
        self::assertContains('segments/q:dhcp', self::codes($jobs->plan()));
        self::assertNotContains('segments/v:dhcp', self::codes($jobs->plan()));
        $sheet = AdminSheet::of($jobs->change('nics', 'cam.lan', 'mac', '00-00-5E-00-53-31')->plan());
        self::assertSame([['CAM', '00-00-5E-00-53-31', '10.64.40.31']], array_map(
            static fn (array $one): array => [$one['device'], $one['mac'], $one['address']],
            $sheet->reservations,
        ));
        self::assertSame([15], array_map(static fn (Option $one): int => $one->code, $sheet->options[0]['options']));
    }

    public function testTheTableComesBackByItsCodes(): void
    {
        $sheet = AdminSheet::of(self::jobs()->plan());
        foreach ($sheet->rows() as $row) {
            self::assertSame($row['about'], $sheet->question($row['code'])?->for);
        }
        self::assertNull($sheet->question('segments/q:name'));
    }

    /** @return iterable<string, array{string, string, list<string>}> question, answer → what makes one look twice */
    public static function answers(): iterable
    {
        yield 'the router of the plan' => ['segments/q:gateway', '10.64.40.1', []];
        yield 'a digit too many' => ['segments/q:gateway', '10.64.40.10', [
            'The plan has the router of this segment at 10.64.40.1.',
        ]];
        yield 'an address of a device' => ['segments/q:gateway', '10.64.40.31', [
            'The plan has the router of this segment at 10.64.40.1.',
            '10.64.40.31 and 10.64.40.1: one digit too many.',
            'CAM has this address.',
        ]];
        yield 'a VLAN that is free' => ['segments/q:vlan', '40', []];
        yield 'a VLAN that is taken' => ['segments/q:vlan', '20', ['V has VLAN 20 already.']];
        yield 'a server outside' => ['job/:dns', '192.0.2.53', []];
        yield 'a server that nobody is' => ['job/:dns', '10.64.20.53', ['No device of this job holds 10.64.20.53 on V.']];
    }

    /** @param list<string> $odd */
    #[DataProvider('answers')]
    public function testAnAnswerIsHeldAgainstThePlan(string $code, string $text, array $odd): void
    {
        $plan = self::jobs()->plan();
        $question = AdminSheet::of($plan)->question($code) ?? self::fail('That is not asked.');
        $answer = AdminAnswer::read($plan, $question, $text);
        $texts = array_map(static fn (Message $one): string => (string) $one, $answer->odd);
        self::assertSame($odd, \array_slice($texts, 0, \count($odd)));
        self::assertSame([] === $odd, [] === $texts);
        self::assertSame([$question->section, $question->field], [$answer->edit->section, $answer->edit->field]);
    }

    /** @return iterable<array{string, string}> */
    public static function refused(): iterable
    {
        yield ['segments/q:gateway', '10.64.400.1'];
        yield ['segments/q:gateway', '10.64.41.1'];
        yield ['segments/q:gateway', '10.64.40.255'];
        yield ['segments/q:vlan', '4095'];
        yield ['segments/q:vlan', ''];
        yield ['job/:dns', ' '];
    }

    #[DataProvider('refused')]
    public function testWhatCannotBeIsRefused(string $code, string $text): void
    {
        $plan = self::jobs()->plan();
        $this->expectException(Malformed::class);
        AdminAnswer::read($plan, AdminSheet::of($plan)->question($code) ?? self::fail('That is not asked.'), $text);
    }
}
