#!/usr/bin/env bash
# npm run bench: rendering against ffmpeg's nearest graph on the same files in one run, live load, analysis, accuracy.
set -euo pipefail
cd "$(dirname "$0")/.."
. scripts/lib.sh
need_packages ffmpeg:ffmpeg
need_modules
npx esbuild tools/bench.ts tools/evaluate.ts --bundle --platform=node --format=esm --packages=external --outdir=dist --out-extension:.js=.mjs --log-level=warning
node --max-old-space-size=8192 dist/bench.mjs
