#!/usr/bin/env bash
# A private PostgreSQL cluster on loopback.
#
#   postgres.sh start DIR [--throw-away]   makes the cluster when there is none, starts it, writes DIR/connection
#   postgres.sh stop DIR                   stops it; nothing is lost
#   postgres.sh restart DIR                stops it and starts it again at the same port
#   postgres.sh running DIR                says by its exit code whether it runs
#   postgres.sh user                       names the user that the cluster runs as
#
# DIR/connection holds three lines: JDBC address, user, password. It can be read by its owner alone, and the cluster lets nobody
# in without that password and listens on no socket but loopback. With --throw-away writes are not forced to disk: for tests.
# As root the cluster runs as the user postgres, because PostgreSQL refuses to run as root.
set -euo pipefail

fail() { echo "$*" >&2; exit 1; }

binaries() {
  local found
  found=$(ls -d /usr/lib/postgresql/*/bin 2>/dev/null | sort -V | tail -n 1)
  [ -n "$found" ] || fail "PostgreSQL is not installed. As an administrator: apt-get install postgresql"
  echo "$found"
}

as_owner() {
  if [ "$(id -u)" = 0 ]; then
    (cd / && setpriv --reuid=postgres --regid=postgres --init-groups "$@")
  else
    (cd / && "$@")
  fi
}

# What lies in the cluster's folder belongs to the user that runs the cluster. As root it is read and written as that user, so that a link
# that the user put there leads to nothing that the user may not read or write itself.
read_owned() { as_owner cat "$1"; } # read_owned FILE
write_owned() { as_owner sh -c 'umask 077; rm -f "$1"; cat > "$1"' sh "$1"; } # write_owned FILE : writes what comes on standard input

free_port() {
  local port
  for _ in $(seq 1 200); do
    port=$((20000 + RANDOM % 30000))
    (exec 3<>"/dev/tcp/127.0.0.1/$port") 2>/dev/null || { echo "$port"; return; }
  done
  fail "There is no free port on loopback for PostgreSQL."
}

start() {
  local dir=$1 bin data log password version port tries keeper= database auth=scram-sha-256 durability=() hurry=()
  dir=$(realpath "$dir")
  bin=$(binaries)
  data=$dir/data
  log=$dir/postgres.log
  [ "${2:-}" = --throw-away ] && durability=(-c fsync=off -c synchronous_commit=off -c full_page_writes=off) hurry=(--no-sync) auth=md5 # cheap, for the hundreds of times that tests connect
  if [ "$(id -u)" = 0 ]; then chown postgres:postgres "$dir"; fi
  if [ -s "$data/PG_VERSION" ]; then
    version=$(read_owned "$data/PG_VERSION")
    case "$bin" in
      */"$version"/bin) ;;
      *)
        if [ -x "/usr/lib/postgresql/$version/bin/postgres" ]; then bin=/usr/lib/postgresql/$version/bin
        else fail "The data in $data were written by PostgreSQL $version, which is not installed here. Install postgresql-$version, or start with another --home."
        fi ;;
    esac
  else
    rm -rf "$data"
    password=$(od -An -tx1 -N24 /dev/urandom | tr -d ' \n')
    printf '%s' "$password" | write_owned "$dir/password"
    # Who made the cluster may do everything in it; the program is somebody else, who may not. Throw-away ones know no such difference.
    keeper=keeper
    [ "${2:-}" = --throw-away ] && keeper=ladder
    : | write_owned "$dir/initdb.log"
    as_owner sh -c 'log=$1; shift; exec "$@" >>"$log" 2>&1' sh "$dir/initdb.log" \
      "$bin/initdb" -D "$data" -U "$keeper" --auth="$auth" --pwfile="$dir/password" -E UTF8 --locale=C.UTF-8 --data-checksums "${hurry[@]}" \
      || { rm -rf "$data"; as_owner tail -n 3 "$dir/initdb.log" >&2; fail "The PostgreSQL cluster could not be made in $data."; }
  fi
  if as_owner "$bin/pg_ctl" -D "$data" status >/dev/null 2>&1 && [ -s "$dir/connection" ]; then return; fi
  for tries in 1 2 3 4 5; do
    # The port of before, so that whoever is connected finds it again; another one where that is taken now.
    port=
    [ "$tries" = 1 ] && [ -s "$dir/connection" ] && port=$({ read_owned "$dir/connection" 2>/dev/null || true; } | sed -n 's|^jdbc:postgresql://127.0.0.1:\([0-9]*\)/.*|\1|p')
    if [ -n "$port" ] && (exec 3<>"/dev/tcp/127.0.0.1/$port") 2>/dev/null; then port=; fi
    [ -n "$port" ] || port=$(free_port)
    if as_owner "$bin/pg_ctl" -D "$data" -l "$log" -w -t 120 \
      -o "-c listen_addresses=127.0.0.1 -c port=$port -c unix_socket_directories='' -c timezone=UTC ${durability[*]:-}" start >/dev/null 2>&1; then
      database=postgres
      if [ "$keeper" = keeper ]; then
        make_program "$bin" "$port" "$dir"
        printf keeper | write_owned "$dir/made-by"
      fi
      [ ! -e "$dir/made-by" ] || database=ladder
      printf 'jdbc:postgresql://127.0.0.1:%s/%s\nladder\n%s\n' "$port" "$database" "$(read_owned "$dir/password")" | write_owned "$dir/connection"
      return
    fi
    as_owner grep -q 'No space left' "$log" 2>/dev/null && fail "The disk is full: PostgreSQL cannot write to $data."
    grep -qi 'could not bind\|already in use' <(as_owner tail -n 5 "$log") || break
  done
  as_owner tail -n 3 "$log" >&2
  fail "PostgreSQL did not start; its log is $log."
}

