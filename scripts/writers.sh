# Several who publish at once and remember what was acknowledged to them; read by scripts that try faults. DIR is a folder of the
# script that reads this, API the address of the server's interface.

# free_port : a port of loopback that nobody uses
free_port() {
  local port
  while :; do
    port=$((20000 + RANDOM % 30000))
    (exec 3<>"/dev/tcp/127.0.0.1/$port") 2>/dev/null || { echo "$port"; return; }
  done
}

# write N ACCOUNT : renames an account again and again, each change sent under its key until it is acknowledged; notes when.
write() {
  local n=0 base body status
  while [ ! -e "$DIR/stop" ]; do
    n=$((n + 1))
    until base=$(curl -s --max-time 5 "$API/session" | grep -o '"change":[0-9]*' | cut -d: -f2); do
      [ ! -e "$DIR/stop" ] || return 0
      sleep 0.1
    done
    body="{\"base\":$base,\"note\":\"writer $1 change $n\",\"edits\":[{\"kind\":\"amend-account\",\"account\":\"$2\",\"members\":{\"displayName\":\"Writer $1, $n\"}}]}"
    while [ ! -e "$DIR/stop" ]; do
      status=$(curl -s -o "$DIR/answer-$1" -w '%{http_code}' --max-time 30 -H 'Content-Type: application/json' -H "Idempotency-Key: $1-$n" -d "$body" "$API/changes" || true)
      [ "$status" != 201 ] || { echo "$(date +%s%N) writer $1 change $n" >> "$DIR/acknowledged-$1"; break; }
      echo "$status $(sed -n 's/.*"detail":"\([^"]*\)".*/\1/p' "$DIR/answer-$1")" >> "$DIR/refused"
      sleep 0.1
    done
  done
}

# begin_writing N : has so many write from now on, each about an account of its own
begin_writing() {
  local account accounts
  accounts=$(curl -sf "$API/directory/people?count=$1" | grep -o '"id":"[^"]*"' | cut -d'"' -f4 | head -n "$1")
  WRITING=()
  touch "$DIR/refused"
  for account in $accounts; do
    write $((${#WRITING[@]} + 1)) "$account" &
    WRITING+=($!)
  done
}

# end_writing : has them all come to an end
end_writing() {
  touch "$DIR/stop"
  wait "${WRITING[@]}" || true
}

# account_for WORDS : says what was acknowledged, lost and stored twice, and leaves the numbers in LOST and TWICE
account_for() {
  local before= page
  cat "$DIR"/acknowledged-* | sort -n > "$DIR/acknowledged"
  : > "$DIR/stored"
  while :; do
    page=$(curl -sf "$API/changes?limit=200${before:+&before=$before}")
    grep -o 'writer [0-9]* change [0-9]*' <<<"$page" >> "$DIR/stored" || true
    before=$(sed -n 's/.*"next":\([0-9]*\).*/\1/p' <<<"$page")
    [ -n "$before" ] || break
  done
  cut -d' ' -f2- "$DIR/acknowledged" | sort > "$DIR/promised"
  sort -u "$DIR/stored" > "$DIR/there"
  LOST=$(comm -23 "$DIR/promised" "$DIR/there" | wc -l)
  TWICE=$(sort "$DIR/stored" | uniq -d | wc -l)
  echo "$1: $(wc -l < "$DIR/promised") changes acknowledged, $LOST of them lost, $TWICE stored twice"
  awk 'NR > 1 && $1 - last > most { most = $1 - last } { last = $1 } END { printf "the longest time without an acknowledgement: %.1f s\n", most / 1e9 }' "$DIR/acknowledged"
  echo "refusals meanwhile:"
  sort "$DIR/refused" | uniq -c | sort -rn | head -n 5
}
