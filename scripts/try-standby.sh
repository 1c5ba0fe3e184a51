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
free_port() {
  local port
  while :; do
    port=$((20000 + RANDOM % 30000))
    (exec 3<>"/dev/tcp/127.0.0.1/$port") 2>/dev/null || { echo "$port"; return; }
  done
}
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
for _ in $(seq 1 1200); do curl -sf "$API/session" >/dev/null 2>&1 && break; kill -0 "$UP" 2>/dev/null || { cat "$DIR/up.out" >&2; exit 1; }; sleep 0.1; done
"$ROOT/ladder" demo --out "$DIR/demo.json" >/dev/null 2>&1
curl -sf -X PUT -H 'Content-Type: application/json' --data-binary "@$DIR/demo.json" "$API/estate" >/dev/null

# write N : publishes one change after the other, each again and again under its key until it is acknowledged; notes when.
write() {
  local n=0 body status
  while [ ! -e "$DIR/stop" ]; do
    n=$((n + 1))
    body="{\"base\":1,\"note\":\"writer $1 change $n\",\"edits\":[{\"kind\":\"add-policy\",\"policy\":{\"id\":\"w$1-$n\",\"name\":\"Writer $1, $n\",\"statements\":[],\"assignments\":[]}}]}"
    while [ ! -e "$DIR/stop" ]; do
      status=$(curl -s -o "$DIR/answer-$1" -w '%{http_code}' --max-time 30 -H 'Content-Type: application/json' -H "Idempotency-Key: $1-$n" -d "$body" "$API/changes" || true)
      [ "$status" != 201 ] || { echo "$(date +%s%N) writer $1 change $n" >> "$DIR/acknowledged-$1"; break; }
      echo "$status $(sed -n 's/.*"detail":"\([^"]*\)".*/\1/p' "$DIR/answer-$1")" >> "$DIR/refused"
      sleep 0.1
    done
  done
}
touch "$DIR/refused"
WRITING=()
for w in $(seq 1 "$WRITERS"); do write "$w" & WRITING+=($!); done
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
touch "$DIR/stop"
wait "${WRITING[@]}" || true

cat "$DIR"/acknowledged-* | sort -n > "$DIR/acknowledged"
curl -sf "$API/session" >/dev/null
before=
: > "$DIR/stored"
while :; do
  page=$(curl -sf "$API/changes?limit=200${before:+&before=$before}")
  grep -o 'writer [0-9]* change [0-9]*' <<<"$page" >> "$DIR/stored" || true
  before=$(sed -n 's/.*"next":\([0-9]*\).*/\1/p' <<<"$page")
  [ -n "$before" ] || break
done
sort "$DIR/stored" | uniq -d > "$DIR/twice"
cut -d' ' -f2- "$DIR/acknowledged" | sort > "$DIR/promised"
sort -u "$DIR/stored" > "$DIR/there"
lost=$(comm -23 "$DIR/promised" "$DIR/there" | wc -l)
echo "$MODE: $(wc -l < "$DIR/promised") changes acknowledged, $lost of them lost, $(wc -l < "$DIR/twice") stored twice"
awk 'NR > 1 && $1 - last > most { most = $1 - last } { last = $1 } END { printf "the longest time without an acknowledgement: %.1f s\n", most / 1e9 }' "$DIR/acknowledged"
echo "refusals meanwhile:"; sort "$DIR/refused" | uniq -c | sort -rn | head -n 5
[ "$MODE" = asynchronous ] || [ "$lost" = 0 ]
[ ! -s "$DIR/twice" ]
