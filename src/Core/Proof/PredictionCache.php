<?php

declare(strict_types=1);

namespace Vorhut\Core\Proof;

use Vorhut\Core\Network\Walk\NetworkModel;

/**
 * Predictions of a test plan, each computed when somebody asks. Only the last is kept: who asks for one asks for all of it and goes on to
 * the next, and the walks of ten thousand tests at once would fill the memory for nothing.
 */
final class PredictionCache
{
    private ?NetworkModel $network = null;
    private ?string $key = null;
    private ?Prediction $last = null;

    /** How many were computed: what a page costs is counted by it. */
    public int $computed = 0;

    /** @param \Closure(): NetworkModel $model of what was set; asked for only when something is predicted */
    public function __construct(private readonly \Closure $model)
    {
    }

    public function model(): NetworkModel
    {
        return $this->network ??= ($this->model)();
    }

    /** @param \Closure(): Prediction $predict */
    public function of(string $key, \Closure $predict): Prediction
    {
        if ($this->key !== $key || null === $this->last) {
            $this->last = $predict();
            $this->key = $key;
            ++$this->computed;
        }

        return $this->last;
    }
}
