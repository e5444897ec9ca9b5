# demo and test each set up what they need and run, on a machine with python3, pip and make.
PYTHON ?= python3
VENV := .venv
BIN := $(VENV)/bin

.PHONY: demo test lint docs quality bench clean

$(BIN)/python:
	$(PYTHON) -m venv $(VENV)

$(VENV)/.demo: pyproject.toml | $(BIN)/python
	$(BIN)/pip install --quiet --disable-pip-version-check -e '.[trial]'
	touch $@

$(VENV)/.dev: pyproject.toml | $(BIN)/python
	$(BIN)/pip install --quiet --disable-pip-version-check -e '.[all,dev]'
	touch $@ $(VENV)/.demo

demo: $(VENV)/.demo
	$(BIN)/hullsound demo hullsound-demo

test: $(VENV)/.dev
	$(BIN)/python -m pytest -n auto --dist worksteal

lint: $(VENV)/.dev
	$(BIN)/ruff check src tests docs bench
	$(BIN)/ruff format --check src tests docs bench
	$(BIN)/mypy
	$(BIN)/lint-imports

# The pages that the program knows, and the book as a site that opens from disk: docs/site/index.html. A dead link is an error.
docs: $(VENV)/.dev
	$(BIN)/python docs/make.py
	$(BIN)/sphinx-build --quiet --fail-on-warning --keep-going -b html docs docs/site

quality: $(VENV)/.dev
	$(BIN)/python bench/quality.py

# Figures of speed, with their commands, in docs/speed.md.
bench: $(VENV)/.dev
	$(BIN)/python bench/speed.py

clean:
	rm -rf $(VENV) hullsound-demo docs/site
