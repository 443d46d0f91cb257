<?php

// Called by bin/bench: php tools/bench.php URL STATE_DIR all|quick. Makes the jobs, measures, writes docs/measurements.md.

declare(strict_types=1);

const SIZES = [500 => 10, 2000 => 40, 5000 => 100, 20000 => 400];
const PAGES = ['brief', 'networks', 'devices', 'bench', 'services', 'services/calls', 'services/links', 'proof', 'handover'];

[, $url, $stateDir, $what] = $argv;
chdir(dirname(__DIR__));
$say = static fn (string $text) => fwrite(STDERR, $text."\n");
$median = static function (array $times): float {
    sort($times);

    return $times[intdiv(count($times), 2)];
};

/** A loop that takes the same work on every machine: what is measured is told as a multiple of it, so that two machines compare. */
$calibrate = static function (): float {
    $best = INF;
    for ($try = 0; $try < 5; ++$try) {
        $began = hrtime(true);
        $map = [];
        for ($i = 0, $x = 1; $i < 3_000_000; ++$i) {
            $x = ($x * 1103515245 + 12345) & 0x7FFFFFFF;
            $map['k'.($x & 4095)] = ($map['k'.($x & 4095)] ?? 0) + 1;
        }
        $best = min($best, (hrtime(true) - $began) / 1e9);
    }

    return $best;
};

/** @return array{float, float} seconds and megabytes of a whole process, the best of some */
$run = static function (array $command, int $times = 3): array {
    $best = INF;
    $most = 0;
    for ($i = 0; $i < $times; ++$i) {
        $began = hrtime(true);
        $pid = pcntl_fork();
        if (0 === $pid) {
            fclose(STDOUT);
            $null = fopen('/dev/null', 'w');
            pcntl_exec(PHP_BINARY, ['bin/console', ...$command]);
            exit(127);
        }
        pcntl_waitpid($pid, $status, 0, $usage);
        if (!in_array(pcntl_wexitstatus($status), [0, 1], true)) {
            throw new RuntimeException(implode(' ', $command).' ended with '.pcntl_wexitstatus($status));
        }
        $best = min($best, (hrtime(true) - $began) / 1e9);
        $most = max($most, $usage['ru_maxrss'] / 1024);
    }

    return [$best, $most];
};
$console = static function (string ...$command): string {
    $process = proc_open([PHP_BINARY, 'bin/console', ...$command], [1 => ['pipe', 'w'], 2 => ['pipe', 'w']], $pipes);
    $said = stream_get_contents($pipes[1]);
    $wrong = stream_get_contents($pipes[2]);
    if (0 !== proc_close($process)) {
        throw new RuntimeException(implode(' ', $command).': '.$wrong);
    }

    return (string) $said;
};

final class Visitor
{
    private CurlHandle $curl;
    public string $body = '';
    public int $status = 0;

    public function __construct(private string $url, string $login, string $password)
    {
        $this->curl = curl_init();
        curl_setopt_array($this->curl, [CURLOPT_RETURNTRANSFER => true, CURLOPT_COOKIEFILE => '', CURLOPT_TIMEOUT => 60]);
        $this->ask('/login');
        preg_match('/name="_csrf_token" value="([^"]+)"/', $this->body, $token);
        $this->ask('/login', ['_username' => $login, '_password' => $password, '_csrf_token' => $token[1] ?? '']);
    }

    /** @return float seconds */
    public function ask(string $path, ?array $form = null, ?string $since = null): float
    {
        curl_setopt_array($this->curl, [
            CURLOPT_URL => $this->url.$path,
            CURLOPT_POST => null !== $form,
            CURLOPT_HTTPHEADER => null === $since ? [] : ['X-Since: '.$since],
        ]
            + (null === $form ? [CURLOPT_HTTPGET => true] : [CURLOPT_POSTFIELDS => http_build_query($form)]));
        $began = hrtime(true);
        $this->body = (string) curl_exec($this->curl);
        $this->status = (int) curl_getinfo($this->curl, CURLINFO_RESPONSE_CODE);

        return (hrtime(true) - $began) / 1e9;
    }

    public function token(): string
    {
        preg_match('/name="_token" value="([^"]+)"/', $this->body, $token);

        return $token[1] ?? throw new RuntimeException('There is no form on that page.');
    }
}

