#!/usr/bin/env bash
# Tries a standby of PostgreSQL with streaming replication under load, on loopback, in a folder of its own that is removed afterwards.
#
#   try-standby.sh synchronous    the primary is killed and the standby promoted: nothing acknowledged may be lost
#   try-standby.sh asynchronous   the same without waiting for the standby: says what was lost
#   try-standby.sh standby-gone   the synchronous standby is killed: says what is answered until it is no longer waited for
set -euo pipefail
ROOT=$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)
POSTGRES=$ROOT/scripts/postgres.sh
MODE=${1:-synchronous}
WRITERS=4
case "$MODE" in synchronous | asynchronous | standby-gone) ;; *) echo "try-standby.sh synchronous | asynchronous | standby-gone" >&2; exit 2 ;; esac

BIN=$(ls -d /usr/lib/postgresql/*/bin | sort -V | tail -n 1)
DIR=$(mktemp -d /tmp/lean-ladder-standby.XXXXXX)
chmod 755 "$DIR"
mkdir -m 755 "$DIR/first" "$DIR/second" "$DIR/home"
as_owner() {
  if [ "$(id -u)" = 0 ]; then (cd / && setpriv --reuid=postgres --regid=postgres --init-groups "$@"); else (cd / && "$@"); fi
}
. "$ROOT/scripts/writers.sh"
UP=
tidy() {
  touch "$DIR/stop"
  [ -z "$UP" ] || { kill -TERM "$UP" 2>/dev/null || true; wait "$UP" 2>/dev/null || true; }
  for place in first second; do as_owner "$BIN/pg_ctl" -D "$DIR/$place/data" -m immediate stop >/dev/null 2>&1 || true; done
  rm -rf "$DIR"
}
trap tidy EXIT

bash "$POSTGRES" start "$DIR/first"
FIRST=$(sed -n 's|^jdbc:postgresql://127.0.0.1:\([0-9]*\)/.*|\1|p' "$DIR/first/connection")
PASSWORD=$(cat "$DIR/first/password")
[ "$(id -u)" != 0 ] || chown postgres:postgres "$DIR/second"
sql() { PGPASSWORD=$PASSWORD "$BIN/psql" -qtA -h 127.0.0.1 -p "$1" -U keeper -d postgres -c "$2"; }
as_owner env PGPASSWORD="$PASSWORD" "$BIN/pg_basebackup" -D "$DIR/second/data" -R -X stream -C -S second \
  -d "host=127.0.0.1 port=$FIRST user=keeper password=$PASSWORD application_name=second" >/dev/null
SECOND=$(free_port)
as_owner "$BIN/pg_ctl" -D "$DIR/second/data" -l "$DIR/second/postgres.log" -w \
  -o "-c listen_addresses=127.0.0.1 -c port=$SECOND -c unix_socket_directories='' -c timezone=UTC" start >/dev/null
if [ "$MODE" != asynchronous ]; then
  sql "$FIRST" "alter system set synchronous_standby_names = 'second'"
  sql "$FIRST" "select pg_reload_conf()" >/dev/null
fi
(umask 077; printf 'jdbc:postgresql://127.0.0.1:%s,127.0.0.1:%s/ladder?targetServerType=primary&hostRecheckSeconds=1&connectTimeout=2&socketTimeout=10\nladder\n%s\n' \
  "$FIRST" "$SECOND" "$PASSWORD" > "$DIR/connection")

PORT=$(free_port)
API=http://127.0.0.1:$PORT/api/v1
"$ROOT/ladder" up --join "$DIR/connection" --port "$PORT" --home "$DIR/home" --as "Ivo Tarn" >"$DIR/up.out" 2>&1 &
UP=$!
for _ in $(seq 1 6000); do curl -sf "$API/session" >/dev/null 2>&1 && break; kill -0 "$UP" 2>/dev/null || { cat "$DIR/up.out" >&2; exit 1; }; sleep 0.1; done
"$ROOT/ladder" demo --out "$DIR/demo.json" >/dev/null 2>&1
curl -sf -X PUT -H 'Content-Type: application/json' --data-binary "@$DIR/demo.json" "$API/estate" >/dev/null

begin_writing "$WRITERS"
sleep 10

if [ "$MODE" = standby-gone ]; then
  kill -KILL "$(head -n 1 "$DIR/second/data/postmaster.pid")"
  sleep 15
  echo "reads while nobody can publish: $(curl -s -o /dev/null -w '%{http_code} after %{time_total} s' "$API/policies")"
  sql "$FIRST" "alter system reset synchronous_standby_names"
  sql "$FIRST" "select pg_reload_conf()" >/dev/null
else
  kill -KILL "$(head -n 1 "$DIR/first/data/postmaster.pid")"
  as_owner "$BIN/pg_ctl" -D "$DIR/second/data" -w promote >/dev/null
fi
sleep 15
end_writing

curl -sf "$API/session" >/dev/null
account_for "$MODE"
[ "$MODE" = asynchronous ] || [ "$LOST" = 0 ]
[ "$TWICE" = 0 ]
