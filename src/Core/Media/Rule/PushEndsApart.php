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
                ? new Message('{tag} sends its stream to {host}, which is not a device of this job.', [
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
                    new Message('The sender keeps trying and the receiver shows black. Neither gives a reason.'),
                    new Message('Match both ends: one caller and one listener, the same port, and the same passphrase or none.'),
                    null === $port ? null : $this->changePort($target, $port),
                    button: new Message('Set the destination port of {tag} to {port}.', [
                        'tag' => $target->from->tag,
                        'port' => $port->number ?? 0,
                    ]),
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
            new Message('Destination port of {tag} set to {port}.', ['tag' => $target->from->tag, 'port' => $taken->number]),
            [Edit::setting($target->from->record().'#pushUrl', Face::Planned, $value->planned, $url->whole())],
        );
    }
}
