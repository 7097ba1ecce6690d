# Everything sets itself up: `make demo` and `make test` need nothing but make and Python 3.11.
PYTHON ?= python3
VENV := .venv
BIN := $(VENV)/bin

.PHONY: setup demo test check screenshots bench mutation lock wheel install uninstall clean

setup:
	@PYTHON=$(PYTHON) sh tools/setup.sh

demo: setup
	@sh tools/demo.sh

test: setup
	@sh tools/with-display.sh $(BIN)/python -m pytest -n 2 --dist worksteal tests

check: setup
	$(BIN)/ruff check src tests benchmarks tools
	$(BIN)/ruff format --check src tests benchmarks tools
	$(BIN)/mypy
	$(BIN)/mypy --explicit-package-bases benchmarks tools
	$(BIN)/lint-imports
	@sh tools/with-display.sh $(BIN)/python -m pytest --collect-only -qq tests

screenshots: setup
	@sh tools/with-display.sh $(BIN)/python tools/screenshots.py docs/screenshots

bench: setup
	@sh tools/with-display.sh $(BIN)/python -m pytest benchmarks --benchmark-only

# Only a maintainer runs this: minutes to hours. SAMPLE mutants of each package, drawn by SEED.
SAMPLE ?= 40
SEED ?= 1
mutation: setup
	$(BIN)/python tools/mutation.py --sample $(SAMPLE) --seed $(SEED) advice procedures logbook

# Only a maintainer runs this: it resolves the newest versions and writes their hashes.
lock: setup
	$(BIN)/pip-compile --quiet --strip-extras --allow-unsafe --generate-hashes --no-emit-index-url --no-emit-trusted-host --no-emit-find-links --no-emit-options --extra dev --output-file requirements.lock pyproject.toml
	$(BIN)/python tools/run_lock.py

wheel: setup
	$(BIN)/python -m pip wheel -q --no-deps --no-build-isolation -w dist .

# Below PREFIX; Qt's system libraries are the system's own business (tools/setup.sh names them for Debian).
PREFIX ?= /usr/local
install:
	@PYTHON=$(PYTHON) sh tools/install.sh install $(PREFIX)

uninstall:
	@sh tools/install.sh uninstall $(PREFIX)

clean:
	rm -rf $(VENV) build dist
