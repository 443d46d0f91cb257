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
ln -s ../../assets "$new/own"
rm -rf public/build
mv "$new" public/build
