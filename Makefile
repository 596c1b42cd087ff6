# Everything is set up in a virtual environment beside this file; the second time it is there.
PYTHON ?= python3
VENV := .venv
BIN := $(VENV)/bin
STAMP := $(VENV)/.set-up
SITE ?= saltmere

.PHONY: demo test lint bench clean

demo: $(STAMP)
	$(BIN)/rising-lantern demo $(SITE)

test: $(STAMP)
	$(BIN)/ruff check src tests benchmarks
	$(BIN)/ruff format --check src tests benchmarks
	$(BIN)/mypy
	$(BIN)/pytest -n auto --dist loadscope

bench: $(STAMP)
	for file in benchmarks/*.py; do $(BIN)/python $$file || exit 1; done

$(STAMP): pyproject.toml
	test -x $(BIN)/python || $(PYTHON) -m venv $(VENV)
	$(BIN)/python -m pip install --quiet --disable-pip-version-check --editable '.[dev]'
	touch $@

clean:
	rm -rf $(VENV) $(SITE)
