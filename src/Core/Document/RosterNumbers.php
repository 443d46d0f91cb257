<?php

declare(strict_types=1);

namespace Vorhut\Core\Document;

use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\Numbers;

/** The extensions that a pasted roster gives to its phones. */
final class RosterNumbers
{
    /** @var array<array-key, string> number → key of its phone */
    private array $numbers = [];

    public function __construct(private readonly Plan $plan)
    {
    }

    /**
     * @param string $phone its key
     *
     * @throws Malformed if it cannot be the extension of this phone
     */
    public function give(string $number, string $phone): void
    {
        if (1 !== preg_match('/^[0-9]{2,8}$/D', $number)) {
            throw Malformed::because('"{number}" is not an extension: two to eight digits.', ['number' => $number]);
        }
        if (null !== $this->plan->extensionNumbered($number) || isset($this->numbers[$number])) {
            throw Malformed::because('The extension {number} is taken.', ['number' => $number]);
        }
        if (!Numbers::isInRange($this->plan, $number)) {
            throw Malformed::because('{number} is outside the range of this job.', ['number' => $number]);
        }
        $this->numbers[$number] = $phone;
    }

    /**
     * @param list<Edit> $devices the edits that add the devices of the roster
     *
     * @return list<Edit> an extension for each phone; with its account, where the job has exactly one PBX
     */
    public function edits(array $devices): array
    {
        if ([] === $this->numbers) {
            return [];
        }
        $plan = $this->plan->with(new Change(new Message(''), $devices));
        $registrars = array_values(array_filter($plan->devices, static fn (Device $one): bool => $one->kind->has(Role::Registrar)));
        $edits = [];
        foreach ($this->numbers as $number => $phone) {
            array_push($edits, ...Numbers::extension(
                $plan,
                $plan->devices[$phone],
                (string) $number,
                1 === \count($registrars) ? $registrars[0]->key : null,
            ));
        }

        return $edits;
    }
}
