<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

/** The function of a device among others, whatever its name: the only words that code uses to tell devices apart. */
enum Role: string
{
    /** Accounts stand at it, and calls go through it. */
    case Registrar = 'registrar';
    /** A terminal with a number that can make calls. */
    case Caller = 'caller';
    case Callee = 'callee';
    /** Is called by its address, without a registrar. */
    case DirectCallee = 'direct-callee';
    /** Software on a computer: it has no MAC of its own. */
    case Program = 'program';
    /** Gets its settings from a served file. */
    case FileClient = 'file-client';
    /** Carries packets from one segment to another, by routes and a filter. */
    case Forwards = 'forwards';
    case Switches = 'switches';
    case Authenticator = 'authenticator';
    case StreamSender = 'stream-sender';
    case StreamReceiver = 'stream-receiver';
    case Clock = 'clock';
    /** Sends and takes channels of sound over a network. */
    case SharesSound = 'shares-sound';
    /** Audio into one of its channels leaves on the channel with the same number. */
    case ProcessesSound = 'processes-sound';
    case LightSender = 'light-sender';
    case LightReceiver = 'light-receiver';
    case Controller = 'controller';
    case Controlled = 'controlled';
    case TimeServer = 'time-server';
    case NameServer = 'name-server';
    /** Leases addresses by DHCP. */
    case AddressServer = 'address-server';
    case MailServer = 'mail-server';
    /** The technician's own: it is set up to reach others, not staged itself. */
    case Workstation = 'workstation';
}
