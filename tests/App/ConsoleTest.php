<?php

declare(strict_types=1);

namespace Vorhut\Tests\App;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Process\Process;

/** The commands as a shell sees them: what they print, where, and with which exit code. */
final class ConsoleTest extends TestCase
{
    /** @return iterable<string, array{list<string>, int, string}> */
    public static function calls(): iterable
    {
        yield 'net' => [['net', '10.40.12.77/22'], 0, '~hosts      1022~'];
        yield 'split' => [['split', '10.64.0.0/22', '--into=24'], 0, '~^10\.64\.3\.0/24~m'];
        yield 'split by hosts' => [['split', '10.64.0.0/24', '--hosts=50'], 0, '~^10\.64\.0\.192/26~m'];
        yield 'put together' => [['split', '10.64.0.0/24', '10.64.1.0/24'], 0, '~^10\.64\.0\.0/23$~m'];
        yield 'calc' => [['calc', '10.64.3.7', 'in', '10.64.0.0/22'], 0, '~lies in~'];
        yield 'calc by its former name' => [['sum', '10.64.3.7', 'in', '10.64.0.0/22'], 0, '~lies in~'];
        yield 'group' => [['group', '239.200.1.1'], 0, '~01:00:5E:48:01:01~'];
        yield 'mac' => [['mac', '00005e0053af'], 0, '~00-00-5E-00-53-AF~'];
        yield 'dhcp-option' => [['dhcp-option', '121', '10.20.0.0/16', '10.40.12.1'], 0, '~10 0A 14 0A 28 0C 01~'];
        yield 'reachability' => [['reachability', 'demo/port.json'], 0, '~mixed +Voice +> Quay +6 of +18~'];
        yield 'reachability from one place' => [
            ['reachability', 'demo/port.json', '--from=voice', '--format=json'],
            0,
            '~"device": "RA-01"~',
        ];
        yield 'what if' => [
            ['whatif', 'demo/port.json', '--edit=devices/r-core filterDefault=allow'],
            0,
            '~From Voice, .* begins to answer \(before: stopped by a rule\)~',
        ];
        yield 'what if something ceases' => [['whatif', 'demo/port.json', '--edit=-routerPorts/r-core-voice'], 1, '~stops answering~'];
        yield 'discover' => [['discover', 'demo/port.json', '--from=tech', '--of=CAM-02'], 0, '~mDNS, DNS-SD +no +Never crosses a router~'];
        yield 'scan' => [['scan', 'demo/port.json', '--suggest=tech'], 0, '~^10\.64\.30\.11-10\.64\.30\.12$~m'];
        yield 'dhcp' => [['dhcp', 'demo/port.json', '--config'], 0, '~^dhcp-host=00:00:5e:00:53:04,10\.64\.20\.31~m'];
        yield 'admin-questions' => [['admin-questions', 'tests/documents/outposts.json'], 1, '~^segments/hall:vlan +Hall~m'];
        yield 'admin-questions, answered' => [
            ['admin-questions', 'tests/documents/outposts.json', '--answer=segments/hall:vlan=20'],
            0,
            '~"vlan": 20~',
        ];
        yield 'rules' => [
            ['rules', 'demo/port.json', '--proof'],
            1,
            '~With only these rules, 0 required flows and 0 of [0-9]+ tests break; 0 rules are redundant~',
        ];
        yield 'rules by address' => [['rules', 'demo/port.json', '--by-address', '--csv'], 1, '~10\.64\.40\.51-10\.64\.40\.52~'];
        yield 'check, clean' => [['check', 'demo/museum.json'], 0, '~No findings~'];
        yield 'check, blocked' => [['check', 'demo/port.json', '--format=json'], 1, '~"code": "gateway-blank"~'];
        yield 'plan' => [['plan', 'demo/port.json'], 0, '~Everything has its address~'];
        yield 'walk' => [
            ['walk', 'demo/port.json', '--from=PH-01', '--to=PBX-01', '--proto=udp', '--port=5060', '--face=planned'],
            0,
            '~verdict: holds~',
        ];
        yield 'walk, broken' => [
            ['walk', 'demo/port.json', '--from=tech', '--to=RA-01', '--port=80'],
            1,
            '~cure: Give RA-01 the gateway 10.64.40.1~',
        ];
        yield 'bench' => [['bench', 'demo/port.json'], 0, '~CAM-01, then CAM-02, then CAM-03~'];
        yield 'sheet' => [['sheet', 'demo/port.json', '--of=CAM-02'], 0, '~192\.168\.1\.100~'];
        yield 'directory' => [['directory', 'demo/port.json', '--of=VC-01', '--vcard'], 0, '~FN:VC-02~'];
        yield 'directory as LDIF' => [['directory', 'demo/port.json', '--of=VC-01', '--ldif'], 0, '~^dn: cn=VC-02~m'];
        yield 'labels' => [['labels', 'demo/port.json'], 0, '~CAM-01 +10\.64\.30~'];
        yield 'keypad' => [['keypad', '00005e0053af', '--profile=mode-key'], 0, '~19 presses~'];
        yield 'dial' => [['dial', 'demo/port.json', '--from=2101', '--digits=2102'], 0, '~outcome: rings at PH-02~'];
        yield 'dial, never' => [['dial', 'demo/port.json', '--from=2101', '--digits=112'], 1, '~outcome: barred~'];
        yield 'tests' => [['tests', 'demo/museum.json', '--format=json'], 0, '~"test": "call:301>303"~'];
        yield 'consistency' => [['consistency', 'demo/museum.json', '--format=json'], 0, '~"standing": "holds"~'];
        yield 'consistency, broken' => [['consistency', 'demo/port.json'], 1, '~broken +contact-mode~'];
        yield 'kind' => [['kind', 'demo/port.json', '--of=ptz-camera'], 0, '~^name: .PTZ camera~m'];
        yield 'kind, changed' => [
            ['kind', 'demo/port.json', '--of=ptz-camera', '--with=tests/documents/slower-camera.yaml'],
            0,
            '~boot: 50 -> 75~',
        ];
        yield 'kind, taken' => [
            ['kind', 'demo/port.json', '--of=ptz-camera', '--with=tests/documents/slower-camera.yaml', '--take'],
            0,
            '~"ownKinds": \[~',
        ];
        yield 'kinds:check' => [['kinds:check'], 0, '~files, all sound~'];
        yield 'translations' => [['translations', '--check'], 0, '~all of them in the file~'];
        yield 'docs' => [['docs', '--check'], 0, '~up to date~'];
        yield 'about' => [['about'], 0, '~^Vorhut [0-9.]+.*MIT~'];
        yield 'generate' => [
            ['generate', '--devices=20', '--segments=4', '--seed=3', '--faults=2'],
            0,
            '~"name": "Made-up site, 20 devices"~',
        ];
        yield 'one link' => [['budget', '--link=1000', '--stream=4x130', '--stream=6x10'], 0, '~580\.00 Mbit/s.*1 more of 130 fit~s'];
        yield 'links of a job' => [['budget', 'demo/port.json'], 1, '~over +SW-02 +> SW-01~'];
        yield 'one device' => [['power', '--watts=12.5', '--metres=90'], 0, '~0\.3084 A, 13\.57 W~'];
        yield 'switches of a job' => [['power', 'demo/port.json', '--format=json'], 1, '~"shed"~'];
        yield 'light' => [['patch', 'demo/port.json'], 1, '~both take 5-8: FT-01, FT-02~'];
        yield 'an evening' => [['scene', 'demo/port.json', '--store=SC-01', '--event=10 key 1'], 0, '~10\.0 s  House~'];
        yield 'an address of a stream' => [
            ['url', 'srt://192.0.2.9:9000?passphrase=1234567890', '--against=srt://:9000?passphrase=1234567890'],
            0,
            '~passphrase=•••.*mode     caller~s',
        ];
        yield 'two that call' => [['url', 'srt://192.0.2.9:9000', '--against=srt://192.0.2.8:9000'], 1, '~both ends are callers~i'];
        yield 'latency' => [['latency', '--samples=64', '--samples=128', '--hop=0.5'], 0, '~4\.500 ms~'];
        yield 'audio' => [['audio', 'demo/port.json'], 1, '~FX-S2 +96 kHz~'];
        yield 'audio, patched' => [['audio', 'demo/port.json'], 1, '~CC-01 1-8 → FX-S1 1-8 → CC-01 17-24  160 samples, 3\.38 ms~'];
        yield 'stream' => [['stream', 'demo/port.json'], 0, '~ to 239\.192\.10\.1:5004 .*ENC-02 pushes to srt://.* PC-01 takes it~s'];
        yield 'power of rooms' => [['power', 'demo/port.json', '--rooms'], 0, '~kg on [0-9]+ U~'];
        yield 'schema' => [['schema'], 0, '~2020-12/schema~'];
        yield 'schema of agreements' => [['schema', 'agreement'], 0, '~"relation"~'];
    }

