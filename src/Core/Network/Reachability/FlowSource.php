<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Reachability;

/** Some of what a job needs of its network. */
interface FlowSource
{
    /** Adds its flows to the list that it was made with. */
    public function collect(): void;
}
