<?php

declare(strict_types=1);

namespace Vorhut\Lab\Switchboard;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Socket\Background;
use Vorhut\Socket\Datagrams;

/** The fax between two sides of a joined call: packets are passed on unchanged. */
final class FaxRelay
{
    /** @var array{caller: array{Ipv4, int}|null, called: array{Ipv4, int}|null} where each side hears it */
    private array $far = ['caller' => null, 'called' => null];

    public function __construct(private readonly Datagrams $caller, private readonly Datagrams $called)
    {
        foreach (['caller' => 'called', 'called' => 'caller'] as $from => $to) {
            Background::run('fax', function () use ($from, $to): void {
                while (null !== $received = $this->side($from)->receive()) {
                    $far = $this->far[$to];
                    if (null !== $far) {
                        $this->side($to)->send($far[0], $far[1], $received[2]);
                    }
                }
            });
        }
    }

    /** @param 'caller'|'called' $side */
    public function aim(string $side, Ipv4 $to, int $port): void
    {
        $this->far[$side] = [$to, $port];
    }

    /** @param 'caller'|'called' $side */
    public function port(string $side): int
    {
        return $this->side($side)->port();
    }

    public function stop(): void
    {
        $this->caller->close();
        $this->called->close();
    }

    private function side(string $side): Datagrams
    {
        return 'caller' === $side ? $this->caller : $this->called;
    }
}
