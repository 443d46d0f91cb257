<?php

declare(strict_types=1);

namespace Vorhut\Core\Analysis;

use Vorhut\Core\Audio\Test\ClockTests;
use Vorhut\Core\Bench\Test\QuestionTests;
use Vorhut\Core\Lighting\Test\LightTests;
use Vorhut\Core\Media\Test\PushTests;
use Vorhut\Core\Media\Test\StreamTests;
use Vorhut\Core\Network\Test\AccessTests;
use Vorhut\Core\Network\Test\AddedTests;
use Vorhut\Core\Network\Test\RadiusTests;
use Vorhut\Core\Proof\TestSource;
use Vorhut\Core\Voice\Test\CallTests;
use Vorhut\Core\Voice\Test\DirectCallTests;
use Vorhut\Core\Voice\Test\PhoneCallTests;
use Vorhut\Core\Voice\Test\RegisterTests;

/** Every source of tests. */
final class ShippedTests
{
    /** @var list<class-string<TestSource>> in the order in which pages show their tests */
    public const SOURCES = [
        AccessTests::class,
        QuestionTests::class,
        RegisterTests::class,
        StreamTests::class,
        PushTests::class,
        LightTests::class,
        ClockTests::class,
        RadiusTests::class,
        CallTests::class,
        PhoneCallTests::class,
        DirectCallTests::class,
        AddedTests::class,
    ];
}
