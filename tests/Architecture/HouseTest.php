<?php

declare(strict_types=1);

namespace Vorhut\Tests\Architecture;

use PHPat\Selector\Selector;
use PHPat\Selector\SelectorInterface;
use PHPat\Test\Builder\Rule;
use PHPat\Test\PHPat;

/** The arrows of the house go one way; ARCHITECTURE.md draws them. */
final class HouseTest
{
    /** Every namespace that has a place of its own in the order, the lowest first; RoomsTest holds them against the folders. */
    public const ROOMS = [
        'Vorhut\Core\Text', 'Vorhut\Core\Net', 'Vorhut\Core\Voice\Dialling', 'Vorhut\Core\Catalogue', 'Vorhut\Core\Plan',
        'Vorhut\Core\Wire',
        'Vorhut\Core\Finding', 'Vorhut\Core\Allocation', 'Vorhut\Core\Consistency', 'Vorhut\Core\Network\Walk',
        'Vorhut\Core\Network\Discovery', 'Vorhut\Core\Bench', 'Vorhut\Core\Voice', 'Vorhut\Core\Lighting', 'Vorhut\Core\Media',
        'Vorhut\Core\Power', 'Vorhut\Core\Audio', 'Vorhut\Core\Network\Reachability', 'Vorhut\Core\Network\AdminSheet',
        'Vorhut\Core\Network', 'Vorhut\Core\Proof',
        'Vorhut\Core\Network\Test', 'Vorhut\Core\Voice\Test', 'Vorhut\Core\Media\Test', 'Vorhut\Core\Audio\Test',
        'Vorhut\Core\Lighting\Test', 'Vorhut\Core\Bench\Test',
        'Vorhut\Core\Voice\Rule', 'Vorhut\Core\Media\Rule', 'Vorhut\Core\Audio\Rule', 'Vorhut\Core\Lighting\Rule',
        'Vorhut\Core\Power\Rule', 'Vorhut\Core\Consistency\Rule', 'Vorhut\Core\Bench\Rule', 'Vorhut\Core\Network\Rule',
        'Vorhut\Core\Analysis', 'Vorhut\Core\Document', 'Vorhut\Core\Sample', 'Vorhut\Library', 'Vorhut\Entity', 'Vorhut\Journal',
        'Vorhut\Secrets', 'Vorhut\Exchange', 'Vorhut\Provisioning', 'Vorhut\Socket', 'Vorhut\Outpost', 'Vorhut\Application',
        'Vorhut\Lab',
        'Vorhut\Rehearsal', 'Vorhut\Console', 'Vorhut\Web',
    ];

    public function testTheCoreKnowsNoFrameworkNoDatabaseNoSocketNoClock(): Rule
    {
        return PHPat::rule()
            ->classes(Selector::inNamespace('Vorhut\Core'))
            ->shouldNotDependOn()
            ->classes(
                Selector::inNamespace('Symfony'),
                Selector::inNamespace('Doctrine'),
                Selector::inNamespace('Twig'),
                Selector::inNamespace('Amp'),
                Selector::inNamespace('Revolt'),
                Selector::inNamespace('Psr'),
                Selector::inNamespace('Random'),
                Selector::classname('DateTimeImmutable'),
                Selector::classname('DateTime'),
            )
            ->because('all computation runs from the snapshot alone, with time and chance handed in');
    }

    public function testTheCoreKnowsNoOtherRoom(): Rule
    {
        return PHPat::rule()
            ->classes(Selector::inNamespace('Vorhut\Core'))
            ->shouldNotDependOn()
            ->classes(Selector::AllOf(Selector::inNamespace('Vorhut'), Selector::Not(Selector::inNamespace('Vorhut\Core'))));
    }

    public function testEntitiesKnowNobody(): Rule
    {
        return PHPat::rule()
            ->classes(Selector::inNamespace('Vorhut\Entity'))
            ->shouldNotDependOn()
            ->classes(Selector::AllOf(Selector::inNamespace('Vorhut'), Selector::Not(Selector::inNamespace('Vorhut\Entity'))));
    }

    /**
     * Every room may know the rooms below it and none above: so no two can know each other in a circle.
     *
     * @return iterable<Rule>
     */
    #[\PHPat\Test\Attributes\TestRule]
    public function roomsLeanOneWay(): iterable
    {
        foreach (self::ROOMS as $i => $room) {
            $above = array_map(self::alone(...), \array_slice(self::ROOMS, $i + 1));
            if ([] !== $above) {
                yield PHPat::rule()->classes(self::alone($room))->shouldNotDependOn()->classes(...$above);
            }
        }
    }

    /**
     * What is in a namespace, without what has a place of its own within it.
     *
     * @param non-empty-string $room
     */
    private static function alone(string $room): SelectorInterface
    {
        $within = array_filter(self::ROOMS, static fn (string $other): bool => str_starts_with($other, $room.'\\'));

        return Selector::AllOf(
            Selector::inNamespace($room),
            ...array_map(
                static fn (string $other): SelectorInterface => Selector::Not(Selector::inNamespace($other)),
                array_values($within),
            ),
        );
    }

    public function testTheApplicationNeverReadsTheLabsTruth(): Rule
    {
        return PHPat::rule()
            ->classes(Selector::inNamespace('Vorhut\Web'), Selector::inNamespace('Vorhut\Outpost'), Selector::inNamespace('Vorhut\Core'))
            ->shouldNotDependOn()
            ->classes(
                Selector::classname('Vorhut\Lab\SimulatedState'),
                Selector::classname('Vorhut\Lab\Simulation'),
                Selector::classname('Vorhut\Lab\SimulatedNetwork'),
            );
    }
}
