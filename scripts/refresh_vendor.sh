#!/usr/bin/env bash
# Fetch the vendored styles, fonts, icons and chart library anew from npm, by name and version, with their licences.
# htmx is not here: it comes with the Python package django-htmx.
set -euo pipefail
here="$(cd "$(dirname "$0")/.." && pwd)/web/static/vendor"
work="$(mktemp -d)"; trap 'rm -rf "$work"' EXIT
cd "$work"
npm init -y >/dev/null
npm install --no-audit --no-fund --ignore-scripts bootstrap@5 bootstrap-icons@1 echarts@6 esbuild@0.28 \
  @fontsource-variable/fraunces@5 @fontsource-variable/atkinson-hyperlegible-next@5 >&2
put() { mkdir -p "$here/$1"; cp "node_modules/$2" "$here/$1/$(basename "$2")"; }
put bootstrap bootstrap/dist/css/bootstrap.min.css
put bootstrap bootstrap/dist/js/bootstrap.bundle.min.js
put bootstrap bootstrap/LICENSE
# Only the parts in use: a third of the whole. esbuild fetches its program by a script of its own.
npm rebuild esbuild >&2
cp "$here/../../../scripts/echarts_in_use.js" entry.js
node_modules/.bin/esbuild entry.js --bundle --minify --format=esm --target=es2020 --legal-comments=none --outfile="$here/echarts/echarts.in-use.js" >&2
put echarts echarts/LICENSE
put echarts echarts/NOTICE
put fraunces @fontsource-variable/fraunces/files/fraunces-latin-full-normal.woff2
put fraunces @fontsource-variable/fraunces/LICENSE
put atkinson-hyperlegible-next @fontsource-variable/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-wght-normal.woff2
put atkinson-hyperlegible-next @fontsource-variable/atkinson-hyperlegible-next/LICENSE
for icon in pencil copy trash download upload printer plus-lg x-lg exclamation-triangle question-circle keyboard three-dots check-lg arrow-counterclockwise; do
  put icons "bootstrap-icons/icons/$icon.svg"
done
put icons bootstrap-icons/LICENSE
for name in bootstrap bootstrap-icons echarts @fontsource-variable/fraunces @fontsource-variable/atkinson-hyperlegible-next; do
  node -p "'$name ' + require('./node_modules/$name/package.json').version + ' ' + require('./node_modules/$name/package.json').license"
done >"$here/VERSIONS.txt"
# Source maps are not shipped, so their references go too (a static-file manifest would look for them).
sed -i -E 's@/[*/]# sourceMappingURL=[^ *]*( \*/)?@@' "$here"/bootstrap/*.css "$here"/bootstrap/*.js
cat "$here/VERSIONS.txt"
