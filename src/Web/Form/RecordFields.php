<?php

declare(strict_types=1);

namespace Vorhut\Web\Form;

use Vorhut\Core\Text\Message;

/** What the forms of each section ask for, in which order. A field of Plan\Schema that is missing here is not asked for. */
final class RecordFields
{
    /** @return list<FormField> of a new record */
    public static function of(string $section): array
    {
        return match ($section) {
            'segments' => self::segments(),
            'devices' => self::routers(),
            'routerPorts' => self::routerPorts(),
            'routes', 'routes6' => self::routes($section),
            'filters' => self::filters(),
            'translations' => self::translations(),
            'groups' => self::groups(),
            'joins' => self::joins(),
            'rangeLists' => self::rangeLists(),
            'tests' => self::tests(),
            'extensions' => self::extensions(),
            'trunks' => self::trunks(),
            'callRoutes' => self::callRoutes(),
            'inboundRoutes' => self::inboundRoutes(),
            'ringGroups' => self::ringGroups(),
            'menus' => self::menus(),
            'timeFrames' => self::timeFrames(),
            'streams' => self::streams(),
            'deliveries' => self::deliveries(),
            'soundPatches' => self::soundPatches(),
            'cables' => self::cables(),
            'licences' => self::licences(),
            default => [],
        };
    }

    /** @return list<FormField> of a record that is open, each saved by itself */
    public static function open(string $section): array
    {
        return 'extensions' === $section ? self::extensionDetails() : [...self::of($section), ...self::details($section)];
    }

    /** @return list<FormField> what a new record seldom needs, and an open one shows after its other fields */
    private static function details(string $section): array
    {
        $note = FormField::text('note', new Message('Note'), 24);

        return match ($section) {
            'routerPorts' => [
                FormField::yesNo('multicast', new Message('Routes multicast')),
                FormField::yesNo('proxyArp', new Message('Proxy ARP')),
            ],
            'filters' => [
                FormField::text('fromAddresses', new Message('Source addresses'), 24, '10.64.20.10; 10.64.20.31-10.64.20.39'),
                FormField::text('toAddresses', new Message('Destination addresses'), 24, '10.64.30.31'),
                $note,
            ],
            'trunks' => [FormField::text('codecs', new Message('Codecs, the preferred first'), 20, 'G.722, G.711'), $note],
            'translations', 'callRoutes', 'inboundRoutes' => [$note],
            default => [],
        };
    }

    /** @return list<FormField> */
    private static function translations(): array
    {
        return [
            FormField::text('position', new Message('Order'), 4),
            FormField::choice('what', new Message('Kind of NAT'), [
                'source' => new Message('source NAT (inside to outside)'),
                'forward' => new Message('port forward (outside to inside)'),
                'static' => new Message('one to one (both directions)'),
            ]),
            FormField::pick('outside', new Message('Outside segment'), 'segments'),
            FormField::text('address', new Message('Outside address'), 14, empty: new Message('blank: that of the router')),
            FormField::text('inside', new Message('Inside address'), 14, empty: new Message('blank: all')),
            FormField::choice('transport', new Message('Transport'), [
                'any' => new Message('any'),
                'udp' => 'udp',
                'tcp' => 'tcp',
            ], default: 'any'),
            FormField::text('portFirst', new Message('First outside port'), 5),
            FormField::text('portLast', new Message('Last outside port'), 5),
            FormField::text('insidePort', new Message('First inside port'), 5, empty: new Message('blank: the same')),
        ];
    }

    /** @return list<FormField> */
    private static function segments(): array
    {
        return [
            FormField::text('name', new Message('Segment name'), 14),
            FormField::text('network', new Message('Network'), 16, '10.64.50.0/24'),
            FormField::text('gateway', new Message('Gateway'), 14, empty: new Message('10.64.50.1, or - for none')),
            FormField::text('vlan', new Message('VLAN'), 4, empty: new Message('50, or -')),
            FormField::yesNo('voice', new Message('Voice segment')),
        ];
    }

