<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Catalogue\Role;

/**
 * The one table of what a job consists of: sections, their fields, types and pointers. The document, the published JSON Schema, the
 * entities, the checks of a form field and the journal all read it, so that none can know a field that the others do not.
 */
// phpcs:ignore SlevomatCodingStandard.Classes.ClassLength -- a table: one entry for each field
final class Schema
{
    public const VERSION = 2;
    /** Evidence is counted as it arrives, by job. */
    private const MOST_EVIDENCE = 2_000_000_000;

    /** @return array<string, list<Field>> section → fields; every record of a list section also has a `key` */
    // phpcs:ignore SlevomatCodingStandard.Functions.FunctionLength -- a table: one entry for each section
    public static function sections(): array
    {
        static $sections = null;
        /** @var array<string, list<Field>>|null $sections */
        $sections ??= [
            'ownKinds' => [
                Field::requiredField('source', FieldType::Text),
                Field::number('version', 1, 99999),
                Field::of('takenFrom', FieldType::Text),
            ],
            'segments' => [
                Field::requiredField('name', FieldType::Text),
                Field::of('vlan', FieldType::Vlan),
                Field::requiredField('network', FieldType::SiteNetwork),
                Field::of('gateway', FieldType::AddressOrNone),
                Field::of('dns', FieldType::AddressOrNone),
                Field::of('pools', FieldType::Ranges),
                Field::maybe('dhcp', ['served', 'none']),
                Field::of('reserved', FieldType::LabelledRanges),
                Field::of('blocks', FieldType::LabelledRanges),
                Field::of('outpost', FieldType::Address),
                Field::of('voice', FieldType::Flag),
                Field::number('pattern', 0, 11),
                Field::of('fetchFrom', FieldType::Ranges),
                Field::of('wireless', FieldType::Flag),
                Field::maybe('snooping', ['yes', 'no']),
                Field::maybe('querier', ['yes', 'no']),
                Field::of('network6', FieldType::Network6),
                Field::of('gateway6', FieldType::Address6),
                Field::of('note', FieldType::Text),
            ],
            'devices' => [
                Field::requiredField('tag', FieldType::Text),
                Field::pointer('kind', 'kinds', true),
                Field::of('room', FieldType::Text),
                Field::of('serial', FieldType::Text),
                Field::pointer('controlledFrom', 'segments'),
                Field::maybe('filterDefault', ['allow', 'deny']),
                Field::of('stateful', FieldType::Flag),
                Field::maybe('filterSameInterface', ['allow', 'deny']),
                Field::of('arrives', FieldType::Text),
                Field::of('labelAddress', FieldType::Address),
                Field::of('labelMask', FieldType::Mask),
                Field::of('labelUser', FieldType::Text),
                Field::of('labelHostName', FieldType::HostName),
                Field::number('position', 1, 99999),
                Field::of('note', FieldType::Text),
            ],
            'nics' => [
                Field::pointer('device', 'devices', true),
                Field::requiredField('name', FieldType::Text),
                Field::of('mac', FieldType::Mac),
                Field::pointer('segment', 'segments'),
                Field::choice('mode', ['static', 'reserved', 'dhcp']),
                Field::of('also', FieldType::Interfaces),
                Field::of('address6', FieldType::Interface6),
                Field::of('gateway6', FieldType::Address6),
                Field::of('locked', FieldType::Flag),
            ],
            'routerPorts' => [
                Field::pointer('router', 'devices', true),
                Field::pointer('segment', 'segments', true),
                Field::requiredField('address', FieldType::Address),
                Field::requiredField('mask', FieldType::Mask),
                Field::of('proxyArp', FieldType::Flag),
                Field::of('multicast', FieldType::Flag),
                Field::of('address6', FieldType::Interface6),
                Field::of('local6', FieldType::Address6),
            ],
            'routes' => [
                Field::pointer('router', 'devices', true),
                Field::requiredField('destination', FieldType::Network),
                Field::requiredField('via', FieldType::Address),
            ],
            'routes6' => [
                Field::pointer('router', 'devices', true),
                Field::requiredField('destination', FieldType::Network6),
                Field::requiredField('via', FieldType::NextHop6),
            ],
            'filters' => [
                Field::pointer('router', 'devices', true),
                Field::number('position', 1, 9999),
                Field::pointer('from', 'segments'),
                Field::pointer('to', 'segments'),
                Field::choice('transport', ['any', 'udp', 'tcp']),
                Field::number('portFirst', 1, 65535),
                Field::number('portLast', 1, 65535),
                Field::of('fromAddresses', FieldType::Ranges),
                Field::of('toAddresses', FieldType::Ranges),
                Field::choice('action', ['allow', 'deny']),
                Field::of('note', FieldType::Text),
            ],
            'translations' => [
                Field::pointer('router', 'devices', true),
                Field::pointer('outside', 'segments', true),
                Field::choice('what', ['source', 'forward', 'static']),
                Field::number('position', 1, 9999),
                Field::of('address', FieldType::Address),
                Field::of('inside', FieldType::Address),
                Field::choice('transport', ['any', 'udp', 'tcp']),
                Field::number('portFirst', 1, 65535),
                Field::number('portLast', 1, 65535),
                Field::number('insidePort', 1, 65535),
                Field::of('note', FieldType::Text),
            ],
            'groups' => [
                Field::requiredField('name', FieldType::Text),
                Field::requiredField('address', FieldType::Group),
                Field::pointer('sender', 'devices'),
                Field::number('ttl', 1, 255),
                Field::of('note', FieldType::Text),
            ],
            'joins' => [
                Field::pointer('group', 'groups', true),
                Field::pointer('device', 'devices', true),
            ],
            'rangeLists' => [
                Field::requiredField('name', FieldType::Text),
                Field::of('ranges', FieldType::Ranges),
                Field::pointer('from', 'segments'),
                Field::of('port', FieldType::AskedPort),
                Field::of('note', FieldType::Text),
            ],
            'extensions' => [
                Field::requiredField('number', FieldType::Dialled),
                Field::of('name', FieldType::Text),
                Field::pointer('pbx', 'devices'),
                Field::choice('terminal', ['sip', 'analogue', 'fax', 'none']),
                Field::pointer('phone', 'devices'),
                Field::of('voicemail', FieldType::Flag),
                Field::of('location', FieldType::Text),
                Field::of('factoryMade', FieldType::Flag),
                Field::of('callerId', FieldType::OutsideNumber),
                Field::maybe('permission', ['inside', 'national', 'international']),
                Field::of('forwardAlways', FieldType::Dialled),
                Field::of('forwardBusy', FieldType::Dialled),
                Field::of('forwardUnanswered', FieldType::Dialled),
                Field::of('mail', FieldType::Mail),
            ],
            'terminals' => [
                Field::pointer('extension', 'extensions', true),
                Field::pointer('device', 'devices', true),
                Field::of('macEntered', FieldType::Mac),
                Field::of('enteredAt', FieldType::Time),
            ],
            'timeFrames' => [
                Field::requiredField('name', FieldType::Text),
                Field::requiredField('when', FieldType::TimeFrame),
            ],
            'trunks' => [
                Field::requiredField('name', FieldType::Text),
                Field::pointer('pbx', 'devices', true),
                Field::pointer('far', 'devices'),
                Field::of('address', FieldType::Address),
                Field::number('port', 1, 65535),
                Field::maybe('transport', ['udp', 'tcp', 'tls']),
                Field::of('registers', FieldType::Flag),
                Field::of('user', FieldType::Text),
                Field::number('channels', 1, 9999),
                Field::of('codecs', FieldType::Texts),
                Field::of('callerId', FieldType::OutsideNumber),
                Field::of('emergency', FieldType::Flag),
                Field::of('note', FieldType::Text),
            ],
            'callRoutes' => [
                Field::requiredField('name', FieldType::Text),
                Field::pointer('pbx', 'devices', true),
                Field::number('position', 1, 9999),
                Field::requiredField('map', FieldType::DigitMap),
                Field::of('callers', FieldType::DigitMap),
                Field::maybe('needs', ['national', 'international']),
                Field::pointer('timeFrame', 'timeFrames'),
                Field::number('strip', 0, 20),
                Field::of('prepend', FieldType::Dialled),
                Field::pointer('trunk', 'trunks', true),
                Field::pointer('trunk2', 'trunks'),
                Field::pointer('trunk3', 'trunks'),
                Field::of('note', FieldType::Text),
            ],
            'inboundRoutes' => [
                Field::pointer('trunk', 'trunks', true),
                Field::number('position', 1, 9999),
                Field::requiredField('map', FieldType::DigitMap),
                Field::pointer('timeFrame', 'timeFrames'),
                Field::requiredField('to', FieldType::Dialled),
                Field::of('note', FieldType::Text),
            ],
            'ringGroups' => [
                Field::requiredField('number', FieldType::Dialled),
                Field::of('name', FieldType::Text),
                Field::pointer('pbx', 'devices', true),
                Field::of('members', FieldType::DialledList),
                Field::choice('order', ['all', 'in-turn']),
                Field::number('seconds', 1, 300),
                Field::of('otherwise', FieldType::Dialled),
            ],
            'menus' => [
                Field::requiredField('number', FieldType::Dialled),
                Field::of('name', FieldType::Text),
                Field::pointer('pbx', 'devices', true),
                Field::of('says', FieldType::Text),
                Field::of('choices', FieldType::Choices),
                Field::number('seconds', 1, 120),
                Field::of('otherwise', FieldType::Dialled),
            ],
            'cables' => [
                Field::pointer('device', 'devices', true),
                Field::pointer('switch', 'devices', true),
                Field::of('port', FieldType::Text),
                Field::number('mbps', 1, 400000),
                Field::number('metres', 0, 100000),
                Field::of('spare', FieldType::Flag),
                Field::of('note', FieldType::Text),
            ],
            'streams' => [
                Field::requiredField('name', FieldType::Text),
                Field::pointer('sender', 'devices', true),
                Field::choice('transport', ['RTP', 'RTSP', 'SRT', 'RTMP', 'uncompressed', 'AES67']),
                Field::choice('cast', ['unicast', 'multicast']),
                Field::pointer('group', 'groups'),
                Field::number('port', 1, 65535),
                Field::of('outside', FieldType::Flag),
                Field::maybe('codec', ['H.264', 'H.265', 'MJPEG', 'intra', 'uncompressed', 'L24']),
                Field::number('width', 16, 16384),
                Field::number('height', 16, 16384),
                Field::number('frameRate', 1, 240),
                Field::number('kbit', 1, 100000000),
                Field::number('channels', 1, 128),
                Field::of('note', FieldType::Text),
            ],
            'soundPatches' => [
                Field::of('name', FieldType::Text),
                Field::pointer('from', 'devices', true),
                Field::number('fromChannel', 1, 512),
                Field::pointer('to', 'devices', true),
                Field::number('toChannel', 1, 512),
                Field::number('count', 1, 512),
                Field::of('note', FieldType::Text),
            ],
            'deliveries' => [
                Field::pointer('stream', 'streams', true),
                Field::pointer('device', 'devices', true),
            ],
            'accounts' => [
                Field::pointer('extension', 'extensions', true),
                Field::pointer('registrar', 'devices', true),
                Field::requiredField('user', FieldType::Text),
                Field::of('macEntered', FieldType::Mac),
                Field::of('enteredAt', FieldType::Time),
            ],
            'settings' => [
                Field::of('planned', FieldType::Face),
                Field::of('plannedBy', FieldType::Text),
                Field::of('plannedAt', FieldType::Time),
                Field::of('set', FieldType::Face),
                Field::of('setBy', FieldType::Text),
                Field::of('setAt', FieldType::Time),
                Field::of('seen', FieldType::Face),
                Field::of('odd', FieldType::Face),
                Field::of('seenBy', FieldType::Text),
                Field::of('seenAt', FieldType::Time),
            ],
            'credentials' => [
                Field::requiredField('owner', FieldType::Record),
                Field::requiredField('purpose', FieldType::Text),
                Field::of('user', FieldType::Text),
                Field::choice('state', ['default', 'changed']),
                Field::number('length', 0, 999),
                Field::of('weakness', FieldType::Text),
                Field::of('changedAt', FieldType::Time),
                Field::of('heldBy', FieldType::Text),
            ],
            'marks' => [
                Field::pointer('device', 'devices', true),
                Field::requiredField('step', FieldType::Text),
                Field::choice('state', MarkState::stored()),
                Field::of('note', FieldType::Text),
                Field::of('by', FieldType::Text),
                Field::of('at', FieldType::Time),
                Field::of('way', FieldType::Text),
            ],
            'waits' => [
                Field::pointer('device', 'devices', true),
                Field::requiredField('step', FieldType::Text),
                Field::requiredField('at', FieldType::Time),
                Field::number('seconds', 1, 86400),
                Field::of('by', FieldType::Text),
            ],
            'licences' => [
                Field::pointer('device', 'devices', true),
                Field::requiredField('feature', FieldType::Text),
                Field::number('quantity', 0, 99999),
                Field::of('hardwareId', FieldType::Text),
                Field::of('orderedOn', FieldType::Date),
                Field::of('arrivedOn', FieldType::Date),
                Field::of('validFrom', FieldType::Date),
                Field::of('validUntil', FieldType::Date),
                Field::of('temporary', FieldType::Flag),
                Field::of('note', FieldType::Text),
            ],
            'tests' => [
                Field::choice('what', ['reach']),
                Field::pointer('from', 'segments', true),
                Field::pointer('to', 'devices', true),
                Field::of('port', FieldType::AskedPort),
                Field::maybe('requires', ['answer', 'no-answer']),
                Field::of('note', FieldType::Text),
            ],
            'fetches' => [
                Field::of('device', FieldType::Key),
                Field::of('mac', FieldType::Mac),
                Field::requiredField('at', FieldType::Time),
                Field::of('address', FieldType::Text),
                Field::of('agent', FieldType::Text),
                Field::of('file', FieldType::Text),
                Field::number('status', 100, 599),
                Field::of('why', FieldType::Sentence),
                Field::number('arrived', 1, self::MOST_EVIDENCE),
                Field::of('onSite', FieldType::Flag),
            ],
            'observations' => [
                Field::requiredField('test', FieldType::Text),
                Field::requiredField('at', FieldType::Time),
                Field::requiredField('by', FieldType::Text),
                Field::of('from', FieldType::Text),
                Field::number('arrived', 1, self::MOST_EVIDENCE),
                Field::of('onSite', FieldType::Flag),
                Field::of('outpost', FieldType::Text),
                Field::of('adapter', FieldType::Text),
                Field::of('address', FieldType::Address),
                Field::requiredField('outcome', FieldType::Text),
                Field::of('detail', FieldType::Sentence),
                Field::of('basis', FieldType::Data),
                Field::of('evidence', FieldType::Data),
            ],
        ];

        return $sections;
    }

