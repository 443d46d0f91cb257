<?php

declare(strict_types=1);

namespace Vorhut\Core\Media\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Media\LinkBudget;
use Vorhut\Core\Media\LinkLoad;
use Vorhut\Core\Media\PlannedStreams;
use Vorhut\Core\Media\StreamRate;
use Vorhut\Core\Media\Uplink;
use Vorhut\Core\Plan\Stream;
use Vorhut\Core\Text\Message;

/** More goes over a link than may, or out of the site than was measured; a stream that no cable carries, or whose rate cannot be meant. */
final class LinkTooFull implements Rule
{
    public function find(RuleContext $context): iterable
    {
        $plan = $context->plan;
        $streams = PlannedStreams::of($plan);
        if ([] === $streams) {
            return;
        }
        $budget = LinkBudget::of($plan);
        foreach ($budget->links as $link) {
            if ($link->isOver()) {
                yield $this->full($link);
            }
        }
        foreach ($budget->lost as [$stream, $receiver]) {
            if (!isset($plan->streams[$stream])) {
                // Without any cables in the job, none is missing.
                continue;
            }
            $at = [
                'stream' => $streams[$stream]->name,
                'sender' => $plan->devices[$streams[$stream]->sender]->tag ?? '?',
                'receiver' => $plan->devices[$receiver]->tag ?? '?',
            ];
            yield new Finding(
                'stream-without-cable',
                Severity::Note,
                Stage::Services,
                [PlannedStreams::recordOf($plan, $streams[$stream]), 'devices/'.$receiver],
                new Message('{stream} goes from {sender} to {receiver}, but no planned cables connect them.', $at),
                new Message('Its load cannot be assigned to a link.'),
                new Message('Add the cables of both devices, with switch and port.'),
            );
        }
        foreach ($plan->streams as $stream) {
            $rate = $budget->rates[$stream->key];
            if (!$rate->isUsual()) {
                yield $this->unusual($stream->key, $stream->name, $rate);
            }
        }
        $uplink = Uplink::of($plan, $budget->pushed);
        if (false === $uplink->holds()) {
            $outside = array_filter($streams, static fn (Stream $one): bool => $one->outside);
            yield $this->tooSmall($uplink, array_map(
                static fn (Stream $one): string => PlannedStreams::recordOf($plan, $one),
                array_values($outside),
            ));
        }
    }

    /** @param list<string> $records of the streams that leave the site */
    private function tooSmall(Uplink $uplink, array $records): Finding
    {
        return new Finding(
            'uplink-too-small',
            Severity::Blocks,
            Stage::Services,
            ['job', ...$records],
            new Message(
                'Streams to the internet use {pushed} Mbit/s and need {asked} with headroom; {usable} of the '
                .'measured {measured} Mbit/s may be used.',
                [
                    'pushed' => self::number($uplink->pushed),
                    'asked' => self::number($uplink->demand()),
                    'measured' => self::number((float) $uplink->measured),
                    'usable' => self::number((float) $uplink->usable()),
                ],
            ),
            new Message('The streams break up during the event.'),
            new Message('Send fewer streams, lower the bit rates, or get another line. Measure again at the time of day of the event.'),
        );
    }

    private function full(LinkLoad $link): Finding
    {
        $at = [
            'from' => $link->from,
            'to' => $link->to,
            'sum' => self::number($link->sum),
            'mbps' => self::number($link->mbps),
            'usable' => self::number($link->usable),
            'over' => self::number(-$link->free()),
            'keep' => $link->headroom->percent,
            'first' => $link->firstOver()['name'] ?? '?',
        ];

        return new Finding(
            'link-too-full',
            $link->isFull() ? Severity::Blocks : Severity::Risk,
            Stage::Services,
            ['cables/'.$link->cable, ...$link->streams()],
            $link->isFull()
                ? new Message('The link from {from} to {to} carries {sum} Mbit/s, but its capacity is {mbps} Mbit/s.', $at)
                : new Message(
                    'The link from {from} to {to} carries {sum} Mbit/s. With {keep} % headroom, {usable} of {mbps} '
                    .'Mbit/s may be used: {over} too much.',
                    $at,
                ),
            new Message('The switch drops packets of everything on this link: pictures freeze and calls stutter.'),
            new Message('Lower a bit rate, use multicast, or use a faster link. The first stream that does not fit is {first}.', $at),
        );
    }

    private function unusual(string $key, string $name, StreamRate $rate): Finding
    {
        $usual = $rate->usual ?? [0.0, 0.0];
        $at = [
            'stream' => $name,
            'kbit' => number_format((float) $rate->kbit, 0, '.', ''),
            'codec' => $rate->codec,
            'size' => $rate->width.'×'.$rate->height,
            'fps' => number_format($rate->frameRate, 0, '.', ''),
            'least' => number_format($usual[0], 0, '.', ''),
            'most' => number_format($usual[1], 0, '.', ''),
        ];

        return new Finding(
            'rate-unusual',
            Severity::Note,
            Stage::Services,
            ['streams/'.$key],
            new Message('{stream} has {kbit} kbit/s; {codec} at {size} and {fps} fps usually needs {least} to {most}.', $at),
            $rate->kbit < $usual[0]
                ? new Message('The picture will look soft, and break into blocks in motion.')
                : new Message('The stream uses link capacity without benefit.'),
            new Message('Compare size, frame rate and bit rate on the admin page of the sender.'),
        );
    }

    private static function number(float $value): string
    {
        return rtrim(rtrim(number_format($value, 2, '.', ''), '0'), '.');
    }
}
