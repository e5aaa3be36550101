#!/usr/bin/env bash
# Lighthouse on its simulated mid-range phone, signed in to the demo: every station, the list, and the front page.
# Needs a running ./start with the demo: scripts/lighthouse.sh [http://127.0.0.1:8000]. Wanted: performance 0.90, the others 1.00.
set -euo pipefail
root="${1:-http://127.0.0.1:8000}"
work="$(mktemp -d)"; trap 'rm -rf "$work"' EXIT
cp "$(dirname "$0")/lighthouse.mjs" "$work"
cd "$work"
npm init -y >/dev/null
npm install --no-audit --no-fund lighthouse@13 >&2
node lighthouse.mjs "$root"
