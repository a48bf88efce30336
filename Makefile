# Everything a person needs: `make demo` and `make test` do all set-up themselves.
SHELL := /bin/bash
export PATH := $(CURDIR)/.local/node/bin:$(PATH)
PYTHON := .venv/bin/python
LOCK := .local/tools/bin/uv pip compile pyproject.toml --generate-hashes --python-version 3.11 --universal -q --no-header

.PHONY: help setup demo dev test check schema proof bench siege screenshots demo-pictures format lock sbom stop
help:
	@echo "make demo         set everything up and serve the demo on 127.0.0.1 (PORT=8000)"
	@echo "make test         set everything up and run every check and test"
	@echo "make check        the checks and tests of a few minutes, for between two edits"
	@echo "make dev          the same with hot reload, for working on the code"
	@echo "make schema       the API against its own description, by random requests"
	@echo "make proof        film 200 random plans in simulation, compare, write docs/proof.md"
	@echo "make bench        measure, as ratios in one run; writes docs/benchmarks.md"
	@echo "make siege        kill, confuse and crowd it for MINUTES=20; adds to docs/reliability.md"
	@echo "make screenshots  take docs/screenshots/ again from the demo data"
	@echo "make demo-pictures  develop the pictures that come with the demo again"
	@echo "make format       format all code"
	@echo "make sbom         what is in it, as two CycloneDX files in .local/sbom"
	@echo "make stop         stop a demo database left behind"

setup:
	@tools/setup.sh

demo: setup
	@exec $(PYTHON) tools/serve.py demo

dev: setup
	@exec $(PYTHON) tools/serve.py dev

test: setup
	@tools/test.sh

check: setup
	@tools/test.sh check

schema: setup
	@$(PYTHON) -W ignore tools/schema_check.py

proof: setup
	@$(PYTHON) -m proof

bench: setup
	@$(PYTHON) -m benchmarks

siege: setup
	@$(PYTHON) -m siege

screenshots: setup
	@$(PYTHON) tools/screenshots.py

demo-pictures: setup
	@$(PYTHON) tools/demo_pictures.py

format: setup
	@.venv/bin/ruff check --fix -q . ; .venv/bin/ruff format -q . ; cd frontend && npm run -s format

lock: setup
	@$(LOCK) --group dev --extra render -o requirements.lock
	@$(LOCK) --extra render --extra s3 -c requirements.lock -o requirements-server.lock

sbom: setup
	@$(PYTHON) tools/sbom.py .local/sbom

stop:
	@$(PYTHON) tools/cluster.py stop demo; $(PYTHON) tools/cluster.py stop test
