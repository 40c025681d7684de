#!/usr/bin/env bash
# Copies what the program ships from the npm packages named in package.json into vendor/, with the
# licences. Run it after changing a version; the result is committed, so that neither building nor
# running fetches anything.
set -euo pipefail
cd "$(dirname "$0")"
npm ci --ignore-scripts --no-audit --no-fund
out=vendor
rm -rf "$out" && mkdir -p "$out/licences" "$out/test"
m=node_modules
copy() { cp "$m/$1" "$out/$2"; }
font() { copy "@fontsource-variable/$1/files/$1-latin-wght-normal.woff2" "$2"; }
copy @alpinejs/csp/dist/cdn.min.js alpine.js
copy @alpinejs/morph/dist/cdn.min.js alpine-morph.js
copy axe-core/axe.min.js test/axe.js
font bricolage-grotesque bricolage.woff2
font atkinson-hyperlegible-next atkinson.woff2
"$m/.bin/sass" --no-source-map --style=compressed --load-path="$m" \
  styles/bulma.scss "$out/bulma.css"
for package in @alpinejs/csp @alpinejs/morph @fontsource-variable/bricolage-grotesque \
  @fontsource-variable/atkinson-hyperlegible-next axe-core bulma; do
  name=${package//@/}
  name=${name//\//-}
  licence=$(find "$m/$package" -maxdepth 1 -iname 'licen[sc]e*' | head -1)
  if [ -n "$licence" ]; then
    cp "$licence" "$out/licences/$name.txt"
  else
    node -p "const p=require('./$m/$package/package.json'); p.name+' '+p.version+': '+p.license" \
      >"$out/licences/$name.txt"
  fi
done
