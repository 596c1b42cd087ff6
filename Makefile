# Everything is set up in a virtual environment beside this file; the second time it is there.
PYTHON ?= python3
VENV ?= .venv
# The versions to install; empty for the newest that there are.
CONSTRAINTS ?= constraints.txt
BIN := $(VENV)/bin
STAMP := $(VENV)/.set-up
SITE ?= saltmere
# Packages of npm, for tests only: an accessibility engine, a linter, a checker of types and a
# formatter of scripts, and linters of style sheets and pages.
NPM := axe-core@4.14.1 eslint@10.15.0 @eslint/js@10.0.1 globals@17.14.0 typescript@5.9.3 \
	prettier@3.6.2 stylelint@17.16.0 stylelint-config-standard@40.0.0 html-validate@10.17.0
# More processes than cores where these are few: some of them wait for a browser.
WORKERS ?= $(shell $(PYTHON) -c 'import os; cores = os.cpu_count() or 1; print(max(cores, min(3 * cores, 8)))')
# Each of the suite's many processes would compile all modules anew where this is set.
export PYTHONDONTWRITEBYTECODE :=
INSTALL := $(BIN)/python -m pip install --quiet --disable-pip-version-check \
	$(if $(CONSTRAINTS),--constraint $(CONSTRAINTS))

.PHONY: demo test test-thorough test-newest constraints dist bench fuzz pictures clean

demo: $(STAMP)
	$(BIN)/rising-lantern demo $(SITE)

test: $(STAMP)
	$(BIN)/ruff check src tests benchmarks docs examples fuzz
	$(BIN)/ruff format --check src tests benchmarks docs examples fuzz
	$(BIN)/mypy
	$(BIN)/pytest -n $(WORKERS) --dist loadscope --no-loadscope-reorder

# All cases of the suite, where `test` tries some of many alike.
test-thorough: $(STAMP)
	$(BIN)/pytest --thorough -n $(WORKERS) --dist loadscope --no-loadscope-reorder

# The suite with the newest release of every dependency.
test-newest:
	$(MAKE) test VENV=.venv-newest CONSTRAINTS=

# Takes over the newest releases, once the suite passes with them.
constraints: test-newest
	{ head -n 1 constraints.txt; .venv-newest/bin/python -m pip freeze --exclude-editable; } > .constraints.txt
	mv .constraints.txt constraints.txt

# Ratios of one run, printed and written to bench.json.
bench: $(STAMP)
	for name in frames contrast sample_site cold many_pages reading; do $(BIN)/python benchmarks/$$name.py || exit 1; done

# Every picture of the docs and the examples; needs chromium, chromium-driver, xvfb and xterm.
pictures: $(STAMP)
	$(BIN)/python docs/pictures.py

# The wheel and the source distribution.
dist: $(STAMP)
	rm -rf dist
	$(BIN)/python -m build --no-isolation --outdir dist

# Random input from strangers, for some minutes; not a part of the suite.
fuzz: $(STAMP)
	$(BIN)/python fuzz/strangers.py $(or $(MINUTES),10)

# The build back end is installed first, so that its version is held as well.
$(STAMP): pyproject.toml $(CONSTRAINTS)
	test -x $(BIN)/python || $(PYTHON) -m venv $(VENV)
	$(INSTALL) hatchling editables
	$(INSTALL) --no-build-isolation --editable '.[dev]'
	if command -v npm >/dev/null; then npm install --silent --no-audit --no-fund --no-save \
		--no-package-lock --prefix $(VENV) $(NPM); fi
	touch $@

clean:
	rm -rf .venv .venv-newest dist $(SITE)
