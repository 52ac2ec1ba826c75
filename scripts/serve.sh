#!/usr/bin/env bash
# Start and stop an installation:  serve.sh start | stop | reset | prepare
# It is the one in the folder TOBBIX_FOLDER: var, the demo, if that is not said; any other is its owner's and begins empty.
# "prepare" does all but serve, for a service manager.
#
# The keeper (tobbix serve) holds a lock on server.lock there for as long as it lives, and says in server.json where it
# listens and by which token its server is known; the loop that starts it again holds keep.lock. A number in a file is
# no proof: only who holds the lock is stopped.
set -euo pipefail
unset PYTHONDONTWRITEBYTECODE # a start must not compile everything again
cd "$(dirname "$0")/.."
export TOBBIX_FOLDER=${TOBBIX_FOLDER:-var}
folder=$TOBBIX_FOLDER
port=8350
[ "$folder" = var ] || port=8360
mkdir -p "$folder"
exec 8>"$folder/serve.lock"
flock 8

is_served() { ! flock -n "$folder"/server.lock true; }
said() { python3 -c 'import json, sys; print(json.load(open(sys.argv[2] + "/server.json"))[sys.argv[1]])' "$1" "$folder" 2>/dev/null; }

stop_server() {
    stop_older
    if ! flock -n "$folder"/keep.lock true; then
        kill "$(cat "$folder/keep.lock")" 2>/dev/null || true
        for _ in $(seq 40); do is_served && break; sleep 0.1; done # one that the loop has just begun to start
    fi
    is_served || return 0
    kill "$(said pid)" 2>/dev/null || true
    for _ in $(seq 150); do is_served || return 0; sleep 0.1; done
    kill -9 "$(said pid)" 2>/dev/null || true # its children end with it
    for _ in $(seq 50); do is_served || return 0; sleep 0.1; done
    echo "The server does not stop." >&2
    exit 1
}

stop_older() { # a server of before this way of starting: ours only if it runs in this folder and is called so
    local pid
    pid=$(cat "$folder"/server.pid 2>/dev/null) || return 0
    if [ "$(readlink "/proc/$pid/cwd" 2>/dev/null)" = "$PWD" ] && tr '\0' ' ' <"/proc/$pid/cmdline" 2>/dev/null | grep -q 'tobbix.* serve'; then
        kill "$pid" 2>/dev/null || true
        for _ in $(seq 100); do kill -0 "$pid" 2>/dev/null || break; sleep 0.1; done
    fi
    rm -f "$folder"/server.pid "$folder"/address
}

is_well() { # the server at the address is the one that this keeper keeps, and its store answers
    python3 - "$(said address)" "$(said token)" <<'PY' 2>/dev/null
import json, sys, urllib.request
health = json.load(urllib.request.urlopen(sys.argv[1] + "/api/health", timeout=2))
sys.exit(0 if sys.argv[2] and health["instance"] == sys.argv[2] and health["store"] else 1)
PY
}

case ${1:-start} in
stop)
    stop_server
    scripts/cluster.sh stop "$PWD/$folder/cluster"
    echo "Stopped. Everything is kept under $folder/."
    ;;
reset)
    stop_server
    . scripts/environment.sh
    .venv/bin/tobbix demo --reset
    ;;
prepare)
    stop_server
    . scripts/environment.sh
    .venv/bin/tobbix migrate
    ;;
start)
    stop_server # a server from before may run older code, and must not run while the shape of the data changes
    . scripts/environment.sh
    .venv/bin/tobbix migrate
    [ "$folder" != var ] || .venv/bin/tobbix demo
    rm -f "$folder"/server.json
    (umask 077 && : >"$folder"/start.log)
    nohup scripts/keep.sh "${PORT:-$port}" >"$folder"/start.log 2>&1 </dev/null 8>&- &
    loop=$!
    for _ in $(seq 200); do
        if is_well; then
            address=$(said address)
            echo "$address" >"$folder"/address
            echo
            echo "  Tobbix is at  $address"
            if [ "$folder" = var ]; then echo "  Sign in with  lamp over the water"
            else echo "  It is yours and kept under $folder/. The first visit asks for your name and a passphrase."; fi
            echo
            exit 0
        fi
        kill -0 "$loop" 2>/dev/null || break
        sleep 0.2
    done
    echo "The server did not come up. What it said:" >&2
    tail -n 20 "$folder"/start.log "$folder"/keeper.log "$folder"/web.log >&2 2>/dev/null || true
    stop_server
    exit 1
    ;;
esac
