#!/usr/bin/env bash
# Start and stop the demo installation under var/:  serve.sh start | stop | reset
#
# The keeper (tobbix serve) holds a lock on var/server.lock for as long as it lives, and says in var/server.json where it
# listens and by which token its server is known; the loop that starts it again holds var/keep.lock. A number in a file is
# no proof: only who holds the lock is stopped.
set -euo pipefail
unset PYTHONDONTWRITEBYTECODE # a start must not compile everything again
cd "$(dirname "$0")/.."
mkdir -p var
exec 8>var/serve.lock
flock 8

is_served() { ! flock -n var/server.lock true; }
said() { python3 -c 'import json, sys; print(json.load(open("var/server.json"))[sys.argv[1]])' "$1" 2>/dev/null; }

stop_server() {
    stop_older
    if ! flock -n var/keep.lock true; then
        kill "$(cat var/keep.lock)" 2>/dev/null || true
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
    pid=$(cat var/server.pid 2>/dev/null) || return 0
    if [ "$(readlink "/proc/$pid/cwd" 2>/dev/null)" = "$PWD" ] && tr '\0' ' ' <"/proc/$pid/cmdline" 2>/dev/null | grep -q 'tobbix.* serve'; then
        kill "$pid" 2>/dev/null || true
        for _ in $(seq 100); do kill -0 "$pid" 2>/dev/null || break; sleep 0.1; done
    fi
    rm -f var/server.pid var/address
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
    scripts/cluster.sh stop "$PWD/var/cluster"
    echo "Stopped. Everything is kept under var/."
    ;;
reset)
    stop_server
    . scripts/environment.sh
    .venv/bin/tobbix demo --reset
    ;;
start)
    stop_server # a server from before may run older code, and must not run while the shape of the data changes
    . scripts/environment.sh
    .venv/bin/tobbix migrate
    .venv/bin/tobbix demo
    rm -f var/server.json
    (umask 077 && : >var/start.log)
    nohup scripts/keep.sh "${PORT:-8350}" >var/start.log 2>&1 </dev/null 8>&- &
    loop=$!
    for _ in $(seq 200); do
        if is_well; then
            address=$(said address)
            echo "$address" >var/address
            echo
            echo "  Tobbix is at  $address"
            echo "  Sign in with  lamp over the water"
            echo
            exit 0
        fi
        kill -0 "$loop" 2>/dev/null || break
        sleep 0.2
    done
    echo "The server did not come up. What it said:" >&2
    tail -n 20 var/start.log var/keeper.log var/web.log >&2 2>/dev/null || true
    stop_server
    exit 1
    ;;
esac