    /** @return list<FormField> */
    private static function routers(): array
    {
        return [
            FormField::pick('kind', new Message('Router kind'), 'routerKinds'),
            FormField::text('tag', new Message('Tag'), 12, empty: new Message('blank: proposed')),
        ];
    }

    /** @return list<FormField> */
    private static function routerPorts(): array
    {
        return [
            FormField::pick('segment', new Message('Segment'), 'segments'),
            FormField::text('address', new Message('Address'), 16, empty: new Message('blank: the gateway')),
            FormField::text('mask', new Message('Mask'), 14, empty: new Message('blank: its mask')),
        ];
    }

    /** @return list<FormField> */
    private static function routes(string $section): array
    {
        return 'routes' === $section ? [
            FormField::text('destination', new Message('Destination'), 16, '0.0.0.0/0'),
            FormField::text('via', new Message('Next hop'), 14),
        ] : [
            FormField::pick('router', new Message('Router'), 'routers'),
            FormField::text('destination', new Message('Destination'), 22, '::/0'),
            FormField::text('via', new Message('Next hop'), 20, '2001:db8:64:99::2'),
        ];
    }

    /** @return list<FormField> */
    private static function filters(): array
    {
        return [
            FormField::text('position', new Message('Order'), 4),
            FormField::pick('from', new Message('From'), 'segments', new Message('any')),
            FormField::pick('to', new Message('To'), 'segments', new Message('any')),
            FormField::choice('transport', new Message('Transport'), [
                'any' => new Message('any'),
                'udp' => 'udp',
                'tcp' => 'tcp',
            ], default: 'any'),
            FormField::text('portFirst', new Message('First port'), 5),
            FormField::text('portLast', new Message('Last port'), 5),
            FormField::choice('action', new Message('Action'), [
                'allow' => new Message('allow'),
                'deny' => new Message('deny'),
            ], default: 'allow'),
        ];
    }

    /** @return list<FormField> */
    private static function groups(): array
    {
        return [
            FormField::text('name', new Message('Name'), 16),
            FormField::text('address', new Message('Group'), 14),
            FormField::pick('sender', new Message('Sender'), 'devices', '–'),
            FormField::text('ttl', new Message('TTL'), 4, '1'),
        ];
    }

    /** @return list<FormField> */
    private static function joins(): array
    {
        return [
            FormField::pick('group', new Message('Group'), 'groups'),
            FormField::pick('device', new Message('Receiver'), 'devices'),
        ];
    }

    /** @return list<FormField> */
    private static function rangeLists(): array
    {
        return [
            FormField::text('name', new Message('Name'), 18),
            FormField::lines(
                'ranges',
                new Message('Ranges: first-last, a network, single ones, mixed'),
                "10.64.30.11-10.64.30.40, 10.64.40.0/26\n10.64.50.9",
            ),
            FormField::pick('from', new Message('scanned from'), 'segments', '–'),
            FormField::text('port', new Message('Port'), 8, '80/tcp'),
        ];
    }

    /** @return list<FormField> */
    private static function tests(): array
    {
        return [
            FormField::pick('from', new Message('From'), 'segments'),
            FormField::pick('to', new Message('To'), 'plugged'),
            FormField::text('port', new Message('Port'), 9, '80/tcp'),
            FormField::choice('requires', new Message('Requirement'), [
                'answer' => new Message('must answer'),
                'no-answer' => new Message('must not be reachable'),
            ], default: 'answer'),
            FormField::text('note', new Message('Reason'), 24),
        ];
    }

    /** @return list<FormField> */
    private static function extensions(): array
    {
        return [
            FormField::text('number', new Message('New number'), 6),
            FormField::text('name', new Message('Name'), 14),
            FormField::pick('pbx', new Message('PBX'), 'registrars', '–'),
            FormField::choice('terminal', new Message('Terminal'), [
                'sip' => new Message('SIP phone'),
                'analogue' => new Message('analogue port'),
                'fax' => new Message('fax'),
                'none' => new Message('none'),
            ], default: 'sip'),
            FormField::pick('phone', new Message('Phone'), 'phones', '–'),
        ];
    }

