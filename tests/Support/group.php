<?php

declare(strict_types=1);

// In a network of a test's own: `hear UNIVERSE ADDRESS` says who is heard to send light there, `send UNIVERSE ADDRESS NAME` sends,
// `clock 0 ADDRESS` says whose clock leads there.
use Vorhut\Core\Lighting\Universe;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Wire\Ptp\Announce;
use Vorhut\Core\Wire\Sacn\SacnPacket;
use Vorhut\Outpost\Probe\Adapter;
use Vorhut\Outpost\Probe\GroupDatagrams;

require dirname(__DIR__, 2).'/vendor/autoload.php';

[, $what, $number, $address] = $argv;
if ('clock' === $what) {
    $ear = GroupDatagrams::on(new Adapter('eth0', Ipv4::fromString($address)), Ipv4::fromString(Announce::GROUP), Announce::PORT);
    for ($until = microtime(true) + 12; microtime(true) < $until && null !== $heard = $ear->receive(12.0);) {
        $announce = Announce::tryFromString($heard[2]);
        if (null !== $announce) {
            echo $heard[0].' '.Announce::macOf($announce->grandmaster)?->digits.' '.$announce->priority1;
            break;
        }
    }
    $ear->close();
    exit(0);
}
$universe = Universe::tryOf((int) $number) ?? throw new LogicException();
if ('hear' === $what) {
    $ear = GroupDatagrams::on(new Adapter('eth0', Ipv4::fromString($address)), $universe->group(), Universe::PORT);
    $heard = $ear->receive(6.0);
    echo null === $heard ? 'nobody' : $heard[0].' '.SacnPacket::fromString($heard[2])->source;
    $ear->close();
    exit(0);
}
$socket = socket_create(\AF_INET, \SOCK_DGRAM, \SOL_UDP) ?: throw new LogicException();
socket_bind($socket, $address);
socket_set_option($socket, \IPPROTO_IP, \IP_MULTICAST_IF, 'eth0');
for ($n = 0; $n < 24; ++$n) {
    $packet = (string) new SacnPacket(str_repeat("\3", 16), $argv[4] ?? 'x', 100, $n, $universe->number, "\1");
    socket_sendto($socket, $packet, strlen($packet), 0, (string) $universe->group(), Universe::PORT);
    usleep(250_000);
}
