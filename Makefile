# make demo · make test · make test-quick · make check · make attack · make bench
SHELL := /bin/bash
export PATH := $(CURDIR)/.venv/bin:$(PATH)
export PIP_DISABLE_PIP_VERSION_CHECK := 1
# Tests start the program many times: what is compiled is kept.
unexport PYTHONDONTWRITEBYTECODE
WEB_SOURCES := $(shell find web/src web/public -type f) $(wildcard web/*.html web/*.ts web/tsconfig.json)
WEB := src/tropeion/web_dist/index.html
# Installs the lock file in seconds.
UV := 0.13.9

# Paths and options for pytest: make test ARGS='tests/core -k focus'
ARGS ?=

.PHONY: demo test run-tests test-quick check check-python check-web attack bench web generate wheel clean

demo: $(WEB)
	@tropeion demo $(ARGS)

# Two strands at a time: while the browser is waited for, the linters have a core.
test:
	@$(MAKE) --no-print-directory -j2 --output-sync=target .make/browser $(WEB)
	@$(MAKE) --no-print-directory -j2 check run-tests

run-tests: .make/browser $(WEB)
	pytest -n 2 --dist worksteal $(ARGS)

# Core and API without generated requests, for the hand.
test-quick: .make/python
	pytest -n 2 --dist worksteal tests/core tests/api --ignore tests/api/test_fuzz.py $(ARGS)

check: check-python check-web

check-python: .make/python
	ruff check .
	ruff format --check .
	mypy
	lint-imports

check-web: .make/python $(WEB)
	cd web && npm run --silent lint && npm run --silent test
	python tools/generate.py --check

# All of the tests, with every case of its kind, every point of every kill and many times the examples.
attack: .make/browser $(WEB)
	@echo "this takes about an hour on two cores"
	TROPEION_ATTACK=1 pytest -n 2 --dist worksteal $(ARGS)

bench: $(WEB) .make/browser
	python -m benchmarks.run $(ARGS)

web: $(WEB)

# The OpenAPI document, the browser's types, the gear file's schema and the catalogues in docs/.
generate: .make/python .make/node
	python tools/generate.py

wheel: $(WEB)
	python -m hatchling build -t wheel

clean:
	rm -rf .make .venv web/node_modules src/tropeion/web_dist dist

.make/python: requirements.lock pyproject.toml tools/prepare.sh
	@mkdir -p .make
	tools/prepare.sh python
	test -d .venv || python3.11 -m venv .venv
	.venv/bin/pip install --quiet --no-compile uv==$(UV)
	.venv/bin/uv pip install --quiet --require-hashes --no-deps -r requirements.lock
	.venv/bin/uv pip install --quiet --no-deps --no-build-isolation -e .
	@touch $@

.make/node: $(if $(shell tools/prepare.sh has-node && echo yes),,.make/python) web/package.json web/package-lock.json
	@mkdir -p .make
	tools/prepare.sh node
	cd web && npm ci --no-audit --no-fund --loglevel=error --prefer-offline
	@touch $@

.make/browser: .make/python
	tools/prepare.sh browser
	@touch $@

$(WEB): .make/node $(WEB_SOURCES)
	cd web && npm run --silent build
