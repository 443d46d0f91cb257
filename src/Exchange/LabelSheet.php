<?php

declare(strict_types=1);

namespace Vorhut\Exchange;

use Vorhut\Core\Document\Labels;
use Vorhut\Core\Plan\Plan;

/** Labels as PDF: the tag large, the address as large as fits, MAC and room small, and a QR code of the device's run sheet. */
final readonly class LabelSheet
{
    private const EDGE = 2.0;
    private const POINT = 0.3528;

    /**
     * @param string       $address of the job's bench, to which the key of the device is added
     * @param list<string> $tags    only these; all where none is named
     */
    public static function pdf(Plan $plan, LabelFormat $format, string $address, array $tags = []): string
    {
        $at = $format->measures();
        [$width, $height] = $at['page'];
        $pdf = new \TCPDF($width > $height ? 'L' : 'P', 'mm', [$width, $height]);
        $pdf->setCreator('Vorhut');
        $pdf->setTitle($plan->job->text('name'));
        $pdf->setPrintHeader(false);
        $pdf->setPrintFooter(false);
        $pdf->setMargins(0, 0, 0);
        $pdf->setCellPadding(0);
        $pdf->setAutoPageBreak(false);
        $each = $at['columns'] * $at['rows'];
        foreach (Labels::of($plan, $tags) as $i => $label) {
            if (0 === $i % $each) {
                $pdf->AddPage();
            }
            $column = $i % $each % $at['columns'];
            $row = intdiv($i % $each, $at['columns']);
            self::draw(
                $pdf,
                $label,
                $at['left'] + $column * ($at['label'][0] + $at['gap']),
                $at['top'] + $row * $at['label'][1],
                $at['label'][0],
                $at['label'][1],
                $address.$label['key'],
            );
        }

        return $pdf->Output('', 'S');
    }

    /**
     * @param array{
     *     key: string, tag: string, kind: string, room: string, lines: list<array{port: string, address: string, mac: string}>,
     * } $label
     */
    private static function draw(\TCPDF $pdf, array $label, float $x, float $y, float $w, float $h, string $url): void
    {
        $code = min($h - 2 * self::EDGE, 0.34 * $w);
        $left = $x + self::EDGE;
        $room = $w - 3 * self::EDGE - $code;
        $pdf->write2DBarcode($url, 'QRCODE,M', $x + $w - self::EDGE - $code, $y + self::EDGE, $code, $code, ['border' => false]);
        $top = $y + self::EDGE;
        $size = 0.26 * $h / self::POINT / 1.25;
        $top += self::line($pdf, 'dejavusansb', $label['tag'], $size, $left, $top, $room);
        $lines = \array_slice($label['lines'], 0, 3);
        $size = min(0.2, 0.34 / max(1, \count($lines))) * $h / self::POINT / 1.25;
        foreach ($lines as $line) {
            $top += self::line($pdf, 'dejavusansmonob', trim($line['port'].' '.$line['address']), $size, $left, $top, $room);
        }
        $small = 0.105 * $h / self::POINT / 1.25;
        foreach (array_diff([$lines[0]['mac'] ?? '', $label['room'], $label['kind']], ['']) as $text) {
            if ($top + $small * self::POINT * 1.25 <= $y + $h - 0.6) {
                $top += self::line($pdf, 'dejavusans', $text, $small, $left, $top, $room);
            }
        }
    }

    /** A text as large as wished, or as fits. @return float its height in mm */
    private static function line(\TCPDF $pdf, string $font, string $text, float $size, float $x, float $y, float $room): float
    {
        if ('' === $text) {
            return 0.0;
        }
        $pdf->setFont($font, '', $size);
        $wide = (float) $pdf->GetStringWidth($text);
        if ($wide > $room) {
            $size *= $room / $wide;
            $pdf->setFont($font, '', $size);
        }
        $pdf->Text($x, $y, $text);

        return $size * self::POINT * 1.25;
    }
}
