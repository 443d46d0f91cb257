<?php

declare(strict_types=1);

namespace Vorhut\Tests\App;

use PHPUnit\Framework\TestCase;
use Symfony\Component\Process\Process;

/** The set-up scripts: clear sentences, nothing half finished, nobody else's process touched. */
final class SetUpTest extends TestCase
{
    private static function bash(string $script): Process
    {
        $process = new Process(
            ['bash', '-c', "source tools/setup.sh; STATE_DIR=\$(mktemp -d); trap - ERR; $script"],
            \dirname(__DIR__, 2),
            ['VORHUT_STATE_DIR' => false],
        );
        $process->setTimeout(30)->run();

        return $process;
    }

    public function testUnknownWordsAreRefusedWithWhatThereIs(): void
    {
        foreach (['demo' => '--port N, --reset, --stop, --status', 'test' => 'core, app, lab, browser or recipe'] as $command => $words) {
            $process = new Process(["bin/$command", '--nonsense'], \dirname(__DIR__, 2));
            $process->run();
            self::assertSame(1, $process->getExitCode());
            self::assertStringContainsString($words, $process->getErrorOutput());
        }
        $process = new Process(['bin/demo', '--port', 'abc'], \dirname(__DIR__, 2));
        $process->run();
        self::assertStringContainsString('wants a number', $process->getErrorOutput());
    }

    public function testAFreePortIsFoundBesideATakenOne(): void
    {
        $server = stream_socket_server('tcp://127.0.0.1:0');
        self::assertNotFalse($server);
        $port = (int) substr((string) stream_socket_get_name($server, false), 10);
        $process = self::bash("port_is_free $port && echo free || echo taken; free_port $port");
        self::assertSame('taken', strtok($process->getOutput(), "\n"));
        self::assertGreaterThan($port, (int) strtok("\n"));
    }

    public function testPortsInARowAreFoundBesideTakenAndReservedOnes(): void
    {
        $process = self::bash(
            // Pretended, so that no port of this machine has a say.
            'port_is_free() { case $1 in 8421|8424) return 1 ;; esac; }; RESERVED=8426; '
                .'for n in 1 2 3; do free_port 8420 $n; echo; done',
        );
        self::assertSame("8420\n8422\n8427\n", $process->getOutput());
    }

    public function testAPartThatEndsAgainAndAgainIsNotSaidToRun(): void
    {
        $script = <<<'BASH'
            start ill false
            cp /usr/bin/sleep $STATE_DIR/rests; start rests $STATE_DIR/rests 30
            sleep 0.7
            state_of none || echo " (none)"; state_of ill || echo " (ill)"; state_of rests && echo " (rests)"
            for one in ill rests; do stop $one; done
            BASH;
        self::assertMatchesRegularExpression(
            '~^does not run \(none\)\nends by itself and is started again: var/\S+/log/ill\.log says why \(ill\)\n'
                .'runs \(process \d+\) \(rests\)\n$~D',
            self::bash($script)->getOutput(),
        );
    }

    public function testAStampHoldsOnlyForTheSameContent(): void
    {
        $process = self::bash(
            'STAMPS=$STATE_DIR; f=$STATE_DIR/a; echo 1 >$f; stamped x $f && echo yes || echo no; stamp x $f; stamped x $f && echo yes || '
                .'echo no; echo 2 >$f; stamped x $f && echo yes || echo no',
        );
        self::assertSame("no\nyes\nno\n", $process->getOutput());
    }

    public function testOnlyWhatWasStartedHereIsStopped(): void
    {
        $script = <<<'BASH'
            start one sleep 30
            sleep 0.3
            pid=$(cat $STATE_DIR/run/one.pid)
            running one && echo runs
            sleep 31 & stranger=$!
            mkdir -p $STATE_DIR/run; echo $stranger >$STATE_DIR/run/two.pid
            running two && echo "two runs" || echo "two is a stranger"
            stop two
            kill -0 $stranger && echo "the stranger lives"
            stop one
            kill -0 $pid 2>/dev/null && echo "one lives" || echo "one is stopped"
            kill $stranger
            BASH;
        self::assertSame("runs\ntwo is a stranger\nthe stranger lives\none is stopped\n", self::bash($script)->getOutput());
    }

    public function testWhatIsKilledIsStartedAgainWithoutWhatItLeftBehindAndStopsWhenItIsTold(): void
    {
        $script = <<<'BASH'
            start one bash -c 'sleep 77 & sleep 78'
            sleep 0.4
            pid=$(cat $STATE_DIR/run/one.pid)
            first=$(cat /proc/$pid/task/$pid/children | cut -d' ' -f1)
            left=$(cat /proc/$first/task/$first/children | cut -d' ' -f1)
            kill -9 $first
            sleep 1.6
            grep -qs '^State:.[^ZX]' /proc/$left/status && echo "what it began is left" || echo "nothing is left"
            [ "$(cat /proc/$pid/task/$pid/children | cut -d' ' -f1)" != "$first" ] && running one && echo "started again"
            stop one
            echo "members: $(members $pid)"
            grep -o 'ended with 137' $STATE_DIR/log/one.log
            BASH;
        self::assertSame("nothing is left\nstarted again\nmembers: \nended with 137\n", self::bash($script)->getOutput());
    }

    public function testAFullDiskIsSaidBeforeAnythingIsHalfDone(): void
    {
        $process = self::bash('df() { printf "h\n/dev/x 1 1 42 99%% /\n"; }; need_disk 900');
        self::assertSame(1, $process->getExitCode());
        self::assertStringContainsString('42 MB are free here, 900 MB are needed', $process->getErrorOutput());
    }

    public function testAStepThatFailsShowsWhyAndIsNotStamped(): void
    {
        $process = self::bash('LOG=$STATE_DIR/l; quietly "Fetching the moon" bash -c "echo no rocket; exit 3"; echo not reached');
        self::assertSame([1, ''], [$process->getExitCode(), $process->getOutput()]);
        self::assertStringContainsString("no rocket\n", $process->getErrorOutput());
        self::assertStringContainsString('Fetching the moon did not work', $process->getErrorOutput());
    }
}
