<?php

declare(strict_types=1);

namespace Vorhut\Tests\App;

use Vorhut\Core\Net\Mac;
use Vorhut\Core\Plan\Edit;
use Vorhut\Entity\WorkOrder;
use Vorhut\Outpost\Orders\Orders;
use Vorhut\Provisioning\FileServer;
use Vorhut\Provisioning\Freshness;
use Vorhut\Secrets\Vault;
use Vorhut\Tests\Support\JobPagesTestCase;

/** The provisioning board: who is taken in, whose file is an older one, what a PBX is told. */
final class BoardTest extends JobPagesTestCase
{
    private const STRANGER = '00-00-5E-00-53-FE';

    protected function enter(string $role = 'lead', string $demo = 'port'): void
    {
        parent::enter($role, $demo);
        self::service(Vault::class)->fill($this->fresh($this->job), $this->plan($this->job), 'Mara');
    }

    private function fetch(string $mac): void
    {
        $this->browser->request('GET', '/p/'.$this->job->fileToken.'/'.$mac.'.xml', server: ['REMOTE_ADDR' => '10.64.20.99']);
    }

    /** @param array<string, string> $form */
    private function press(string $what, array $form): string
    {
        $token = (string) $this->page('services')->filter('input[name=_token]')->first()->attr('value');
        $this->browser->request('POST', '/j/'.$this->job->slug.'/services/'.$what, $form + ['_token' => $token]);

        return $this->browser->getResponse()->isRedirect()
            ? $this->browser->followRedirect()->text()
            : (string) $this->browser->getResponse()->getContent();
    }

    public function testAStrangerIsTakenInWithOnePressAndOnlyOnce(): void
    {
        $this->enter();
        $this->fetch('00005e0053fe');
        $page = $this->page('services');
        $form = $page->filter('form[action$="/services/adopt"]');
        self::assertCount(1, $form);
        self::assertSame(self::STRANGER, $form->filter('input[name=mac]')->attr('value'));
        $this->browser->submit($form->form());
        $this->browser->followRedirect();
        $new = $this->plan($this->job)->deviceTagged('PH-11');
        self::assertSame([self::STRANGER, 'voice'], [(string) $new?->nic()?->mac, $new?->nic()?->segment]);
        $said = $this->press('adopt', ['mac' => self::STRANGER, 'as' => 'kinds/desk-phone-poe']);
        self::assertStringNotContainsString('PH-12', $said);
        self::assertCount(1, array_filter(
            $this->plan($this->job)->nics,
            static fn ($nic): bool => self::STRANGER === (string) $nic->mac,
        ));
        $this->press('adopt', ['mac' => 'nonsense', 'as' => 'kinds/desk-phone-poe']);
        self::assertNull($this->plan($this->job)->deviceTagged('PH-12'));
    }

    public function testWhoseFileSaysSomethingElseByNowIsToldToTakeItAgain(): void
    {
        $this->enter();
        $this->write(Edit::put('job', '', 'practice', true, false));
        foreach (['ph-01' => '00005e005304', 'ph-02' => '00005e005306'] as $device => $mac) {
            // The end of practice took out what was entered at the lab's registrar.
            $plan = $this->plan($this->job);
            $account = $plan->accountOf($plan->extensionsOf($device)[0]->key)->key ?? self::fail('no account');
            $this->write(Edit::put('accounts', $account, 'macEntered', null, (string) Mac::fromString($mac)));
            $this->fetch($mac);
        }
        $files = function (): array {
            $job = $this->fresh($this->job);
            self::service(FileServer::class)->prepare($job);
            $files = self::service(Freshness::class)->of($job, $this->plan($this->job));

            return [array_keys($files->fresh), array_keys($files->old)];
        };
        self::assertSame([['ph-01', 'ph-02'], []], $files());
        $this->write(Edit::put('extensions', 'x2101', 'name', $this->plan($this->job)->extensions['x2101']->name, 'Gate A'));
        self::assertStringContainsString('The current files are being generated', $this->page('services')->filter('#files')->text());
        self::assertSame([['ph-02'], ['ph-01']], $files());
        self::assertStringContainsString('1 of 2 phones have the current file', $this->page('services')->filter('#files')->text());
        $this->press('refetch', ['do' => 'tell']);
        $this->press('refetch', ['do' => 'tell']);
        $orders = array_filter(
            self::service(Orders::class)->open($this->fresh($this->job)),
            static fn (WorkOrder $one): bool => WorkOrder::REFETCH === $one->kind,
        );
        self::assertSame([['device' => 'ph-01']], array_values(array_map(static fn (WorkOrder $one): array => $one->what, $orders)));
        self::assertStringContainsString('1 under way', $this->page('services')->filter('#files')->text());
        self::assertStringContainsString('1 cancelled', $this->press('refetch', ['do' => 'stop']));
        $this->fetch('00005e005304');
        self::assertSame([['ph-01', 'ph-02'], []], $files());
        $this->write(Edit::put('job', '', 'fetchMinutes', null, 10));
        self::assertSame([['ph-01', 'ph-02'], []], $files(), 'it is known within a window too');
    }

    public function testAPreviewShowsWhatItsTemplateIsGivenAndNoSecret(): void
    {
        $this->enter('technician');
        $link = $this->page('services')->filter('#number-x2101 a:contains("file")');
        self::assertCount(1, $link, 'from its number');
        self::assertCount(2, $this->page('bench?sel=devices/ph-01')->filter('#step-server a:contains("its file")'), 'and at its step');
        $this->browser->request('GET', (string) $link->attr('href'));
        $text = (string) $this->browser->getResponse()->getContent();
        self::assertMatchesRegularExpression('/^  registrar +10\.64\.20\.10$/m', $text);
        self::assertMatchesRegularExpression('/^  secret +······$/m', $text);
        $secret = (string) self::service(Vault::class)->secretOf($this->fresh($this->job), 'accounts/a2101', 'sip');
        self::assertStringNotContainsString($secret, $text);
    }

    public function testAPbxIsToldOfItsNumbersAndThatIsWrittenDown(): void
    {
        $this->enter('technician');
        $table = $this->press('pbx-table', ['pbx' => 'pbx-01']);
        $secret = self::service(Vault::class)->secretOf($this->fresh($this->job), 'accounts/a2101', 'sip');
        self::assertStringContainsString('2101,"Gate 1",sip,2101,'.$secret.',00-00-5E-00-53-04', $table);
        self::assertStringContainsString(',00-00-5E-00-53-42+00-00-5E-00-53-77+00-00-5E-00-53-68,', $table, 'all terminals of a number');
        self::assertStringNotContainsString('2180', $table, 'a number of the provider');
        self::assertStringContainsString('Secrets of', $this->page('services')->filter('body')->text());
    }
}
