<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Catalogue;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Catalogue\Agreement;
use Vorhut\Core\Catalogue\Kind;
use Vorhut\Core\Catalogue\KindValidator;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Integrity;
use Vorhut\Tests\Support\Jobs;

final class KindValidatorTest extends TestCase
{
    private const SOUND = [
        'name' => 'Sluice gate',
        'roles' => ['controller'],
        'factory' => [['state' => 'fixed', 'address' => '192.168.9.9/24']],
        'ports' => [['name' => 'lan']],
        'settings' => [
            ['name' => 'level', 'label' => 'Level', 'type' => 'number'],
            ['name' => 'address', 'label' => 'Address', 'type' => 'address', 'scope' => 'port'],
            ['name' => 'pin', 'label' => 'PIN', 'type' => 'secret', 'purpose' => 'admin'],
            ['name' => 'peer', 'label' => 'Peer', 'type' => 'device'],
        ],
        'steps' => [
            ['code' => 'open', 'do' => 'Open it.', 'effects' => ['powers']],
            [
                'code' => 'set',
                'do' => 'Set it.',
                'records' => ['level', 'lan.address', 'peer'],
                'copies' => ['pin', 'mac'],
                'needs' => ['planned:level', 'staged:peer'],
            ],
            ['code' => 'close', 'do' => 'Close it.', 'undoes' => 'open'],
        ],
    ];

    /** @return iterable<string, array{array<string, mixed>, string}> what is changed in the sound one, and what is said */
    public static function broken(): iterable
    {
        $steps = self::SOUND['steps'];
        $with = self::with(...);
        yield 'two of a name' => [['steps' => [...$steps, $steps[0]]], 'two steps are called "open"'];
        yield 'records what is none' => [$with(['records' => ['level', 'lan.address', 'peer', 'colour']]), '"colour" under records'];
        yield 'a fact is no setting' => [$with(['records' => ['level', 'lan.address', 'peer', 'mac']]), '"mac" under records'];
        yield 'reads what is none' => [$with(['reads' => ['colour']]), '"colour" under reads'];
        yield 'shows what is none' => [$with(['copies' => ['pin', 'colour']]), '"colour" under copies'];
        yield 'a plan of nothing' => [$with(['needs' => ['planned:colour']]), 'nothing can meet the need "planned:colour"'];
        yield 'staged, and no device' => [$with(['needs' => ['staged:level']]), 'nothing can meet the need "staged:level"'];
        yield 'a number of no phone' => [$with(['needs' => ['extension']]), 'nothing can meet the need "extension"'];
        yield 'puts back what comes later' => [$with(['undoes' => 'close'], 0), 'undoes "close"'];
        yield 'puts back a way that is none' => [$with(['undoesWay' => 'ladder'], 1), '"ladder" is not an option'];
        $service = ['name' => 'water', 'port' => '7000/udp', 'follows' => 'level'];
        yield 'a service follows what is no port' => [['services' => [$service]], 'service water: "level" is not a port setting'];
        yield 'a service follows nothing' => [
            ['services' => [['follows' => 'gate'] + $service]],
            'service water: "gate" is not a port setting',
        ];
        yield 'puts back itself' => [$with(['undoes' => 'set']), 'undoes "set"'];
        yield 'longer than a day' => [$with(['wait' => 86_400, 'hands' => 1]), 'more than a day'];
        yield 'nothing records it' => [$with(['records' => ['lan.address', 'peer']]), 'nothing puts the setting "level" in'];
        yield 'a port is not recorded' => [$with(['records' => ['level', 'peer']]), 'nothing puts the setting "address" in'];
        yield 'a secret nobody shows' => [$with(['copies' => []]), 'nothing puts the setting "pin" in'];
        yield 'a page that names nothing' => [['admin' => ['fields' => ['colour' => 'c']]], 'its admin page names "colour"'];
        yield 'modules of no setting' => [['modules' => ['setting' => 'slot', 'gives' => []]], 'its modules do not fit'];
        yield 'modules that cannot be chosen' => [
            ['modules' => ['setting' => 'level', 'gives' => ['two' => ['a', 'b']]]],
            'its modules do not fit',
        ];
        yield 'a licence by what is none' => [
            ['licences' => [['code' => 'a', 'name' => 'A', 'counts' => 'colour']]],
            '"colour" is not a setting of this kind',
        ];
        yield 'comes with an address that is none' => [
            ['factory' => [['state' => 'fixed', 'address' => '239.1.2.3/24']]],
            'cannot be a factory address',
        ];
    }

