<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Proof;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Catalogue\HandTest;
use Vorhut\Core\Catalogue\Reading;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Proof\Answer;
use Vorhut\Core\Proof\Outcome;

final class AnswerTest extends TestCase
{
    /** @param array<string, mixed> $more */
    private static function question(array $more = []): HandTest
    {
        $data = ['code' => 'q', 'ask' => 'Does it?', 'covers' => 'It.', 'facts' => ['address']] + $more;

        return HandTest::read(new Reading($data, 'kind x'));
    }

    public function testYesOrNoAndWithANoTheReason(): void
    {
        $yes = Answer::of(self::question(), 'yes');
        self::assertSame([Outcome::Affirmed, 'yes'], [$yes->outcome, (string) $yes->detail]);
        self::assertSame('yes: All of it.', (string) Answer::of(self::question(), 'yes', note: 'All of it.')->detail);
        $no = Answer::of(self::question(), 'no', note: ' It hums. ');
        self::assertSame([Outcome::Denied, 'no: It hums.'], [$no->outcome, (string) $no->detail]);
        foreach ([['no', ''], ['perhaps', ''], ['', 'x'], ['yes', str_repeat('x', 501)]] as [$word, $note]) {
            try {
                Answer::of(self::question(), $word, note: $note);
                self::fail("$word was taken");
            } catch (Malformed $e) {
                self::assertNotSame('', $e->getMessage());
            }
        }
        self::assertSame(Outcome::Affirmed, Answer::of(self::question(), 'yes', note: str_repeat('x', 500))->outcome);
    }

    public function testANumberIsHeldAgainstItsLimitsBothIncluded(): void
    {
        $level = self::question(['unit' => 'dB', 'least' => -3, 'most' => 1.5]);
        foreach (['-3' => true, '-3.01' => false, '1,5' => true, '1.51' => false, '0' => true] as $number => $within) {
            $answer = Answer::of($level, '', (string) $number);
            self::assertSame($within ? Outcome::Affirmed : Outcome::Denied, $answer->outcome, (string) $number);
        }
        self::assertSame('1.5 dB was read: by the door', (string) Answer::of($level, '', '1,5', 'by the door')->detail);
        self::assertSame(Outcome::Affirmed, Answer::of(self::question(['unit' => 'lx', 'least' => 300]), '', '99999')->outcome);
        self::assertSame(Outcome::Affirmed, Answer::of(self::question(['unit' => 'lx', 'most' => 300]), '', '-5')->outcome);
        $this->expectExceptionMessage('"loud" is not a number.');
        Answer::of($level, 'yes', 'loud');
    }

    public function testLimitsNeedAUnit(): void
    {
        $this->expectExceptionMessage('limits need a unit');
        self::question(['most' => 3]);
    }
}
