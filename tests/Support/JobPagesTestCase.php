<?php

declare(strict_types=1);

namespace Vorhut\Tests\Support;

use Symfony\Component\DomCrawler\Crawler;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Text\Message;
use Vorhut\Entity\Job;

/** A job of the demo, and its pages as a browser without scripts uses them. */
abstract class JobPagesTestCase extends ApplicationTestCase
{
    protected Job $job;

    protected function enter(string $role = 'lead', string $demo = 'port'): void
    {
        $this->browser->loginUser($this->user($role));
        $this->job = $this->jobOf($demo);
    }

    protected function page(string $path): Crawler
    {
        return $this->browser->request('GET', '/j/'.$this->job->slug.'/'.$path);
    }

    /** What somebody else writes meanwhile. */
    protected function write(Edit ...$edits): void
    {
        $this->changes()->write($this->fresh($this->job), new Change(new Message('x'), array_values($edits)), 'Mara');
    }

    /** @param array<string, string|list<string>> $more what the form of a step holds besides */
    protected function mark(string $device, string $step, array $more): Crawler
    {
        $back = '/j/'.$this->job->slug.'/bench?sel=devices/'.$device;
        $token = (string) $this->browser->request('GET', $back)->filter('input[name=_token]')->first()->attr('value');
        $this->browser->request('POST', '/j/'.$this->job->slug.'/bench/mark', $more + [
            '_token' => $token,
            '_back' => $back,
            'device' => $device,
            'step' => $step,
        ]);

        return $this->browser->followRedirect();
    }
}
