<?php

declare(strict_types=1);

namespace Vorhut\Tests\App;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\Attributes\Group;
use Symfony\Component\DomCrawler\Field\FileFormField;
use Symfony\Component\DomCrawler\Form;
use Vorhut\Core\Document\JobDocument;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Text\Message;
use Vorhut\Exchange\Jobs;
use Vorhut\Journal\AdminAnswers;
use Vorhut\Journal\ChangeWriter;
use Vorhut\Tests\Support\JobPagesTestCase;

/**
 * Every field of every form of every page, hidden ones too, with what nobody would type: a sentence or a refusal, never a failure, and the
 * job can be read again behind it.
 */
#[Group('wide')]
final class HostileFormsTest extends JobPagesTestCase
{
    /** @return iterable<string, array{string}> */
    public static function values(): iterable
    {
        yield 'no UTF-8' => ["Ger\xE4t"];
        yield 'a lone surrogate' => ["a\xED\xA0\x80b"];
        yield 'controls' => ["a\0b\r\nSet-Cookie: x=1"];
        yield 'very long' => [str_repeat('ø9', 40_000)];
        yield 'a path' => ['../../../etc/passwd'];
        yield 'a number beyond numbers' => [str_repeat('9', 400)];
        yield 'a formula and a tag' => ['=1+1<svg onload=alert(1)>{{7*7}}'];
    }

    #[DataProvider('values')]
    public function testNothingThatIsTypedMakesAPageFail(string $value): void
    {
        $this->enter();
        $done = [];
        foreach ([
            'brief', 'networks?sel=segments/quay', 'networks?from=outposts/tech&to=ra-01&port=80', 'devices?sel=devices/cam-05',
            'bench?sel=devices/cam-05', 'bench/write', 'services?from=2101&digits=2102', 'proof?sel=tests/reach:tech>ra-01:80/tcp',
            'handover', 'kinds/ptz-camera', 'kinds', 'networks/reach?from=tech&to=hall', 'networks/rules?ask=1',
            'networks/ranges?from=tech', 'networks/groups', 'networks/ipv6', 'networks/outposts', 'networks/ask',
            'services/calls?sel=callRoutes/abroad&from=2101&digits=021', 'services/calls?sel=menus/welcome',
            'services/streams?sel=streams/film', 'services/links?sel=cables/customs', 'services/power',
            'services/sound', 'services/light?events=1+key+1',
        ] as $path) {
            // The job is deleted by its name, and here every value is typed as its name as well.
            $filter = 'form:not([action$="/logout"]):not([action$="/delete"])';
            $forms = $this->page($path)->filter($filter)->each(static fn ($form): Form => $form->form());
            self::assertSame(200, $this->browser->getResponse()->getStatusCode(), $path);
            foreach ($forms as $form) {
                foreach ($form->all() as $name => $field) {
                    // One of a sort is enough: two cells of one column are one form.
                    $sort = parse_url($form->getUri(), \PHP_URL_PATH).' '.$form->getMethod().' '.preg_replace('/\[\d+\]/', '[]', $name);
                    if (isset($done[$sort]) || '_token' === $name || $field instanceof FileFormField) {
                        continue;
                    }
                    $done[$sort] = true;
                    $values = $form->getPhpValues();
                    $asked = [];
                    parse_str(urlencode($name).'='.urlencode($value), $asked);
                    $this->browser->request($form->getMethod(), $form->getUri(), array_replace_recursive($values, $asked));
                    $status = $this->browser->getResponse()->getStatusCode();
                    self::assertLessThan(500, $status, $sort.': '.mb_scrub(substr($this->browser->getCrawler()->text(''), 0, 300)));
                    self::assertStringNotContainsString("\n", (string) $this->browser->getResponse()->headers->get('Location'));
                }
            }
        }
        foreach (['edit', 'face', 'from', 'to', 'sel', 'by'] as $name) {
            $this->browser->request('GET', '/j/'.$this->job->slug.'/networks/reach?'.$name.'='.urlencode($value));
            self::assertLessThan(500, $this->browser->getResponse()->getStatusCode(), $name);
        }
        $token = self::service(AdminAnswers::class)->link($this->fresh($this->job), 'Jo');
        // Whatever is left of the job by now, something of it is asked.
        self::service(ChangeWriter::class)->write($this->fresh($this->job), new Change(new Message('asked'), [
            Edit::add('segments', ['key' => 'asked', 'name' => 'Asked', 'network' => '10.99.99.0/24']),
        ]), 'Jo');
        foreach ([['answer' => ['segments/asked:vlan' => $value]], ['answer' => [$value => '1']], ['answer' => $value], [
            'by' => $value,
            'answer' => ['segments/asked:vlan' => '7'],
            'remark' => ['segments/asked:vlan' => $value],
        ]] as $sent) {
            $this->browser->request('POST', '/a/'.$token, $sent);
            self::assertLessThan(500, $this->browser->getResponse()->getStatusCode(), 'an administrator');
        }
        foreach (['pair', 'work', 'evidence'] as $door) {
            $this->browser->request('POST', '/o/'.$door, server: ['HTTP_AUTHORIZATION' => 'Bearer '.$value], content: $value);
            self::assertLessThan(500, $this->browser->getResponse()->getStatusCode(), $door);
        }
        self::assertGreaterThan(40, \count($done));
        self::assertSame(200, $this->statusOf('devices'));
        $json = self::service(Jobs::class)->export($this->fresh($this->job))->toJson();
        $read = JobDocument::fromJson($json, \Vorhut\Tests\Support\Jobs::catalogue());
        self::assertSame($json, $read->toJson(), 'what is kept is read again');
    }

    private function statusOf(string $path): int
    {
        $this->page($path);

        return $this->browser->getResponse()->getStatusCode();
    }
}
