#!/usr/bin/env bash
# Backups of a home of ./ladder up.
#
#   backup.sh make HOME FILE      writes everything that is state into FILE, while it runs, as it stood at one moment
#   backup.sh restore FILE HOME   puts it back into a home that is empty, checked before it is used
#
# A backup is a tar file: manifest.txt, which a person can read, the database as pg_dump writes it, and the secret of clients. The
# manifest names the SHA-256 of the others.
set -euo pipefail
SCRIPTS=$(cd "$(dirname "${BASH_SOURCE[0]}")" && pwd)
umask 077

fail() { echo "$*" >&2; exit 1; }

value() { sed -n "s/^$2: //p" "$1"; } # value MANIFEST NAME

connect() { # connect PLACE : reads the connection file, and finds the programs of the cluster's own version
  [ -r "$1/connection" ] && [ ! -L "$1/connection" ] || fail "There is no database in $1; start Lean Ladder first."
  bash "$SCRIPTS/postgres.sh" running "$1" || fail "The database in $1 does not run; start Lean Ladder first."
  PORT=$(sed -n '1s|.*:\([0-9]*\)/.*|\1|p' "$1/connection")
  DATABASE=$(sed -n '1s|.*/||p' "$1/connection")
  PGPASSWORD=$(sed -n 3p "$1/connection")
  export PGPASSWORD
  BIN=/usr/lib/postgresql/$(cat "$1/data/PG_VERSION")/bin
}

make() {
  local home=$1 file=$2 place snapshot change drafts accounts
  [ -s "$home/postgres-place" ] || fail "There is no Lean Ladder in $home. Name its folder with --home."
  [ ! -e "$file" ] || fail "$file is there already; choose another name, so that no backup is lost."
  place=$(cat "$home/postgres-place")
  connect "$place"
  WORK=$(mktemp -d "$(dirname "$file")/.lean-ladder-backup-XXXXXX") || fail "$(dirname "$file") cannot be written to."
  trap 'rm -rf "$WORK"' EXIT
  # One snapshot for the dump and for what the manifest says of it.
  coproc ASKED { "$BIN/psql" -qAtX -h 127.0.0.1 -p "$PORT" -U ladder -d "$DATABASE" 2>"$WORK/asked.log"; }
  ask() { echo "$1" >&"${ASKED[1]}"; read -r REPLY <&"${ASKED[0]}" || fail "The database does not answer: $(cat "$WORK/asked.log")"; }
  ask "begin isolation level repeatable read; select pg_export_snapshot();"; snapshot=$REPLY
  ask "select coalesce(max(number), 0) from change;"; change=$REPLY
  ask "select count(*) from draft;"; drafts=$REPLY
  ask "select count(*) from part where until is null and section = 'accounts';"; accounts=$REPLY
  "$BIN/pg_dump" -h 127.0.0.1 -p "$PORT" -U ladder -d "$DATABASE" -Fc -Z 6 --snapshot="$snapshot" -f "$WORK/database.dump" \
    || fail "The database could not be written out; nothing was kept."
  echo "commit; \q" >&"${ASKED[1]}"
  wait "$ASKED_PID" 2>/dev/null || true
  cp "$home/client.secret" "$WORK/client.secret" 2>/dev/null || : > "$WORK/client.secret"
  {
    echo "Lean Ladder backup"
    echo "made: $(date -u +%Y-%m-%dT%H:%M:%SZ)"
    echo "change: $change"
    echo "accounts: $accounts"
    echo "drafts: $drafts"
    echo "postgresql: $(cat "$place/data/PG_VERSION")"
    echo "database.dump: $(sha256sum "$WORK/database.dump" | cut -d' ' -f1)"
    echo "client.secret: $(sha256sum "$WORK/client.secret" | cut -d' ' -f1)"
  } > "$WORK/manifest.txt"
  tar -C "$WORK" -cf "$WORK/whole.tar" manifest.txt database.dump client.secret || fail "The disk is full; nothing was kept."
  ln "$WORK/whole.tar" "$file" || fail "$file could not be written."
  echo "The backup is in $file: change $change, $accounts accounts, $drafts drafts, $(($(stat -c %s "$file") / 1024)) KB."
}

restore() {
  local file=$1 home=$2 place found
  [ -r "$file" ] || fail "The backup $file cannot be read."
  if [ -d "$home" ] && [ -n "$(ls -A "$home")" ]; then fail "$home is not empty; a backup is restored into an empty folder only. Nothing was changed."; fi
  mkdir -p "$home"
  home=$(realpath "$home")
  if [ "$(id -u)" = 0 ]; then chmod 711 "$home"; else chmod 700 "$home"; fi
  WORK=$home/restoring
  mkdir "$WORK"
  undone() { [ ! -d "$home/postgres" ] || bash "$SCRIPTS/postgres.sh" stop "$home/postgres" || true; rm -rf "${home:?}"/*; }
  trap undone EXIT
  tar -C "$WORK" -xf "$file" manifest.txt database.dump client.secret 2>/dev/null || fail "$file is no backup of Lean Ladder, or it is cut off."
  for part in manifest.txt database.dump client.secret; do
    [ -f "$WORK/$part" ] && [ ! -L "$WORK/$part" ] || fail "$file is no backup of Lean Ladder: $part is not an ordinary file. Nothing was restored."
  done
  for part in database.dump client.secret; do
    [ "$(sha256sum "$WORK/$part" | cut -d' ' -f1)" = "$(value "$WORK/manifest.txt" "$part")" ] \
      || fail "$file is damaged: $part is not what the manifest says. Nothing was restored."
  done
  place=$home/postgres
  mkdir "$place"
  [ "$(id -u)" != 0 ] || chown postgres:postgres "$place"
  bash "$SCRIPTS/postgres.sh" start "$place"
  printf '%s' "$place" > "$home/postgres-place"
  connect "$place"
  "$BIN/pg_restore" -h 127.0.0.1 -p "$PORT" -U ladder -d "$DATABASE" --no-owner --exit-on-error "$WORK/database.dump" \
    || fail "The database of $file could not be read. Nothing was restored."
  found=$("$BIN/psql" -qAtX -h 127.0.0.1 -p "$PORT" -U ladder -d "$DATABASE" -c "select coalesce(max(number), 0) from change")
  [ "$found" = "$(value "$WORK/manifest.txt" change)" ] || fail "$file should end at change $(value "$WORK/manifest.txt" change), but ends at $found. Nothing was restored."
  cp "$WORK/client.secret" "$home/client.secret"
  rm -rf "$WORK"
  bash "$SCRIPTS/postgres.sh" stop "$place"
  trap - EXIT
  echo "Restored into $home: change $found. Start it with ./ladder up --home $home"
}

case "${1:-}" in
  make) make "$2" "$3" ;;
  restore) restore "$2" "$3" ;;
  *) fail "backup.sh make HOME FILE | restore FILE HOME" ;;
esac
