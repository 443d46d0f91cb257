<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Catalogue;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Allocation\Allocation;
use Vorhut\Core\Analysis\Board;
use Vorhut\Core\Analysis\Findings;
use Vorhut\Core\Analysis\Proof;
use Vorhut\Core\Analysis\Questions;
use Vorhut\Core\Analysis\ShippedRules;
use Vorhut\Core\Bench\Queue;
use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Catalogue\Catalogue;
use Vorhut\Core\Catalogue\Step;
use Vorhut\Core\Consistency\Agreements;
use Vorhut\Core\Document\JobDocument;
use Vorhut\Core\Plan\Plan;
use Vorhut\Library\CatalogueFiles;
use Vorhut\Tests\Support\Jobs;

/** No code asks what a kind or a step is called: with other names for all of them every result is the same. */
final class NamesDoNotMatterTest extends TestCase
{
    public function testWithOtherNamesForKindsAndStepsEverythingComesOutTheSame(): void
    {
        $before = JobDocument::fromJson(Jobs::demo('port'), Jobs::catalogue())->plan(Jobs::catalogue());
        [$catalogue, $kinds, $steps] = self::renamed();
        $job = json_decode(Jobs::demo('port'), true);
        self::assertIsArray($job);
        array_walk_recursive($job, static function (mixed &$value, int|string $field) use ($kinds, $steps): void {
            if (\is_string($value) && \in_array($field, ['kind', 'for'], true)) {
                $value = $kinds[$value] ?? $value;
            } elseif (\is_string($value) && 'step' === $field) {
                $value = $steps[$value] ?? $value;
            }
        });
        // A mark is kept under device and step.
        /** @var list<array<string, string>> $marks */
        $marks = $job['marks'] ?? [];
        $job['marks'] = array_map(static fn (array $mark): array => ['key' => $mark['device'].'.'.$mark['step']] + $mark, $marks);
        $after = JobDocument::fromJson((string) json_encode($job), $catalogue)->plan($catalogue);

        self::assertSame(self::results($before, []), self::results($after, array_flip($steps)));
        self::assertGreaterThan(3000, \strlen((string) json_encode(self::results($before, []))), 'and that is not nothing');
    }

    public function testNoCodeSpellsTheCodeOfAKind(): void
    {
        // "router" and "laptop" are words for fields of records as well; that they are no names of kinds to the code is shown above.
        $codes = array_filter(Jobs::catalogue()->codes(), static fn (string $code): bool => str_contains($code, '-'));
        $codes = array_map(static fn (string $code): string => "'".$code."'", $codes);
        $spelt = [];
        $files = new \RecursiveIteratorIterator(new \RecursiveDirectoryIterator(
            \dirname(__DIR__, 3).'/src',
            \FilesystemIterator::SKIP_DOTS,
        ));
        foreach ($files as $file) {
            if (!$file instanceof \SplFileInfo || 'php' !== $file->getExtension()) {
                continue;
            }
            foreach (\PhpToken::tokenize((string) file_get_contents($file->getPathname())) as $token) {
                if ($token->is(\T_CONSTANT_ENCAPSED_STRING) && \in_array($token->text, $codes, true)) {
                    $spelt[] = $file->getFilename().' '.$token->text;
                }
            }
        }
        self::assertSame([], $spelt);
        $templates = implode('', array_map(file_get_contents(...), glob(\dirname(__DIR__, 3).'/templates/*/*.twig') ?: []));
        self::assertSame(0, preg_match('/(kind\.code|step\.code) *[!=]=/', $templates), 'nor does a page');
    }

    /** @return array{Catalogue, array<string, string>, array<string, string>} kinds and steps under other names */
    private static function renamed(): array
    {
        $files = new CatalogueFiles(\dirname(__DIR__, 3));
        $kinds = $steps = $data = [];
        foreach ($files->files('kinds') as $code => $kind) {
            $kinds[$code] = 'kind-'.substr(md5($code), 0, 6);
            /** @var list<array<string, mixed>> $sheet */
            $sheet = $kind['steps'] ?? [];
            foreach ($sheet as $i => $step) {
                $name = \is_string($step['code']) ? $step['code'] : '';
                $steps[$name] ??= 'step-'.substr(md5($name), 0, 6);
                $sheet[$i]['code'] = $steps[$name];
                $undoes = $step['undoes'] ?? null;
                if (\is_string($undoes)) {
                    $steps[$undoes] ??= 'step-'.substr(md5($undoes), 0, 6);
                    $sheet[$i]['undoes'] = $steps[$undoes];
                }
            }
            $data[$kinds[$code]] = ['steps' => $sheet] + $kind;
        }
        $sets = [];
        foreach ($files->files('settings') as $set => $settings) {
            foreach ($settings as $name => $setting) {
                $sets[$set][(string) $name] = (array) $setting;
            }
        }

        return [Catalogue::fromArrays($data, $sets, $files->files('agreements'), $files->files('countries')), $kinds, $steps];
    }

    /**
     * Everything that is computed, in the names of before.
     *
     * @param array<string, string> $names step → its name before
     *
     * @return array<mixed>
     */
    private static function results(Plan $plan, array $names): array
    {
        $stops = [];
        $queue = Queue::of($plan);
        foreach ($queue->stops as $stop) {
            $stops[] = [
                $stop->in($queue->day),
                array_map(
                    static fn (array $slot): array => ['step' => $names[$slot['step']] ?? $slot['step']] + $slot,
                    $stop->timeline()->slots,
                ),
            ];
        }
        $sheets = [];
        foreach ($plan->devices as $device) {
            $sheet = RunSheet::of($plan, $device);
            $sheets[$device->key] = [
                $sheet->doneCount(),
                $sheet->hookedUpSince(),
                array_map(static fn (Step $step): array => [$sheet->values($step), $sheet->obstacles($step)], $device->kind->steps),
            ];
        }

        $results = json_decode((string) json_encode([
            'findings' => Findings::of($plan, ShippedRules::all())->all,
            'questions' => Questions::of($plan)->open,
            'allocation' => Allocation::of($plan, true)->change(),
            'stops' => $stops,
            'sheets' => $sheets,
            'proof' => Proof::of($plan)->results,
            'board' => array_map(
                static fn (array $phone): array => [$phone['phone']->key, $phone['state'], $phone['obstacle']],
                Board::of($plan)->phones,
            ),
            'agreements' => Agreements::of($plan)->all,
        ]), true, 64, \JSON_THROW_ON_ERROR);
        self::assertIsArray($results);

        return $results;
    }
}
