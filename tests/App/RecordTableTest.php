<?php

declare(strict_types=1);

namespace Vorhut\Tests\App;

use Vorhut\Tests\Support\JobPagesTestCase;

final class RecordTableTest extends JobPagesTestCase
{
    /** @param array<string, string> $fixed */
    private function paste(string $page, string $section, string $table, array $fixed = []): void
    {
        $this->page($page);
        $this->send('/table/'.$section, array_combine(
            array_map(static fn (string $name): string => "row[$name]", array_keys($fixed)),
            array_values($fixed),
        ), ['table' => $table]);
        $this->browser->followRedirect();
    }

    public function testRowsAreReadByTheLabelsAndChoicesOfTheirForm(): void
    {
        $this->enter();
        $before = \count($this->plan($this->job)->records('streams'));
        $this->paste('services/streams', 'streams', <<<TABLE
            Name\tFrom\tDelivery\tBit rate (kbit/s)
            North\tCAM-01\tmulticast\t8000
            South\tcam-02\t\t9000
            TABLE);
        self::assertCount($before + 2, $this->plan($this->job)->records('streams'));
        $rows = array_column($this->plan($this->job)->rows('streams'), null, 'name');
        self::assertSame(['cam-01', 'multicast', 8000, 'RTP'], array_map(
            static fn (string $field): mixed => $rows['North'][$field] ?? null,
            ['sender', 'cast', 'kbit', 'transport'],
        ));
        self::assertSame('unicast', $rows['South']['cast'] ?? null);
    }

    public function testRefusedRowsStayWithTheirReasonAndTheOthersAreOneChange(): void
    {
        $this->enter();
        $before = \count($this->plan($this->job)->records('cables'));
        $this->paste('services/links', 'cables', "7;1000;12;;CAM-01;SW-9\n8;1000;12;;CAM-02;SW-01\n;;;;GONE;\n1;2;3;4;5;6;no;more");
        $crawler = $this->browser->getCrawler();
        $form = $crawler->filter('form[action$="/table/cables"]');
        self::assertSame(3, substr_count(trim($form->filter('textarea')->text('', false)), "\n") + 1);
        self::assertCount(3, $form->filter('p.wrong'));
        self::assertCount($before + 1, $this->plan($this->job)->records('cables'));
        $this->send('/undo', [], []);
        self::assertCount($before, $this->plan($this->job)->records('cables'));
    }

    public function testAHeadingWithoutAMeaningRefusesTheTable(): void
    {
        $this->enter();
        $before = \count($this->plan($this->job)->records('cables'));
        $this->paste('services/links', 'cables', "Port,Colour\n7,blue");
        $kept = $this->browser->getCrawler()->filter('form[action$="/table/cables"] textarea')->text('', false);
        self::assertSame("Port,Colour\n7,blue", trim($kept));
        self::assertCount($before, $this->plan($this->job)->records('cables'));
    }

    public function testTheRowsOfARuleTableBelongToTheirRouter(): void
    {
        $this->enter();
        $before = \count($this->plan($this->job)->records('filters'));
        $rows = "position,from,to,transport,portFirst,action\n900,quay,tech,tcp,443,allow";
        $this->paste('networks', 'filters', $rows, ['router' => 'r-core']);
        self::assertCount($before + 1, $this->plan($this->job)->records('filters'));
    }

    public function testARefusedNetworkStaysAndTheOthersGetAPatternEach(): void
    {
        $this->enter();
        $before = $this->plan($this->job)->segments;
        $this->paste('networks', 'segments', "North;10.99.1.0/24;10.99.1.1;71\nSouth;10.99.2.0/24;;72\nWest;not a network;;73");
        $kept = $this->browser->getCrawler()->filter('form[action$="/table/segments"] textarea')->text('', false);
        self::assertSame('West;not a network;;73', trim($kept));
        $new = array_diff_key($this->plan($this->job)->segments, $before);
        self::assertSame([\count($before) % 12, (\count($before) + 1) % 12], array_column($new, 'pattern'));
    }

    public function testDevicesAndNumbersHaveTablesOfTheirOwn(): void
    {
        $this->enter();
        $token = (string) $this->page('devices')->filter('input[name=_token]')->first()->attr('value');
        $this->browser->request('POST', '/j/'.$this->job->slug.'/table/devices', ['_token' => $token, 'table' => "tag,kind\nX-1,router"]);
        self::assertResponseStatusCodeSame(404);
    }
}