    /** @param list<string> $arguments */
    #[DataProvider('calls')]
    public function testItPrintsAndEndsAsPromised(array $arguments, int $exit, string $pattern): void
    {
        $process = self::call($arguments);
        self::assertSame($exit, $process->getExitCode(), $process->getErrorOutput());
        self::assertMatchesRegularExpression($pattern, $process->getOutput());
        self::assertSame('', $process->getErrorOutput());
        if (\in_array('--format=json', $arguments, true)) {
            self::assertJson($process->getOutput());
        }
    }

    /** @return iterable<string, array{list<string>, string}> */
    public static function badInput(): iterable
    {
        yield 'no mask' => [['net', '10.40.12.77'], '~with its prefix~'];
        yield 'octal' => [['net', '010.40.12.77/24'], '~octal~'];
        yield 'too many' => [['generate', '--devices=5', '--segments=9'], '~no more than devices~'];
        yield 'no schema' => [['schema', 'rack'], '~schema "rack"~'];
        yield 'no file' => [['check', 'nowhere.json'], '~cannot be read~'];
        yield 'no code of a kind' => [['kind', 'demo/port.json', '--of=A b'], '~is not a key~'];
        yield 'no description' => [['kind', 'demo/port.json', '--of=ptz-camera', '--with=LICENSE'], '~not a description|Line 1~'];
        yield 'no backup' => [['restore', 'README.md'], '~not a backup~'];
        yield 'no JSON' => [['check', 'README.md'], '~not JSON~'];
        yield 'no device' => [['walk', 'demo/port.json', '--from=tech', '--to=NOBODY'], '~no device "NOBODY"~'];
        yield 'face' => [['walk', 'demo/port.json', '--from=tech', '--to=RA-01', '--face=imagined'], '~planned, set, seen or box~'];
        yield 'port' => [['walk', 'demo/port.json', '--from=tech', '--to=RA-01', '--port=70000'], '~ports run~'];
        yield 'format' => [['bench', 'demo/port.json', '--format=xml'], '~text or json~'];
        yield 'profile' => [['keypad', 'a', '--profile=none'], '~mode-key~'];
        yield 'no event' => [['scene', 'demo/port.json', '--store=SC-01', '--event=soon'], '~is not an event~'];
        yield 'a stream' => [['budget', '--link=1000', '--stream=much'], '~is not a stream rate~'];
        yield 'neither' => [['power'], '~single device~'];
        yield 'command' => [['nonsense'], '~not defined~'];
    }

