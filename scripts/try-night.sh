#!/usr/bin/env bash
# Leaves ./ladder up alone under load for as long as one likes, while its server, its suite and its database are killed at random
# instants. Fails where it is not well within a minute, where something acknowledged is lost or stored twice, and where the journal
# does not rebuild what is stored; says how long it took to be well, and what memory and disk it holds. In a folder of its own, on loopback.
#
#   try-night.sh [MINUTES]    480 when left out
set -euo pipefail
ROOT=$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)
MINUTES=${1:-480}
case "$MINUTES" in '' | *[!0-9]* | 0) echo "try-night.sh [MINUTES]" >&2; exit 2 ;; esac
WRITERS=4
READERS=2
# Seconds between two kills, at least, and how many more at most.
LEAST=20
MORE=40
DIR=$(mktemp -d /tmp/lean-ladder-night.XXXXXX)
HOME_DIR=$DIR/home
chmod 755 "$DIR"
. "$ROOT/scripts/writers.sh"
PORT=$(free_port)
ADDRESS=http://127.0.0.1:$PORT
API=$ADDRESS/api/v1
UP=
tidy() {
  touch "$DIR/stop"
  [ -z "$UP" ] || { kill -TERM "$UP" 2>/dev/null || true; wait "$UP" 2>/dev/null || true; }
  rm -rf "$DIR"
}
trap tidy EXIT

# Well is who answers also what only the database knows.
well() { curl -sf --max-time 5 "$ADDRESS/health/ready" >/dev/null 2>&1 && curl -sf --max-time 5 "$API/changes?limit=1" >/dev/null 2>&1; }
# await_well SECONDS : how long it took until it was well, in milliseconds; fails when it was not by then
await_well() {
  local began
  began=$(date +%s%N)
  for _ in $(seq 1 $(($1 * 10))); do
    if well; then echo $((($(date +%s%N) - began) / 1000000)); return; fi
    sleep 0.1
  done
  return 1
}
# memory PID : how much of the machine's memory a process holds, in megabytes
memory() { awk '/^VmRSS/ { print int($2 / 1024) }' "/proc/$1/status" 2>/dev/null || echo 0; }

# read_on N : asks what people look at, and notes what was answered and how long it took
read_on() {
  local paths=(/overview /policies '/directory/people?count=50' /plans /previews /today '/changes?limit=20')
  while [ ! -e "$DIR/stop" ]; do
    curl -s -o /dev/null -w '%{http_code} %{time_total}\n' --max-time 30 "$API${paths[RANDOM % ${#paths[@]}]}" >> "$DIR/read-$1" || true
    sleep 0.05
  done
}

"$ROOT/ladder" up --home "$HOME_DIR" --port "$PORT" >"$DIR/up.out" 2>&1 &
UP=$!
for _ in $(seq 1 6000); do well && break; kill -0 "$UP" 2>/dev/null || { cat "$DIR/up.out" >&2; exit 1; }; sleep 0.1; done
place=$(cat "$HOME_DIR/postgres-place")
begin_writing "$WRITERS"
for r in $(seq 1 "$READERS"); do read_on "$r" & WRITING+=($!); done

until=$(($(date +%s) + MINUTES * 60))
while [ "$(date +%s)" -lt "$until" ]; do
  sleep $((LEAST + RANDOM % (MORE + 1)))
  memory "$(cut -d' ' -f1 "$HOME_DIR/server.pid")" >> "$DIR/memory"
  case $((RANDOM % 4)) in
    0 | 1) victim=server pid=$(cut -d' ' -f1 "$HOME_DIR/server.pid") ;;
    2) victim=database pid=$(head -n 1 "$place/data/postmaster.pid") ;;
    3) victim=suite pid=$(cut -d' ' -f1 "$HOME_DIR/suite.pid") ;;
  esac
  kill -KILL "$pid" 2>/dev/null || continue
  sleep 0.2
  took=$(await_well 60) || { echo "A minute after its $victim was killed it is not well:" >&2; curl -s "$ADDRESS/health/ready" >&2; tail -n 20 "$HOME_DIR/up.log" >&2; exit 1; }
  echo "$victim $took" >> "$DIR/kills"
done
end_writing
await_well 60 >/dev/null || { echo "In the morning it is not well." >&2; exit 1; }

account_for "$MINUTES minutes"
for victim in server database suite; do
  awk -v v=$victim '$1 == v { n++; if ($2 > most) most = $2 } END { if (n) printf "killed %d times, the %s: well again within %.1f s\n", n, v, most / 1000 }' "$DIR/kills"
done
cat "$DIR"/read-* | awk '$1 == 200 { n++; if ($2 > most) most = $2; next } { other[$1]++ } END { printf "%d answers read, the slowest after %.1f s", n, most; for (s in other) printf "; %d with %s", other[s], s; print "" }'
awk '{ if ($1 > most) most = $1; last = $1 } END { printf "the server held at most %d MB, at last %d MB\n", most, last }' "$DIR/memory"
echo "the home holds $(du -sm "$HOME_DIR" | cut -f1) MB"
rebuilt=$("$ROOT/ladder" rebuild --home "$HOME_DIR") || { echo "$rebuilt" >&2; exit 1; }
echo "$rebuilt"
[ "$LOST" = 0 ] && [ "$TWICE" = 0 ]
