<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice\Rule;

use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\FileAddress;
use Vorhut\Core\Text\Message;

/** Files are requested by host name, and the phone has no DNS server to resolve it. */
final class FileServerNotFound implements Rule
{
    public function find(RuleContext $context): iterable
    {
        $job = $context->plan->job;
        if (!FileAddress::of($context->plan, '')->isSealed) {
            return;
        }
        $at = ['host' => $job->text('filesHost')];
        if (null !== Ipv4::tryFromString($at['host'])) {
            return;
        }
        foreach ($context->plan->devices as $device) {
            if (
                $device->kind->has(Role::FileClient)
                && FileAddress::isOf($device, Face::Planned)
                && '' === ($device->nic()?->setting('dns')->effective(Face::Planned) ?? '')
            ) {
                yield new Finding(
                    'file-server-not-found',
                    Severity::Blocks,
                    Stage::Services,
                    [$device->record()],
                    new Message(
                        '{tag} is planned to fetch its file from {host}, but has no DNS server.',
                        $at + ['tag' => $device->tag],
                    ),
                    new Message('It cannot resolve this name, so it gets no file.'),
                    new Message('Plan a DNS server for its segment, or use an IP address as file server.'),
                );
            }
        }
    }
}
