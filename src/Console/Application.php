<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Bundle\FrameworkBundle\Console\Application as FrameworkApplication;
use Symfony\Component\Console\Application as ConsoleApplication;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Command\LazyCommand;
use Symfony\Component\Console\Exception\InvalidOptionException;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;
use Symfony\Component\HttpKernel\KernelInterface;

/** The framework's application without its own --profile option: a keypad has a profile, and there is no profiler here. */
final class Application extends FrameworkApplication
{
    /** Former names of commands. They still work for one version and are not listed. */
    private const FORMER_NAMES = [
        'vorhut:agree' => 'vorhut:consistency',
        'vorhut:ask' => 'vorhut:admin-questions',
        'vorhut:forget' => 'vorhut:evidence:prune',
        'vorhut:key:change' => 'vorhut:key:rotate',
        'vorhut:login' => 'vorhut:device-login',
        'vorhut:look' => 'vorhut:scene',
        'vorhut:loom' => 'vorhut:reachability',
        'vorhut:option' => 'vorhut:dhcp-option',
        'vorhut:sound' => 'vorhut:audio',
        'vorhut:sum' => 'vorhut:calc',
        'vorhut:sweep' => 'vorhut:scan',
    ];

    public function __construct(KernelInterface $kernel)
    {
        parent::__construct($kernel);
        $this->setName('Vorhut');
        $this->getDefinition()->setOptions(array_filter(
            $this->getDefinition()->getOptions(),
            static fn (InputOption $option): bool => 'profile' !== $option->getName(),
        ));
    }

    public function find(string $name): Command
    {
        return parent::find(self::FORMER_NAMES[$name] ?? $name);
    }

    protected function doRunCommand(Command $command, InputInterface $input, OutputInterface $output): int
    {
        self::checkNumbers($command, $input);

        return ConsoleApplication::doRunCommand($command, $input, $output);
    }

    /** A number of an option is written in digits: what PHP would cut ("1.5") or cannot hold ("1e309") is refused. */
    private static function checkNumbers(Command $command, InputInterface $input): void
    {
        $code = ($command instanceof LazyCommand ? $command->getCommand() : $command)->getCode();
        if (null !== $code) {
            foreach ((new \ReflectionFunction($code(...)))->getParameters() as $parameter) {
                $option = Option::tryFrom($parameter);
                $type = $parameter->getType();
                $given = null === $option ? null : $input->getParameterOption('--'.$option->name, null, true);
                if (!\is_string($given) || !$type instanceof \ReflectionNamedType) {
                    continue;
                }
                $isWell = match ($type->getName()) {
                    'int' => false !== filter_var($given, \FILTER_VALIDATE_INT),
                    'float' => is_numeric($given) && is_finite((float) $given),
                    default => true,
                };
                if (!$isWell) {
                    throw InvalidOptionException::fromInvalidType($option->name, $given, $type->getName());
                }
            }
        }
    }
}
