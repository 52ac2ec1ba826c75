#!/usr/bin/env bash
# Start the keeper again should it be killed; a keeper that is stopped in order, or never came up, ends this:  keep.sh PORT
# It holds a lock, with its number in the locked file, so that it can be stopped by what is proven to be it.
set -u
cd "$(dirname "$0")/.."
folder=${TOBBIX_FOLDER:-var}
exec 9>>"$folder/keep.lock"
flock -n 9 || exit 1
echo $$ >"$folder/keep.lock"
while ! .venv/bin/tobbix serve --port "$1" --next-free --folder "$folder" --cluster "$PWD/$folder/cluster" 9>&-; do
    [ -f "$folder/server.json" ] || exit 1
    sleep 0.3 9>&-
done
