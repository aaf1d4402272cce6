# Two words are enough on a fresh machine: `make demo` and `make test`.
# Everything they need is set up by themselves, once, and again when its list changes.

PYTHON ?= python3
PORT   ?= 8730
BIN    := .venv/bin
SHELL  := /bin/bash
.DEFAULT_GOAL := help
.PHONY: help setup demo run devices account test bench qa shots schema clean need

help:            ## Say what there is
	@grep -hE '^[a-z]+: .*##' $(MAKEFILE_LIST) | sed -E 's/: .*## /\t/' | expand -t 12

need:
	@bash tools/need.sh $(PYTHON)

.make/run: requirements.txt | need
	@mkdir -p .make
	@test -x $(BIN)/python || $(PYTHON) -m venv .venv
	@echo "Fetching the server's packages ..."
	@$(BIN)/python -m pip install -q --no-compile --disable-pip-version-check --require-hashes -r requirements.txt 2> .make/pip.log || (cat .make/pip.log; exit 1)
	@touch $@

.make/dev: requirements-dev.txt .make/run
	@echo "Fetching what the checks need ..."
	@$(BIN)/python -m pip install -q --no-compile --disable-pip-version-check --require-hashes -r requirements-dev.txt 2> .make/pip.log || (cat .make/pip.log; exit 1)
	@touch $@

.make/npm: web/package.json web/package-lock.json web/.npmrc | need
	@mkdir -p .make
	@echo "Fetching what the screens need ..."
	@cd web && npm ci --no-progress --loglevel=error > ../.make/npm.log 2>&1 || (cat ../.make/npm.log; exit 1)
	@touch $@

WEB := $(shell find web/src web/public -type f 2>/dev/null) web/index.html web/vite.config.ts web/svelte.config.js

.make/web: .make/npm .make/run $(WEB)
	@echo "Building the screens ..."
	@cd web && npm run --silent build > ../.make/build.log 2>&1 || (cat ../.make/build.log; exit 1)
	@$(BIN)/python manage.py collectstatic --noinput --clear -v0
	@touch $@

setup: .make/dev .make/web    ## Install and build everything

demo: .make/web    ## Start the app with the invented canal yard
	@$(BIN)/python manage.py migrate -v0
	@$(BIN)/python manage.py load_demo
	@KILN_DEMO=1 $(BIN)/python tools/serve.py $(PORT)

run: .make/web    ## Start the app for real work, without the demo
	@$(BIN)/python manage.py migrate -v0
	@$(BIN)/python tools/serve.py $(PORT)

devices: .make/run    ## Start a simulated scale, climate logger and moisture meter
	@PYTHONPATH=src $(BIN)/python -m kilndevices

account: .make/run    ## Create an account: make account NAME=ada
	@test -n "$(NAME)" || (echo "Say who: make account NAME=ada"; exit 1)
	@$(BIN)/python manage.py migrate -v0
	@$(BIN)/python manage.py create_account "$(NAME)"

.make/chromium: .make/dev
	@bash tools/chromium.sh
	@touch $@

test: setup .make/chromium    ## Run every check and test
	@$(MAKE) --no-print-directory qa
	@cd web && npm run --silent test
	@$(BIN)/python -m pytest

qa: .make/dev .make/npm    ## Style, types and the arrows between rooms
	@$(BIN)/ruff check src tests tools bench
	@$(BIN)/ruff format --check -q src tests tools bench
	@$(BIN)/mypy
	@PYTHONPATH=src $(BIN)/lint-imports --no-cache > .make/arrows.log 2>&1 || (cat .make/arrows.log; exit 1)
	@cd web && npm run --silent lint && npm run --silent check

bench: setup    ## Measure speed and coverage of the forecasts
	@PYTHONPATH=src:. $(BIN)/python -m bench.report

shots: setup .make/chromium    ## Refresh the pictures in docs/screenshots
	@PYTHONPATH=src $(BIN)/python tools/shots.py

schema: .make/run .make/npm    ## Write the API's schema and the browser's types of it
	@$(BIN)/python manage.py shell -v0 -c "import json,pathlib; from server.config.mount import api; pathlib.Path('web/openapi.json').write_text(json.dumps(api.get_openapi_schema(), indent=1, sort_keys=True)+'\n')"
	@cd web && npm run --silent types > /dev/null

clean:           ## Throw away what was installed and built; recorded data stays
	rm -rf .make .venv web/node_modules web/dist static