$lines = [];
$unit = $calibrate();
$say(sprintf('Calibrated loop: %.2f s', $unit));
$cpu = preg_match('/model name\s*:\s*(.+)/', (string) file_get_contents('/proc/cpuinfo'), $m) ? trim($m[1]) : php_uname('m');
$cores = substr_count((string) file_get_contents('/proc/cpuinfo'), "processor\t");

// Whole processes
$sizes = 'quick' === $what ? array_slice(SIZES, 0, 3, true) : SIZES;
$took = [];
foreach ($sizes as $devices => $segments) {
    $file = "$stateDir/job-$devices.json";
    is_file($file) || file_put_contents($file, $console('vorhut:generate', "--devices=$devices", "--segments=$segments", '--seed=7'));
    foreach (['plan', 'check', 'tests', 'bench', 'reachability', 'rules', 'budget'] as $command) {
        [$seconds, $megabytes] = $run(["vorhut:$command", $file], $devices > 5000 ? 1 : 3);
        $took[$command][$devices] = $seconds;
        $of = number_format($devices);
        $lines[] = sprintf('| `%s` | %s | %.2f s | %.1f | %.0f MB |', $command, $of, $seconds, $seconds / $unit, $megabytes);
        $say(sprintf('%-12s %6d  %.2f s  %.0f MB', $command, $devices, $seconds, $megabytes));
    }
}
file_put_contents("$stateDir/job-300.json", $console('vorhut:generate', '--devices=300', '--segments=6', '--seed=7'));
[$seconds, $megabytes] = $run(['vorhut:bench', "$stateDir/job-300.json"]);
$lines[] = sprintf('| `bench` | 300 | %.2f s | %.1f | %.0f MB |', $seconds, $seconds / $unit, $megabytes);
$growth = [];
foreach ($took as $command => $by) {
    $n = array_keys($by);
    [$small, $large] = [$n[0], $n[count($n) - 1]];
    $growth[] = sprintf(
        '| `%s` | %s → %s | %.2f |',
        $command,
        number_format($small),
        number_format($large),
        log($by[$large] / $by[$small]) / log($large / $small),
    );
}

// Pages
$password = static function (string $login, string $role) use ($console): string {
    return preg_match('/: (\S+)$/', trim($console('vorhut:user', $login, "--role=$role")), $m) ? $m[1] : throw new RuntimeException($login);
};
$console('vorhut:import', '--slug=big', "$stateDir/job-2000.json");
$lead = new Visitor($url, 'lead', $password('lead', 'lead'));
$room = static function () use ($lead): array {
    $lead->ask('/j/big/devices');
    preg_match('~name="record" value="devices/([^"]+)">\s*<input type="hidden" name="field" value="room">\s*'
        .'<input type="hidden" name="before" value="([^"]*)"~', $lead->body, $m);

    return [$lead->token(), $m[1], html_entity_decode($m[2])];
};
[$token, $device, $before] = $room();
$change = static function (string $to) use ($lead, $token, $device, &$before): float {
    $seconds = $lead->ask('/j/big/edit', [
        '_token' => $token, '_back' => '/j/big/devices',
        'record' => 'devices/'.$device, 'field' => 'room', 'before' => $before, 'value' => $to,
    ]);
    $before = $to;

    return $seconds;
};
$pages = [];
foreach (PAGES as $page) {
    $lead->ask("/j/big/$page");
    $warm = $first = [];
    for ($i = 0; $i < 9; ++$i) {
        $warm[] = $lead->ask("/j/big/$page");
    }
    $size = strlen($lead->body) / 1024;
    for ($i = 0; $i < 5; ++$i) {
        $change("Room $page $i");
        $first[] = $lead->ask("/j/big/$page");
    }
    $pages[] = sprintf('| %s | %d ms | %d ms | %d kB |', $page, $median($warm) * 1000, $median($first) * 1000, $size);
    $say(end($pages));
}
$edits = [];
for ($i = 0; $i < 15; ++$i) {
    $edits[] = $change("Room, edit $i");
}
$other[] = sprintf('| one cell edited in a job of 2,000, acknowledged (median) | ≤ 200 ms | %d ms |', $median($edits) * 1000);
$say(end($other));

