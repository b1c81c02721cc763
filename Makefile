# Everything a fresh machine needs. Each target sets up first; nothing is installed outside .venv but Qt's system libraries.
PYTHON ?= python3
VENV := .venv
BIN := $(VENV)/bin
STAMP := $(VENV)/.ready

.PHONY: demo test lint bench screenshots setup install-desktop

demo: $(STAMP)
	@$(BIN)/jontel demo

# One thread of linear algebra for each worker: more would wait for each other on the cores that the workers share.
test: $(STAMP)
	OPENBLAS_NUM_THREADS=1 QT_QPA_PLATFORM=offscreen $(BIN)/python -m pytest -n auto

lint: $(STAMP)
	$(BIN)/ruff check .
	$(BIN)/ruff format --check .
	$(BIN)/mypy
	$(BIN)/lint-imports

bench: $(STAMP)
	QT_QPA_PLATFORM=offscreen $(BIN)/python bench/run.py

screenshots: $(STAMP)
	$(BIN)/python tools/shot.py docs/screenshots
	$(BIN)/python tools/sheet.py docs/stitches.png
	QT_QPA_PLATFORM=offscreen $(BIN)/python tools/columns.py docs/columns.png
	$(BIN)/python tools/fonts.py docs/lettering.png
	$(BIN)/python tools/foresight.py docs/forecast.png

setup: $(STAMP)

$(STAMP): pyproject.toml requirements.lock tools/setup.sh
	PYTHON=$(PYTHON) sh tools/setup.sh $(VENV)
	@touch $(STAMP)

install-desktop: $(STAMP)
	install -Dm644 packaging/jontel.desktop $(HOME)/.local/share/applications/jontel.desktop
	install -Dm644 src/jontel/data/icons/jontel.svg $(HOME)/.local/share/icons/hicolor/scalable/apps/jontel.svg
