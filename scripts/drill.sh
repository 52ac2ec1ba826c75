#!/usr/bin/env bash
# Restore a backup of your own installation into a database that is thrown away after, and compare:  drill.sh [FILE]
set -euo pipefail
cd "$(dirname "$0")/.."
export TOBBIX_FOLDER=${TOBBIX_FOLDER:-own}
if [ -d /dev/shm ] && [ -w /dev/shm ]; then shared=/dev/shm; else shared=/tmp; fi
cluster=$shared/tobbix-drill-$$
trap 'scripts/cluster.sh stop "$cluster" || true; rm -rf "$cluster"' EXIT
scratch=$(scripts/cluster.sh start "$cluster" throwaway)
.venv/bin/tobbix drill --scratch "$scratch" "$@"
