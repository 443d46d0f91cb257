<?php

declare(strict_types=1);

namespace Vorhut\Core\Media\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Media\PushTarget;
use Vorhut\Core\Media\StreamUrl;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Text\Message;

/** An SRT stream is not received at its far end: no listener there, two listeners, or different ports or passphrases. */
final class PushEndsApart implements Rule
{
    public function find(RuleContext $context): iterable
    {
        foreach (PushTarget::all($context->plan) as $target) {
            if (!$target->isOnSite($context->plan)) {
                continue;
            }
            $taker = $target->taker;
            $port = $target->missedPort();
            $what = null === $taker
                ? new Message('{tag} pushes to {host}, which is not a device of this job.', [
                    'tag' => $target->from->tag,
                    'host' => $target->url->host,
                ])
                : $target->apart();
            if (null !== $what) {
                yield new Finding(
                    'push-ends-apart',
                    Severity::Blocks,
                    Stage::Services,
                    null === $taker ? [$target->from->record()] : [$target->from->record(), $taker->record()],
                    $what,
                    new Message('The one tries for ever and the other shows black: neither says why.'),
                    new Message('Set both ends alike: one calls and one listens, at one port, with one passphrase or none.'),
                    null === $port ? null : $this->changePort($target, $port),
                );
            }
        }
    }

    /** To the port where it is taken, where the address was only planned. */
    private function changePort(PushTarget $target, Port $taken): ?Change
    {
        $value = $target->from->setting('pushUrl');
        if ($value->planned !== $value->effective(Face::Set)) {
            return null;
        }
        $url = StreamUrl::of('srt', $target->url->host, $taken->number, $target->url->path, $target->url->query);

        return new Change(
            new Message('{tag} pushes to port {port}.', ['tag' => $target->from->tag, 'port' => $taken->number]),
            [Edit::setting($target->from->record().'#pushUrl', Face::Planned, $value->planned, $url->whole())],
        );
    }
}
