# Toad Bell. `make` alone lists what there is.
.DEFAULT_GOAL := help
.PHONY: help demo run share test lint types client client-check core server browser vitest shots bench soak plant icons study study-low-holds study-kinds strangers doctor tables empty stored cautions link lock chromium clean backup restore
PYTHON ?= python3
PORT ?= 8000
DATA ?= $(CURDIR)/data
PY := .venv/bin/python
ENV := .venv/.ready
MODULES := web/node_modules/.ready
DIST := web/dist/.ready
SCHEMA := web/src/api/schema.d.ts

help: ## list the targets
	@echo "Toad Bell: hydrostatic testing of small pressure vessels. First time here? Try: make demo"
	@grep -hE '^[a-z-]+:.*## ' $(MAKEFILE_LIST) | sed -E 's/^([a-z-]+):.*## (.*)/  make \1|\2/' | column -t -s '|' 2>/dev/null || grep -hE '^[a-z-]+:.*## ' $(MAKEFILE_LIST)

demo: $(ENV) $(DIST) ## set everything up and start it with the demo workshop (PORT=8000)
	@TOADBELL_DATA=$(DATA)/demo $(PY) manage.py serve --demo --port $(PORT)

run: $(ENV) $(DIST) ## the same with your own database, which is kept (DATA=./data, PORT=8000)
	@TOADBELL_DATA=$(DATA) $(PY) manage.py serve --port $(PORT)

share: $(ENV) $(DIST) ## run, open to the workshop's own network for four hours (ADDRESS=192.168.…)
	@TOADBELL_DATA=$(DATA) $(PY) manage.py serve --port $(PORT) --share $(ADDRESS)

test: $(ENV) $(DIST) chromium lint types client-check vitest ## set everything up and run every check and test
	@$(PY) -m compileall -q toadbell tests tools
	TOADBELL_DATA=$(CURDIR)/data/test $(PY) -m pytest -n 3 --dist loadgroup --durations=10 tests

lint: $(ENV) $(MODULES) ## ruff, import contracts, eslint
	$(PY) -m ruff check toadbell tests tools
	$(PY) -m ruff format --check toadbell tests tools
	.venv/bin/lint-imports --no-cache > .venv/imports.log || { cat .venv/imports.log; exit 1; }
	cd web && npm run --silent lint

types: $(ENV) $(MODULES) ## mypy and tsc
	TOADBELL_DATA=$(CURDIR)/data/test $(PY) -m mypy
	cd web && npm run --silent types

core: $(ENV) ## tests of the core alone
	TOADBELL_DATA=$(CURDIR)/data/test $(PY) -m pytest -n 2 --dist loadgroup tests/core

server: $(ENV) $(DIST) ## tests of the server alone
	TOADBELL_DATA=$(CURDIR)/data/test $(PY) -m pytest -n 2 --dist loadgroup tests/server

browser: $(ENV) $(DIST) chromium ## tests in the browser alone
	TOADBELL_DATA=$(CURDIR)/data/test $(PY) -m pytest -n 2 --dist loadgroup tests/browser

vitest: $(MODULES) ## tests of the browser's own small modules
	cd web && npm run --silent test

client: $(ENV) $(MODULES) ## make the TypeScript client anew from the API
	@TOADBELL_DATA=$(CURDIR)/data/test $(PY) tools/client.py

client-check: $(ENV) $(MODULES) ## fails when the TypeScript client is stale
	@TOADBELL_DATA=$(CURDIR)/data/test $(PY) tools/client.py --check

shots: $(ENV) $(DIST) chromium ## write docs/screenshots from the demo workshop
	$(PY) tools/shots.py

bench: $(ENV) $(DIST) chromium ## print speeds beside their goals and the last release's, of a big workshop too (READINGS=5000000)
	-TOADBELL_DATA=$(CURDIR)/data/test $(PY) tools/speeds.py
	TOADBELL_DATA=$(CURDIR)/data/test $(PY) tools/bench.py
	TOADBELL_DATA=$(CURDIR)/data/test $(PY) tools/big.py $(READINGS)
	TOADBELL_DATA=$(CURDIR)/data/test $(PY) tools/by_schema.py

tables: $(ENV) ## write the tables that the core begins with: units, water, steam, the judge's points
	$(PY) tools/tables.py

empty: $(ENV) ## write the database that a workshop begins with, after a migration was added
	$(PY) tools/empty.py

stored: $(ENV) ## write tests/stored/<release>, which every later release must open; once, as a release is made
	$(PY) tools/stored.py

cautions: $(ENV) ## write docs/cautions.md, every stop and caution with its sentence, from the code
	$(PY) tools/cautions.py

soak: $(ENV) $(DIST) ## everything at once for ten minutes, with kills, full disks and clocks put wrong (MINUTES=10)
	TOADBELL_DATA=$(CURDIR)/data/test $(PY) tools/soak.py $(or $(MINUTES),10)

