<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Consistency;

use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Catalogue\Catalogue;
use Vorhut\Core\Consistency\Agreements;
use Vorhut\Core\Consistency\Standing;
use Vorhut\Core\Plan\Plan;

/** The end that gives way gets what the other end wants of it, whichever of the two it is and whatever they have to do with each other. */
final class CuresTest extends TestCase
{
    /** A, which points to B, and what each of them has of the setting. */
    private static function plan(string $relation, string $gives, string $setting, string $left, string $right): Plan
    {
        $catalogue = Catalogue::fromArrays(
            ['sender' => [
                'name' => 'Sender',
                'roles' => [],
                'factory' => [['state' => 'dhcp']],
                'settings' => [
                    ['name' => 'mode', 'label' => 'Mode', 'type' => 'text'],
                    ['name' => 'level', 'label' => 'Level', 'type' => 'number', 'unit' => 'dB'],
                    ['name' => 'codecs', 'label' => 'Codecs', 'type' => 'list'],
                    ['name' => 'peer', 'label' => 'Peer', 'type' => 'device'],
                ],
            ]],
            [],
            ['x' => [
                'name' => 'X',
                'between' => [
                    'near' => ['every' => 'device', 'setting' => $setting],
                    'far' => ['of' => 'near', 'by' => 'setting:peer', 'setting' => $setting],
                ],
                'relation' => $relation,
                'pairs' => [['caller', 'listener'], ['rendezvous', 'rendezvous']],
                'gives' => $gives,
                'broken' => '{near} {near.value} {far} {far.value}',
                'why' => 'w',
                'todo' => 't',
            ]],
        );

        return Plan::of(['name' => 'Test'], [
            'devices' => [['key' => 'a', 'tag' => 'A', 'kind' => 'sender'], ['key' => 'b', 'tag' => 'B', 'kind' => 'sender']],
            'settings' => [
                ['key' => 'devices/a#peer', 'planned' => 'b'],
                ['key' => 'devices/a#'.$setting, 'planned' => $left],
                ['key' => 'devices/b#'.$setting, 'planned' => $right],
            ],
        ], $catalogue);
    }

    #[TestWith(['complementary', 'far', 'mode', 'caller', 'caller', 'B: Mode set to listener.'])]
    #[TestWith(['complementary', 'near', 'mode', 'caller', 'caller', 'A: Mode set to listener.'])]
    #[TestWith(['complementary', 'far', 'mode', 'listener', 'listener', 'B: Mode set to caller.'])]
    #[TestWith(['complementary', 'far', 'mode', 'rendezvous', 'caller', 'B: Mode set to rendezvous.'])]
    #[TestWith(['complementary', 'near', 'mode', 'caller', 'unheard-of', null])]
    #[TestWith(['at-most', 'near', 'level', '9', '5', 'A: Level set to 5 dB.'])]
    #[TestWith(['at-most', 'far', 'level', '9', '5', 'B: Level set to 9 dB.'])]
    #[TestWith(['member-of', 'near', 'codecs', 'opus', 'pcmu, g722', 'A: Codecs set to pcmu.'])]
    #[TestWith(['equal', 'far', 'level', '9', '5', 'B: Level set to 9 dB.'])]
    #[TestWith(['different', 'far', 'level', '5', '5', null])]
    public function testItIsMended(string $relation, string $gives, string $setting, string $left, string $right, ?string $cure): void
    {
        $plan = self::plan($relation, $gives, $setting, $left, $right);
        $broken = Agreements::of($plan)->with(Standing::Broken);
        self::assertCount(1, $broken);
        self::assertSame($cure, null === $broken[0]->cure ? null : (string) $broken[0]->cure->why);
        if (null !== $broken[0]->cure) {
            self::assertCount(1, Agreements::of($plan->with($broken[0]->cure))->with(Standing::Holds));
        }
        self::assertSame(
            [null !== $cure && '' !== $cure ? $cure[0] : ('near' === $gives ? 'A' : 'B')],
            array_map(static fn ($one): string => $one->name, $broken[0]->odd),
        );
    }
}
