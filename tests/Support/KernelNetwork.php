<?php

declare(strict_types=1);

namespace Vorhut\Tests\Support;

use Symfony\Component\Process\Process;
use Vorhut\Core\Net\Transport;
use Vorhut\Core\Plan\FilterRule;
use Vorhut\Core\Plan\Nic;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\RouterPort;
use Vorhut\Core\Plan\TranslationKind;

/**
 * A job's network in the kernel: a namespace for each host and router, a bridge for each segment, all made by this test and gone with it.
 * Nothing is connected to the machine's own network.
 */
final class KernelNetwork
{
    private const TABLE = 'walk';

    /** @var array<string, Process> host → who answers there with its name */
    private array $listeners = [];

    /**
     * @param array<string, list<string>> $routers router → segments it has a port on
     * @param array<string, string>       $hosts   host → segment it is plugged into
     */
    private function __construct(private readonly string $prefix, private readonly array $routers, private readonly array $hosts)
    {
    }

    /**
     * @param array<string, list<string>> $routers
     * @param array<string, string>       $hosts
     *
     * @return self|string why it could not be made on this machine
     */
    public static function make(array $routers, array $hosts): self|string
    {
        $network = new self('vh'.getmypid(), $routers, $hosts);
        try {
            $network->build();
        } catch (\RuntimeException $e) {
            $network->close();

            return $e->getMessage();
        }

        return $network;
    }

    /** Puts what a plan says into hosts and routers. */
    public function put(Plan $plan): void
    {
        foreach ($this->hosts as $host => $segment) {
            $nic = $plan->devices[$host]->nic() ?? throw new \LogicException();
            $this->ip($host, ['address flush dev eth0', 'neighbour flush all', ...self::settings($nic)], true);
        }
        foreach (array_keys($this->routers) as $router) {
            $this->ip($router, ['neighbour flush all', ...$this->ports($plan, $router)], true);
            $this->filter($plan, $router);
            $this->translate($plan, $router);
            $this->proxies($plan, $router);
        }
    }

    /** The same for what is recorded of IPv6, on hosts that have nothing else. */
    public function put6(Plan $plan): void
    {
        foreach (array_keys($this->hosts) as $host) {
            $nic = $plan->devices[$host]->nic() ?? throw new \LogicException();
            $this->ip($host, [
                'route flush proto static',
                'address flush dev eth0 scope global',
                'neighbour flush all',
                null === $nic->address6 ? '' : "address add $nic->address6/{$nic->network6?->prefix()} dev eth0 nodad",
                null === $nic->gateway6 ? '' : "route add ::/0 via $nic->gateway6 dev eth0 proto static",
            ], true, '-6');
        }
        foreach (array_keys($this->routers) as $router) {
            $tests = ['route flush proto static', 'neighbour flush all'];
            foreach ($plan->routerPorts as $port) {
                if ($port->router === $router) {
                    $tests[] = "address flush dev $port->segment scope global";
                    $tests[] = null === $port->address6
                        ? ''
                        : "address add $port->address6/{$port->network6?->prefix()} dev $port->segment nodad";
                    $tests[] = null === $port->local6 ? '' : "address replace $port->local6/64 dev $port->segment nodad";
                }
            }
            foreach ($plan->routes6 as $route) {
                if ($route->router === $router) {
                    $tests[] = "route add $route->destination via $route->via proto static";
                }
            }
            $this->ip($router, $tests, true, '-6');
            $this->filter($plan, $router);
        }
    }

