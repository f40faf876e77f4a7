# One command each; every one sets up all it needs by itself.
# The first of these that is one of the releases that Yuzen runs on, and can make environments.
NAMES := python3.11 python3.12 python3.13 python3.14 python3
FITS := import sys, venv, ensurepip; sys.exit(not (3, 11) <= sys.version_info < (3, 15))
PYTHON ?= $(shell for name in $(NAMES); do $$name -c '$(FITS)' 2>/dev/null && { echo $$name; break; }; done)
VENV ?= .venv
BIN := $(VENV)/bin
READY := $(VENV)/.ready

.PHONY: demo test lint tests docs thorough lowest newest dist bench growth scale servers fuzz legibility office renderers page mutants format clean

demo: $(READY)
	$(BIN)/yuzen demo gallery

# Side by side, as the tests leave their processors idle now and then.
test: $(READY)
	$(MAKE) --no-print-directory -j 2 lint tests

lint:
	$(BIN)/ruff check .
	$(BIN)/ruff format --check .
	$(BIN)/lint-imports
	$(BIN)/python tools/measure_code.py
	$(BIN)/mypy --num-workers 0

tests:
	$(BIN)/pytest -n 2 --dist worksteal

# All that `make test` takes a sample of, and the slow tests.
thorough: $(READY)
	THOROUGH=1 $(BIN)/pytest -n 2 --dist worksteal

servers: $(READY)
	$(BIN)/python tools/servers.py

scale: $(READY)
	$(BIN)/python -m benchmarks.scale

bench: $(READY)
	$(BIN)/python -m benchmarks

# How the time of each job grows when its input is doubled five times.
growth: $(READY)
	$(BIN)/python -m benchmarks.growth

fuzz: $(READY)
	$(BIN)/python -m tests.support.fuzz
	$(BIN)/python -m tests.support.evaluated

legibility: $(READY)
	$(BIN)/python -m tools.legibility 2000

# The tests with the lowest releases that pyproject.toml declares.
lowest:
	$(MAKE) VENV=.venv-lowest RESOLUTION="--resolution lowest-direct" .venv-lowest/.ready
	.venv-lowest/bin/pytest -n 2 --dist worksteal

# The tests and the demo with the newest releases of all packages, where every warning is an error.
newest:
	$(MAKE) VENV=.venv-newest RESOLUTION="--upgrade" .venv-newest/.ready
	.venv-newest/bin/pytest -n 2 --dist worksteal
	cd .venv-newest && bin/python -W error -m yuzen demo gallery

# What a release is made of, in dist/: built twice, equal byte by byte, checked.
dist: $(READY)
	$(BIN)/uv pip install --quiet --python $(BIN)/python --editable ".[release]"
	$(BIN)/python tools/dist.py

# Slides, workbooks and painted files in LibreOffice; it installs nothing, and says what is missing.
office: $(READY)
	@for tool in soffice pdftoppm; do command -v $$tool >/dev/null || echo "$$tool is missing; Debian has it in libreoffice-impress, libreoffice-calc and poppler-utils."; done
	THOROUGH=1 $(BIN)/pytest -n 2 -rs tests/office/test_slides.py tests/office/test_workbooks.py tests/recolor/test_recolor.py

renderers: $(READY)
	ALL_RENDERERS=1 $(BIN)/pytest -n 2 tests/render/test_svg.py tests/render/test_read_back.py
	THOROUGH=1 $(BIN)/pytest -n 2 -rs tests/documents/test_reports.py -k axe

# The page of yuzen edit in a browser; it installs nothing, and says what is missing.
page: $(READY)
	@command -v chromium >/dev/null || echo "chromium is missing; Debian has it in chromium."
	THOROUGH=1 $(BIN)/pytest -n 2 -rs tests/desk

# The site of the documents, in the folder site; it opens without a server.
docs: $(READY)
	NO_MKDOCS_2_WARNING=1 $(BIN)/mkdocs build --strict --quiet
	@echo "The site is in the folder site: open site/index.html"

# What no test notices when the code is broken at one place: 200 places, more than an hour.
mutants: $(READY)
	$(BIN)/python -m tools.mutants

format: $(READY)
	$(BIN)/ruff check --fix .
	$(BIN)/ruff format .
	$(BIN)/python -m tools.write_keywords
	$(BIN)/python -m tools.write_stored
	$(BIN)/ruff format --quiet src/yuzen/brief/keywords.py

clean:
	rm -rf $(VENV) .venv-lowest .venv-newest dist .mutants gallery site .mypy_cache .pytest_cache .ruff_cache .hypothesis

# Editable, so that the sources in use are the ones in the folder. uv installs in a tenth of pip's time; where
# it cannot, as behind a mirror that only pip is told of, pip does.
$(READY): pyproject.toml
	@test -n "$(PYTHON)" || { echo "Yuzen needs Python 3.11 to 3.14 with its venv module, and none is here. Install one, as python3.11 and python3.11-venv."; exit 1; }
	$(PYTHON) -m venv $(VENV)
	$(BIN)/python -m pip install --quiet uv
	$(BIN)/uv pip install --quiet --python $(BIN)/python $(RESOLUTION) --editable ".[dev]" \
		|| $(BIN)/python -m pip install --quiet --no-compile --editable ".[dev]"
	touch $(READY)
