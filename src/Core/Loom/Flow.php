<?php

declare(strict_types=1);

namespace Vorhut\Core\Loom;

use Vorhut\Core\Net\Port;
use Vorhut\Core\Text\Message;

/** Who has to reach whom for the job to work, by which ports, and why. */
final readonly class Flow
{
    /**
     * @param string $from device key, or `outposts/SEGMENT` for whatever stands there
     * @param string $to   device key
     * @param int    $last the last port of the range that begins at $port
     */
    public function __construct(public string $from, public string $to, public Port $port, public int $last, public Message $why)
    {
    }

    public function key(): string
    {
        return "$this->from>$this->to $this->port $this->last";
    }
}