    /**
     * @param array<string, list<string>> $at host → addresses with ports under which it may be found
     *
     * @return array<string, string> "from>to" → name of the host that answered a connection there, `to` where it did at any;
     *     '' for none
     */
    public function answers(array $at, float $seconds): array
    {
        $asking = [];
        foreach (array_keys($this->hosts) as $from) {
            $aims = [];
            foreach ($at as $to => $addresses) {
                if ($to !== $from) {
                    foreach ($addresses as $n => $address) {
                        $aims["$to $n"] = 'tcp://'.$address;
                    }
                }
            }
            $asking[$from] = $this->within($from, ['php', '-n', __DIR__.'/connects.php', (string) $seconds, (string) json_encode($aims)]);
            $asking[$from]->start();
        }
        $answers = [];
        foreach ($asking as $from => $process) {
            $process->wait();
            $names = json_decode($process->getOutput(), true);
            foreach (\is_array($names) ? $names : throw new \RuntimeException($process->getErrorOutput()) as $to => $name) {
                $to = explode(' ', (string) $to)[0];
                $pair = $from.'>'.$to;
                $known = $answers[$pair] ?? '';
                $answers[$pair] = $to === $known || '' === $name || !\is_string($name) ? $known : $name;
            }
        }

        return $answers;
    }

    /**
     * A command on one of its machines.
     *
     * @param list<string>          $command
     * @param array<string, string> $env
     */
    public function process(string $host, array $command, array $env = []): Process
    {
        $set = array_map(static fn (string $name, string $value): string => $name.'='.$value, array_keys($env), $env);

        return $this->within($host, ['env', '-C', \dirname(__DIR__, 2), ...$set, ...$command]);
    }

    public function close(): void
    {
        foreach ($this->listeners as $listener) {
            $listener->stop(0);
        }
        foreach ([...array_keys($this->hosts), ...array_keys($this->routers), 'wires'] as $name) {
            $this->root(['ip', 'netns', 'delete', $this->prefix.$name])->run();
        }
    }

    private function build(): void
    {
        $ports = [];
        foreach ($this->routers as $router => $segments) {
            foreach ($segments as $segment) {
                $ports[] = [$router, $segment, $segment];
            }
        }
        foreach ($this->hosts as $host => $segment) {
            $ports[] = [$host, 'eth0', $segment];
        }
        foreach (array_unique(['wires', ...array_column($ports, 0)]) as $name) {
            $made = $this->root(['ip', 'netns', 'add', $this->prefix.$name]);
            if (0 !== $made->run()) {
                throw new \RuntimeException('No network namespaces here: '.trim($made->getErrorOutput()));
            }
            $this->ip($name, ['link set lo up']);
        }
        $this->ip(
            'wires',
            array_merge(...array_map(
                static fn (string $segment): array => ["link add $segment type bridge", "link set $segment up"],
                array_values(array_unique(array_column($ports, 2))),
            )),
        );
        foreach ($ports as $n => [$name, $device, $segment]) {
            $this->ip('wires', ["link add p$n type veth peer name $device netns {$this->prefix}$name", "link set p$n master $segment up"]);
            $this->ip($name, ["link set $device up"]);
        }
        foreach ([...array_keys($this->hosts), ...array_keys($this->routers)] as $name) {
            $this->settle($name, isset($this->routers[$name]));
        }
        foreach (array_keys($this->hosts) as $host) {
            $this->listeners[$host] = $this->within($host, [
                'php',
                '-n',
                '-r',
                '$s = stream_socket_server("tcp://[::]:80"); while (true) { if ($c = @stream_socket_accept($s, 3600)) { fwrite($c, '
                    .'$argv[1]); fclose($c); } }',
                $host,
            ]);
            $this->listeners[$host]->start();
        }
    }

