<?php

declare(strict_types=1);

namespace Vorhut\Provisioning;

use Twig\Environment;
use Twig\Error\LoaderError;
use Twig\Extension\SandboxExtension;
use Twig\Loader\FilesystemLoader;
use Twig\Runtime\EscaperRuntime;
use Twig\Sandbox\SecurityPolicy;
use Vorhut\Core\Catalogue\Kind;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Voice\FileShape;
use Vorhut\Core\Voice\ProvisioningFile;

/**
 * Writes a phone's file by the template of its kind. Templates may print values and nothing else: no calls, no includes, no loops over
 * missing data.
 */
final readonly class Files
{
    private Environment $twig;

    public function __construct(string $projectDir)
    {
        $this->twig = new Environment(new FilesystemLoader($projectDir.'/kinds/templates'), [
            'strict_variables' => true,
            'autoescape' => static fn (string $name): string => FileShape::ofTemplate(basename($name, '.twig'))->value,
            'cache' => false,
        ]);
        foreach (FileShape::cases() as $shape) {
            $this->twig->getRuntime(EscaperRuntime::class)->setEscaper(
                $shape->value,
                static fn (string $value): string => $shape->escape($value),
            );
        }
        $this->twig->addExtension(new SandboxExtension(new SecurityPolicy(['if'], ['escape', 'e', 'upper', 'lower'], [], [], []), true));
    }

    /** In which shape a kind reads its file: what its name ends with. */
    public function shape(Kind $kind): string
    {
        return FileShape::ofTemplate($kind->provisioning)->value;
    }

    /** @throws Malformed where its kind names a template that is not here */
    public function render(ProvisioningFile $file): string
    {
        $name = $file->device->kind->provisioning ?? 'phone.xml';
        try {
            return $this->twig->render($name.'.twig', $file->values);
        } catch (LoaderError) {
            throw Malformed::because('Template "{name}" for the file of {tag} was not found.', [
                'name' => $name,
                'tag' => $file->device->tag,
            ]);
        }
    }
}
