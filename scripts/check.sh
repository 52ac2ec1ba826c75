#!/usr/bin/env bash
# Every check: linters, types, import rules, documents, front end, then pytest with a real database and browser.
set -euo pipefail
unset PYTHONDONTWRITEBYTECODE # many short processes are started: they must not compile everything again
cd "$(dirname "$0")/.."
export PATH="$PWD/.venv/bin:$PATH"
say() { echo "-- $*"; }

say "front end, beside the Python"
(cd frontend && npm run --silent check && npm run --silent test -- --reporter=dot) >var/front-end.log 2>&1 &
front_end=$!
trap 'kill $front_end 2>/dev/null || true' EXIT
say "format and lint"
ruff format --check -q tobbix tests scripts
ruff check -q tobbix tests scripts
say "types"
mypy
say "import rules"
lint-imports --no-logo >var/imports.log 2>&1 || { cat var/imports.log; exit 1; }
say "the API's document and the front end's types"
scripts/types.sh check
say "packages"
python scripts/packages.py check
say "rules"
python scripts/rules.py check
say "front end"
wait $front_end || { cat var/front-end.log; exit 1; }

say "tests"
if [ -d /dev/shm ] && [ -w /dev/shm ]; then shared=/dev/shm; else shared=/tmp; fi
cluster=$shared/tobbix-check-$$
trap 'scripts/cluster.sh stop "$cluster" || true; rm -rf "$cluster"' EXIT
TOBBIX_TEST_DATABASE_URL=$(scripts/cluster.sh start "$cluster" throwaway)
export TOBBIX_TEST_DATABASE_URL
pytest -n 2 --dist loadfile --no-loadscope-reorder # in the order of the files: the long ones are not the last
