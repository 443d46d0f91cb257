<?php

declare(strict_types=1);

namespace Vorhut\Core\Proof;

use Vorhut\Core\Network\Walk\NetworkModel;

/**
 * Predictions of a test plan, each computed on demand. Only the last is kept: a caller uses all of one prediction before the next, and the
 * walks of ten thousand tests would fill the memory needlessly.
 */
final class PredictionCache
{
    private ?NetworkModel $network = null;
    private ?string $key = null;
    private ?Prediction $last = null;

    /** How many were computed: what a page costs is counted by it. */
    public int $computed = 0;

    /** @param \Closure(): NetworkModel $model of the values set; called only for a prediction */
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
