<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Catalogue\ValueType;
use Vorhut\Core\Net\Group;
use Vorhut\Core\Net\Host;
use Vorhut\Core\Net\HostName;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Ipv6;
use Vorhut\Core\Net\Mac;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Net\Mask;
use Vorhut\Core\Net\Network;
use Vorhut\Core\Net\Network6;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Net\Range;
use Vorhut\Core\Net\Transport;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\Dialling\DigitMap;
use Vorhut\Core\Voice\Dialling\OutsideNumber;
use Vorhut\Core\Voice\Dialling\TimeFrame;

/** What a field of a record may hold, and how it is read from what a person types. */
enum FieldType: string
{
    case Text = 'text';
    /** One face of a three-faced value, where the empty text means blank. */
    case Face = 'face';
    case Key = 'key';
    /** `section/key` of a record. */
    case Record = 'record';
    case Address = 'address';
    /** An address, or the word that there is none. */
    case AddressOrNone = 'address-or-none';
    /** A host name or an address, or the word that there is none. */
    case HostOrNone = 'host-or-none';
    /** A VLAN ID (IEEE 802.1Q), or 0 for a network without tags. */
    case Vlan = 'vlan';
    case Mask = 'mask';
    /** A group of 224.0.0.0/4. */
    case Group = 'group';
    case Network = 'network';
    /** One that a site may have, and that an outpost may therefore ask. */
    case SiteNetwork = 'site-network';
    case Address6 = 'address6';
    case Network6 = 'network6';
    /** The next router of a route: one that says on which wire it is. */
    case NextHop6 = 'next-hop6';
    /** An address of IPv6 with how many bits of it are the network. */
    case Interface6 = 'interface6';
    case Mac = 'mac';
    case HostName = 'hostname';
    /** A host name, or an address where no name is given. */
    case Host = 'host';
    /** SHA-256 of a certificate, hexadecimal. */
    case Fingerprint = 'fingerprint';
    case Number = 'number';
    case Flag = 'flag';
    case Choice = 'choice';
    case Dialled = 'dialled';
    /**
     * A port that an outpost can test: any over TCP; over UDP only a protocol with replies shows that a service is there, and that is SIP.
     */
    case AskedPort = 'asked-port';
    case Mail = 'mail';
    case TimeZone = 'timezone';
    case Time = 'time';
    /** A day of the calendar, as 2026-03-01. */
    case Date = 'date';
    case Ranges = 'ranges';
    case LabelledRanges = 'labelled-ranges';
    /** Addresses of a port beside its first, each with its mask. */
    case Interfaces = 'interfaces';
    case Texts = 'texts';
    /** Which digits are meant (RFC 3435 §2.1.5). */
    case DigitMap = 'digit-map';
    /** Days and hours of the site's clock. */
    case TimeFrame = 'time-frame';
    /** A number of the public network with its country code (E.164). */
    case OutsideNumber = 'outside-number';
    /** Numbers of the PBX. */
    case DialledList = 'dialled-list';
    /** What a caller presses, and where that leads: `1 2101`. */
    case Choices = 'choices';
    case Data = 'data';
    /** A message for people with its parameters: Message::stored(). */
    case Sentence = 'sentence';

    /** Stored where there is none, as the gateway of an isolated network. */
    public const NONE = 'none';
    private const NONE_WORDS = ['-', '–', 'none', 'no', 'no router', 'untagged'];
    private const LAST_VLAN = 4094;
    public const KEY_FORM = '[a-z0-9][a-z0-9._-]{0,127}';

    /** A /8 is real: lighting is given one. */
    private const WIDEST = 8;
    private const SIP = 5060;

