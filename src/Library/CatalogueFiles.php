<?php

declare(strict_types=1);

namespace Vorhut\Library;

use Symfony\Component\Yaml\Exception\ParseException;
use Symfony\Component\Yaml\Yaml;
use Vorhut\Core\Catalogue\Catalogue;
use Vorhut\Core\Net\Malformed;

/** Reads the library from its data files: one file a kind, a set of settings, an agreement, each named by its code. */
final class CatalogueFiles
{
    private ?Catalogue $catalogue = null;
    private ?string $refused = null;
    /** @var array<string, array<string, array<mixed>>> */
    private array $common = [];
    /** @var array<string, array<mixed>>|null */
    private ?array $sets = null;

    /**
     * @param string      $folder holds `kinds`, `settings`, `agreements` and `countries`
     * @param string|null $cache  file that the decoded data is kept in; it is made anew when any of the files is
     * @param string      $own    a folder of the same form with the company's own kinds, settings and agreements: a new code adds one, a
     * known code lists the differences; '' for none
     */
    public function __construct(
        private readonly string $folder,
        private readonly ?string $cache = null,
        private readonly string $own = '',
    ) {
    }

    /**
     * The shipped library with the company's own on top. An own folder with errors stops nothing: it is left out, and the errors are
     * reported.
     */
    public function catalogue(): Catalogue
    {
        if (null === $this->catalogue) {
            try {
                $this->catalogue = self::build($this->load());
                // The shipped library is checked by its tests; every line of the company's own is checked before use.
                if ('' !== $this->own) {
                    $this->catalogue->kinds();
                }
            } catch (Malformed $e) {
                if ('' === $this->own) {
                    throw $e;
                }
                $this->refused = $e->getMessage();
                $this->catalogue = (new self($this->folder))->catalogue();
            }
        }

        return $this->catalogue;
    }

    /** Why the folder of one's own was left out; null where it was not. */
    public function refusal(): ?string
    {
        $this->catalogue();

        return $this->refused;
    }

    /**
     * @param array<'kinds'|'settings'|'agreements'|'countries', array<string, array<mixed>>> $files
     *
     * @throws Malformed
     */
    private static function build(array $files): Catalogue
    {
        return Catalogue::fromArrays($files['kinds'], self::sets($files['settings']), $files['agreements'], $files['countries']);
    }

    /**
     * Reading forty files of YAML is a good part of a page; what they say is kept as PHP, which the engine keeps in memory.
     *
     * @return array<'kinds'|'settings'|'agreements'|'countries', array<string, array<mixed>>>
     *
     * @throws Malformed
     */
    private function load(): array
    {
        $parts = '/{kinds,kinds/common,settings,agreements,countries}{,/*.yaml}';
        $all = array_map(
            static fn (string $folder): array => '' === $folder ? [] : (glob($folder.$parts, \GLOB_BRACE) ?: []),
            [$this->folder, $this->own],
        );
        // Every file by itself: one that was put back is older than what it replaces, and two may be written within a second.
        $made = hash('xxh128', implode("\n", array_map(
            static fn (string $file): string => $file.' '.filemtime($file).' '.filesize($file),
            array_merge(...$all),
        )));
        $kept = null === $this->cache || !is_file($this->cache) ? null : include $this->cache;
        if (\is_array($kept) && ($kept['made'] ?? null) === $made && \is_array($kept['files'] ?? null)) {
            /** @var array<'kinds'|'settings'|'agreements'|'countries', array<string, array<mixed>>> $files only written here */
            $files = $kept['files'];

            return $files;
        }
        $files = [];
        foreach (['kinds', 'settings', 'agreements', 'countries'] as $sort) {
            $files[$sort] = $this->files($sort);
        }
        if (null !== $this->cache && is_dir(\dirname($this->cache))) {
            // Written to a new file and then renamed, so that no reader gets a half.
            $new = $this->cache.'.'.bin2hex(random_bytes(4));
            file_put_contents($new, '<?php return '.var_export(['made' => $made, 'files' => $files], true).';');
            rename($new, $this->cache);
        }

        return $files;
    }

