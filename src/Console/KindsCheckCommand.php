<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Catalogue\KindValidator;
use Vorhut\Core\Text\HasMessage;
use Vorhut\Library\CatalogueFiles;
use Vorhut\Library\Shape;

#[AsCommand('vorhut:kinds:check', 'Checks all kinds, settings and must-match rules of the library')]
final readonly class KindsCheckCommand
{
    private const SCHEMAS = ['kinds' => 'kind', 'settings' => 'settings', 'agreements' => 'agreement'];

    public function __construct(private CommandInput $input, private string $projectDir)
    {
    }

    public function __invoke(
        OutputInterface $output,
        #[Option('folder to check; default: the library that ships with Vorhut')]
        string $library = '',
        #[Option('text or json')]
        string $format = 'text',
        #[Option('apply that folder on top of the library')]
        bool $over = false,
    ): int {
        $folder = '' === $library || $over ? $this->projectDir : $library;
        if (!is_dir($folder.'/kinds')) {
            throw BadInput::because('Folder "{folder}" contains no kinds.', ['folder' => $folder]);
        }
        $files = new CatalogueFiles($folder, null, $over ? $library : '');
        $shape = new Shape($this->projectDir);
        $wrong = [];
        $counted = 0;
        foreach (self::SCHEMAS as $sort => $schema) {
            foreach ($files->files($sort) as $code => $data) {
                ++$counted;
                $wrong = [
                    ...$wrong,
                    ...array_map(static fn (string $text): string => "$sort/$code.yaml $text", $shape->errors($schema, $data)),
                ];
            }
        }
        if ([] === $wrong) {
            try {
                $catalogue = $files->catalogue();
                $wrong = null === $files->refusal() ? [] : [$files->refusal()];
                foreach ($catalogue->kinds() as $kind) {
                    $wrong = [...$wrong, ...array_map(strval(...), KindValidator::ofKind($kind))];
                }
                foreach ($catalogue->agreements as $agreement) {
                    $wrong = [...$wrong, ...array_map(strval(...), KindValidator::ofAgreement($catalogue, $agreement))];
                }
            } catch (HasMessage $e) {
                $wrong[] = $e->getMessage();
            }
        }
        $this->input->answer(
            $output,
            $format,
            ['checked' => $counted, 'wrong' => $wrong],
            [] === $wrong ? ["$counted files, all sound."] : $wrong,
        );

        return [] === $wrong ? CommandInput::DONE : CommandInput::FOUND;
    }
}
