<?php

declare(strict_types=1);

namespace Vorhut\Tests\App;

use Symfony\Component\DomCrawler\Crawler;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Row;
use Vorhut\Core\Plan\Schema;
use Vorhut\Tests\Support\JobPagesTestCase;

/** Everything in the plan can be added, edited and removed on a page: the schema against the forms of the pages. */
final class EveryFieldTest extends JobPagesTestCase
{
    /** Recorded by Vorhut itself during the work, or edited by other forms than those of a field: as secrets, kinds and marks are. */
    private const RECORDED = ['ownKinds', 'settings', 'credentials', 'marks', 'waits', 'fetches', 'observations'];
    /** Fields with a reason: set by the kind or the import, recorded with a mark, or part of a form with a meaning of its own. */
    private const OTHERWISE = [
        'devices.position', 'nics.device', 'nics.name', 'extensions.factoryMade',
        'terminals.extension', 'terminals.device', 'terminals.enteredAt',
        'accounts.extension', 'accounts.registrar', 'accounts.enteredAt',
        'job.filesHost', 'job.filesPort', 'job.filesAuthority', 'job.filesUntil',
    ];
    /** Page → the sections whose records are opened on it. */
    private const PAGES = [
        'brief' => [],
        'networks' => ['segments', 'routerPorts', 'routes', 'filters', 'translations'],
        'networks/groups' => [],
        'networks/ranges' => [],
        'networks/ipv6' => [],
        'devices' => ['devices'],
        'services' => [],
        'services/calls' => ['extensions', 'trunks', 'callRoutes', 'inboundRoutes', 'ringGroups', 'menus', 'timeFrames'],
        'services/streams' => ['streams', 'deliveries'],
        'services/links' => ['cables'],
        'services/power' => [],
        'services/sound' => ['soundPatches'],
        'services/light' => [],
        'proof' => [],
    ];

    public function testEveryFieldOfThePlanHasAForm(): void
    {
        $this->enter();
        $this->write(
            Edit::add('translations', [
                'key' => 'out',
                'router' => 'r-core',
                'outside' => 'voice',
                'what' => 'source',
                'position' => 10,
                'transport' => 'any',
            ]),
            Edit::add('rangeLists', ['key' => 'quay', 'name' => 'Quay', 'ranges' => ['10.64.40.31']]),
        );
        $offered = [];
        foreach (self::PAGES as $path => $sections) {
            $offered += self::offered($this->page($path));
            foreach ($sections as $section) {
                $rows = $this->plan($this->job)->rows($section);
                foreach ('devices' === $section ? $rows : \array_slice($rows, 0, 1) as $row) {
                    $offered += self::offered($this->page("$path?sel=$section/".Row::keyOf($row)));
                }
            }
        }
        $missing = [];
        foreach (array_diff_key(Schema::sections(), array_flip(self::RECORDED)) + ['job' => Schema::job()] as $section => $fields) {
            foreach ($fields as $field) {
                if (!isset($offered[$section.'.'.$field->name])) {
                    $missing[] = $section.'.'.$field->name;
                }
            }
        }
        self::assertSame(self::OTHERWISE, $missing);
    }

    /** @return array<string, true> section.field of each form on the page */
    private static function offered(Crawler $page): array
    {
        $offered = [];
        foreach ($page->filter('form[method=post]') as $node) {
            $form = new Crawler($node);
            $action = (string) $form->attr('action');
            if (str_ends_with($action, '/edit')) {
                $record = (string) $form->filter('[name=record]')->attr('value');
                $offered[explode('/', $record)[0].'.'.$form->filter('[name=field]')->attr('value')] = true;
            } elseif (1 === preg_match('~/add/(\w+)$~', $action, $to)) {
                foreach ($form->filter('[name^="row["]') as $input) {
                    $offered[$to[1].'.'.substr((string) (new Crawler($input))->attr('name'), 4, -1)] = true;
                }
            }
        }

        return $offered;
    }
}
