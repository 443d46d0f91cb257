<?php

// What a package manager's audit says, read from standard input: php tools/audited.php composer|npm. Exit code 1 when a weakness is known.

declare(strict_types=1);

$who = $argv[1] ?? '';
$said = json_decode((string) stream_get_contents(STDIN), true);
$known = is_array($said) ? ('composer' === $who ? $said['advisories'] ?? null : $said['vulnerabilities'] ?? null) : null;
if (!is_array($known)) {
    echo "  $who could not be asked for known weaknesses of its packages (no network, or a mirror that does not answer): not looked at.\n";
    exit(0);
}
foreach ($known as $package => $weaknesses) {
    echo "  $who: $package has a known weakness.\n";
}
exit([] === $known ? 0 : 1);
