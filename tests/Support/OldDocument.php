<?php

declare(strict_types=1);

namespace Vorhut\Tests\Support;

/** Documents of version 1 as they lie in tests/documents, and one with a row in every section that the demo jobs leave empty. */
final readonly class OldDocument
{
    public static function of(string $name): string
    {
        return (string) file_get_contents(\dirname(__DIR__).'/documents/'.$name.'-v1.json');
    }

    public static function full(): string
    {
        /** @var array<string, list<array<string, mixed>>> $old */
        $old = json_decode(self::of('port'), true);
        $old['devices'][(int) array_search('pbx-01', array_column($old['devices'], 'key'), true)]['analoguePorts'] = 4;
        $old['lines'] = [['key' => 'l', 'what' => 'reach', 'from' => 'tech', 'to' => 'cam-01', 'port' => '554/tcp']];
        $old['routes'] = [['key' => 'r', 'router' => 'r-core', 'destination' => '10.64.200.0/24', 'via' => '10.64.10.5']];
        $old['values'][] = ['key' => 'devices/ra-01#transport', 'owner' => 'devices/ra-01', 'field' => 'transport', 'planned' => 'UDP tcp'];
        $old['fetches'] = [['key' => 'f', 'mac' => '00-00-5E-00-53-EE', 'at' => '2026-03-01T08:00:00Z', 'file' => 'v1', 'status' => 404]];
        $old['observations'] = [[
            'key' => 'o',
            'line' => 'reach:tech>cam-01:554/tcp',
            'at' => '2026-03-01T09:00:00Z',
            'by' => 'Jo',
            'outcome' => 'answers',
            'detail' => "the connection was taken\nby \"it\"",
            'ground' => ['a=b'],
        ]];
        $old['journal'] = [[
            'number' => 1,
            'at' => '2026-03-01T07:00:00Z',
            'by' => 'Jo',
            'why' => "The range of \"Quay\" moved.\nAgain.",
            'edits' => [
                ['do' => 'put', 'section' => 'segments', 'key' => 'quay', 'field' => 'weave', 'before' => 1, 'after' => 2],
                [
                    'do' => 'put',
                    'section' => 'values',
                    'key' => 'nics/ra-01.lan#mask',
                    'field' => 'set',
                    'before' => null,
                    'after' => '/16',
                ],
                ['do' => 'put', 'section' => 'devices', 'key' => 'pbx-01', 'field' => 'analoguePorts', 'before' => null, 'after' => 4],
            ],
        ]];

        return (string) json_encode($old, \JSON_UNESCAPED_SLASHES | \JSON_UNESCAPED_UNICODE);
    }
}
