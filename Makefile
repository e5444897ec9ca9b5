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

docs: $(VENV)/.dev
	$(BIN)/python docs/make.py

quality: $(VENV)/.dev
	$(BIN)/python bench/quality.py

bench: $(VENV)/.dev
	$(BIN)/python bench/run.py
	$(BIN)/python bench/commands.py
	$(BIN)/python bench/plan.py
	$(BIN)/python bench/page.py

clean:
	rm -rf $(VENV) hullsound-demo