    /** @return array<string, array<mixed>> code → decoded data file */
    public function files(string $sort): array
    {
        $files = [];
        foreach ('' === $this->own ? [$this->folder] : [$this->folder, $this->own] as $folder) {
            foreach (glob($folder.'/'.$sort.'/*.yaml') ?: [] as $file) {
                $data = self::parse($file);
                $code = basename($file, '.yaml');
                // An own file lists the differences, and leaves the rest unchanged.
                $files[$code] = array_replace($files[$code] ?? [], \is_array($data) ? $data : []);
            }
        }

        return 'kinds' === $sort ? array_map($this->whole(...), $files) : $files;
    }

    /**
     * A kind whole: what ships under its code where nothing else is said, and what many share.
     *
     * @param array<mixed> $data
     *
     * @return array<mixed>
     */
    public function resolve(string $code, array $data): array
    {
        return $this->whole(array_replace($this->files('kinds')[$code] ?? [], $data));
    }

    /**
     * Steps and admin pages that many kinds share are in `kinds/common`: a kind names them, or lists its differences.
     *
     * @param array<mixed> $kind
     *
     * @return array<mixed>
     */
    private function whole(array $kind): array
    {
        $steps = $this->common('steps');
        $own = \is_array($kind['steps'] ?? null) ? $kind['steps'] : [];
        foreach ($own as $i => $step) {
            $like = \is_array($step) ? $step['like'] ?? null : $step;
            if (!\is_string($like) || !isset($steps[$like])) {
                continue;
            }
            $own[$i] = (\is_array($step) ? array_diff_key($step, ['like' => true]) : []) + ['code' => $like] + $steps[$like];
        }
        $kind['steps'] = $own;
        $admin = $kind['admin'] ?? null;
        $like = \is_array($admin) ? $admin['like'] ?? null : $admin;
        $page = \is_string($like) ? $this->common('admin')[$like] ?? null : null;
        if (null !== $page) {
            $known = $this->settingsOf($kind);
            $fields = array_intersect_key((array) ($page['fields'] ?? []), array_flip($known));
            $own = \is_array($admin) ? array_diff_key($admin, ['like' => true]) : [];
            $kind['admin'] = ['fields' => (array) ($own['fields'] ?? []) + $fields] + $own + $page;
        }

        return $kind;
    }

    /** @throws Malformed if the file is not YAML */
    private static function parse(string $file): mixed
    {
        try {
            return Yaml::parseFile($file);
        } catch (ParseException $e) {
            throw Malformed::because('{file}: {reason}', ['file' => basename($file), 'reason' => $e->getMessage()]);
        }
    }

    /** @return list<string> codes of the steps that a kind may name instead of writing them out */
    public function sharedSteps(): array
    {
        return array_map(strval(...), array_keys($this->common('steps')));
    }

    /** @return array<string, array<mixed>> */
    private function common(string $name): array
    {
        if (!isset($this->common[$name])) {
            $file = $this->folder.'/kinds/common/'.$name.'.yaml';
            $data = is_file($file) ? self::parse($file) : [];
            $this->common[$name] = [];
            if (\is_array($data)) {
                foreach ($data as $code => $one) {
                    $this->common[$name][(string) $code] = \is_array($one) ? $one : [];
                }
            }
        }

        return $this->common[$name];
    }

    /**
     * @param array<mixed> $kind
     *
     * @return list<string> names of its settings, those of sets among them
     */
    private function settingsOf(array $kind): array
    {
        $this->sets ??= $this->files('settings');
        $names = [];
        if (\is_array($kind['settings'] ?? null)) {
            foreach ($kind['settings'] as $setting) {
                $name = \is_array($setting) ? $setting['name'] ?? '' : $setting;
                $name = \is_string($name) ? $name : '';
                $names = [...$names, $name, ...array_map(strval(...), array_keys($this->sets[$name] ?? []))];
            }
        }

        return $names;
    }

    /**
     * @param array<string, array<mixed>> $files
     *
     * @return array<string, array<string, array<mixed>>>
     */
    private static function sets(array $files): array
    {
        $sets = [];
        foreach ($files as $set => $settings) {
            foreach ($settings as $name => $data) {
                $sets[$set][(string) $name] = \is_array($data) ? $data : [];
            }
        }

        return $sets;
    }
}
