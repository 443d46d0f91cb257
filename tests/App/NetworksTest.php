<?php

declare(strict_types=1);

namespace Vorhut\Tests\App;

use Doctrine\ORM\EntityManagerInterface;
use Vorhut\Core\Network\Discovery\RangeList;
use Vorhut\Core\Network\Reachability\RequiredFirewallRules;
use Vorhut\Core\Plan\Edit;
use Vorhut\Entity\AskLink;
use Vorhut\Entity\User;
use Vorhut\Entity\WorkOrder;
use Vorhut\Journal\AdminAnswers;
use Vorhut\Tests\Support\JobPagesTestCase;

/** The rooms of the networks stage by their forms, and the administrator's link. */
final class NetworksTest extends JobPagesTestCase
{
    public function testAnAdministratorAnswersByALinkAndTheLeadTakesIt(): void
    {
        $this->enter();
        $job = $this->job;
        $slug = $job->slug;
        $gateway = $this->plan($job)->segments['quay']->gateway;
        $this->write(Edit::put('segments', 'quay', 'gateway', (string) $gateway, null));
        $this->browser->request('GET', "/j/$slug/networks/ask");
        $this->send('/networks/ask/link', [], []);
        $page = $this->browser->followRedirect();
        $link = (string) parse_url($page->filter('#made-link')->text(), \PHP_URL_PATH);
        self::assertMatchesRegularExpression('~^/a/[0-9a-f]{40}$~', $link);
        self::assertStringNotContainsString($link, (string) $this->browser->request('GET', "/j/$slug/networks/ask")->html(), 'shown once');

        // Without any login, and nothing of the job but what is asked.
        $this->browser->restart();
        $page = $this->browser->request('GET', $link);
        self::assertResponseIsSuccessful();
        self::assertStringContainsString('Quay 10.64.40.0/24', $page->text());
        $code = 'segments/quay:gateway';
        $this->browser->request('POST', $link, ['by' => 'Ada', 'answer' => [$code => '10.64.41.1', 'segments/voice:name' => 'mine']]);
        self::assertResponseStatusCodeSame(422);
        self::assertStringContainsString('10.64.41.1 is not in 10.64.40.0/24', (string) $this->browser->getResponse()->getContent());
        self::assertSame([], self::service(AdminAnswers::class)->of($this->fresh($job)));
        $this->browser->request('POST', $link, ['by' => 'Ada', 'answer' => [$code => '10.64.40.10'], 'remark' => [$code => 'soon']]);
        self::assertResponseRedirects($link.'?kept=1');
        self::assertNull($this->plan($job)->segments['quay']->gateway, 'nothing goes into the plan by itself');

        $this->browser->loginUser(
            self::service(EntityManagerInterface::class)->getRepository(User::class)->findOneBy(['login' => 'test-lead']) ?? self::fail(),
        );
        $text = $this->browser->request('GET', "/j/$slug/networks/ask")->text();
        self::assertStringContainsString('10.64.40.10', $text);
        self::assertStringContainsString('The plan has the router of this segment at 10.64.40.1.', $text);
        self::assertStringContainsString('one digit too many', $text);
        $this->send('/networks/ask/take', ['code' => $code], ['what' => 'take']);
        self::assertSame('10.64.40.10', (string) $this->plan($job)->segments['quay']->gateway);
        self::assertSame([], self::service(AdminAnswers::class)->of($this->fresh($job)));
        self::assertStringContainsString('gateway of Quay', (string) $this->browser->request('GET', "/j/$slug/brief")->text());

        // A link that was taken back, has run out or never was opens nothing; whoever tries many is stopped.
        $links = self::service(AdminAnswers::class)->links($this->fresh($job));
        self::service(AdminAnswers::class)->revoke($this->fresh($job), (int) $links[0]->id);
        $this->browser->restart();
        foreach ([$link, '/a/'.str_repeat('0', 40)] as $closed) {
            $this->browser->request('GET', $closed);
            self::assertResponseStatusCodeSame(404);
        }
    }

    public function testALinkRunsOut(): void
    {
        $this->enter();
        $job = $this->job;
        $token = self::service(AdminAnswers::class)->link($job, 'Jo');
        self::assertInstanceOf(AskLink::class, self::service(AdminAnswers::class)->findLink($token));
        $link = self::service(AdminAnswers::class)->links($job)[0];
        $link->until = '2026-01-01T00:00:00Z';
        self::assertNull(self::service(AdminAnswers::class)->findLink($token));
    }

    public function testTheTableThatCameBackIsReadLineByLine(): void
    {
        $this->enter();
        $job = $this->job;
        $slug = $job->slug;
        $this->write(Edit::put('segments', 'quay', 'vlan', $this->plan($job)->segments['quay']->vlan, null));
        $this->browser->request('GET', "/j/$slug/networks/ask");
        $this->send('/networks/ask/paste', [], [
            'text' => "code,about,question,example,answer\nsegments/quay:vlan,Quay,Which,20,x\njob/:colour,,,,red",
        ]);
        $page = $this->browser->followRedirect()->text();
        self::assertStringContainsString('Line 2: "x" is not', $page);
        self::assertStringContainsString('Line 3: "job/:colour" is not asked.', $page);
        $this->send('/networks/ask/paste', [], ['text' => "segments/quay:vlan\t50"]);
        $page = $this->browser->followRedirect()->text();
        self::assertStringContainsString('1 answer is stored', $page);
        self::assertStringContainsString('Customs AV has VLAN 50 already.', $page);
    }