    /** The strict assumptions of the walk: no redirects, no check of the way back; an ARP question that nobody answers is given up soon. */
    private function settle(string $name, bool $forwards): void
    {
        $values = ['ip_forward' => $forwards ? '1' : '0'];
        foreach (['all', 'default', ...($this->routers[$name] ?? ['eth0'])] as $device) {
            $values += [
                "conf/$device/rp_filter" => '0',
                "conf/$device/send_redirects" => '0',
                "conf/$device/accept_redirects" => '0',
                "conf/$device/proxy_arp" => '0',
            ];
        }
        foreach ($this->routers[$name] ?? ['eth0'] as $device) {
            $values += ["neigh/$device/retrans_time_ms" => '200', "neigh/$device/proxy_delay" => '20'];
        }
        $tests = [];
        foreach ($values as $key => $value) {
            $tests[] = "echo $value > /proc/sys/net/ipv4/$key";
        }
        $tests[] = 'echo '.($forwards ? '1' : '0').' > /proc/sys/net/ipv6/conf/all/forwarding';
        foreach ($this->routers[$name] ?? ['eth0'] as $device) {
            // Nobody learns of routers by himself: what is recorded is all there is.
            $tests[] = "echo 0 > /proc/sys/net/ipv6/conf/$device/accept_ra";
            $tests[] = "echo 0 > /proc/sys/net/ipv6/conf/$device/accept_redirects";
            $tests[] = "echo 200 > /proc/sys/net/ipv6/neigh/$device/retrans_time_ms";
        }
        $this->within($name, ['sh', '-c', implode(' && ', $tests)])->mustRun();
    }

    /** @return list<string> lines for `ip` */
    private static function settings(Nic $nic): array
    {
        $address = $nic->setting('address')->planned;
        $gateway = $nic->setting('gateway')->planned ?? '';
        if (null === $address) {
            return [];
        }
        // A gateway that is the host's own address: the whole world is next door.
        $way = match ($gateway) {
            '' => [],
            $address => ['route add default dev eth0'],
            default => ["route add default via $gateway"],
        };

        return [
            "address add $address{$nic->setting('mask')->planned}".' dev eth0',
            ...array_map(static fn (array $held): string => "address add {$held[0]}{$held[1]} dev eth0", $nic->also),
            ...$way,
        ];
    }

    /** @return list<string> */
    private function ports(Plan $plan, string $router): array
    {
        $tests = ['route flush proto static'];
        foreach ($plan->routerPorts as $port) {
            if ($port->router === $router) {
                $tests[] = "address flush dev $port->segment";
                $tests[] = "address add $port->address$port->mask dev $port->segment";
            }
        }
        foreach ($plan->translations as $rule) {
            if ($rule->router === $router && null !== $rule->address) {
                $tests[] = "address add $rule->address/32 dev $rule->outside";
            }
        }
        foreach ($plan->routes as $route) {
            if ($route->router === $router) {
                $tests[] = "route add $route->destination via $route->via proto static";
            }
        }

        return $tests;
    }

    private function filter(Plan $plan, string $router): void
    {
        $device = $plan->devices[$router];
        $rules = $device->stateful ? ['ct state established accept'] : [];
        foreach (array_filter($plan->filters, static fn (FilterRule $rule): bool => $rule->router === $router) as $rule) {
            $rules[] = trim(implode(' ', [
                null === $rule->from ? '' : 'iifname "'.$rule->from.'"',
                null === $rule->to ? '' : 'oifname "'.$rule->to.'"',
                [] === $rule->fromAddresses ? '' : 'ip saddr { '.implode(', ', $rule->fromAddresses).' }',
                [] === $rule->toAddresses ? '' : 'ip daddr { '.implode(', ', $rule->toAddresses).' }',
                match (true) {
                    null !== $rule->portFirst => \sprintf(
                        '%s dport %d-%d',
                        $rule->transport->value ?? 'th',
                        $rule->portFirst,
                        $rule->portLast ?? $rule->portFirst,
                    ),
                    null !== $rule->transport => 'meta l4proto '.(Transport::Udp === $rule->transport ? 'udp' : 'tcp'),
                    default => '',
                },
                $rule->allows ? 'accept' : 'drop',
            ]));
        }
        // The default for packets that leave by the interface they arrived on is one of its own.
        foreach (array_filter($plan->routerPorts, static fn (RouterPort $port): bool => $port->router === $router) as $port) {
            $rules[] = \sprintf(
                'iifname "%1$s" oifname "%1$s" %2$s',
                $port->segment,
                $device->forwardsOnSameInterface ? 'accept' : 'drop',
            );
        }
        $text = \sprintf(
            "table inet %1\$s {}\ndelete table inet %1\$s\ntable inet %1\$s {\nchain pass {\ntype filter hook forward priority 0; "
                ."policy %2\$s;\n%3\$s\n}\n}\n",
            self::TABLE,
            $device->forwardsByDefault ? 'accept' : 'drop',
            implode("\n", $rules),
        );
        $this->within($router, ['nft', '-f', '-'], $text)->mustRun();
    }

