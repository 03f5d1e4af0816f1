#!/usr/bin/env bash
# npm start: installs what is missing, builds, starts the database and the application, prints the address.
# PORT (3210), HOST (127.0.0.1), DATABASE_URL (an own PostgreSQL), JUBO_PASSPHRASE (needed beyond loopback),
# JUBO_NAME and JUBO_LOGIN_HEADER (behind a proxy, docs/studio.md).
set -euo pipefail
cd "$(dirname "$0")/.."
. scripts/lib.sh

host=${HOST:-127.0.0.1}
port=${PORT:-3210}
case "$host" in
  127.0.0.1 | localhost | ::1) ;;
  *) [ -n "${JUBO_PASSPHRASE:-}" ] || fail "HOST is $host, which others can reach. Set JUBO_PASSPHRASE to a passphrase first." ;;
esac
need_port "$host" "$port"

server=
keeper=
finish() {
  set +e # what the server ends with must not keep the database from being stopped
  [ -n "$keeper" ] && kill "$keeper" 2>/dev/null && wait "$keeper" 2>/dev/null
  [ -n "$server" ] && kill "$server" 2>/dev/null && wait "$server" 2>/dev/null
  stop_cluster
}
trap finish EXIT
trap 'exit 0' INT TERM

need_modules
[ -n "${DATABASE_URL:-}" ] || start_cluster "${JUBO_CLUSTER:-db}"
build
node --max-old-space-size=8192 dist/setup.mjs
export JUBO_HOST=$host JUBO_PORT=$port NEXT_TELEMETRY_DISABLED=1
NODE_ENV=production node dist/server.mjs >dist/server.log 2>&1 &
server=$!
keep_cluster &
keeper=$!
for _ in $(seq 150); do
  kill -0 "$server" 2>/dev/null || { tail -n 5 dist/server.log >&2; fail "the server did not start"; }
  if node -e "fetch('http://$host:$port/enter').then(()=>process.exit(0),()=>process.exit(1))" 2>/dev/null; then
    printf 'Jubo is ready: http://%s:%s\n' "$host" "$port"
    break
  fi
  sleep 0.2
done
wait "$server"