    /**
     * @param array<string, mixed> $step
     *
     * @return array<string, mixed>
     */
    private static function with(array $step, int $at = 1): array
    {
        $steps = self::SOUND['steps'];
        $steps[$at] = $step + $steps[$at];

        return ['steps' => $steps];
    }

    public function testASoundKindIsSound(): void
    {
        self::assertSame([], KindValidator::ofKind(Kind::fromArray('gate', self::SOUND)));
        $written = ['writable' => true, 'admin' => ['fields' => ['level' => 'l']]] + self::SOUND;
        $written['steps'][1]['records'] = ['lan.address', 'peer'];
        self::assertSame([], KindValidator::ofKind(Kind::fromArray('gate', $written)), 'a request carries it too');
        unset($written['writable']);
        self::assertCount(1, KindValidator::ofKind(Kind::fromArray('gate', $written)), 'where the kind takes requests');
    }

    /** @param array<string, mixed> $change */
    #[DataProvider('broken')]
    public function testEachMistakeIsSaidOnce(array $change, string $said): void
    {
        $kind = array_replace(self::SOUND, $change);
        $wrong = KindValidator::ofKind(Kind::fromArray('gate', $kind));
        self::assertCount(1, $wrong, implode("\n", array_map(strval(...), $wrong)));
        self::assertStringContainsString($said, (string) $wrong[0]);

        $row = ['key' => 'gate', 'source' => json_encode($kind, \JSON_THROW_ON_ERROR)];
        self::assertEquals($wrong[0], Integrity::whyNotAKind(Jobs::catalogue(), $row), 'and a job refuses it for that');
    }

    public function testAnAgreementNamesWhatIsThere(): void
    {
        $said = static fn (array $between, string $gives = 'a'): array => array_map(strval(...), KindValidator::ofAgreement(
            Jobs::catalogue(),
            Agreement::fromArray('x', [
                'name' => 'X',
                'between' => $between,
                'relation' => 'equal',
                'gives' => $gives,
                'broken' => 'b',
                'why' => 'w',
                'todo' => 't',
            ]),
        ));
        $a = ['every' => 'device', 'setting' => 'hostName'];
        self::assertSame([], $said(['a' => $a, 'b' => ['of' => 'a', 'by' => 'segment', 'setting' => 'anything']]));
        self::assertSame(
            ['x, b: no kind has a setting "colour".', 'x, b: no kind has a setting "twin".'],
            $said(['a' => $a, 'b' => ['of' => 'a', 'by' => 'setting:twin', 'setting' => 'colour']]),
        );
        self::assertSame(['x: the end that gives way, "c", is none of its ends.'], $said(['a' => $a, 'b' => $a], 'c'));
        $this->expectException(Malformed::class);
        $this->expectExceptionMessage('unknown role "king"');
        $said(['a' => $a + ['role' => 'king'], 'b' => $a]);
    }

    /** @param array<string, mixed> $step */
    #[TestWith([['window' => 8, 'hands' => 15], true])]
    #[TestWith([['window' => 8, 'hands' => 32], true])]
    #[TestWith([['window' => 8, 'hands' => 33], false])]
    #[TestWith([['window' => 8, 'hands' => 15, 'copies' => ['mac']], false])]
    #[TestWith([['window' => 8, 'hands' => 15, 'wait' => 1], false])]
    public function testATimeWindowCoversItsOwnKeySequenceOnly(array $step, bool $sound): void
    {
        $kind = Jobs::catalogue()->read('x', ['steps' => [['code' => 'reset', 'do' => 'Hold both.'] + $step]] + self::SOUND);
        $said = implode(' ', array_filter(
            array_map(strval(...), KindValidator::ofKind($kind)),
            static fn (string $one): bool => str_contains($one, 'time window'),
        ));
        self::assertSame($sound ? '' : 'x, step reset: its time window covers more than one key sequence; split the step.', $said);
    }
}
