<?php

declare(strict_types=1);

namespace Vorhut\Web\Form;

use Symfony\Component\Form\AbstractType;
use Symfony\Component\Form\Extension\Core\Type\ChoiceType;
use Symfony\Component\Form\Extension\Core\Type\HiddenType;
use Symfony\Component\Form\Extension\Core\Type\TextareaType;
use Symfony\Component\Form\Extension\Core\Type\TextType;
use Symfony\Component\Form\FormBuilderInterface;
use Symfony\Component\Form\FormInterface;
use Symfony\Component\Form\FormView;
use Symfony\Component\OptionsResolver\OptionsResolver;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;
use Vorhut\Web\Frame\Words;

/**
 * The form of a new record, as RecordFields declares it. Each field carries text: what it means is read by the use case, by Plan\Schema,
 * so that a form, a pasted table and a document refuse the same value with the same words.
 *
 * @extends AbstractType<array<string, string>>
 */
final class RecordType extends AbstractType
{
    /** Options beyond which a list is typed into and not scrolled through. */
    private const LONG = 200;

    public function __construct(private readonly Words $words)
    {
    }

    public function configureOptions(OptionsResolver $resolver): void
    {
        // The token of the page goes along with every form of it.
        $resolver->setDefaults(['csrf_protection' => false, 'fixed' => [], 'allow_extra_fields' => true, 'label' => false]);
        $resolver->setRequired(['section', 'plan']);
        $resolver->setAllowedTypes('section', 'string');
        $resolver->setAllowedTypes('plan', Plan::class);
        $resolver->setAllowedTypes('fixed', 'array');
    }

    public function buildForm(FormBuilderInterface $builder, array $options): void
    {
        ['section' => $section, 'plan' => $plan, 'fixed' => $fixed] = $options;
        \assert(\is_string($section) && $plan instanceof Plan && \is_array($fixed));
        foreach ($fixed as $name => $value) {
            $builder->add((string) $name, HiddenType::class, ['data' => $value]);
        }
        foreach (RecordFields::of($section) as $field) {
            if (\array_key_exists($field->name, $fixed)) {
                continue;
            }
            $device = \is_string($fixed['device'] ?? null) ? $fixed['device'] : null;
            $names = $field->isChoice() ? $this->names($plan, $field, $device) : [];
            if ($field->isChoice() && \count($names) <= self::LONG) {
                $this->addChoice($builder, $field, $names);
            } else {
                $this->addText($builder, $field, $names);
            }
        }
    }

    /** @return array<array-key, string> value → name in the reader's language */
    private function names(Plan $plan, FormField $field, ?string $device): array
    {
        $options = null === $field->list ? $field->options : PickLists::of($plan, $field->list, $device);

        return array_map($this->say(...), $options);
    }

    /**
     * @param FormBuilderInterface<array<string, string>|null> $builder
     * @param array<array-key, string>                         $names
     */
    private function addChoice(FormBuilderInterface $builder, FormField $field, array $names): void
    {
        // Nothing is preselected: without a default the field is empty, and shows if it is required.
        $empty = $field->empty ?? (self::isDecided($field, $names) ? null : '–');
        $builder->add($field->name, ChoiceType::class, [
            'label' => $this->say($field->label),
            'choices' => array_map(strval(...), array_keys($names)),
            'choice_label' => static fn (string $value): string => $names[$value] ?? $value,
            'placeholder' => null === $empty ? false : $this->say($empty),
            'required' => false,
            'translation_domain' => false,
            'choice_translation_domain' => false,
        ]);
    }

    /**
     * Whether it is clear what a new record has there: by its default, or because there is only one.
     *
     * @param array<array-key, string> $names
     */
    private static function isDecided(FormField $field, array $names): bool
    {
        return '' !== $field->default || 1 === \count($names);
    }

    /**
     * @param FormBuilderInterface<array<string, string>|null> $builder
     * @param array<array-key, string>                         $suggestions of a list that is too long to scroll through
     */
    private function addText(FormBuilderInterface $builder, FormField $field, array $suggestions): void
    {
        $builder->add($field->name, $field->isLong ? TextareaType::class : TextType::class, [
            'label' => $this->say($field->label),
            'required' => false,
            'translation_domain' => false,
            'attr' => [
                'size' => $field->size,
                'placeholder' => null === $field->empty ? $field->hint : $this->say($field->empty),
                'autocomplete' => 'off',
                'class' => $field->isProse() ? 'input' : 'input mono',
                'suggestions' => array_values($suggestions),
            ],
        ]);
    }

    /** Ids that stay apart where a page has the form of a section several times, once for each router. */
    public function finishView(FormView $view, FormInterface $form, array $options): void
    {
        $fixed = \is_array($options['fixed']) ? array_filter($options['fixed'], is_string(...)) : [];
        $prefix = implode('-', [\is_string($options['section']) ? $options['section'] : '', ...array_values($fixed)]);
        foreach ($view->children as $name => $child) {
            $child->vars['id'] = preg_replace('/[^A-Za-z0-9_-]+/', '-', $prefix.'-'.$name);
        }
    }

    private function say(Message|string $text): string
    {
        return $text instanceof Message ? $this->words->say($text) : $text;
    }
}
