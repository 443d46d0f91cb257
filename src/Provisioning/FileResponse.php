<?php

declare(strict_types=1);

namespace Vorhut\Provisioning;

use Vorhut\Core\Text\Message;

/** The answer to a phone's request, and the log entry for it. */
final readonly class FileResponse
{
    public function __construct(
        public int $status,
        public string $body,
        public ?string $device,
        public ?string $version,
        public ?Message $reason = null,
    ) {
    }
}
