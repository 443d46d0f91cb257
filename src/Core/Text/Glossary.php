<?php

declare(strict_types=1);

namespace Vorhut\Core\Text;

/** The terms that Vorhut uses in its own sense. The page and docs/glossary.md are made of this list. */
final class Glossary
{
    /** @return list<GlossaryTerm> by term */
    public static function terms(): array
    {
        return [
            new GlossaryTerm(new Message('Address tape'), new Message(
                'A drawing of all addresses of a segment: DHCP pools, reserved ranges and the address of each device.',
            )),
            new GlossaryTerm(new Message('Bench'), new Message(
                'The place, and the stage of a job, where factory-default devices are configured.',
            )),
            new GlossaryTerm(new Message('Evidence'), new Message(
                'What a probe or a person recorded: result, time, outpost, address, on site or in the lab.',
            )),
            new GlossaryTerm(new Message('Finding'), new Message(
                'A problem in the plan or at a device, with its effect and, where possible, a fix.',
            )),
            new GlossaryTerm(new Message('Hop'), new Message('One host or router on the path of a packet walk.')),
            new GlossaryTerm(new Message('Job'), new Message(
                'One installation for one customer: plan, devices, marks, evidence and history.',
            )),
            new GlossaryTerm(new Message('Kind'), new Message(
                'A class of devices that work alike, for example PTZ camera. Never a maker or a model.',
            )),
            new GlossaryTerm(new Message('Lab'), new Message('Simulated devices on this machine that speak the real protocols.')),
            new GlossaryTerm(new Message('Lane'), new Message(
                'Devices of a stop that share a factory address, and so have to be connected one after the other.',
            )),
            new GlossaryTerm(new Message('Must-match rule'), new Message(
                'Settings that have to be equal, or related, on several devices.',
            )),
            new GlossaryTerm(new Message('Outpost'), new Message(
                'A laptop in a segment of the site that runs tests and scans from there.',
            )),
            new GlossaryTerm(new Message('Packet walk'), new Message(
                'The computed path of a packet and its reply through hosts, routers, filters and NAT.',
            )),
            new GlossaryTerm(new Message('Pennant'), new Message(
                'The small flag with a color and a pattern that marks a segment on all pages.',
            )),
            new GlossaryTerm(new Message('Planned, set, seen'), new Message(
                'The three values of a setting: required by the plan, entered at the device, reported by the device.',
            )),
            new GlossaryTerm(new Message('Practice job'), new Message(
                'A job whose site is the lab. Its results never count for a real site.',
            )),
            new GlossaryTerm(new Message('Run sheet'), new Message('The steps to configure one device, with the values to enter.')),
            new GlossaryTerm(new Message('Segment'), new Message('One IP network on one VLAN or cable.')),
            new GlossaryTerm(new Message('Stage'), new Message(
                'One of the seven parts of a job: Brief, Networks, Devices, Bench, Services, Proof, Handover.',
            )),
            new GlossaryTerm(new Message('Stop'), new Message(
                'One setting of the laptop, and all devices that can be configured with it.',
            )),
        ];
    }
}
