<?php

declare(strict_types=1);

namespace Vorhut\Tests\App;

use Doctrine\ORM\EntityManagerInterface;
use Symfony\Component\DomCrawler\Crawler;
use Symfony\Component\HttpFoundation\File\UploadedFile;
use Vorhut\Exchange\Photos;
use Vorhut\Tests\Support\JobPagesTestCase;

/** A photo at a step: kept without its place, once, seen by this job alone, taken away by whoever took it. */
final class PhotosTest extends JobPagesTestCase
{
    public const JPEG = "\xFF\xD8\xFF\xE1\x00\x0BExif\0\0GPS\xFF\xC0\x00\x0B\x08\x00\x02\x00\x03\x01\x01\x11\x00"
        ."\xFF\xDA\x00\x08\x01\x01\x00\x00\x3F\x00\xAB\xFF\xD9";

    private function upload(string $bytes, string $step = 'unpack'): Crawler
    {
        $file = (string) tempnam(sys_get_temp_dir(), 'photo');
        file_put_contents($file, $bytes);
        $page = $this->page('bench?sel=devices/cam-01');
        $this->browser->request('POST', '/j/'.$this->job->slug.'/bench/photo', [
            '_token' => (string) $page->filter('input[name=_token]')->first()->attr('value'),
            '_back' => '/j/'.$this->job->slug.'/bench?sel=devices/cam-01',
            'device' => 'cam-01',
            'step' => $step,
        ], ['photo' => new UploadedFile($file, '../../label.php', 'text/html', null, true)]);

        return $this->browser->followRedirect();
    }

    public function testItIsKeptWithoutItsPlaceAndOnce(): void
    {
        $this->enter('technician');
        $this->upload(self::JPEG);
        $page = $this->upload(self::JPEG);
        $shown = $page->filter('.photos img');
        self::assertCount(1, $shown, 'sent twice is one');
        $this->browser->request('GET', (string) $shown->attr('src'));
        $response = $this->browser->getResponse();
        self::assertSame('image/jpeg', $response->headers->get('Content-Type'));
        self::assertStringNotContainsString('GPS', (string) $response->getContent());
        self::assertSame('nosniff', $response->headers->get('X-Content-Type-Options'));
        $id = self::service(Photos::class)->of($this->fresh($this->job))[0]['id'];

        $port = $this->job;
        $this->job = $this->jobOf('museum');
        $this->browser->request('GET', '/j/'.$this->job->slug.'/photo/'.$id);
        self::assertSame(404, $this->browser->getResponse()->getStatusCode(), 'another job has it not');

        $this->job = $port;
        $this->page('bench?sel=devices/cam-01');
        $this->send('/photo/'.$id, [], []);
        self::assertSame([], self::service(Photos::class)->of($this->fresh($this->job)));
    }

    public function testWhatIsNoPhotoIsSaidAtItsStep(): void
    {
        $this->enter('technician');
        self::assertStringContainsString('JPEG or PNG', $this->upload('<svg onload=alert(1)>')->filter('[role=alert]')->text());
        self::assertStringContainsString('breaks off', $this->upload(substr(self::JPEG, 0, -2))->filter('[role=alert]')->text());
        self::assertSame([], self::service(Photos::class)->of($this->fresh($this->job)));
    }

    public function testNobodyTakesAwayWhatSomebodyElseTook(): void
    {
        $this->enter('technician');
        $this->upload(self::JPEG);
        self::service(EntityManagerInterface::class)->getConnection()->executeStatement("UPDATE photo SET login = 'jonas'");
        $id = self::service(Photos::class)->of($this->fresh($this->job))[0]['id'];
        $this->page('bench?sel=devices/cam-01');
        $this->send('/photo/'.$id, [], []);
        self::assertSame(403, $this->browser->getResponse()->getStatusCode());
        self::assertCount(1, self::service(Photos::class)->of($this->fresh($this->job)));
    }
}
