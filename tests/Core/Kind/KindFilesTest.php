<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Kind;

use Opis\JsonSchema\Helper;
use Opis\JsonSchema\Validator;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Yaml\Yaml;
use Vorhut\Core\Kind\Kind;
use Vorhut\Core\Net\Malformed;
use Vorhut\Tests\Support\Jobs;

final class KindFilesTest extends TestCase
{
    /** @return iterable<string, array{string}> */
    public static function files(): iterable
    {
        foreach (glob(\dirname(__DIR__, 3).'/kinds/*.yaml') ?: [] as $file) {
            yield basename($file, '.yaml') => [$file];
        }
    }

    #[DataProvider('files')]
    public function testEveryKindKeepsToItsSchema(string $file): void
    {
        $schema = json_decode((string) file_get_contents(\dirname(__DIR__, 3).'/schema/kind.schema.json'), false);
        self::assertIsObject($schema);
        $error = (new Validator())->validate(Helper::toJSON(Yaml::parseFile($file)), $schema)->error();
        self::assertNull($error, null === $error ? '' : $error->message().' '.json_encode($error->data()->fullPath()));
    }

    public function testEveryStepThatHoldsTheFactoryAddressIsTellable(): void
    {
        foreach (Jobs::kinds()->all() as $kind) {
            if (null !== $kind->factoryAddress && !$kind->isRouter()) {
                self::assertNotNull($kind->step('hook-up'), $kind->code);
                self::assertNotNull($kind->step('address'), $kind->code);
            }
        }
    }

    public function testABadKindSaysWhatIsWrong(): void
    {
        $this->expectException(Malformed::class);
        $this->expectExceptionMessage('a fixed factory state needs an address');
        Kind::fromArray('x', ['name' => 'X', 'family' => 'camera', 'factory' => ['state' => 'fixed']]);
    }
}
