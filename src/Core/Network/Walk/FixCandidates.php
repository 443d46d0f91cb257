<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Walk;

use Vorhut\Core\Net\Address;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Row;

/**
 * What may be wrong with a walk that broke, each as one change at one place: everybody who had a part in it is looked at, and the
 * likeliest mistake comes first (FixRank).
 */
final class FixCandidates
{
    /** @var array<string, true>|null */
    private ?array $providers = null;

    private function __construct(private readonly FixSearch $search)
    {
    }

    /** @return list<Remedy> the likeliest first */
    public static function of(NetworkModel $model, Walk $walk, string $from, string $to): array
    {
        $search = new FixSearch($model, $walk);
        $candidates = new self($search);
        $hosts = new HostFixes($search);
        foreach ($candidates->involvedHosts($from, $to) as $host) {
            $hosts->find($host);
        }
        (new RouterFixes($search))->find();
        (new FilterFix($search))->find();
        $found = array_values(array_filter($search->found(), $candidates->isWithinTheJob(...)));
        // A sort that keeps the order of equals: the culprit was looked at first.
        usort($found, static fn (Remedy $a, Remedy $b): int => $a->rank <=> $b->rank);

        return $found;
    }

    /** A router of the provider is drawn in the plan and not ours to change: it never learns our private networks. */
    private function isWithinTheJob(Remedy $remedy): bool
    {
        foreach ($remedy->change->edits as $edit) {
            $row = new Row($edit->row ?? $this->search->model->plan->row($edit->section, $edit->key) ?? []);
            $router = match ($edit->section) {
                'devices' => $edit->key,
                'routes', 'routerPorts', 'filters', 'translations' => $row->text('router'),
                default => '',
            };
            if (isset($this->providers()[$router])) {
                return false;
            }
        }

        return true;
    }

    /** @return array<string, true> routers at a public address that another router of the job sends everything else to */
    private function providers(): array
    {
        if (null === $this->providers) {
            $this->providers = [];
            foreach ($this->search->model->plan->routes as $route) {
                $isUp = 0 === $route->destination->prefix() && !$route->via->isPrivate();
                if ($isUp) {
                    foreach ($this->search->model->allHolders($route->via) as $holder) {
                        if ($holder->forwards && null !== $holder->device && $holder->device !== $route->router) {
                            $this->providers[$holder->device] = true;
                        }
                    }
                }
            }
        }

        return $this->providers;
    }

    /** @return list<Host> whose settings had a part: the culprit, both ends, everybody who holds an address that was asked for */
    private function involvedHosts(string $from, string $to): array
    {
        $hosts = null === $this->search->walk->culprit ? [] : [$this->search->walk->culprit];
        foreach ([$to, $from] as $end) {
            foreach ($this->search->model->hostsOf($end) as $host) {
                $hosts[] = $host;
            }
        }
        foreach ($hosts as $host) {
            foreach ([$host->address, $host->gatewayAddress] as $address) {
                if (null !== $address) {
                    foreach ($this->search->model->allHolders($address) as $other) {
                        $hosts[] = $other;
                    }
                }
            }
        }
        if (null !== $this->search->walk->destination) {
            foreach ($this->search->model->allHolders($this->search->walk->destination) as $other) {
                $hosts[] = $other;
            }
        }

        return array_values(array_filter($hosts, fn (Host $host): bool => $this->search->isNew($host->ref)));
    }
}
