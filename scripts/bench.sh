#!/usr/bin/env bash
# npm run bench: rendering against ffmpeg's nearest graph in one run, live load, then the running application in a real
# browser: import, analysis, render, opening and seeking, and how they grow; strokes found against aubio's onset detector; cleaned mics
# against each drum's own sound, beside a gate and an expander at their best.
# `npm run bench -- core`, `-- hits`, `-- clean`, `-- shape`, `-- workers` or `-- application [MICSxMINUTES …]` does one part (`workers` is in no other run). Prints a table; the figures lie in test-results/bench-*.json.
set -euo pipefail
cd "$(dirname "$0")/.."
. scripts/lib.sh
need_packages ffmpeg:ffmpeg chromium:chromium aubioonset:aubio-tools
need_modules
node scripts/kernels.mjs
npx esbuild tools/bench/core.ts tools/bench/hits.ts tools/bench/clean.ts tools/bench/shape.ts tools/bench/workers.ts tools/bench/application.ts --bundle --platform=node --format=esm --packages=external --outdir=dist/bench --out-extension:.js=.mjs --log-level=warning
part=${1:-all}
case $part in all | core) node --max-old-space-size=8192 dist/bench/core.mjs ;; esac
case $part in all | hits) node --max-old-space-size=8192 dist/bench/hits.mjs ;; esac
case $part in all | clean) npm run --silent build:cli && node --max-old-space-size=8192 dist/bench/clean.mjs "${@:2}" ;; esac
case $part in all | shape) npm run --silent build:cli && node --max-old-space-size=8192 dist/bench/shape.mjs "${@:2}" ;; esac
case $part in core | hits | clean | shape) exit 0 ;; esac

finish() {
  [ -n "${server:-}" ] && kill "$server" 2>/dev/null && wait "$server" 2>/dev/null
  remove_cluster bench
}
trap finish EXIT
remove_cluster bench
port=$(free_port)
start_cluster bench
[ "$part" = workers ] && export JUBO_OWN_WORKER=no
PORT=$port bash scripts/start.sh >dist/bench-server.log 2>&1 &
server=$!
for _ in $(seq 600); do
  grep -q 'is ready' dist/bench-server.log && break
  kill -0 "$server" 2>/dev/null || { tail -n 5 dist/bench-server.log >&2; fail "the server did not start"; }
  sleep 0.5
done
export BASE_URL=http://127.0.0.1:$port
case $part in all | application) node --max-old-space-size=12288 dist/bench/application.mjs "${@:2}" ;; esac
case $part in workers) node --max-old-space-size=8192 dist/bench/workers.mjs ;; esac
