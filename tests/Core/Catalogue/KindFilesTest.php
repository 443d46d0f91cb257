<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Catalogue;

use Opis\JsonSchema\Helper;
use Opis\JsonSchema\Validator;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Yaml\Yaml;
use Vorhut\Core\Catalogue\Effect;
use Vorhut\Core\Catalogue\Kind;
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

    public function testWhatHoldsAFactoryAddressHasAStepThatPowersItAndOneThatAddressesIt(): void
    {
        foreach (Jobs::catalogue()->kinds as $kind) {
            if (null !== $kind->factoryState()->address && [] !== $kind->activePorts()) {
                self::assertNotNull($kind->stepThat(Effect::Powers), $kind->code);
                self::assertNotNull($kind->stepThat(Effect::Addresses), $kind->code);
            }
        }
    }

    public function testABadKindSaysWhatIsWrong(): void
    {
        $this->expectException(Malformed::class);
        $this->expectExceptionMessage('a fixed factory state needs an address');
        Kind::fromArray('x', ['name' => 'X', 'roles' => [], 'factory' => [['state' => 'fixed']]]);
    }
}
