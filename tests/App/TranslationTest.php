<?php

declare(strict_types=1);

namespace Vorhut\Tests\App;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\Attributes\Group;
use Vorhut\Application\ImportJob;
use Vorhut\Core\Catalogue\Kind;
use Vorhut\Core\Catalogue\Setting;
use Vorhut\Core\Document\JobDocument;
use Vorhut\Library\Sentences;
use Vorhut\Secrets\Vault;
use Vorhut\Tests\Support\ApplicationTestCase;
use Vorhut\Tests\Support\Jobs;
use Vorhut\Tests\Support\PseudoTranslator;

/** Every sentence of every page goes through the translator: in a language of its own each stands in ⟦ ⟧, and nothing else is left. */
#[Group('wide')]
final class TranslationTest extends ApplicationTestCase
{
    /** Names that are the same in every language: the product's, standards' and protocols', and keys of the keyboard. */
    private const SAME = [
        'Vorhut', 'MAC', 'VLAN', 'DNS', 'DHCP', 'CSV', 'JSON', 'PDF', 'udp', 'tcp', 'mdns', 'HTTP', 'Ctrl', 'Shift', 'Z', 'GET', 'vorhut',
        'vCard', 'LDIF', 'Enter'];

    /** @return iterable<string, array{string, string}> job, page */
    public static function pages(): iterable
    {
        foreach ([
            'brief', 'networks', 'networks?sel=segments/quay', 'networks?from=outposts/tech&to=ra-01&port=80&face=set',
            'networks?from=ph-01&to=pbx-01&port=x', 'networks/ipv6?from=pc-01&to=vc-01&port=80',
            'devices', 'devices?sel=devices/cam-01', 'devices?sel=devices/ph-05',
            'devices?sel=devices/lt-01&cols[]=hostName&cols[]=ringOutput', 'devices?afresh=1',
            'bench', 'bench?sel=devices/ph-07', 'bench?sel=devices/cam-02', 'bench?sel=devices/ln-01', 'services',
            'services?sel=extensions/x2101&from=2101&digits=2102', 'services?from=2101&digits=112',
            'services?from=2101&digits=0049', 'proof', 'proof?sel=tests/reach:tech%3Era-01:80/tcp', 'handover',
            'cure/preview?finding=static-inside-pool:devices/enc-01%2Bnics/enc-01.lan', 'find?q=10.64.20.77/22', 'find?q=nonsense',
        ] as $page) {
            yield $page => ['port', $page];
        }
        yield 'museum, handover' => ['museum', 'handover'];
    }

    #[DataProvider('pages')]
    public function testNoSentenceEscapes(string $demo, string $page): void
    {
        $document = JobDocument::fromJson(Jobs::demo($demo), Jobs::catalogue());
        $translator = new PseudoTranslator();
        self::getContainer()->set('translator', $translator);
        $job = self::service(ImportJob::class)->import($document);
        self::service(Vault::class)->fill($job, $document->plan(Jobs::catalogue()), 'Mara');
        $this->browser->loginUser($this->user('lead'));
        $this->browser->followRedirects();
        $crawler = $this->browser->request('GET', "/j/$job->slug/$page");
        self::assertSame(200, $this->browser->getResponse()->getStatusCode());
        self::assertSame(PseudoTranslator::LOCALE, $crawler->filter('html')->attr('lang') ?? '', 'the language is said');

        $data = [];
        $known = [
            json_decode($document->toJson(), true),
            ['Mara', 'lead', 'Lead', 'File server', $job->slug, str_replace('-', ' ', $job->slug)],
            // What is typed into a device is what stands there, in whatever language.
            array_map(static fn (Kind $kind): array => array_map(
                static fn (Setting $one): array => array_filter(
                    [$one->default, $one->unit, ...$one->choices],
                    static fn (?string $text): bool => 1 === preg_match('/\p{L}{2}/u', (string) $text),
                ),
                $kind->settings,
            ), Jobs::catalogue()->kinds()),
        ];
        array_walk_recursive($known, static function (mixed $value) use (&$data): void {
            // Numbers are no words, and would be cut out of addresses.
            if (\is_string($value) && !is_numeric($value)) {
                $data[] = $value;
            }
        });
        usort($data, static fn (string $a, string $b): int => \strlen($b) <=> \strlen($a));
        $escaped = [];
        $html = $crawler->getNode(0)?->ownerDocument;
        self::assertInstanceOf(\DOMDocument::class, $html);
        $texts = (new \DOMXPath($html))->query(
            '//text()[not(ancestor::script) and not(ancestor::*[@translate="no"]) and not(parent::*[contains(@class, "reason")])]'
                .' | //@aria-label | //@title | //@placeholder | //@alt',
        );
        self::assertInstanceOf(\DOMNodeList::class, $texts);
        self::assertGreaterThan(40, $texts->length);
        foreach ($texts as $node) {
            $text = (string) $node->nodeValue;
            $rest = self::withoutTranslated($text);
            $rest = str_replace($data, ' ', $rest);
            $rest = (string) preg_replace('/\b('.implode('|', self::SAME).')\b/', ' ', $rest);
            // Addresses, MACs, times, sizes and keys are no words.
            $rest = (string) preg_replace(
                '~\b[0-9A-F]{2}(?:-[0-9A-F]{2}){5}\b|\b[0-9A-Fa-f:.-]*\d[\w:./-]*|[\w.-]+#[\w.]+|https?://\S+~',
                ' ',
                $rest,
            );
            if (1 === preg_match('/\p{L}{2,}/u', $rest)) {
                $escaped[trim($text)] = trim((string) preg_replace('/\s+/', ' ', $rest));
            }
        }
        self::assertSame([], $escaped);
        $catalogue = self::service(Sentences::class)->all();
        $asked = array_filter(
            array_keys(array_diff_key($translator->asked, $catalogue)),
            static fn (mixed $one): bool => !is_numeric($one),
        );
        self::assertSame([], array_values(array_diff($asked, $data)), 'not gathered');
    }

    public function testTheEnglishCatalogueIsTheOneThatIsGathered(): void
    {
        $catalogue = self::service(Sentences::class);
        self::assertSame($catalogue->yaml(), file_get_contents(\dirname(__DIR__, 2).'/translations/messages.en.yaml'));
        self::assertArrayHasKey('{host} finds {address} in its own {network} and looks for it in its segment.', $catalogue->all());
    }

    private static function withoutTranslated(string $text): string
    {
        do {
            $text = (string) preg_replace('/⟦[^⟦⟧]*⟧/u', ' ', $text, -1, $n);
        } while ($n > 0);

        return $text;
    }
}
