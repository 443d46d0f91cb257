<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Bundle\FrameworkBundle\Console\Application as FrameworkApplication;
use Symfony\Component\Console\Application as ConsoleApplication;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;
use Symfony\Component\HttpKernel\KernelInterface;

/** The framework's application without its own --profile: a keypad has a profile, and there is no profiler here. */
final class Application extends FrameworkApplication
{
    public function __construct(KernelInterface $kernel)
    {
        parent::__construct($kernel);
        $this->setName('Vorhut');
        $this->getDefinition()->setOptions(array_filter(
            $this->getDefinition()->getOptions(),
            static fn (InputOption $option): bool => 'profile' !== $option->getName(),
        ));
    }

    protected function doRunCommand(Command $command, InputInterface $input, OutputInterface $output): int
    {
        return ConsoleApplication::doRunCommand($command, $input, $output);
    }
}
