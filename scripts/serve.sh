#!/usr/bin/env bash
# Start and stop the demo installation under var/:  serve.sh start | stop | reset
set -euo pipefail
cd "$(dirname "$0")/.."
mkdir -p var
exec 8>var/serve.lock
flock 8

running() { [ -f var/server.pid ] && kill -0 "$(cat var/server.pid)" 2>/dev/null; }

stop_server() {
    if running; then
        kill "$(cat var/server.pid)"
        for _ in $(seq 100); do running || break; sleep 0.1; done
        if running; then kill -9 "$(cat var/server.pid)"; fi
    fi
    rm -f var/server.pid var/address
}

case ${1:-start} in
stop)
    stop_server
    scripts/cluster.sh stop "$PWD/var/cluster"
    echo "Stopped. Everything is kept under var/."
    ;;
reset)
    stop_server
    scripts/cluster.sh start "$PWD/var/cluster" >/dev/null
    . scripts/environment.sh
    .venv/bin/tobbix demo --reset
    ;;
start)
    . scripts/environment.sh
    .venv/bin/tobbix migrate
    .venv/bin/tobbix demo
    stop_server # a server from before may run older code
    port=${PORT:-8350}
    while ! python3 -c 'import socket, sys; s = socket.socket(); s.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1); s.bind(("127.0.0.1", int(sys.argv[1])))' "$port" 2>/dev/null; do
        port=$((port + 1))
    done
    nohup .venv/bin/tobbix serve --port "$port" --pid var/server.pid >>var/server.log 2>&1 </dev/null 8>&- &
    for _ in $(seq 150); do
        if python3 -c 'import sys, urllib.request; urllib.request.urlopen(sys.argv[1], timeout=2)' "http://127.0.0.1:$port/api/health" 2>/dev/null; then
            echo "http://127.0.0.1:$port" >var/address
            echo
            echo "  Tobbix is at  http://127.0.0.1:$port"
            echo "  Sign in with  lamp over the water"
            echo
            exit 0
        fi
        sleep 0.2
    done
    echo "The server did not come up; the end of var/server.log:" >&2
    tail -n 20 var/server.log >&2
    exit 1
    ;;
esac
