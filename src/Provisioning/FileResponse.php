<?php

declare(strict_types=1);

namespace Vorhut\Provisioning;

use Vorhut\Core\Text\Message;

/** What a phone gets for its question, and what is written down about it. */
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
