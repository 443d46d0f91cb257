<?php

declare(strict_types=1);

namespace Vorhut\Web\Frame;

use Vorhut\Core\Text\Message;

/** What a page is for, in one sentence, and how to work with it, in a few lines. */
final readonly class PageHelp
{
    /** @param list<Message> $lines */
    private function __construct(public Message $purpose, public array $lines)
    {
    }

    private static function about(Message $purpose, Message ...$lines): self
    {
        return new self($purpose, array_values($lines));
    }

    /** @param string $template as `networks/reach.html.twig` */
    public static function of(string $template): ?self
    {
        [$stage, $page] = explode('/', substr($template, 0, (int) strpos($template, '.'))) + [1 => ''];

        return match ($stage) {
            'brief' => self::brief(),
            'networks' => self::networks($page),
            'devices' => self::devices($page),
            'bench' => self::bench($page),
            'services' => self::services($page),
            'proof' => self::proof(),
            'handover' => self::handover(),
            default => null,
        };
    }

    private static function brief(): self
    {
        return self::about(
            new Message('Enter what applies to the whole job, and answer the open questions.'),
            new Message('Country, language and time zone supply defaults for every device.'),
            new Message('The open questions are computed from missing data. Most of them are for the network administrator.'),
            new Message('Send the administrator a link: Networks, Administrator.'),
            new Message('A value that you enter here is saved when you leave the field.'),
        );
    }

    private static function networks(string $page): self
    {
        return match ($page) {
            'reach' => self::about(
                new Message('See which segments reach which devices, predicted and tested.'),
                new Message('Each cell is a pair of segments. Open it for devices, ports and the packet walk.'),
                new Message('Arrow keys move from cell to cell.'),
                new Message('Enter a change under What if to preview which connections it adds or breaks. Nothing is saved.'),
            ),
            'rules' => self::about(
                new Message('The firewall rules that this job needs, with the reason for each.'),
                new Message('Every rule is checked: with only these rules, all required tests pass.'),
                new Message('By address: rules for single hosts. Otherwise for whole segments.'),
                new Message('Send the list to the administrator, or put the rules into the plan of the router.'),
            ),
            'ranges' => self::about(
                new Message('Scan lists of addresses for devices that answer.'),
                new Message('A list can be suggested from the plan, typed or pasted.'),
                new Message('Choose the segment to scan from. An outpost there runs the scan; without one, the server does.'),
                new Message('After a scan, remove the addresses that do not answer.'),
            ),
            'groups' => self::about(
                new Message('Multicast: groups, senders, receivers, and what switches and routers do with them.'),
                new Message('IGMP snooping needs a querier on the same VLAN.'),
                new Message('Routers forward a group only if multicast routing is on at both interfaces and its TTL is high enough.'),
            ),
            'ipv6' => self::about(
                new Message('Record IPv6 addresses and check them.'),
                new Message('Devices are planned with IPv4. IPv6 is recorded where it exists.'),
                new Message('Add routes between IPv6 networks here.'),
            ),
            'outposts' => self::about(
                new Message('Laptops that test from the segment where they are connected.'),
                new Message('Create a code, then run bin/outpost on the laptop with that code.'),
                new Message('Dismiss an outpost to end its access.'),
            ),
            'ask' => self::about(
                new Message('The questions for the network administrator, ready to send.'),
                new Message('Print the sheet, or create a link. The administrator answers in the browser without a login.'),
                new Message('Check the answers, then accept them. Each accepted answer changes the plan.'),
            ),
            default => self::about(
                new Message('Plan segments, routers, routes and filters.'),
                new Message('Select a segment to see its settings. A pin below an address tape marks a problem.'),
                new Message('Drag a pin, or use Alt with the arrow keys, to change an address.'),
                new Message('The walk: select two devices to see each hop there and back, and why it fails.'),
                new Message('Ask first shows what a new segment, route or rule would change, before it is saved.'),
            ),
        };
    }

    private static function devices(string $page): self
    {
        return match ($page) {
            'kinds', 'kind' => self::about(
                new Message('The library of device kinds, and changes to it for this job.'),
                new Message('A kind describes ports, factory state, run-sheet steps, services and settings.'),
                new Message('A change applies to this job only and is kept as a version. It can be undone.'),
            ),
            default => self::about(
                new Message('The roster: every device with its room, segment, addresses and settings.'),
                new Message('Paste rows from a spreadsheet. The result for each row is shown before anything is added.'),
                new Message('Arrow keys and Enter move, Shift selects a block, Ctrl C and Ctrl V copy and paste, Ctrl D fills down.'),
                new Message('Columns: show any setting as a column. Filter first to change many devices at once.'),
                new Message('Select a tag to see all settings, findings and the history of a device.'),
            ),
        };
    }

    private static function bench(string $page): self
    {
        return match ($page) {
            'write' => self::about(
                new Message('Write planned settings to devices over the network.'),
                new Message('Select devices and check the values. Each device is written to once, one after the other.'),
                new Message('Each value is read back. A value that differs becomes a finding.'),
            ),
            default => self::about(
                new Message('Configure the devices in the shortest order.'),
                new Message('A stop is one laptop setting that reaches several factory-default devices.'),
                new Message('A lane holds devices with the same factory address: connect one at a time.'),
                new Message('The run sheet shows each step with its values. Mark a step as done, skipped, failed or blocked.'),
                new Message('Offline run sheets keep marks in the browser and send them later.'),
            ),
        };
    }

    private static function services(string $page): self
    {
        return match ($page) {
            'calls' => self::about(
                new Message('Trunks, call routes, inbound routes, ring groups and menus.'),
                new Message('Enter who dials what and when, to see who rings and why.'),
                new Message('Routes are tried from top to bottom; the first match is used.'),
                new Message('The lab makes each call. An emergency number is never dialled.'),
            ),
            'streams' => self::about(
                new Message('Video and audio streams: sender, receivers, transport and data rate.'),
                new Message('Select a stream to change it. A multicast stream needs a group.'),
                new Message('A stream that is pushed shows whether its receiver accepts it.'),
            ),
            'links' => self::about(
                new Message('The load of each link, in both directions, with its headroom.'),
                new Message('Add cables here: device, switch, port, speed and length.'),
                new Message('What if there were more of a stream: see where it still fits.'),
            ),
            'power' => self::about(
                new Message('PoE budgets, mains load, heat and weight.'),
                new Message('The draw is computed from power class, cable length and bundle temperature.'),
                new Message('Mains circuits are the work of a licensed electrician.'),
            ),
            'sound' => self::about(
                new Message('Networked audio: sample rates, clock leader, patches and latency.'),
                new Message('All devices of an audio network need the same sample rate and one clock leader.'),
                new Message('A patch connects channels of two devices. Latency is the sum along its path.'),
            ),
            'light' => self::about(
                new Message('Lighting: universes, fixtures and scenes.'),
                new Message('Two fixtures must not use the same slots of a universe.'),
                new Message('Warn the room before you change light.'),
            ),
            default => self::about(
                new Message('Phones and their numbers, from the first file request to the first call.'),
                new Message('Paste a table of numbers, or number all phones at once.'),
                new Message('Enter each account in the PBX, then mark it as entered.'),
                new Message('Must-match rules compare settings that have to be equal on several devices.'),
            ),
        };
    }

    private static function proof(): self
    {
        return self::about(
            new Message('Run the tests that this job requires, and see which failed.'),
            new Message('A column is the place that a test starts from, a row is the device that is tested.'),
            new Message('Open a test to see the packet walk, the evidence and possible fixes.'),
            new Message('Some tests need a person: answer them with yes, no or a number.'),
            new Message('A result is outdated when a value that it is based on has changed. Run the test again.'),
            new Message('A lab result never counts as a result of the site.'),
        );
    }

    private static function handover(): self
    {
        return self::about(
            new Message('The documents that stay with the customer.'),
            new Message('Print this page, or download the schedules as CSV.'),
            new Message('The job document opens again in Vorhut, with everything except the secrets.'),
            new Message('Open findings are listed. Remove temporary changes before you leave.'),
        );
    }
}
