#!/usr/bin/env bash
# npm run --silent database-url: the address of the database that `npm start` runs, for pg_dump, psql and workers on this machine.
set -euo pipefail
cd "$(dirname "$0")/.."
. scripts/lib.sh
CLUSTER=$(cluster_path "${1:-${JUBO_CLUSTER:-db}}")
as_pg test -f "$CLUSTER/postmaster.pid" || fail "no database runs in $CLUSTER; npm start starts one"
printf 'postgres://jubo:%s@127.0.0.1:%s/jubo\n' "$(as_pg cat "$CLUSTER/jubo.password")" "$(as_pg sed -n 4p "$CLUSTER/postmaster.pid")"