    /**
     * From typed text to the stored form; the same messages refuse an invalid field of a page, of a pasted table and of a document.
     *
     * @return string|int|bool|list<mixed>
     *
     * @throws Malformed
     */
    // phpcs:ignore SlevomatCodingStandard.Functions.FunctionLength -- one line for each type
    public function read(string $text): string|int|bool|array
    {
        $text = trim($text);

        return match ($this) {
            self::Text, self::Face, self::Data, self::Sentence => $text,
            self::Record => 1 === preg_match('~^[a-zA-Z]+/'.self::KEY_FORM.'$~D', $text)
                ? $text
                : throw Malformed::because('"{text}" names no record: write section/key.', ['text' => $text]),
            self::AddressOrNone => self::isNone($text) ? self::NONE : (string) Ipv4::fromString($text),
            self::HostOrNone => self::isNone($text) ? self::NONE : (string) Host::fromString($text),
            self::Vlan => self::isNone($text) ? 0 : self::parseVlan($text),
            self::Key => 1 === preg_match('~^'.self::KEY_FORM.'$~D', $text)
                ? $text
                : throw Malformed::because('"{text}" is not a key: lower-case letters, digits, dot and hyphen.', ['text' => $text]),
            self::Address => (string) Ipv4::fromString($text),
            self::Mask => (string) Mask::fromString($text),
            self::Group => (string) Group::fromString($text)->address,
            self::Network => (string) Network::fromString($text),
            self::SiteNetwork => (string) self::ofASite(Network::fromString($text)),
            self::Address6 => (string) Ipv6::fromString($text),
            self::NextHop6 => (string) self::nextHop6(Ipv6::fromString($text)),
            self::Network6 => (string) Network6::fromString($text),
            self::Interface6 => self::interface6($text),
            self::Mac => (string) Mac::fromString($text),
            self::HostName => (string) HostName::fromString($text),
            self::Host => (string) Host::fromString($text),
            self::Fingerprint => 1 === preg_match('/^[0-9a-f]{64}$/D', strtolower(str_replace(':', '', $text)))
                ? strtolower(str_replace(':', '', $text))
                : throw Malformed::because('"{text}" is not a fingerprint of 64 hexadecimal digits.', ['text' => mb_substr($text, 0, 80)]),
            self::Number => 1 === preg_match('/^[0-9]{1,9}$/D', $text)
                ? (int) $text
                : throw Malformed::because('"{text}" is not a whole number.', ['text' => $text]),
            self::Flag => match (strtolower($text)) {
                'yes', 'on', '1', 'true' => true,
                'no', 'off', '0', 'false', '' => false,
                default => throw Malformed::because('"{text}" is neither yes nor no.', ['text' => $text]),
            },
            self::Choice => $text,
            self::Dialled => self::parseNumber($text),
            self::AskedPort => self::formatPort(Port::fromString($text)),
            self::Mail => false !== filter_var($text, \FILTER_VALIDATE_EMAIL)
                ? $text
                : throw Malformed::because('"{text}" is not a mail address.', ['text' => $text]),
            self::TimeZone => ValueType::isTimeZone($text)
                ? $text
                : throw Malformed::because('"{text}" is not a time zone: write it as Europe/Berlin.', ['text' => $text]),
            self::Time => 1 === preg_match('/^.{10}T(?:[01]\d|2[0-3]):[0-5]\d:[0-5]\d(?:Z|[+-][01]\d:[0-5]\d)$/D', $text)
                    && self::isDay(substr($text, 0, 10))
                ? $text
                : throw Malformed::because('"{text}" is not a time as 2026-03-01T09:30:00Z.', ['text' => $text]),
            self::Date => self::isDay($text)
                ? $text
                : throw Malformed::because('"{text}" is not a day as 2026-03-01.', ['text' => $text]),
            self::Ranges => array_map(
                static fn (string $line): string => (string) Range::fromString($line),
                self::lines(self::separated((string) preg_replace('/\s*[-–]\s*/u', '-', $text))),
            ),
            self::LabelledRanges => array_map(self::parseLabelledRange(...), self::lines($text)),
            self::Interfaces => array_map(self::parseHostAddress(...), self::lines(str_replace(',', "\n", $text))),
            self::Texts => self::lines($text),
            self::DigitMap => (string) DigitMap::fromString($text),
            self::TimeFrame => (string) TimeFrame::fromString($text),
            self::OutsideNumber => (string) OutsideNumber::fromString($text),
            self::DialledList => array_map(
                static fn (string $line): string => (string) self::parseNumber($line),
                self::lines(self::separated($text)),
            ),
            self::Choices => array_map(self::choice(...), self::lines(str_replace(',', "\n", $text))),
        };
    }

    /** Whether the stored value is a list of lines of text. */
    public function isLines(): bool
    {
        return \in_array($this, [self::Ranges, self::Interfaces, self::Texts, self::DialledList, self::Choices], true);
    }

    /** The text of a form field for a stored value; read() reverses it. */
    public function show(mixed $stored): string
    {
        if (self::Sentence === $this && \is_array($stored)) {
            return (string) Message::fromStored($stored);
        }
        if (\is_array($stored)) {
            $text = static fn (mixed $part): string => \is_scalar($part) ? (string) $part : '';

            return implode("\n", array_map(static fn (mixed $item): string => match (true) {
                \is_array($item) => implode(' ', array_map($text, $item)),
                \is_scalar($item) => (string) $item,
                default => '',
            }, $stored));
        }

        return match (true) {
            self::Vlan === $this && 0 === $stored => '-',
            \is_bool($stored) => $stored ? 'yes' : 'no',
            \is_scalar($stored) => (string) $stored,
            default => '',
        };
    }

    /**
     * Checks what a document holds and gives it back in its one canonical form.
     *
     * @return string|int|bool|list<mixed>
     *
     * @throws Malformed
     */
    public function check(mixed $stored): string|int|bool|array
    {
        return match (true) {
            self::Data === $this => \is_array($stored) ? array_values($stored) : [],
            // Older documents may hold any text.
            self::HostOrNone === $this => \is_string($stored) ? trim($stored) : '',
            self::Sentence === $this && \is_array($stored) => self::storeMessage(Message::fromStored($stored)),
            default => $this->read(\is_string($stored) ? $stored : $this->show($stored)),
        };
    }