plant: $(ENV) $(MODULES) ## plant faults one at a time, and see that the tests catch each (half an hour)
	$(PY) tools/plant.py

icons: $(ENV) chromium ## draw the icons of the installed application anew
	PYTHONPATH=$(CURDIR) $(PY) tools/icons.py

study: $(ENV) ## judge thousands of random holds, and write docs/judge-study.md (half an hour)
	OPENBLAS_NUM_THREADS=1 $(PY) tools/study_judge.py 2000

study-kinds: $(ENV) ## judge random trials of the other kinds, and write their table into docs/judge-study.md (five minutes)
	OPENBLAS_NUM_THREADS=1 $(PY) tools/study_kinds.py 400

strangers: $(ENV) ## what strangers on the network can do to the desk and to a phone, measured (two minutes)
	@$(PY) tools/strangers.py 10

doctor: $(ENV) ## look the workshop over: the database, its chains, all that was signed (DATA=./data)
	@TOADBELL_DATA=$(DATA) $(PY) manage.py doctor

study-low-holds: $(ENV) ## judge random runs with low holds and without, and write docs/judge-study-low-holds.md (ten minutes)
	OPENBLAS_NUM_THREADS=1 $(PY) tools/study_low_holds.py 800

link: $(ENV) ## a link of one use that lets another browser in (DATA=./data, PORT=8000)
	@TOADBELL_DATA=$(DATA) $(PY) manage.py link --port $(PORT)

backup: $(ENV) ## back everything up into one file (DATA=./data)
	@TOADBELL_DATA=$(DATA) $(PY) manage.py backup

restore: $(ENV) ## put everything back as it was in a backup (FILE=…, DATA=./data); how it is now is backed up first
	@[ -n "$(FILE)" ] || { echo "Which backup? make restore FILE=$(DATA)/backups/toad-bell-….zip"; exit 1; }
	@TOADBELL_DATA=$(DATA) $(PY) manage.py restore "$(FILE)"

lock: $(ENV) ## lock Python's and npm's packages anew, naming no host
	.venv/bin/uv pip compile --python-version 3.11 --no-emit-index-url --generate-hashes -q requirements/dev.in -o requirements/dev.txt
	.venv/bin/uv pip compile --python-version 3.11 --no-emit-index-url --generate-hashes -q requirements/uv.in -o requirements/uv.txt
	cd web && npm install --package-lock-only --ignore-scripts && npm ci --dry-run

clean: ## take away what was set up; databases stay
	rm -rf .venv web/node_modules web/dist *.egg-info

chromium: # Debian's headless build, a third quicker; the whole one will do
	@has() { command -v chromium-headless-shell >/dev/null 2>&1 || command -v chromium >/dev/null 2>&1; }; \
	get() { DEBIAN_FRONTEND=noninteractive $$SUDO apt-get install -y -q --no-install-recommends $$1 >/dev/null 2>&1; }; \
	has || { \
	  echo "Chromium is missing: installing Debian's"; \
	  SUDO=$$([ "$$(id -u)" = 0 ] || command -v sudo); \
	  $$SUDO apt-get update -q >/dev/null 2>&1; \
	  get chromium-headless-shell || get chromium; \
	  has || { echo "Chromium could not be installed: install your system's package chromium, then try again"; exit 1; }; }

$(ENV): requirements/dev.txt requirements/uv.txt pyproject.toml
	@$(PYTHON) -c 'import sys; sys.exit(sys.version_info < (3, 11))' || { echo "Python 3.11 or newer is needed: make PYTHON=python3.12 …"; exit 1; }
	@echo "Setting up Python …"
	@[ -x $(PY) ] || $(PYTHON) -m venv .venv
	@$(PY) -m pip install -q --disable-pip-version-check --require-hashes -r requirements/uv.txt
	@.venv/bin/uv pip sync -q --python $(PY) --require-hashes --compile-bytecode requirements/dev.txt
	@.venv/bin/uv pip install -q --python $(PY) --no-deps --no-build-isolation --config-setting editable_mode=compat -e .
	@$(PY) -m compileall -q toadbell
	@touch $@

$(MODULES): web/package-lock.json web/.npmrc
	@node -e 'process.exit(+process.versions.node.split(".")[0] < 20 ? 1 : 0)' || { echo "Node 20 or newer is needed"; exit 1; }
	@echo "Setting up the browser application's packages …"
	@cd web && npm ci --loglevel=error
	@touch $@

$(DIST): $(MODULES) $(shell find web/src web/public web/index.html web/vite.config.ts -type f 2>/dev/null) | $(ENV)
	@echo "Building the browser application …"
	@cd web && npm run --silent build -- --logLevel warn
	@$(PY) -m whitenoise.compress -q web/dist
	@touch $@
