#!/usr/bin/env bash
# npm test: installs what is missing, then types, lint and boundaries, unit tests, and the real interface against own
# servers with own, fresh databases. Ends with one line that counts the tests.
# JUBO_LANES: how many tests of the interface run side by side; 1 where it is not told.
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

lanes=${JUBO_LANES:-1}
begun=() # processes that end with this script
finish() {
  set +e # what one of them ends with must not keep the database from being stopped
  for process in "${begun[@]}"; do kill "$process" 2>/dev/null && wait "$process" 2>/dev/null; done
  stop_cluster
}
trap finish EXIT
trap 'exit 130' INT TERM
remove_cluster test
unset DATABASE_URL JUBO_PASSPHRASE
start_cluster test
node --max-old-space-size=8192 dist/setup.mjs >&2
# A lane has a database and a server of its own, so that nobody finds what a test beside it has left; so have the unit tests.
DATABASE_URLS=$DATABASE_URL
for ((lane = 1; lane < lanes; lane++)); do DATABASE_URLS+=" $(copy_database "lane$lane")"; done
unit_database=$(copy_database unit)
BASE_URLS=
for url in $DATABASE_URLS; do
  port=$(free_port)
  DATABASE_URL=$url JUBO_HOST=127.0.0.1 JUBO_PORT=$port NEXT_TELEMETRY_DISABLED=1 NODE_ENV=production \
    node dist/server.mjs >"test-results/server${#begun[@]}.log" 2>&1 &
  begun+=($!)
  BASE_URLS+="${BASE_URLS:+ }http://127.0.0.1:$port"
done
export BASE_URLS DATABASE_URLS

set +e
say "unit tests, where the interface leaves them time, and the interface"
DATABASE_URL=$unit_database nice -n 10 node_modules/.bin/jest --maxWorkers=100% --json --outputFile=test-results/unit.json \
  >test-results/unit.log 2>&1 &
unit_tests=$!
begun+=($unit_tests)
e2e=0
JUBO_PART=beside npx playwright test -c e2e/playwright.config.ts --project beside --workers "$lanes" || e2e=$?
wait "$unit_tests"
unit=$?
cat test-results/unit.log
say "the interface, timed while it sounds"
JUBO_PART=alone npx playwright test -c e2e/playwright.config.ts --project alone || e2e=$?
node scripts/countTests.mjs || exit 1
[ $unit -eq 0 ] && [ $e2e -eq 0 ]
