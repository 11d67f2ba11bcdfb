# Two commands do everything: `make demo` and `make test`. Each step leaves a stamp and is skipped while
# what it was made from has not changed.

PORT ?= 8321
# Browser tests mostly wait for each other's answers: two for each processor, and one, keep these busy.
WORKERS ?= $(shell expr 2 \* $$(nproc) + 1)
# Compiled once, and not by each of the many processes that tests start.
export PYTHONDONTWRITEBYTECODE =
STAMPS := build/stamps
PY := .venv/bin/python
BIN := .venv/bin
CORE := $(shell find src/icepick -name '*.py' -o -name '*.sql' 2>/dev/null)
FRONT := $(shell find frontend/src frontend/public -type f ! -name schema.d.ts 2>/dev/null) \
         frontend/index.html frontend/vite.config.ts frontend/tsconfig.json
DEMO := $(shell find src/icepick/demo -type f 2>/dev/null)

.PHONY: demo test check check-python check-front vitest demo-book setup build browser bench smoke lock clean

demo: build
	$(BIN)/icepick demo --port $(PORT)

setup: $(STAMPS)/python $(STAMPS)/node

build: $(STAMPS)/front

$(STAMPS)/python: requirements.txt pyproject.toml
	@command -v python3 >/dev/null || { echo "Icepick needs Python 3.11 or newer: install python3 and python3-venv."; exit 1; }
	@python3 -c 'import sys; sys.exit(sys.version_info < (3, 11))' || { echo "Icepick needs Python 3.11 or newer; this is $$(python3 -V)."; exit 1; }
	@test -x $(PY) || python3 -m venv .venv || { echo "python3 can't make a virtual environment: install python3-venv."; exit 1; }
	$(PY) -m pip install --quiet --disable-pip-version-check --require-hashes -r requirements.txt
	$(PY) -m pip install --quiet --disable-pip-version-check --no-deps --no-build-isolation --editable .
	@mkdir -p $(STAMPS) && touch $@

$(STAMPS)/node: frontend/package.json frontend/package-lock.json
	@command -v npm >/dev/null || { echo "Icepick needs Node 20.19 or newer with npm: install nodejs and npm."; exit 1; }
	@node -e 'const [a,b]=process.versions.node.split(".").map(Number); process.exit(a>20||(a==20&&b>=19)?0:1)' \
	  || { echo "Icepick needs Node 20.19 or newer; this is $$(node -v)."; exit 1; }
	cd frontend && npm ci --silent
	@mkdir -p $(STAMPS) && touch $@

# The front end's types come from the API's own description.
$(STAMPS)/types: $(STAMPS)/python $(STAMPS)/node $(CORE)
	$(BIN)/icepick openapi > build/openapi.json
	cd frontend && npm run --silent types >/dev/null
	@touch $@

$(STAMPS)/front: $(STAMPS)/types $(FRONT)
	cd frontend && npm run --silent build -- --logLevel warn
	@touch $@

# The demo's records, entered and examined once a day for all tests; the front end's own tests draw and work with what the API
# answers to them.
demo-book: $(STAMPS)/python
	$(PY) tests/demo_book.py

browser:
	@test -x /usr/bin/chromium-headless-shell || { \
	  command -v apt-get >/dev/null || { echo "The browser tests need /usr/bin/chromium-headless-shell, and this machine has no apt to install it."; exit 1; }; \
	  echo "Installing Debian's chromium-headless-shell for the browser tests."; \
	  SUDO=$$([ "$$(id -u)" = 0 ] || echo sudo); \
	  $$SUDO apt-get update -qq && DEBIAN_FRONTEND=noninteractive $$SUDO apt-get install -y -qq chromium-headless-shell >/dev/null; }

check: check-python check-front

check-python: $(STAMPS)/python
	$(BIN)/ruff format --no-cache --check .
	$(BIN)/ruff check --no-cache .
	$(BIN)/mypy
	$(BIN)/lint-imports

check-front: $(STAMPS)/types
	cd frontend && npm run --silent check

vitest: $(STAMPS)/types demo-book
	cd frontend && npm run --silent test

test: build browser
	@$(MAKE) --no-print-directory -j2 --output-sync=target vitest check-python check-front
	$(PY) -m pytest -n $(WORKERS) --dist loadfile --no-loadscope-reorder

bench: build browser
	ICEPICK_EVERY_DRAW=1 $(PY) -m pytest -n $(WORKERS) --dist loadfile --no-loadscope-reorder
	$(PY) -m pytest benchmarks --benchmark-columns=mean,stddev,max
	$(PY) benchmarks/screen.py
	$(PY) benchmarks/weight.py
	$(PY) benchmarks/convergence.py
	$(PY) benchmarks/healthy.py
	$(PY) benchmarks/diagnosis.py
	$(PY) benchmarks/followed.py
	$(PY) benchmarks/foreign.py 60 6
	$(PY) benchmarks/recordings.py
	$(PY) benchmarks/recorder.py
	$(PY) benchmarks/live_load.py
	$(PY) benchmarks/shop.py
	$(PY) benchmarks/shop.py --visits 100000
	$(PY) benchmarks/killed.py
	$(PY) benchmarks/fleet.py

# Pins every Python package with its hashes; run after changing pyproject.toml.
lock:
	$(BIN)/pip-compile --quiet --generate-hashes --allow-unsafe --strip-extras --no-header --no-emit-index-url \
	  --no-emit-find-links --no-emit-trusted-host --extra bluetooth --extra dev --extra fleet --output-file requirements.txt pyproject.toml

clean:
	rm -rf build .venv frontend/node_modules src/icepick/web/app