// 5,000 addresses as one change
$bare = json_decode((string) file_get_contents("$stateDir/job-5000.json"), true);
$bare['settings'] = array_values(array_filter(
    $bare['settings'],
    static fn (array $one): bool => !str_ends_with($one['key'], '#address') && !isset($one['set']),
));
unset($bare['marks']);
file_put_contents("$stateDir/job-bare.json", json_encode($bare));
$console('vorhut:import', '--slug=bare', "$stateDir/job-bare.json");
$lead->ask('/j/bare/devices');
$seconds = $lead->ask('/j/bare/devices/allocate', ['_token' => $lead->token()]);
$other[] = sprintf(
    '| addresses of 5,000 devices allocated and written as one change | ≤ 3 s | %.1f s (answer %d) |',
    $seconds,
    $lead->status,
);
$say(end($other));

// Twenty people
if ('all' === $what) {
    $people = [];
    for ($i = 0; $i < 20; ++$i) {
        $people[] = ["seat$i", $password("seat$i", 0 === $i ? 'lead' : 'technician'), PAGES[$i % count(PAGES)]];
    }
    $results = "$stateDir/people.txt";
    file_put_contents($results, '');
    $children = [];
    foreach ($people as $i => [$login, $own, $page]) {
        if (0 === ($children[] = $pid = pcntl_fork())) {
            $visitor = new Visitor($url, $login, $own);
            $out = '';
            $visitor->ask("/j/big/$page");
            $since = preg_match('/X-Since": "([^"]+)"/', html_entity_decode($visitor->body), $m) ? $m[1] : '';
            // They look when their page says that something changed, as its own script does: every six seconds on a large job.
            for ($until = microtime(true) + 60, $next = microtime(true) + 6 * $i / 20; microtime(true) < $until; $next += 6) {
                usleep((int) max(0, 1e6 * ($next - microtime(true))));
                $out .= sprintf("%.4f %d\n", $visitor->ask("/j/big/$page", null, $since), $visitor->status);
                $since = preg_match('/X-Since": "([^"]+)"/', html_entity_decode($visitor->body), $m) ? $m[1] : $since;
            }
            file_put_contents($results, $out, FILE_APPEND | LOCK_EX);
            exit(0);
        }
    }
    for ($until = microtime(true) + 60, $n = 0; microtime(true) < $until; ++$n) {
        $began = microtime(true);
        $change("Room, busy $n");
        $lead->ask('/j/big/devices'); // and sees what became of it
        usleep((int) max(0, 1e6 * (1 - (microtime(true) - $began))));
    }
    foreach ($children as $pid) {
        pcntl_waitpid($pid, $status);
    }
    $times = [];
    $bad = 0;
    foreach (file($results, FILE_IGNORE_NEW_LINES) ?: [] as $line) {
        [$seconds, $status] = explode(' ', $line);
        $times[] = (float) $seconds;
        $bad += (int) $status >= 500 || 0 === (int) $status ? 1 : 0;
    }
    sort($times);
    $other[] = sprintf(
        '| 20 people with that job open, one changing every second (%d pages, %d changes in 60 s): p95 of a page '
            .'| ≤ 1 s, no 5xx | %.2f s, %d × 5xx |',
        count($times),
        $n,
        $times[(int) (0.95 * (count($times) - 1))],
        $bad,
    );
    $say(end($other));
}

file_put_contents('docs/measurements.md', implode("\n", [
    '# Measurements',
    '',
    'Made by `bin/bench`; jobs by `vorhut:generate --seed=7`, the same bytes on every machine.',
    '',
    sprintf('- Date: %s', date('Y-m-d')),
    sprintf('- Machine: %d cores, %s, PHP %s', $cores, $cpu, PHP_VERSION),
    sprintf(
        '- Calibrated loop (3 million steps of arithmetic and hashing, best of five): %.2f s. "Ratio" below is seconds by this.',
        $unit,
    ),
    '',
    '## Whole processes',
    '',
    '| command | devices | time, best | ratio | memory, most |',
    '| --- | --- | --- | --- | --- |',
    ...$lines,
    '',
    '| command | from, to | growth exponent (1 is linear) |',
    '| --- | --- | --- |',
    ...$growth,
    '',
    '## Pages of a job with 2,000 devices',
    '',
    '| page | warm, median | first after a change, median | size |',
    '| --- | --- | --- | --- |',
    ...$pages,
    '',
    '## Changes and people',
    '',
    '| what | to reach | measured |',
    '| --- | --- | --- |',
    ...$other,
    '',
]));
