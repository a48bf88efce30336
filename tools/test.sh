#!/usr/bin/env bash
# Every check and test, in the order that finds a mistake soonest. Runs on to the end, so that one
# run shows all that is wrong, and fails if any part failed. `tools/test.sh check` leaves out what
# needs a database or a browser: for between two edits.
#
# What is printed is kept in .local/last-test.log. A green run of everything on a clean tree writes
# that tree down, so that it can be told later which commits have been tested whole.
set -uo pipefail
cd "$(dirname "$0")/.."
export PATH="$PWD/.local/node/bin:$PWD/.venv/bin:$PATH"
what=${1:-all}
mkdir -p .local
exec > >(tee .local/last-test.log) 2>&1
failed=$(mktemp)
trap 'rm -f "$failed"' EXIT
check() {
  local name=$1 began=$SECONDS; shift
  printf '\n== %s\n' "$name"
  "$@" || echo "$name" >>"$failed"
  printf '(%s: %s s)\n' "$name" "$((SECONDS - began))"
}
in_frontend() { (cd frontend && "$@"); }
migrations() {
  JUNGOPTIC_DEBUG=1 DJANGO_SETTINGS_MODULE=jungoptic.web.settings \
    python -W ignore -m django makemigrations --check --dry-run 2>/dev/null
}
# Most of these use one processor: two of them go on side by side.
check "vitest" in_frontend npm run -s test >.local/last-vitest.log 2>&1 &
vitest=$!
check "ruff" ruff check .
check "ruff format" ruff format --check .
# Its Django plugin loads the settings.
check "mypy" env JUNGOPTIC_DEBUG=1 mypy
check "import-linter" lint-imports
if [ "$what" = all ]; then check "migrations" migrations; fi
check "svelte-check" in_frontend npm run -s check
check "eslint and prettier" in_frontend npm run -s lint
wait "$vitest"
cat .local/last-vitest.log
# Native tracebacks: working out the prettier ones can bring a worker down (Python 3.11).
tests=(python -m pytest -n auto --dist worksteal --tb=native -rf)
if [ "$what" = check ]; then tests+=(tests/core); fi
check "pytest" "${tests[@]}"
if [ -s "$failed" ]; then
  printf '\nFailed: %s\n' "$(paste -sd ' ' "$failed")"
  exit 1
fi
if [ "$what" = all ] && [ -z "$(git status --porcelain 2>/dev/null)" ]; then
  state="${XDG_STATE_HOME:-$HOME/.local/state}/jungoptic"
  mkdir -p "$state" && git rev-parse 'HEAD^{tree}' >>"$state/passed"
fi
printf '\nEverything passed.\n'