# make_program BIN PORT DIR : the role that the program has, and its database.
make_program() {
  local password
  password=$(read_owned "$3/password")
  PGPASSWORD=$password as_owner sh -c 'log=$1; shift; exec "$@" >>"$log" 2>&1' sh "$3/initdb.log" \
    "$1/psql" -q -v ON_ERROR_STOP=1 -h 127.0.0.1 -p "$2" -U keeper -d postgres <<SQL || fail "The database could not be made; the log is $3/initdb.log."
create role ladder login createdb password '$password';
create database ladder owner ladder;
SQL
}

stop() {
  local dir bin
  dir=$(realpath "$1")
  bin=$(binaries)
  [ -s "$dir/data/PG_VERSION" ] || return 0
  version=$(read_owned "$dir/data/PG_VERSION")
  [ -x "/usr/lib/postgresql/$version/bin/pg_ctl" ] && bin=/usr/lib/postgresql/$version/bin
  as_owner "$bin/pg_ctl" -D "$dir/data" status >/dev/null 2>&1 || return 0
  # Somebody else may be stopping it at the same time; what counts is that it is down.
  as_owner "$bin/pg_ctl" -D "$dir/data" -m fast -w stop >/dev/null 2>&1 && return 0
  as_owner "$bin/pg_ctl" -D "$dir/data" status >/dev/null 2>&1 && fail "PostgreSQL in $dir did not stop; its log is $dir/postgres.log."
  return 0
}

restart() {
  local dir bin version
  dir=$(realpath "$1")
  version=$(read_owned "$dir/data/PG_VERSION")
  bin=/usr/lib/postgresql/$version/bin
  as_owner "$bin/pg_ctl" -D "$dir/data" -l "$dir/postgres.log" -m fast -w -t 120 restart >/dev/null 2>&1 \
    || fail "PostgreSQL in $dir did not start again; its log is $dir/postgres.log."
}

# Whether it runs: a look at its process, for it is asked every second.
running() {
  local pid
  pid=$(head -n 1 "$1/data/postmaster.pid" 2>/dev/null) && [ -n "$pid" ] && [ -d "/proc/$pid" ] && grep -q postgres "/proc/$pid/comm" 2>/dev/null
}

case "${1:-}" in
  start) start "$2" "${3:-}" ;;
  stop) stop "$2" ;;
  restart) restart "$2" ;;
  running) running "$2" ;;
  user) if [ "$(id -u)" = 0 ]; then echo postgres; else id -un; fi ;;
  *) fail "postgres.sh start DIR [--throw-away] | stop DIR | restart DIR | user" ;;
esac
