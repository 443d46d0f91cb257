<?php

declare(strict_types=1);

namespace Vorhut\Tests\Web;

use PHPUnit\Framework\TestCase;
use Vorhut\Web\Frame\Fragments;

final class FragmentsTest extends TestCase
{
    private static function page(string $head, string $first, string $second, string $token = 'abc'): Fragments
    {
        return Fragments::of(
            '<!--[pulse]--><i id="pulse" data-parts="%parts%"></i><!--/--><h1>'.$head.'</h1><table>'
                .'<!--[row-a.1]--><tr id="row-a.1"><td>'.$first.'<input name="_token" value="'.$token.'"></td></tr><!--/-->'
                .'<!--[row-b]--><tr id="row-b"><td>'.$second.'</td></tr><!--/--></table>',
        );
    }

    public function testOnlyWhatDiffersIsSentAndTheNewStampWithIt(): void
    {
        $before = self::page('Roster', 'A', 'B');
        $after = self::page('Roster', 'A', 'C', 'anew');
        $sent = (string) $after->since($before->stamp(), 'pulse');
        self::assertStringContainsString(
            '<hx-partial hx-target="[id=\'row-b\']" hx-swap="outerMorph"><tr id="row-b"><td>C</td></tr></hx-partial>',
            $sent,
        );
        self::assertStringContainsString('data-parts="'.$after->stamp().'"', $sent);
        self::assertStringNotContainsString('row-a', $sent, 'a token is masked anew, which is no change');
        self::assertStringContainsString($before->stamp(), $before->page());
    }

    public function testThePageIsNeededWhereAnythingAroundIsAnotherOrAPartCameOrWent(): void
    {
        $stamp = self::page('Roster', 'A', 'B')->stamp();
        self::assertNull(self::page('Roster of 2', 'A', 'B')->since($stamp, 'pulse'));
        self::assertNull(Fragments::of('<!--[pulse]--><i id="pulse"></i><!--/-->')->since($stamp, 'pulse'));
        self::assertNull(Fragments::of('')->since($stamp, 'pulse'));
        self::assertNull(self::page('Roster', 'A', 'B')->since('%parts%', 'pulse'));
        self::assertNull(self::page('Roster', 'A', 'B')->since('', 'pulse'));
    }
}