    /** @param list<string> $arguments */
    #[DataProvider('badInput')]
    public function testBadInputIsOneLineOnStandardErrorAndTwo(array $arguments, string $pattern): void
    {
        $process = self::call($arguments);
        self::assertSame([2, ''], [$process->getExitCode(), $process->getOutput()]);
        self::assertMatchesRegularExpression($pattern, $process->getErrorOutput());
        self::assertSame(1, substr_count($process->getErrorOutput(), "\n"));
    }

    public function testABadDocumentIsALineForEveryErrorWithItsPointer(): void
    {
        $document = str_replace(
            ['"Europe/Oslo"', '"10.71.5.0/24"'],
            ['"Moon/Sea"', '"10.71.5.9/24"'],
            (string) file_get_contents(\dirname(__DIR__, 2).'/demo/museum.json'),
        );
        $process = self::call(['check', '-'], $document);
        self::assertSame([2, ''], [$process->getExitCode(), $process->getOutput()]);
        self::assertMatchesRegularExpression(
            '~^/job/timeZone: [^\n]+\n/segments/\d+/network: [^\n]+did you mean 10\.71\.5\.0/24\?\n$~D',
            $process->getErrorOutput(),
        );
    }

    public function testCheckReadsStandardInput(): void
    {
        $process = self::call(['check', '-'], (string) file_get_contents(\dirname(__DIR__, 2).'/demo/museum.json'));
        self::assertSame([0, "No findings.\n"], [$process->getExitCode(), $process->getOutput()]);
    }

    /** @param list<string> $arguments */
    private static function call(array $arguments, ?string $input = null): Process
    {
        $arguments[0] = 'vorhut:'.$arguments[0];
        // No database: the commands on a document must not ask for one.
        $process = new Process(
            ['php', 'bin/console', ...$arguments],
            \dirname(__DIR__, 2),
            ['DATABASE_URL' => 'mysql://nobody@127.0.0.1:1/none', 'APP_ENV' => 'test'],
            $input,
        );
        $process->run();

        return $process;
    }
}