    private static function isNone(string $text): bool
    {
        return \in_array(mb_strtolower($text), self::NONE_WORDS, true);
    }

    /** Lists are separated by commas, semicolons or blanks. */
    private static function separated(string $text): string
    {
        return (string) preg_replace('/[,;\s]+/', "\n", $text);
    }

    private static function parseVlan(string $text): int
    {
        $vlan = 1 === preg_match('/^[0-9]{1,4}$/D', $text) ? (int) $text : -1;

        return $vlan >= 0 && $vlan <= self::LAST_VLAN
            ? $vlan
            : throw Malformed::because('"{text}" is not a VLAN ID: write 1 to 4094, or - for none.', ['text' => $text]);
    }

    private static function nextHop6(Ipv6 $address): Ipv6
    {
        return $address->isLinkLocal()
            ? throw Malformed::because(
                '{text} is on every wire: write the address that the next router has on this one.',
                ['text' => $address],
            )
            : $address;
    }

    private static function interface6(string $text): string
    {
        [$host, $network] = Network6::interface($text);
        $why = $host->whyNotAHost()
            ?? ($network->isOfItsRouters($host) ? $host.' cannot be given to a host: it is whichever router is on '.$network.'.' : null);

        return null === $why ? $host.'/'.$network->prefix() : throw Malformed::because($why);
    }

    /** What a job declares, its outposts may ask: not this machine itself, no groups, not everybody (RFC 6890 §2.2.2). */
    private static function ofASite(Network $network): Network
    {
        foreach (['0.0.0.0/8', '127.0.0.0/8', '224.0.0.0/3'] as $block) {
            if ($network->overlaps(Network::fromString($block))) {
                throw Malformed::because('{network} cannot be a network of a site: no host of it may be asked from elsewhere.', [
                    'network' => $network,
                ]);
            }
        }
        if ($network->mask->prefix < self::WIDEST) {
            throw Malformed::because('{network} is wider than any site: a network has a prefix of {n} or more.', [
                'network' => $network,
                'n' => self::WIDEST,
            ]);
        }

        return $network;
    }

    private static function isDay(string $text): bool
    {
        return 1 === preg_match('/^(\d{4})-(\d\d)-(\d\d)$/D', $text, $parts)
            && checkdate((int) $parts[2], (int) $parts[3], (int) $parts[1]);
    }

    private static function parseNumber(string $text): string
    {
        return 1 === preg_match('/^[0-9*#]{1,20}$/D', $text)
            ? $text
            : throw Malformed::because('"{text}" cannot be dialled: only digits, * and #.', ['text' => mb_substr($text, 0, 40)]);
    }

    /** A key, and the number that it leads to. */
    private static function choice(string $line): string
    {
        return 1 === preg_match('/^([0-9*#])[\s=:]+([0-9*#]{1,20})$/D', $line, $found)
            ? $found[1].' '.$found[2]
            : throw Malformed::because(
                '"{line}": write the key, a space, and the number it leads to, as 1 2101.',
                ['line' => mb_substr($line, 0, 40)],
            );
    }

    private static function formatPort(Port $port): string
    {
        return Transport::Tcp === $port->transport
            || self::SIP === $port->number
                ? (string) $port
                : throw Malformed::because('{port} cannot be asked: over UDP an outpost asks SIP, at 5060/udp.', ['port' => $port]);
    }

    /** @return string|list<mixed> */
    private static function storeMessage(Message $message): string|array
    {
        return $message->toStored();
    }

    /** @return list<string> */
    private static function lines(string $text): array
    {
        return array_values(array_filter(
            array_map(trim(...), preg_split('/[\r\n;]+/', $text) ?: []),
            static fn (string $line): bool => '' !== $line,
        ));
    }

    /** An address as a host holds it: with its mask, and no edge of its network. */
    private static function parseHostAddress(string $line): string
    {
        $network = Network::fromString($line, false);
        $address = Ipv4::fromString((preg_split('#[/\s]+#', $line) ?: [$line])[0]);
        if (null !== ($why = $address->whyNotAHost())) {
            throw new Malformed($why);
        }
        if ($network->isEdge($address)) {
            throw Malformed::because('{address} is the first or the last address of {network}: no device holds it.', [
                'address' => $address,
                'network' => $network,
            ]);
        }

        return $address.$network->mask;
    }

    /** @return array{range: string, for: string} */
    private static function parseLabelledRange(string $line): array
    {
        $parts = preg_split('/\s+/', $line, 2);
        if (false === $parts || 2 !== \count($parts)) {
            throw Malformed::because('"{line}": write the range, a space, and what it is for.', ['line' => $line]);
        }

        return ['range' => (string) Range::fromString($parts[0]), 'for' => $parts[1]];
    }
}