    public function testARangeIsAskedFromWhereItSaysAndAVastOneOnlyByWhoMeansIt(): void
    {
        $this->enter();
        $job = $this->job;
        $slug = $job->slug;
        $this->browser->request('GET', "/j/$slug/networks/ranges");
        $this->send('/add/rangeLists', [], [
            'row' => ['name' => 'Hall', 'ranges' => '10.64.30.11-10.64.30.300', 'from' => 'tech', 'port' => ''],
        ]);
        self::assertStringContainsString('300 is more than 255', $this->browser->followRedirect()->text());
        $this->send('/add/rangeLists', [], [
            'row' => ['name' => 'Hall', 'ranges' => '10.64.30.11-40, 10.64.64.0/19', 'from' => '', 'port' => ''],
        ]);
        $this->browser->followRedirect();
        $list = RangeList::all($this->plan($job))[0] ?? self::fail('the list is there');
        self::assertSame(8222, $list->count());
        $ask = "/networks/ranges/$list->key/ask";
        $orders = fn (): int => \count(self::service(\Vorhut\Outpost\Orders\Orders::class)->latest($this->fresh($job), WorkOrder::SWEEP));
        $this->send($ask, [], []);
        self::assertStringContainsString('Choose the segment', $this->browser->followRedirect()->text());
        $this->write(Edit::put('rangeLists', $list->key, 'from', null, 'tech'));
        $this->browser->request('GET', "/j/$slug/networks/ranges");
        $this->send($ask, [], []);
        self::assertStringContainsString('8222 addresses are more than a /20', $this->browser->followRedirect()->text());
        self::assertSame(0, $orders());
        $this->send($ask, [], ['all' => 'yes']);
        self::assertSame(1, $orders());
        $csv = $this->browser->request('GET', "/j/$slug/networks/ranges/$list->key.csv");
        self::assertStringContainsString("10.64.30.11,10.64.30.40,30\r\n", (string) $this->browser->getResponse()->getContent());
    }

    public function testWhatIfIsAskedFirstAndDoneAfterAll(): void
    {
        $this->enter();
        $job = $this->job;
        $slug = $job->slug;
        $this->browser->request('GET', "/j/$slug/networks");
        $rules = \count($this->plan($job)->filters);
        $row = ['row' => ['router' => 'r-core', 'position' => '1', 'from' => 'tech', 'to' => '', 'transport' => 'any', 'portFirst' => '',
            'portLast' => '', 'action' => 'deny']];
        $this->send('/add/filters', [], $row + ['ask' => '1']);
        self::assertResponseIsSuccessful();
        $text = (string) $this->browser->getResponse()->getContent();
        self::assertStringContainsString('stops answering: stopped by a rule', $text);
        self::assertCount($rules, $this->plan($job)->filters, 'nothing is written by asking');
        $this->browser->submitForm('Apply');
        self::assertCount($rules + 1, $this->plan($job)->filters);

        $page = $this->browser->request('GET', "/j/$slug/networks/reach?edit=".rawurlencode('devices/r-core filterDefault=allow'));
        self::assertStringContainsString('begins to answer', $page->text());
        $edit = rawurlencode('routes/none via=10.0.0.1');
        $page = $this->browser->request('GET', "/j/$slug/networks/reach?edit=$edit&from=tech&to=hall");
        self::assertStringContainsString('There is no "none" in routes.', $page->text());
        self::assertStringContainsString('stopped by a rule', $page->filter('#opened')->text());
    }

    public function testTheRulesThatAreWantedArePutIntoThePlan(): void
    {
        $this->enter();
        $job = $this->job;
        $slug = $job->slug;
        $n = \count(RequiredFirewallRules::of($this->plan($job), true)->rules);
        self::assertGreaterThan(42, $n);
        $page = $this->browser->request('GET', "/j/$slug/networks/rules?by=address&ask=1&tests=1");
        self::assertStringContainsString("With only $n rules, all required flows work", $page->text());
        self::assertStringContainsString('tests of the job were predicted with only these rules', $page->text());
        $this->browser->submitForm('Put these rules into the plan');
        self::assertResponseRedirects();
        self::assertCount($n, $this->plan($job)->filters);
        self::assertStringContainsString(
            'block no required flow',
            $this->browser->request('GET', "/j/$slug/networks/rules")->text(),
        );
        $this->browser->request('GET', "/j/$slug/networks/rules.txt?by=address");
        self::assertStringContainsString('R-CORE: allow', (string) $this->browser->getResponse()->getContent());
    }
}
