<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;

/** The places of one job that an outpost can look from, each looked for once. */
final class VantagePoints
{
    private ?NetworkModel $model = null;
    /** @var array<string, VantagePoint|NoAnswer> */
    private array $known = [];

    public function __construct(public readonly Plan $plan, private readonly NetworkAccess $access)
    {
    }

    /** @throws NoAnswer where nothing can be asked from that segment, with the reason */
    public function on(string $segment): VantagePoint
    {
        $known = $this->known[$segment] ??= $this->look($segment);

        return $known instanceof VantagePoint ? $known : throw $known;
    }

    /** @return VantagePoint|null where nothing can be asked from there */
    public function tryOn(?string $segment): ?VantagePoint
    {
        try {
            return null === $segment ? null : $this->on($segment);
        } catch (NoAnswer) {
            return null;
        }
    }

    private function look(string $segment): VantagePoint|NoAnswer
    {
        $network = ($this->plan->segments[$segment] ?? null)?->network;
        if (null === $network) {
            return NoAnswer::notAsked(new Message('the job has no such segment'));
        }
        $this->model ??= NetworkModel::of($this->plan, Face::Planned);
        $planned = $this->model->outpost($segment)?->ipv4();
        if (null === $planned) {
            return NoAnswer::notAsked(new Message('no address is free there for an outpost'));
        }
        try {
            return new VantagePoint($this->plan, (string) gethostname(), $this->access->adapter($network, $planned));
        } catch (NoAnswer $e) {
            return $e;
        }
    }
}