    /** @return list<Field> the facts of the job itself */
    public static function job(): array
    {
        return [
            Field::requiredField('name', FieldType::Text),
            Field::of('customer', FieldType::Text),
            Field::of('site', FieldType::Text),
            Field::of('country', FieldType::Text),
            Field::of('language', FieldType::Text),
            Field::of('timeZone', FieldType::TimeZone),
            Field::of('ntp', FieldType::HostOrNone),
            Field::of('dns', FieldType::AddressOrNone),
            Field::of('domain', FieldType::HostName),
            Field::of('adminName', FieldType::Text),
            Field::of('adminMail', FieldType::Mail),
            Field::of('extensionFirst', FieldType::Dialled),
            Field::of('extensionLast', FieldType::Dialled),
            Field::of('outsideDigit', FieldType::Dialled),
            Field::of('featureCodes', FieldType::Texts),
            Field::of('emergencyNumbers', FieldType::Texts),
            Field::number('voicemailAfter', 1, 120),
            Field::pointer('laptop', 'devices'),
            Field::of('practice', FieldType::Flag),
            Field::number('benchPeople', 1, 9),
            Field::number('benchPorts', 1, 96),
            Field::number('benchWatts', 1, 9999),
            Field::number('benchClass', 0, 8),
            Field::number('benches', 1, 9),
            Field::number('fetchMinutes', 1, 1440),
            Field::of('filesHost', FieldType::Host),
            Field::number('filesPort', 1, 65535),
            Field::of('filesAuthority', FieldType::Fingerprint),
            Field::of('filesUntil', FieldType::Date),
            Field::number('headroom', 0, 90),
            Field::number('soundLimit', 1, 500),
            Field::number('uplinkKbit', 1, 100000000),
            Field::of('uplinkMobile', FieldType::Flag),
            Field::of('startsOn', FieldType::Date),
            Field::of('note', FieldType::Text),
        ];
    }

    /**
     * What a device has to be for a record to point to it so.
     *
     * @return array<string, array<string, Role>> section → field → role
     */
    public static function roles(): array
    {
        return [
            'routerPorts' => ['router' => Role::Forwards],
            'filters' => ['router' => Role::Forwards],
            'routes' => ['router' => Role::Forwards],
            'translations' => ['router' => Role::Forwards],
            'extensions' => ['pbx' => Role::Registrar],
            'terminals' => ['device' => Role::Caller],
            'trunks' => ['pbx' => Role::Registrar],
            'callRoutes' => ['pbx' => Role::Registrar],
            'ringGroups' => ['pbx' => Role::Registrar],
            'menus' => ['pbx' => Role::Registrar],
            'accounts' => ['registrar' => Role::Registrar],
            'cables' => ['switch' => Role::Switches],
            'soundPatches' => ['from' => Role::SharesSound, 'to' => Role::SharesSound],
        ];
    }

    public static function field(string $section, string $name): ?Field
    {
        foreach ('job' === $section ? self::job() : self::sections()[$section] ?? [] as $field) {
            if ($field->name === $name) {
                return $field;
            }
        }

        return null;
    }
}