    /** @return list<FormField> */
    private static function extensionDetails(): array
    {
        return [
            FormField::text('callerId', new Message('Caller id outside'), 16),
            FormField::text('forwardAlways', new Message('Forward always to'), 8),
            FormField::text('forwardBusy', new Message('Forward when busy to'), 8),
            FormField::text('forwardUnanswered', new Message('Forward when unanswered to'), 8),
            FormField::text('mail', new Message('Mail'), 24),
            FormField::choice('permission', new Message('May call'), [
                'inside' => new Message('inside'),
                'national' => new Message('national'),
                'international' => new Message('international'),
            ], new Message('everywhere')),
        ];
    }

    /** @return list<FormField> */
    private static function trunks(): array
    {
        return [
            FormField::text('name', new Message('Name'), 14),
            FormField::text('address', new Message('Provider address'), 14),
            FormField::text('port', new Message('Port'), 6, '5060'),
            FormField::text('user', new Message('User'), 12),
            FormField::text('channels', new Message('Channels'), 4),
            FormField::text('callerId', new Message('Caller id'), 14),
            FormField::pick('pbx', new Message('PBX'), 'pbxes'),
            FormField::pick('far', new Message('Other end in this job'), 'devices', new Message('none (provider)')),
            FormField::choice('transport', new Message('Transport'), ['udp' => 'udp', 'tcp' => 'tcp', 'tls' => 'tls'], 'udp'),
            FormField::yesNo('registers', new Message('Registers')),
            FormField::yesNo('emergency', new Message('Emergency calls')),
        ];
    }

    /** @return list<FormField> */
    private static function callRoutes(): array
    {
        return [
            FormField::text('name', new Message('Name'), 14),
            FormField::text('position', new Message('Order'), 4),
            FormField::text('map', new Message('Digit map'), 18),
            FormField::text('callers', new Message('Callers'), 12),
            FormField::text('strip', new Message('Strip digits'), 3),
            FormField::text('prepend', new Message('Prepend'), 8),
            FormField::pick('pbx', new Message('PBX'), 'pbxes'),
            FormField::pick('trunk', new Message('Trunk'), 'trunks'),
            FormField::pick('trunk2', new Message('Next trunk'), 'trunks', '–'),
            FormField::pick('trunk3', new Message('Next trunk'), 'trunks', '–'),
            FormField::pick('timeFrame', new Message('Time frame'), 'timeFrames', new Message('at any time')),
            FormField::choice('needs', new Message('Permission'), [
                'national' => new Message('national'),
                'international' => new Message('international'),
            ], '–'),
        ];
    }

    /** @return list<FormField> */
    private static function inboundRoutes(): array
    {
        return [
            FormField::text('position', new Message('Order'), 4),
            FormField::text('map', new Message('Called number'), 18),
            FormField::text('to', new Message('Destination'), 8),
            FormField::pick('trunk', new Message('Trunk'), 'trunks'),
            FormField::pick('timeFrame', new Message('Time frame'), 'timeFrames', new Message('at any time')),
        ];
    }

    /** @return list<FormField> */
    private static function ringGroups(): array
    {
        return [
            FormField::text('number', new Message('Number'), 6),
            FormField::text('name', new Message('Name'), 14),
            FormField::text('members', new Message('Members'), 24, '2101; 2102'),
            FormField::text('seconds', new Message('Ring time (s)'), 4),
            FormField::text('otherwise', new Message('If unanswered'), 8),
            FormField::pick('pbx', new Message('PBX'), 'pbxes'),
            FormField::choice('order', new Message('Ring order'), [
                'all' => new Message('all at once'),
                'in-turn' => new Message('one after the other'),
            ], default: 'all'),
        ];
    }

    /** @return list<FormField> */
    private static function menus(): array
    {
        return [
            FormField::text('number', new Message('Number'), 6),
            FormField::text('name', new Message('Name'), 14),
            FormField::text('says', new Message('Announcement'), 30),
            FormField::text('choices', new Message('Keys'), 24, '1 2101; 2 2300'),
            FormField::text('seconds', new Message('Ring time (s)'), 4),
            FormField::text('otherwise', new Message('If unanswered'), 8),
            FormField::pick('pbx', new Message('PBX'), 'pbxes'),
        ];
    }

