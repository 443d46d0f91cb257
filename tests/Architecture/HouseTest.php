<?php

declare(strict_types=1);

namespace Vorhut\Tests\Architecture;

use PHPat\Selector\Selector;
use PHPat\Test\Builder\Rule;
use PHPat\Test\PHPat;

/** The arrows of the house go one way; ARCHITECTURE.md draws them. */
final class HouseTest
{
    /** Every room of the house, the lowest first; RoomsTest holds them against the folders. */
    public const ROOMS = [
        'Vorhut\Core\Text', 'Vorhut\Core\Net', 'Vorhut\Core\Dialling', 'Vorhut\Core\Catalogue', 'Vorhut\Core\Plan', 'Vorhut\Core\Wire',
        'Vorhut\Core\Allocation', 'Vorhut\Core\Agreement', 'Vorhut\Core\Walk', 'Vorhut\Core\Discovery',
        'Vorhut\Core\Bench',
        'Vorhut\Core\Voice', 'Vorhut\Core\Light', 'Vorhut\Core\Media', 'Vorhut\Core\Power', 'Vorhut\Core\Sound',
        'Vorhut\Core\Loom', 'Vorhut\Core\Ask',
        'Vorhut\Core\Proof', 'Vorhut\Core\Finding', 'Vorhut\Core\Document',
        'Vorhut\Core\Sample', 'Vorhut\Core\Analysis', 'Vorhut\Library', 'Vorhut\Entity', 'Vorhut\Journal',
        'Vorhut\Secrets', 'Vorhut\Exchange', 'Vorhut\Provisioning', 'Vorhut\Socket', 'Vorhut\Outpost', 'Vorhut\Lab',
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
            $above = array_map(Selector::inNamespace(...), \array_slice(self::ROOMS, $i + 1));
            if ([] !== $above) {
                yield PHPat::rule()->classes(Selector::inNamespace($room))->shouldNotDependOn()->classes(...$above);
            }
        }
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
