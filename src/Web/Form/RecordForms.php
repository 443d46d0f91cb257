<?php

declare(strict_types=1);

namespace Vorhut\Web\Form;

use Symfony\Component\Form\FormError;
use Symfony\Component\Form\FormFactoryInterface;
use Symfony\Component\Form\FormView;
use Twig\Extension\AbstractExtension;
use Twig\TwigFunction;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;
use Vorhut\Web\Frame\Words;

/** Forms of records for the pages: empty, or with the refused input and its errors. */
final class RecordForms extends AbstractExtension
{
    public function __construct(private readonly FormFactoryInterface $forms, private readonly Words $words)
    {
    }

    public function getFunctions(): array
    {
        return [
            new TwigFunction('record_form', $this->view(...)),
            new TwigFunction('record_fields', RecordFields::open(...)),
            new TwigFunction('record_options', $this->options(...)),
        ];
    }

    /** @return array<array-key, string> value → name, of a field of an open record */
    public function options(Plan $plan, FormField $field): array
    {
        $options = null === $field->list ? $field->options : PickLists::of($plan, $field->list);

        return array_map(fn (Message|string $name): string => $name instanceof Message ? $this->words->say($name) : $name, $options);
    }

    /**
     * @param array{typed?: array<string, string>, errors?: array<string, Message>}|null $refused the refused input and its errors
     * @param array<string, string>                                                      $fixed   fields that the page knows
     * @param array<string, string>                                                      $suggested values for a new record
     */
    public function view(Plan $plan, string $section, ?array $refused = null, array $fixed = [], array $suggested = []): FormView
    {
        $defaults = [];
        foreach (RecordFields::of($section) as $field) {
            $defaults[$field->name] = $field->default;
        }
        $typed = $refused['typed'] ?? $suggested;
        $form = $this->forms->createNamed('row', RecordType::class, array_merge($defaults, $typed, $fixed), [
            'section' => $section,
            'plan' => $plan,
            'fixed' => $fixed,
        ]);
        foreach ($refused['errors'] ?? [] as $field => $why) {
            if ($form->has($field)) {
                $form->get($field)->addError(new FormError($this->words->say($why)));
            }
        }

        return $form->createView();
    }
}
