#!/usr/bin/env bash
# Lays out what the browser loads: library files copied from the npm packages, our own by a link, so that an edit shows at once.
set -euo pipefail
cd "$(dirname "$0")/.."
new=public/build.new
rm -rf "$new"
mkdir -p "$new/fonts"
cp node_modules/htmx.org/dist/htmx.min.js "$new/htmx.js"
cp node_modules/@alpinejs/csp/dist/cdn.min.js "$new/alpine.js"
cp node_modules/bulma/css/versions/bulma-no-dark-mode.min.css "$new/bulma.css"
for weight in 400 600 700; do
    cp "node_modules/@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-$weight-normal.woff2" "$new/fonts/"
    cp "node_modules/@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-ext-$weight-normal.woff2" "$new/fonts/"
done
for weight in 400 600; do
    cp "node_modules/@fontsource/atkinson-hyperlegible-mono/files/atkinson-hyperlegible-mono-latin-$weight-normal.woff2" "$new/fonts/"
done
# Names, versions and licences, for the page About.
for package in htmx.org @alpinejs/csp bulma @fontsource/atkinson-hyperlegible-next @fontsource/atkinson-hyperlegible-mono; do
    cat "node_modules/$package/package.json"
done | php -r 'echo json_encode(array_map(fn ($one) => array_intersect_key(json_decode($one, true), ["name" => 1, "version" => 1, "license" => 1]),
    preg_split("/(?<=^\\})\\s*(?=\\{)/m", trim(stream_get_contents(STDIN)))));' >"$new/packages.json"
ln -s ../../assets "$new/own"
rm -rf public/build
mv "$new" public/build
