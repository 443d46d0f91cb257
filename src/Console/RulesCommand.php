<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\MapInput;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Analysis\RulesProof;
use Vorhut\Core\Network\Reachability\Flow;
use Vorhut\Core\Network\Reachability\RequiredFirewallRules;
use Vorhut\Core\Network\Reachability\RulesTable;
use Vorhut\Core\Network\Reachability\RuleUse;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\FilterRule;
use Vorhut\Core\Proof\ProofTest;
use Vorhut\Core\Text\Message;
use Vorhut\Exchange\Spreadsheet;

#[AsCommand('vorhut:rules', 'Lists the firewall rules that a job requires; exit code 1 if the planned rules block something')]
final readonly class RulesCommand
{
    public function __construct(private CommandInput $input)
    {
    }

    public function __invoke(
        OutputInterface $output,
        #[MapInput]
        DocumentInput $document,
        #[Option('use device addresses instead of segments')]
        bool $byAddress = false,
        #[Option('print CSV')]
        bool $csv = false,
        #[Option('verify that these rules are sufficient and none is redundant')]
        bool $proof = false,
        #[Option('show the planned rules, with the number of required flows for each')]
        bool $use = false,
    ): int {
        $plan = $this->input->plan($document->file);
        if ($use) {
            $ways = RuleUse::of(NetworkModel::of($plan, Face::Set));
            $rows = array_map(static fn (FilterRule $rule): array => [
                'router' => $plan->devices[$rule->router]->tag ?? $rule->router,
                'rule' => (string) $rule,
                'ways' => $ways->by($rule),
            ], $plan->filters);
            $this->input->answer($output, $document->format, $rows, array_map(
                static fn (array $row): string => \sprintf('%5d  %-12s %s', $row['ways'], $row['router'], $row['rule']),
                $rows,
            ));

            return CommandInput::DONE;
        }
        $wanted = RequiredFirewallRules::of($plan, $byAddress);
        $missing = $wanted->missing();
        if ($csv) {
            $output->write(Spreadsheet::csv(RulesTable::rows($plan, $wanted)), false, OutputInterface::OUTPUT_RAW);

            return [] === $missing ? CommandInput::DONE : CommandInput::FOUND;
        }
        $proved = $proof ? RulesProof::of($plan, $wanted) : null;
        $this->input->answer($output, $document->format, [
            ...$wanted->jsonSerialize(),
            'missing' => array_map(self::flow(...), $missing),
            ...(null === $proved ? [] : ['proof' => $proved]),
        ], [
            ...RulesTable::text($plan, $wanted),
            ...self::once(array_map(static fn (array $one): string => "no rule helps: {$one[0]->why} $one[1]", $wanted->unreachable)),
            ...self::once(array_map(static fn (array $one): string => "stopped today: {$one[0]->why} $one[1]", $missing)),
            ...(null === $proved ? [] : self::proofLines($proved)),
        ]);

        return [] === $missing ? CommandInput::DONE : CommandInput::FOUND;
    }

    /** @return list<string> */
    private static function proofLines(RulesProof $proof): array
    {
        return [
            ...array_map(
                static fn (ProofTest $one): string => "fails with these rules: $one->title. {$one->because()}",
                $proof->brokenTests,
            ),
            \sprintf(
                'With only these rules, %d required flows and %d of %d tests break; %d rules are redundant.',
                \count($proof->brokenFlows),
                \count($proof->brokenTests),
                $proof->tests,
                \count($proof->redundant),
            ),
        ];
    }

    /**
     * @param list<string> $lines
     *
     * @return list<string> each once, with how often it was said
     */
    private static function once(array $lines): array
    {
        $counted = array_count_values($lines);

        return array_map(
            static fn (string $line, int $times): string => 1 === $times ? $line : "$line ($times ×)",
            array_map(strval(...), array_keys($counted)),
            $counted,
        );
    }

    /**
     * @param array{Flow, Message} $stopped
     *
     * @return array<string, string>
     */
    private static function flow(array $stopped): array
    {
        [$flow, $why] = $stopped;

        return [
            'from' => $flow->from,
            'to' => $flow->to,
            'port' => (string) $flow->port,
            'wanted' => (string) $flow->why,
            'why' => (string) $why,
        ];
    }
}
