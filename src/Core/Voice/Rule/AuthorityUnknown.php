<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice\Rule;

use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\FileAddress;
use Vorhut\Core\Text\Message;

/** A phone has an HTTPS address for its file, and no authority to trust for it. */
final class AuthorityUnknown implements Rule
{
    private const SHOWN = 16;

    public function find(RuleContext $context): iterable
    {
        if (!FileAddress::of($context->plan, '')->isSealed) {
            return;
        }
        foreach ($context->plan->devices as $device) {
            $value = $device->setting(FileAddress::TRUST);
            $wanted = $value->planned ?? '';
            $known = $value->set ?? $value->seen ?? '';
            if (
                !$device->kind->has(Role::FileClient)
                || !FileAddress::isOf($device, Face::Set)
                || '' === $wanted
                || $known === $wanted
            ) {
                continue;
            }
            $at = [
                'tag' => $device->tag,
                'wanted' => substr($wanted, 0, self::SHOWN),
                'host' => $context->plan->job->text('filesHost'),
                'known' => substr($known, 0, self::SHOWN),
            ];
            yield new Finding(
                'authority-unknown',
                Severity::Blocks,
                Stage::Services,
                [$device->record()],
                '' === $at['known']
                    ? new Message('{tag} does not trust the certificate of {host} yet.', $at)
                    : new Message(
                        '{tag} trusts the authority {known}… for its file, but the certificate of {host} was issued by {wanted}….',
                        $at,
                    ),
                new Message('It rejects the certificate of the file server and gets no file, without giving a reason.'),
                new Message('Load the authority {wanted}… into {tag}: the run sheet has the step.', $at),
            );
        }
    }
}
