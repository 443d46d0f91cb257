<?php

declare(strict_types=1);

namespace Vorhut\Core\Finding;

/** The seven stages of a job, in the order of the work; the same words in page, folder, route and test. */
enum Stage: string
{
    case Brief = 'brief';
    case Networks = 'networks';
    case Devices = 'devices';
    case Bench = 'bench';
    case Services = 'services';
    case Proof = 'proof';
    case Handover = 'handover';
}
