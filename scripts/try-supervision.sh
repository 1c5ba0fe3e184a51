#!/usr/bin/env bash
# Tries what ./ladder up promises: either process is started again when it is killed, a home is used once, SIGTERM ends everything,
# and the log is a JSON object a line where that is asked for. In a folder of its own, on loopback.
set -euo pipefail
ROOT=$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)
DIR=$(mktemp -d /tmp/lean-ladder-up.XXXXXX)
HOME_DIR=$DIR/home
fail() {
  echo "Supervision: $*" >&2
  tail -n 20 "$DIR/up.out" "$HOME_DIR/up.log" >&2 2>/dev/null || true
  exit 1
}
until PORT=$((20000 + RANDOM % 30000)); ! (exec 3<>"/dev/tcp/127.0.0.1/$PORT") 2>/dev/null; do :; done
UP=
tidy() {
  [ -z "$UP" ] || { kill -TERM "$UP" 2>/dev/null || true; wait "$UP" 2>/dev/null || true; }
  rm -rf "$DIR"
}
trap tidy EXIT
chmod 755 "$DIR"

# What is shipped for systemd and for containers starts ./ladder up with options that it knows.
for shipped in lean-ladder.service Containerfile; do
  start=$(grep -E '^(ExecStart=|CMD )' "$ROOT/deploy/$shipped") || fail "deploy/$shipped starts nothing"
  for option in $(grep -oE -e '--[a-z-]+' <<<"$start"); do
    "$ROOT/ladder" help | grep -q -e "$option" || fail "deploy/$shipped uses $option, which ./ladder does not know"
  done
done

# until SECONDS WORDS COMMAND... : waits until a command succeeds
until_so() {
  local tries=$(($1 * 10)) words=$2
  shift 2
  for _ in $(seq 1 "$tries"); do "$@" && return; sleep 0.1; done
  fail "$words"
}
answers() { [ "$(curl -s -o /dev/null -w '%{http_code}' --max-time 5 "http://127.0.0.1:$PORT/health/live")" = 200 ]; }
database_well() { curl -s --max-time 5 "http://127.0.0.1:$PORT/health/ready" | grep -q '"name":"database","well":true'; }
gone() { ! kill -0 "$1" 2>/dev/null; }
is_another() { local now; now=$(cut -d' ' -f1 "$1" 2>/dev/null) && [ -n "$now" ] && [ "$now" != "$2" ]; }

LADDER_LOG=json LADDER_MEMORY=128m "$ROOT/ladder" up --home "$HOME_DIR" --port "$PORT" --empty >"$DIR/up.out" 2>&1 &
UP=$!
until_so 120 "it does not come up" answers

if "$ROOT/ladder" up --home "$HOME_DIR" --port $((PORT + 1)) --empty >"$DIR/second.out" 2>&1; then fail "a second one starts in the same home"; fi
grep -q 'already runs' "$DIR/second.out" || fail "a second one is refused without saying why: $(cat "$DIR/second.out")"

server=$(cut -d' ' -f1 "$HOME_DIR/server.pid")
kill -KILL "$server"
until_so 30 "a killed server is not started again" is_another "$HOME_DIR/server.pid" "$server"
until_so 30 "a server that was started again does not answer" answers
grep -q 'The server has ended; it is started again in 0 s' "$HOME_DIR/up.log" || fail "the log does not say that the server ended and was started at once: $(cat "$HOME_DIR/up.log")"
archived() { [ -s "$ROOT/.build/server.jsa" ]; }
until_so 120 "the class archive was not created; .build/start.log says why" archived

suite_answers() { [ "$(curl -s -o /dev/null -w '%{http_code}' --max-time 5 "http://127.0.0.1:$((PORT + 1))/")" = 200 ]; }
until_so 30 "the simulated suite does not answer" suite_answers
suite=$(cut -d' ' -f1 "$HOME_DIR/suite.pid")
kill -KILL "$suite"
until_so 30 "a killed suite is not started again" is_another "$HOME_DIR/suite.pid" "$suite"
until_so 30 "a suite that was started again does not answer" suite_answers

# An estate that is too large for the server's memory is refused in words. Should memory run out before that is noticed, the server ends at
# once and is started again with what it had.
awk 'BEGIN {
  print "{\"format\":\"lean-ladder-estate/1\",\"organisation\":{\"name\":\"Skerrymore Ferries\",\"region\":\"eu\",\"timeZone\":\"UTC\"},"
  print "\"units\":[{\"id\":\"u1\",\"name\":\"Skerrymore Ferries\"}],\"catalogue\":{\"sizes\":[],\"apps\":[],\"entitlements\":[],\"settings\":[]},"
  printf "\"accounts\":["
  for (i = 1; i <= 600000; i++)
    printf "%s{\"id\":\"account-number-%d\",\"userName\":\"person%d@skerrymore.example\",\"displayName\":\"Person %d\",\"kind\":\"person\",\"unit\":\"u1\",\"active\":true}\n", (i > 1 ? "," : ""), i, i, i
  print "]}"
}' >"$DIR/large.json"
server=$(cut -d' ' -f1 "$HOME_DIR/server.pid")
code=$(curl -s -o "$DIR/large.out" -w '%{http_code}' --max-time 300 -X PUT -H 'Content-Type: application/json' -T "$DIR/large.json" \
  "http://127.0.0.1:$PORT/api/v1/estate" || true)
case "$code" in
  413) grep -q LADDER_MEMORY "$DIR/large.out" || fail "an estate that memory does not hold is refused without saying what to do" ;;
  000 | 100) until_so 30 "a server without memory is not started again" is_another "$HOME_DIR/server.pid" "$server" ;;
  *) fail "an estate that memory does not hold is answered $code: $(head -c 300 "$DIR/large.out" 2>/dev/null)" ;;
esac
until_so 30 "a server that had no memory does not answer again" answers
[ "$(curl -s "http://127.0.0.1:$PORT/api/v1/session" | grep -o '"change":[0-9]*')" = '"change":0' ] || fail "half an estate was loaded"

place=$(cat "$HOME_DIR/postgres-place")
database=$(head -n 1 "$place/data/postmaster.pid")
kill -KILL "$database"
until_so 30 "a killed database is not started again" is_another "$place/data/postmaster.pid" "$database"
until_so 30 "the server does not find the database again" database_well

[ "$(stat -c %a "$HOME_DIR/client.secret")" = 600 ] || fail "others can read the client's secret"
grep -qv '^{' "$HOME_DIR/server.log" && fail "a line of the log is no JSON object"
[ -s "$HOME_DIR/server.log" ] || fail "there is no log"

server=$(cut -d' ' -f1 "$HOME_DIR/server.pid")
suite=$(cut -d' ' -f1 "$HOME_DIR/suite.pid")
database=$(head -n 1 "$place/data/postmaster.pid")
kill -TERM "$UP"
wait "$UP" || true
UP=
until_so 10 "the server outlives what supervised it" gone "$server"
until_so 10 "the database outlives what supervised it" gone "$database"
echo "Supervision: all is well."