    /** @return list<FormField> */
    private static function timeFrames(): array
    {
        return [
            FormField::text('name', new Message('Name'), 16),
            FormField::text('when', new Message('When'), 34, 'mon-fri 8:00-16:00'),
        ];
    }

    /** @return list<FormField> */
    private static function streams(): array
    {
        return [
            FormField::text('name', new Message('Name'), 16),
            FormField::text('width', new Message('Width (px)'), 6),
            FormField::text('height', new Message('Height (px)'), 6),
            FormField::text('frameRate', new Message('Frame rate (fps)'), 5),
            FormField::text('kbit', new Message('Bit rate (kbit/s)'), 9),
            FormField::text('port', new Message('Port'), 6),
            FormField::text('channels', new Message('Audio channels'), 4),
            FormField::text('note', new Message('Note'), 24),
            FormField::pick('sender', new Message('From'), 'devices'),
            FormField::choice('transport', new Message('Transport'), [
                'RTP' => 'RTP',
                'RTSP' => 'RTSP',
                'SRT' => 'SRT',
                'RTMP' => 'RTMP',
                'uncompressed' => new Message('uncompressed'),
                'AES67' => 'AES67',
            ], default: 'RTP'),
            FormField::choice('cast', new Message('Delivery'), [
                'unicast' => new Message('unicast'),
                'multicast' => new Message('multicast'),
            ], default: 'unicast'),
            FormField::choice('codec', new Message('Codec'), [
                'H.264' => 'H.264',
                'H.265' => 'H.265',
                'MJPEG' => 'MJPEG',
                'intra' => new Message('intra-frame'),
                'uncompressed' => new Message('uncompressed'),
                'L24' => 'L24',
            ], new Message('as set at the sender')),
            FormField::yesNo('outside', new Message('Leaves the site')),
            FormField::pick('group', new Message('Group'), 'groups', '–'),
        ];
    }

    /** @return list<FormField> */
    private static function deliveries(): array
    {
        return [
            FormField::pick('stream', new Message('Stream'), 'streams'),
            FormField::pick('device', new Message('Receiver'), 'devices'),
        ];
    }

    /** @return list<FormField> */
    private static function soundPatches(): array
    {
        return [
            FormField::text('name', new Message('Name'), 18),
            FormField::text('fromChannel', new Message('First source channel'), 4),
            FormField::text('toChannel', new Message('First destination channel'), 4),
            FormField::text('count', new Message('Channel count'), 4),
            FormField::text('note', new Message('Note'), 24),
            FormField::pick('from', new Message('From'), 'sharers'),
            FormField::pick('to', new Message('To'), 'sharers'),
        ];
    }

    /** @return list<FormField> */
    private static function cables(): array
    {
        return [
            FormField::text('port', new Message('Port'), 6),
            FormField::text('mbps', new Message('Speed (Mbit/s)'), 7),
            FormField::text('metres', new Message('Length (m)'), 5),
            FormField::text('note', new Message('Note'), 24),
            FormField::pick('device', new Message('Device'), 'devices'),
            FormField::pick('switch', new Message('Switch'), 'switches'),
            FormField::yesNo('spare', new Message('Redundant')),
        ];
    }

    /** @return list<FormField> */
    private static function licences(): array
    {
        return [
            FormField::pick('feature', new Message('Licence'), 'licences'),
            FormField::text('quantity', new Message('Quantity'), 4),
            FormField::text('hardwareId', new Message('Hardware ID'), 12),
            FormField::text('orderedOn', new Message('Ordered on'), 12, 'YYYY-MM-DD'),
            FormField::text('arrivedOn', new Message('Arrived on'), 12, 'YYYY-MM-DD'),
            FormField::text('validFrom', new Message('Valid from'), 12, 'YYYY-MM-DD'),
            FormField::text('validUntil', new Message('Valid until'), 12, 'YYYY-MM-DD'),
            FormField::text('note', new Message('Note'), 12),
            FormField::yesNo('temporary', new Message('Temporary')),
        ];
    }
}
