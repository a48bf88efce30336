#!/usr/bin/env bash
# Every check and test, in the order that finds a mistake soonest. Runs on to the end, so that one
# run shows all that is wrong, and fails if any part failed.
set -uo pipefail
cd "$(dirname "$0")/.."
export PATH="$PWD/.local/node/bin:$PWD/.venv/bin:$PATH"
failed=()
check() {
  local name=$1; shift
  printf '\n== %s\n' "$name"
  "$@" || failed+=("$name")
}
in_frontend() { (cd frontend && "$@"); }
migrations() {
  JUNGOPTIC_DEBUG=1 DJANGO_SETTINGS_MODULE=jungoptic.web.settings \
    python -W ignore -m django makemigrations --check --dry-run 2>/dev/null
}
check "ruff" ruff check .
check "ruff format" ruff format --check .
check "mypy" mypy
check "import-linter" lint-imports
check "migrations" migrations
check "svelte-check" in_frontend npm run -s check
check "eslint and prettier" in_frontend npm run -s lint
check "vitest" in_frontend npm run -s test
check "pytest" python -m pytest -n auto --dist worksteal
if [ "${#failed[@]}" -gt 0 ]; then
  printf '\nFailed: %s\n' "${failed[*]}"
  exit 1
fi
printf '\nEverything passed.\n'
