<?php

declare(strict_types=1);

namespace Vorhut\Web\Frame;

use Symfony\Component\HttpFoundation\RequestStack;

/**
 * What was typed and could not be taken, kept until the page is shown again: the text stays in its field, the reason stands beside it. Works the
 * same with and without JavaScript.
 */
final readonly class Slips
{
    private const BAG = 'vorhut.slips';

    public function __construct(private RequestStack $requests)
    {
    }

    /**
     * @param string               $form   which form it was
     * @param array<string, mixed> $typed
     * @param array<string, mixed> $errors field → sentence; '' for the form as a whole
     * @param array<string, mixed> $more
     */
    public function keep(string $form, array $typed, array $errors, array $more = []): void
    {
        $this->requests->getSession()->set(self::BAG, [$form => ['typed' => $typed, 'errors' => $errors, 'more' => $more]]);
    }

    public function tell(string $text): void
    {
        $this->requests->getSession()->set(self::BAG, ['' => ['said' => $text]]);
    }

    /** @return array<string, array<string, mixed>> taken once */
    public function take(): array
    {
        $session = $this->requests->getSession();
        $slips = $session->get(self::BAG, []);
        $session->remove(self::BAG);

        $taken = [];
        foreach (\is_array($slips) ? $slips : [] as $form => $slip) {
            foreach (\is_array($slip) ? $slip : [] as $name => $value) {
                $taken[(string) $form][(string) $name] = $value;
            }
        }

        return $taken;
    }
}
