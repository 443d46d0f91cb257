<?php

declare(strict_types=1);

namespace Vorhut\Tests\Lab;

use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Voice\FileShape;
use Vorhut\Core\Voice\ProvisioningFile;
use Vorhut\Lab\FetchedFile;
use Vorhut\Provisioning\Files;
use Vorhut\Tests\Support\Jobs;

/** A phone reads what the plan says, in each shape, whatever stands in it: a name is a name and never a setting of its own. */
final class FetchedFileTest extends TestCase
{
    private static function plan(string $kind, string $name): Plan
    {
        $jobs = (new Jobs())->segment('v', '10.64.20.0/24')->device('pbx', 'on-site-pbx', 'v', ['address' => '10.64.20.10']);
        $jobs->job += ['timeZone' => 'Europe/Oslo', 'language' => 'en'];

        return $jobs->device('p', $kind, 'v', ['address' => '10.64.20.31'], ['mac' => '00-00-5E-00-53-01'])
            ->number('2101', 'p', '00-00-5E-00-53-01', ['name' => $name])->plan();
    }

    #[TestWith(['desk-phone-poe', 'xml'])]
    #[TestWith(['conference-phone', 'json'])]
    #[TestWith(['analogue-adapter', 'ini'])]
    public function testWhatIsWrittenIsReadAgain(string $kind, string $shape): void
    {
        $files = new Files(\dirname(__DIR__, 2));
        $names = ['Gate 1', 'Ærøskøbing "Nord" & <Sør>', 'back\\slash', "two\nlines", 'a=b;c#d', '${HOME} {{ 7 * 7 }}', "it's"];
        foreach ($names as $name) {
            $plan = self::plan($kind, $name);
            self::assertSame($shape, $files->shape($plan->devices['p']->kind));
            $body = $files->render(ProvisioningFile::of($plan, $plan->devices['p'], 's"e\\c', 'pa<ss'));
            self::assertSame($shape, FileShape::ofBody($body)->value);
            $read = FetchedFile::tryFromBody($body) ?? self::fail($body);
            self::assertSame('ini' === $shape ? strtr($name, ["\n" => ' ']) : $name, $read->says('account', 'name'));
            self::assertSame(['s"e\\c', 'pa<ss', '2101', '10.64.20.10', 'Europe/Oslo'], [
                $read->says('account', 'secret'),
                $read->says('admin', 'password'),
                $read->says('account', 'user'),
                $read->says('registrar', 'address'),
                $read->says('time', 'zone'),
            ]);
            self::assertSame(['', ''], [$read->says('provisioning', 'user'), $read->says('time', 'server')]);
        }
    }

    /** Nothing of a secret is left, whatever ends a value in that shape. */
    #[TestWith(['desk-phone-poe'])]
    #[TestWith(['conference-phone'])]
    #[TestWith(['analogue-adapter'])]
    public function testWhoOnlyLooksSeesNoSecret(string $kind): void
    {
        $plan = self::plan($kind, 'Gate 1');
        foreach (['plain7', 'one7"two7', 'one7\\"two7', 'one7\\two7\\', '"two7"', 'a=b;two7'] as $secret) {
            $body = (new Files(\dirname(__DIR__, 2)))->render(ProvisioningFile::of($plan, $plan->devices['p'], $secret, $secret));
            $masked = FileShape::mask($body);
            self::assertStringNotContainsString('7', preg_replace('/\b[0-9.:-]+\b/', '', $masked) ?? '', $secret);
            self::assertSame(2, substr_count($masked, '"······"'), $masked);
            self::assertStringContainsString('Gate 1', $masked);
        }
    }

    #[TestWith([''])]
    #[TestWith(['<phone'])]
    #[TestWith(['{"phone":'])]
    #[TestWith(['[phone'])]
    public function testWhatIsNoFileIsNone(string $body): void
    {
        self::assertNull(FetchedFile::tryFromBody($body));
    }
}
