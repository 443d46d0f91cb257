<?php

declare(strict_types=1);

namespace Vorhut\Core\Analysis;

use Vorhut\Core\Analysis\Rule\CallEndsInVoicemail;
use Vorhut\Core\Audio\Rule\SoundOutOfStep;
use Vorhut\Core\Audio\Rule\SoundPatchedNowhere;
use Vorhut\Core\Audio\Rule\SoundPatchedPastTheEnd;
use Vorhut\Core\Audio\Rule\SoundPatchedTwice;
use Vorhut\Core\Audio\Rule\SoundTooLate;
use Vorhut\Core\Bench\Rule\CertificateChanged;
use Vorhut\Core\Bench\Rule\DefaultPassword;
use Vorhut\Core\Bench\Rule\FirmwareUnfit;
use Vorhut\Core\Bench\Rule\LaptopOutsideFactorySubnet;
use Vorhut\Core\Bench\Rule\LicenceShort;
use Vorhut\Core\Bench\Rule\LivesWhereAnotherWakes;
use Vorhut\Core\Bench\Rule\ModulesMiscounted;
use Vorhut\Core\Bench\Rule\NotPutBack;
use Vorhut\Core\Bench\Rule\NotWrittenDown;
use Vorhut\Core\Bench\Rule\OddAnswer;
use Vorhut\Core\Bench\Rule\SameFactoryAddressPowered;
use Vorhut\Core\Bench\Rule\SavedNotApplied;
use Vorhut\Core\Bench\Rule\StepFailed;
use Vorhut\Core\Bench\Rule\StepSkipped;
use Vorhut\Core\Bench\Rule\StrayMark;
use Vorhut\Core\Bench\Rule\StraySetting;
use Vorhut\Core\Bench\Rule\TemporaryLicenceEnds;
use Vorhut\Core\Bench\Rule\TypedOtherThanPlanned;
use Vorhut\Core\Bench\Rule\UnlockEnds;
use Vorhut\Core\Consistency\Rule\BrokenAgreement;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Lighting\Rule\LightMispatched;
use Vorhut\Core\Lighting\Rule\LightNotHeard;
use Vorhut\Core\Media\Rule\GroupsShareAMac;
use Vorhut\Core\Media\Rule\LinkTooFull;
use Vorhut\Core\Media\Rule\PushEndsApart;
use Vorhut\Core\Media\Rule\PushGoesNowhere;
use Vorhut\Core\Media\Rule\StreamUnlikeSender;
use Vorhut\Core\Network\Rule\AddressInUse;
use Vorhut\Core\Network\Rule\AdminPageOpened;
use Vorhut\Core\Network\Rule\DnsNearMiss;
use Vorhut\Core\Network\Rule\DuplicateAddress;
use Vorhut\Core\Network\Rule\DuplicateHostName;
use Vorhut\Core\Network\Rule\DuplicateMac;
use Vorhut\Core\Network\Rule\GatewayLeftBlank;
use Vorhut\Core\Network\Rule\GroupDoesNotArrive;
use Vorhut\Core\Network\Rule\NeededWayBroken;
use Vorhut\Core\Network\Rule\NoDhcpServer;
use Vorhut\Core\Network\Rule\PortOffItsNetwork;
use Vorhut\Core\Network\Rule\RouterOffItsNetwork;
use Vorhut\Core\Network\Rule\RuleNeverMatches;
use Vorhut\Core\Network\Rule\SegmentContradictsItself;
use Vorhut\Core\Network\Rule\SegmentsOverlap;
use Vorhut\Core\Network\Rule\StaticInsidePool;
use Vorhut\Core\Network\Rule\StrangerAtAddress;
use Vorhut\Core\Network\Rule\TranslationLeadsNowhere;
use Vorhut\Core\Network\Rule\TwoGateways;
use Vorhut\Core\Network\Rule\Version6OffItsNetwork;
use Vorhut\Core\Network\Rule\WirelessWithoutSnooping;
use Vorhut\Core\Power\Rule\PoeTooMuch;
use Vorhut\Core\Voice\Rule\AnalogueWithoutPort;
use Vorhut\Core\Voice\Rule\AnnouncesWrongAddress;
use Vorhut\Core\Voice\Rule\AuthorityUnknown;
use Vorhut\Core\Voice\Rule\CallLedNowhere;
use Vorhut\Core\Voice\Rule\DuplicateExtension;
use Vorhut\Core\Voice\Rule\EmergencyBlocked;
use Vorhut\Core\Voice\Rule\EmergencyLocationElsewhere;
use Vorhut\Core\Voice\Rule\EmergencyReachedByForward;
use Vorhut\Core\Voice\Rule\ExtensionOutsideRange;
use Vorhut\Core\Voice\Rule\FaxChannelsKept;
use Vorhut\Core\Voice\Rule\FaxServerRegisters;
use Vorhut\Core\Voice\Rule\FaxWithoutInboundRoute;
use Vorhut\Core\Voice\Rule\FetchesElsewhere;
use Vorhut\Core\Voice\Rule\FilesCertificateEnds;
use Vorhut\Core\Voice\Rule\FileServerNotFound;
use Vorhut\Core\Voice\Rule\HostedPhoneKeptIn;
use Vorhut\Core\Voice\Rule\KeyDialsUnknownNumber;
use Vorhut\Core\Voice\Rule\NoCallbackNumber;
use Vorhut\Core\Voice\Rule\NoEmergencyLocation;
use Vorhut\Core\Voice\Rule\NoTimeZone;
use Vorhut\Core\Voice\Rule\OldProvisioning;
use Vorhut\Core\Voice\Rule\ProvisionedBeforeEntry;
use Vorhut\Core\Voice\Rule\RouteNeverReached;
use Vorhut\Core\Voice\Rule\TerminalElsewhere;
use Vorhut\Core\Voice\Rule\TooManyTerminals;
use Vorhut\Core\Voice\Rule\TrunkNeedsMending;
use Vorhut\Core\Voice\Rule\TrunkWiderThanServer;
use Vorhut\Core\Voice\Rule\UnassignedNumber;
use Vorhut\Core\Voice\Rule\WeakSipSecret;

