#!/usr/bin/env bash
# npm test: installs what is missing, then types, lint and boundaries, unit tests, and the real interface against an
# own server with an own, fresh database. Ends with one line that counts the tests.
set -uo pipefail
cd "$(dirname "$0")/.."
. scripts/lib.sh

set -e
need_packages chromium:chromium sox:sox ffmpeg:ffmpeg flac:flac midicsv:midicsv
need_modules
rm -rf test-results && mkdir -p test-results
node scripts/kernels.mjs
rm -rf .next/types # of a build before, which may know routes that are gone
say "types, lint and boundaries"
npm run --silent types &
types=$!
npm run --silent lint
wait "$types"
build

server=
finish() {
  set +e # what the server ends with must not keep the database from being stopped
  [ -n "$server" ] && kill "$server" 2>/dev/null && wait "$server" 2>/dev/null
  stop_cluster
}
trap finish EXIT
trap 'exit 130' INT TERM
remove_cluster test
unset DATABASE_URL JUBO_PASSPHRASE
start_cluster test
port=$(free_port)
node --max-old-space-size=8192 dist/setup.mjs >&2
JUBO_HOST=127.0.0.1 JUBO_PORT=$port NEXT_TELEMETRY_DISABLED=1 NODE_ENV=production node dist/server.mjs >test-results/server.log 2>&1 &
server=$!
export BASE_URL="http://127.0.0.1:$port"

set +e
say "unit tests"
npx jest --maxWorkers=100% --json --outputFile=test-results/unit.json
unit=$?
say "the interface"
npx playwright test -c e2e/playwright.config.ts
e2e=$?
node scripts/countTests.mjs || exit 1
[ $unit -eq 0 ] && [ $e2e -eq 0 ]
