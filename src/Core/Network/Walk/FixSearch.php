<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Walk;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Mask;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\RouterPort;
use Vorhut\Core\Text\Message;

/** The search for the fault of one failed walk: candidates tried, and fixes found. */
final class FixSearch
{
    /** @var list<Remedy> */
    private array $found = [];
    /** @var array<string, true> */
    private array $looked = [];

    public function __construct(public readonly NetworkModel $model, public readonly Walk $walk)
    {
    }

    /** @param Host|null $after the host with the change, if only one host gets another value */
    public function add(int $rank, Change $change, ?Host $after = null): void
    {
        $this->found[] = new Remedy($rank, $change, $after);
    }

    /** @return list<Remedy> in the order in which they were found */
    public function found(): array
    {
        return $this->found;
    }

    /** Says so once for each name. */
    public function isNew(string $what): bool
    {
        $known = isset($this->looked[$what]);
        $this->looked[$what] = true;

        return !$known;
    }

    /** An interface of a router at another address, or with another mask. */
    public function portAt(RouterPort $port, Ipv4 $address, Mask $mask): Change
    {
        $edits = [];
        foreach (['address' => [$port->address, $address], 'mask' => [$port->mask, $mask]] as $field => [$before, $after]) {
            if ((string) $before !== (string) $after) {
                $edits[] = Edit::put('routerPorts', $port->key, $field, (string) $before, (string) $after);
            }
        }

        return new Change(new Message('Give {router} {address} on {segment}.', [
            'router' => $this->model->device($port->router)->tag ?? $port->router,
            'address' => $address.$mask,
            'segment' => $this->model->segmentName($port->segment),
        ]), $edits);
    }
}
