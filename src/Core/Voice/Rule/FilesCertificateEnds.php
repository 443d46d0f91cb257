<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Plan\FileAddress;
use Vorhut\Core\Text\Message;

/** The certificate under which phones fetch ends before the work begins. */
final class FilesCertificateEnds implements Rule
{
    public function find(RuleContext $context): iterable
    {
        $job = $context->plan->job;
        $at = ['host' => $job->text('filesHost'), 'until' => $job->text('filesUntil'), 'begins' => $job->text('startsOn')];
        if (!FileAddress::of($context->plan, '')->isSealed || \in_array('', $at, true) || $at['until'] >= $at['begins']) {
            return;
        }
        yield new Finding(
            'files-certificate-ends',
            Severity::Blocks,
            Stage::Services,
            ['job'],
            new Message('The certificate of {host} ends on {until}, before work on site begins ({begins}).', $at),
            new Message('From that day on, phones reject it and get no file.'),
            new Message('Renew the certificate of {host}.', $at),
        );
    }
}