/** The rules that ship, in the order of their names: a new one is a line here. */
final class ShippedRules
{
    private const ALL = [
        AddressInUse::class,
        AdminPageOpened::class,
        AnalogueWithoutPort::class,
        AnnouncesWrongAddress::class,
        AuthorityUnknown::class,
        BrokenAgreement::class,
        CallEndsInVoicemail::class,
        CallLedNowhere::class,
        CertificateChanged::class,
        DefaultPassword::class,
        DnsNearMiss::class,
        DuplicateAddress::class,
        DuplicateExtension::class,
        DuplicateHostName::class,
        DuplicateMac::class,
        EmergencyBlocked::class,
        EmergencyLocationElsewhere::class,
        EmergencyReachedByForward::class,
        ExtensionOutsideRange::class,
        FaxChannelsKept::class,
        FaxServerRegisters::class,
        FaxWithoutInboundRoute::class,
        FetchesElsewhere::class,
        FileServerNotFound::class,
        FilesCertificateEnds::class,
        FirmwareUnfit::class,
        GatewayLeftBlank::class,
        GroupDoesNotArrive::class,
        GroupsShareAMac::class,
        HostedPhoneKeptIn::class,
        KeyDialsUnknownNumber::class,
        LaptopOutsideFactorySubnet::class,
        LicenceShort::class,
        LightMispatched::class,
        LightNotHeard::class,
        LinkTooFull::class,
        LivesWhereAnotherWakes::class,
        ModulesMiscounted::class,
        NeededWayBroken::class,
        NoCallbackNumber::class,
        NoEmergencyLocation::class,
        NoTimeZone::class,
        NoDhcpServer::class,
        NotPutBack::class,
        NotWrittenDown::class,
        UnassignedNumber::class,
        OddAnswer::class,
        OldProvisioning::class,
        PoeTooMuch::class,
        PortOffItsNetwork::class,
        ProvisionedBeforeEntry::class,
        PushEndsApart::class,
        PushGoesNowhere::class,
        RouteNeverReached::class,
        RouterOffItsNetwork::class,
        RuleNeverMatches::class,
        SameFactoryAddressPowered::class,
        SavedNotApplied::class,
        SegmentContradictsItself::class,
        SegmentsOverlap::class,
        SoundOutOfStep::class,
        SoundPatchedNowhere::class,
        SoundPatchedPastTheEnd::class,
        SoundPatchedTwice::class,
        SoundTooLate::class,
        StaticInsidePool::class,
        StepFailed::class,
        StepSkipped::class,
        StrangerAtAddress::class,
        StrayMark::class,
        StraySetting::class,
        StreamUnlikeSender::class,
        TemporaryLicenceEnds::class,
        TerminalElsewhere::class,
        TooManyTerminals::class,
        TranslationLeadsNowhere::class,
        TrunkNeedsMending::class,
        TrunkWiderThanServer::class,
        TwoGateways::class,
        TypedOtherThanPlanned::class,
        UnlockEnds::class,
        Version6OffItsNetwork::class,
        WeakSipSecret::class,
        WirelessWithoutSnooping::class,
    ];

    /** @return list<Rule> */
    public static function all(): array
    {
        return array_map(static fn (string $rule): Rule => new $rule(), self::ALL);
    }
}
