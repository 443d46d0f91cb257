<?php

declare(strict_types=1);

namespace Vorhut\Core\Walk;

/** Why a stone of the walk is broken. */
enum Fault: string
{
    case NotPlugged = 'not-plugged';
    case NoAddress = 'no-address';
    case UnusableAddress = 'unusable-address';
    case SameAddress = 'same-address';
    case LinkLocalOnly = 'link-local-only';
    case EdgeOfOwnMask = 'edge-of-own-mask';
    case NextDoor = 'next-door';
    case Duplicate = 'duplicate';
    case AnotherHolds = 'another-holds';
    case NobodyHolds = 'nobody-holds';
    case Ambiguous = 'ambiguous';
    case NoGateway = 'no-gateway';
    case GatewayOutside = 'gateway-outside';
    case NoSuchGateway = 'no-such-gateway';
    case GatewayIsHost = 'gateway-is-host';
    case GatewayDuplicate = 'gateway-duplicate';
    case GatewayIsSelf = 'gateway-is-self';
    case NoRoute = 'no-route';
    case NextHopMissing = 'next-hop-missing';
    case RoutingLoop = 'routing-loop';
    case Filtered = 'filtered';
    case AnswerFromElsewhere = 'answer-from-elsewhere';
    case NotServed = 'not-served';
    case OwnSubnetOnly = 'own-subnet-only';
}
