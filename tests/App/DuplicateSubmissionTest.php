<?php

declare(strict_types=1);

namespace Vorhut\Tests\App;

use Doctrine\ORM\EntityManagerInterface;
use Symfony\Component\DomCrawler\Form;
use Vorhut\Application\DiscardOldRecords;
use Vorhut\Tests\Support\JobPagesTestCase;

/** A double click, or Enter and then leaving the field: the form is carried out once, and both requests get the same answer. */
final class DuplicateSubmissionTest extends JobPagesTestCase
{
    public function testAFormThatIsSentTwiceAddsOneRecord(): void
    {
        $this->enter();
        $before = \count($this->plan($this->job)->segments);
        $form = $this->segmentForm('Stage', '10.64.90.0/24');
        $first = $this->sent($form);
        self::assertSame($first, $this->sent($form));
        self::assertCount($before + 1, $this->plan($this->fresh($this->job))->segments);

        // Another rendering of the form is another submission, and so are other values in the same one.
        $this->sent($this->segmentForm('Stage', '10.64.91.0/24'));
        self::assertCount($before + 2, $this->plan($this->fresh($this->job))->segments);
        $form['row[name]'] = 'Balcony';
        $form['row[network]'] = '10.64.92.0/24';
        $this->sent($form);
        self::assertCount($before + 3, $this->plan($this->fresh($this->job))->segments);
    }

    public function testAFieldThatIsSavedTwiceIsNoConflict(): void
    {
        $this->enter();
        $form = $this->page('networks?sel=segments/voice')->filter('form.cell')->reduce(
            static fn ($one): bool => 'name' === $one->filter('[name=field]')->attr('value'),
        )->form();
        $form['value'] = 'Telephony';
        $first = $this->sent($form);
        self::assertSame($first, $this->sent($form));
        self::assertStringNotContainsString('told=', $first, 'nothing to object to');
        self::assertSame('Telephony', $this->plan($this->fresh($this->job))->segments['voice']->name);
    }

    public function testWhatWasSentIsForgottenOnceItHasExpired(): void
    {
        $this->enter();
        $this->sent($this->segmentForm('Stage', '10.64.90.0/24'));
        $database = self::service(EntityManagerInterface::class)->getConnection();
        $kept = static fn (): int => (int) $database->executeQuery("SELECT 1 FROM cache_items WHERE item_id LIKE '%sent.%'")->rowCount();
        $discard = self::service(DiscardOldRecords::class);
        $discard->run();
        $before = $kept();
        self::assertGreaterThan(0, $before, 'it may still be sent again');
        $database->executeStatement("UPDATE cache_items SET item_time = item_time - 7200 WHERE item_id LIKE '%sent.%'");
        $discard->run();
        self::assertSame(0, $kept());
    }

    private function segmentForm(string $name, string $network): Form
    {
        return $this->page('networks')->filter('form[action$="/add/segments"]')->form(['row[name]' => $name, 'row[network]' => $network]);
    }

    /** The address that the answer leads to. */
    private function sent(Form $form): string
    {
        $this->browser->submit($form);
        self::assertResponseRedirects();

        return (string) $this->browser->getResponse()->headers->get('Location');
    }
}
