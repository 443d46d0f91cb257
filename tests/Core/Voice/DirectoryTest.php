<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Voice;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Voice\Directory;
use Vorhut\Tests\Support\Jobs;

final class DirectoryTest extends TestCase
{
    private static function jobs(): Jobs
    {
        return (new Jobs())->segment('s', '10.64.30.0/24', '10.64.30.1')
            ->device('b', 'room-codec', 's', ['address' => '10.64.30.12'], ['room' => 'Hall, north; 2nd'])
            ->device('a', 'room-codec', 's', ['address' => '10.64.30.11', 'address.set' => '10.64.30.21'])
            ->device('c', 'room-codec', 's')
            ->device('p', 'ptz-camera', 's', ['address' => '10.64.30.31']);
    }

    public function testEverySystemListsAllOthersThatHaveAnAddressByWhatTheyHold(): void
    {
        $plan = self::jobs()->plan();
        self::assertSame(
            [['10.64.30.12', '10.64.30.21'], ['10.64.30.21'], ['10.64.30.12']],
            array_map(static fn (Directory $one): array => array_reverse(array_column($one->entries, 'address')), [
                Directory::of($plan, $plan->devices['c']),
                Directory::of($plan, $plan->devices['b']),
                Directory::of($plan, $plan->devices['a']),
            ]),
        );
        self::assertCount(3, Directory::all($plan));
        self::assertSame('2', $plan->devices['a']->setting('directoryEntries')->planned, 'as many entries are wanted');
    }

    public function testALineOf75OctetsIsWholeAndOneOf76IsNot(): void
    {
        foreach ([70 => false, 71 => true] as $letters => $isFolded) {
            $plan = (new Jobs())->segment('s', '10.64.30.0/24', '10.64.30.1')->device('a', 'room-codec', 's', ['address' => '10.64.30.11'])
                ->device('b', 'room-codec', 's', ['address' => '10.64.30.12'], ['room' => str_repeat('r', $letters)])->plan();
            $card = Directory::of($plan, $plan->devices['a'])->vCard();
            $line = 'FN:B '.str_repeat('r', 70)."\r\n";
            self::assertSame([true, $isFolded], [str_contains($card, $line), str_contains($card, $line." r\r\n")], (string) $letters);
        }
    }

    public function testOneThatIsAloneHasNobodyToList(): void
    {
        $plan = (new Jobs())->segment('s', '10.64.30.0/24')->device('a', 'room-codec', 's', ['address' => '10.64.30.11'])->plan();
        self::assertSame('0', $plan->devices['a']->setting('directoryEntries')->planned);
    }

    public function testARecordIsWrittenAsRfc2849Says(): void
    {
        $plan = self::jobs()->plan();
        self::assertSame(<<<'END'
            version: 1

            dn: cn=B Hall\, north\; 2nd
            objectClass: top
            objectClass: device
            objectClass: labeledURIObject
            cn: B Hall, north; 2nd
            l: Hall, north; 2nd
            description: 10.64.30.12
            labeledURI: sip:10.64.30.12

            END, Directory::of($plan, $plan->devices['a'])->ldif());
        $long = self::jobs()->device('l', 'room-codec', 's', ['address' => '10.64.30.13'], ['room' => str_repeat('å', 60)])->plan();
        $ldif = Directory::of($long, $long->devices['a'])->ldif();
        self::assertLessThanOrEqual(76, max(array_map(strlen(...), explode("\n", $ldif))));
        $whole = str_replace("\n ", '', $ldif);
        self::assertStringContainsString('cn:: '.base64_encode('L '.str_repeat('å', 60))."\n", $whole, 'no safe string');
        self::assertStringContainsString("\n\ndn", $whole);
    }

    public function testACardIsWrittenAsRfc6350Says(): void
    {
        $plan = self::jobs()->plan();
        $card = Directory::of($plan, $plan->devices['a'])->vCard();
        self::assertStringStartsWith("BEGIN:VCARD\r\nVERSION:4.0\r\n", $card);
        self::assertStringContainsString("FN:B Hall\, north\; 2nd\r\n", $card);
        self::assertStringContainsString("IMPP;PREF=1:sip:10.64.30.12\r\n", $card);
        $long = self::jobs()->device('l', 'room-codec', 's', ['address' => '10.64.30.13'], ['room' => str_repeat('å', 60)])->plan();
        foreach (explode("\r\n", Directory::of($long, $long->devices['a'])->vCard()) as $line) {
            self::assertLessThanOrEqual(75, \strlen($line));
            self::assertTrue(mb_check_encoding($line, 'UTF-8'), 'never folded within a letter');
        }
        self::assertStringContainsString(
            str_repeat('å', 60),
            str_replace("\r\n ", '', Directory::of($long, $long->devices['a'])->vCard()),
        );
    }
}
