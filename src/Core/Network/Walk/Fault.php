<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Walk;

/** Why a hop of the walk is broken. */
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
    case NoHolder = 'no-holder';
    case Ambiguous = 'ambiguous';
    case NoGateway = 'no-gateway';
    case GatewayOutside = 'gateway-outside';
    case NoSuchGateway = 'no-such-gateway';
    case GatewayIsHost = 'gateway-is-host';
    case GatewayDuplicate = 'gateway-duplicate';
    case GatewayIsSelf = 'gateway-is-self';
    case NoRoute = 'no-route';
    case NextHopMissing = 'next-hop-missing';
    case LeftTheSite = 'left-the-site';
    case RoutingLoop = 'routing-loop';
    case Filtered = 'filtered';
    case AnswerFromElsewhere = 'answer-from-elsewhere';
    case NotServed = 'not-served';
    case OwnSubnetOnly = 'own-subnet-only';
    case NotAuthenticated = 'not-authenticated';

    /** In a few words, for places too small for the sentence of the hop. */
    public function label(): string
    {
        return match ($this) {
            self::NotPlugged => 'not plugged in',
            self::NoAddress => 'no address',
            self::UnusableAddress => 'an address that no host may hold',
            self::SameAddress => 'both hold one address',
            self::LinkLocalOnly => 'only a self-made address',
            self::EdgeOfOwnMask => 'mask too narrow',
            self::NextDoor => 'mask too wide',
            self::Duplicate => 'address held twice',
            self::AnotherHolds => 'another holds its address',
            self::NoHolder => 'no device has its address there',
            self::Ambiguous => 'two ways, by chance',
            self::NoGateway => 'no gateway',
            self::GatewayOutside => 'gateway outside its network',
            self::NoSuchGateway => 'no such gateway',
            self::GatewayIsHost => 'its gateway is not a router',
            self::GatewayDuplicate => 'gateway held twice',
            self::GatewayIsSelf => 'is its own gateway',
            self::NoRoute => 'no route',
            self::NextHopMissing => 'next router missing',
            self::LeftTheSite => 'sent out of the site',
            self::RoutingLoop => 'routed in a circle',
            self::Filtered => 'stopped by a rule',
            self::AnswerFromElsewhere => 'answer from another address',
            self::NotServed => 'not served',
            self::OwnSubnetOnly => 'for its own subnet only',
            self::NotAuthenticated => 'not authenticated on Wi-Fi',
        };
    }
}