    private function translate(Plan $plan, string $router): void
    {
        $in = $out = [];
        foreach ($plan->translations as $rule) {
            if ($rule->router !== $router) {
                continue;
            }
            $own = $this->owns($plan, $router, $rule->outside);
            $outside = $rule->address ?? $own;
            $at = \sprintf('oifname "%s"%s', $rule->outside, null === $rule->inside ? '' : ' ip saddr '.$rule->inside);
            match ($rule->what) {
                TranslationKind::Source => $out[] = "$at snat to $outside",
                TranslationKind::Forward => $in[] = \sprintf(
                    'iifname "%s" ip daddr %s tcp dport %d dnat to %s:%d',
                    $rule->outside,
                    $outside,
                    $rule->portFirst,
                    $rule->inside,
                    $rule->insidePort ?? $rule->portFirst,
                ),
                TranslationKind::Static => [
                    $out[] = "$at snat to $outside",
                    $in[] = \sprintf('iifname "%s" ip daddr %s dnat to %s', $rule->outside, $outside, $rule->inside),
                ],
            };
        }
        $text = \sprintf(
            "table ip %1\$s-nat {}\ndelete table ip %1\$s-nat\n".([] === [...$in, ...$out] ? '' : "table ip %1\$s-nat {\n"
                ."chain in {\ntype nat hook prerouting priority -100;\n%2\$s\n}\n"
                ."chain out {\ntype nat hook postrouting priority 100;\n%3\$s\n}\n}\n"),
            self::TABLE,
            implode("\n", $in),
            implode("\n", $out),
        );
        $this->within($router, ['nft', '-f', '-'], $text)->mustRun();
    }

    private function owns(Plan $plan, string $router, string $segment): string
    {
        foreach ($plan->routerPorts as $port) {
            if ($port->router === $router && $port->segment === $segment) {
                return (string) $port->address;
            }
        }
        throw new \LogicException("$router has no port on $segment");
    }

    private function proxies(Plan $plan, string $router): void
    {
        foreach ($plan->routerPorts as $port) {
            if ($port->router === $router) {
                $this->within($router, ['sh', '-c', \sprintf(
                    'echo %d > /proc/sys/net/ipv4/conf/%s/proxy_arp',
                    $port->proxyArp ? 1 : 0,
                    $port->segment,
                )])->mustRun();
            }
        }
    }

    /** @param list<string> $tests */
    private function ip(string $name, array $tests, bool $mayRefuse = false, string $version = '-4'): void
    {
        // What a real host refuses to take (a gateway outside its network) it goes on without, as the walk says.
        $process = $this->root(
            ['ip', $version, '-n', $this->prefix.$name, ...($mayRefuse ? ['-force'] : []), '-batch', '-'],
            implode("\n", $tests)."\n",
        );
        if (0 !== $process->run() && !$mayRefuse) {
            throw new \RuntimeException(trim($process->getErrorOutput()));
        }
    }

    /** @param list<string> $command */
    private function within(string $name, array $command, ?string $input = null): Process
    {
        return $this->root(['ip', 'netns', 'exec', $this->prefix.$name, ...$command], $input);
    }

    /** @param list<string> $command */
    private function root(array $command, ?string $input = null): Process
    {
        return new Process(0 === posix_geteuid() ? $command : ['sudo', '-n', ...$command], null, null, $input, 60);
    }
}
