<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Walk;

use Vorhut\Core\Net\Port;
use Vorhut\Core\Net\Transport;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\FilterRule;
use Vorhut\Core\Text\Message;

/** What the filter that stopped a packet would have to be told. */
final readonly class FilterFix
{
    public function __construct(private FixSearch $search)
    {
    }

    /** A rule before the one that denied. The administrator is requested to allow exactly this pair and port. */
    public function find(): void
    {
        $broken = $this->search->walk->brokenHop();
        $router = $this->search->model->device($this->search->walk->router);
        [$from, $to] = [$this->search->walk->fromSegment, $this->search->walk->toSegment];
        if (Fault::Filtered !== $broken?->fault || null === $router || null === $from || null === $to) {
            return;
        }
        if ($broken->back && !$router->stateful) {
            $this->search->add(FixRank::STATE, new Change(
                new Message('Let {router} keep state, so that answers of a flow it let out come back.', ['router' => $router->tag]),
                [Edit::put('devices', $router->key, 'stateful', false, true)],
            ));

            return;
        }
        $port = $this->search->walk->port;
        $own = array_filter($this->search->model->plan->filters, static fn (FilterRule $rule): bool => $rule->router === $router->key);
        $positions = array_map(static fn (FilterRule $rule): int => $rule->position, $own);
        // Positions are whole numbers from 1; a tie is broken by the key, and "+" would not be one: shift the others only where needed.
        $position = max(1, ([] === $positions ? 10 : min($positions)) - 1);
        $edits = [];
        if ([] !== $positions && min($positions) <= $position) {
            foreach ($own as $rule) {
                $edits[] = Edit::put('filters', $rule->key, 'position', $rule->position, $rule->position + 10);
            }
            $position = 10;
        }
        $asked = $broken->back ? Walker::ASKING_PORT : $port?->number;
        $edits[] = Edit::add('filters', [
            'key' => $this->search->model->plan->freeKey('filters', $router->key.'-'.$from.'-'.$to),
            'router' => $router->key,
            'position' => $position,
            'from' => $from,
            'to' => $to,
            'transport' => match (true) {
                null !== $port => $port->transport->value,
                $broken->back => 'tcp',
                default => 'any',
            },
            'portFirst' => $asked,
            'portLast' => $broken->back ? 65535 : $asked,
            'action' => 'allow',
            'note' => null,
        ]);
        $this->search->add(FixRank::RULE, new Change(
            new Message('Ask for a rule at {router}: allow {port} from {from} to {to}.', [
                'router' => $router->tag,
                'port' => match (true) {
                    $broken->back => (string) Port::of($port->transport ?? Transport::Tcp, Walker::ASKING_PORT),
                    null === $port => 'any',
                    default => (string) $port,
                },
                'from' => $this->search->model->segmentName($from),
                'to' => $this->search->model->segmentName($to),
            ]),
            $edits,
        ));
    }
}
