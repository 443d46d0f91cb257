<?php

declare(strict_types=1);

namespace Vorhut\Exchange;

use Vorhut\Core\Text\Message;

/** A sheet or strip that labels are printed on; all lengths in millimetres. */
enum LabelFormat: string
{
    /** A4, three across and eight down. */
    case Sheet24 = '70x37';
    /** A4, four across and ten down. */
    case Sheet40 = '48x25';
    /** A4, two across and seven down. */
    case Sheet14 = '99x38';
    /** Continuous strip, one label after the other. */
    case Strip62 = 'strip-62';
    case Strip24 = 'strip-24';

    public function label(): Message
    {
        ['label' => [$width, $height], 'columns' => $columns, 'rows' => $rows] = $this->measures();
        $at = ['w' => (string) $width, 'h' => (string) $height, 'n' => $columns * $rows];

        return 1 === $columns ? new Message('Strip of {h} mm', $at) : new Message('Sheet of {n}, {w} × {h} mm', $at);
    }

    /**
     * @return array{
     *     page: array{float, float}, label: array{float, float}, columns: int, rows: int, left: float, top: float, gap: float,
     * }
     */
    public function measures(): array
    {
        $a4 = [210.0, 297.0];

        return match ($this) {
            self::Sheet24 => [
                'page' => $a4, 'label' => [70.0, 37.0], 'columns' => 3, 'rows' => 8, 'left' => 0.0, 'top' => 0.5, 'gap' => 0.0,
            ],
            self::Sheet40 => [
                'page' => $a4, 'label' => [48.5, 25.4], 'columns' => 4, 'rows' => 11, 'left' => 8.0, 'top' => 8.8, 'gap' => 0.0,
            ],
            self::Sheet14 => [
                'page' => $a4, 'label' => [99.1, 38.1], 'columns' => 2, 'rows' => 7, 'left' => 4.7, 'top' => 15.1, 'gap' => 2.5,
            ],
            self::Strip62 => [
                'page' => [62.0, 29.0], 'label' => [62.0, 29.0], 'columns' => 1, 'rows' => 1, 'left' => 0.0, 'top' => 0.0, 'gap' => 0.0,
            ],
            self::Strip24 => [
                'page' => [60.0, 24.0], 'label' => [60.0, 24.0], 'columns' => 1, 'rows' => 1, 'left' => 0.0, 'top' => 0.0, 'gap' => 0.0,
            ],
        };
    }
}
