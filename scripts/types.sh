#!/usr/bin/env bash
# Write docs/openapi.json and the front end's types from the code. With "check": fail if they are not what it gives.
set -euo pipefail
cd "$(dirname "$0")/.."
export PATH="$PWD/.venv/bin:$PATH"
target=.
if [ "${1:-}" = check ]; then
    target=$(mktemp -d)
    trap 'rm -rf "$target"' EXIT
    mkdir -p "$target/docs" "$target/frontend/src/shared/api"
fi
.venv/bin/tobbix document "$target/docs/openapi.json"
types=frontend/src/shared/api/schema.d.ts
frontend/node_modules/.bin/openapi-typescript "$target/docs/openapi.json" --default-non-nullable=false -o "$target/$types" >/dev/null
if [ "$target" != . ]; then
    for file in docs/openapi.json $types; do
        diff -q "$file" "$target/$file" || { echo "$file is out of date: run make types" >&2; exit 1; }
    done
fi
