# One command each; every one sets up all it needs by itself.
PYTHON ?= python3.11
VENV ?= .venv
BIN := $(VENV)/bin
READY := $(VENV)/.ready

.PHONY: demo test bench scale servers fuzz legibility renderers format clean

demo: $(READY)
	$(BIN)/yuzen demo gallery

test: $(READY)
	$(BIN)/ruff check .
	$(BIN)/ruff format --check .
	$(BIN)/mypy
	$(BIN)/lint-imports
	$(BIN)/python tools/measure_code.py
	$(BIN)/pytest -n 2 --dist worksteal

servers: $(READY)
	$(BIN)/python tools/servers.py

scale: $(READY)
	$(BIN)/python -m benchmarks.scale

bench: $(READY)
	$(BIN)/python -m benchmarks

fuzz: $(READY)
	$(BIN)/python -m tests.fuzz

legibility: $(READY)
	$(BIN)/python -m tools.legibility 2000

renderers: $(READY)
	ALL_RENDERERS=1 $(BIN)/pytest -n 2 tests/test_svg.py tests/test_read_back.py

format: $(READY)
	$(BIN)/ruff check --fix .
	$(BIN)/ruff format .
	$(BIN)/python -m tools.write_effects
	$(BIN)/python -m tools.write_keywords
	$(BIN)/python -m tools.write_stored
	$(BIN)/ruff format --quiet src/yuzen/brief/keywords.py

clean:
	rm -rf $(VENV) gallery .mypy_cache .pytest_cache .ruff_cache .hypothesis

# Editable, so that the sources in use are the ones in the folder. uv installs in a tenth of pip's time; where
# it cannot, as behind a mirror that only pip is told of, pip does.
$(READY): pyproject.toml
	$(PYTHON) -m venv $(VENV)
	$(BIN)/python -m pip install --quiet uv
	$(BIN)/uv pip install --quiet --python $(BIN)/python --editable ".[dev]" \
		|| $(BIN)/python -m pip install --quiet --no-compile --editable ".[dev]"
	touch $(READY)
