"""Benchmarks of whole processes: a call beside the script, and beside bare Python."""

from __future__ import annotations

import os
import sys
import tempfile
from pathlib import Path
from subprocess import run
from typing import TYPE_CHECKING, Final

import yuzen as yz
from benchmarks.timing import Case

if TYPE_CHECKING:
    from collections.abc import Callable

ROUTES: Final = Path(yz.__file__).parent / "demo" / "data" / "routes.csv"
FOLDER: Final = Path(tempfile.mkdtemp(prefix="yuzen-bench-"))
KEEP: Final = 'service = "ferry" and month after "2025-06"'
RULES: Final = ("--rule", "surplus negative", "adverse", "--rule", "top 3", "favorable")
CHART: Final = ("--category", "route", "--value", "passengers", "--keep", KEEP, *RULES)
# What a call cannot do without: the libraries that it reads a brief and a call with, and draws by.
PLAIN: Final = "import numpy, pydantic, click"
PIXELS: Final = f"{PLAIN}, matplotlib.ft2font, matplotlib.path"
# What is installed is compiled already where analysts work, whatever is said here.
ENVIRONMENT: Final = {
    name: value for name, value in os.environ.items() if name != "PYTHONDONTWRITEBYTECODE"
}


def cases() -> list[Case]:
    """Every call, and the ratio that it must keep below."""
    brief = FOLDER / "routes.toml"
    yuzen("draw", str(ROUTES), *CHART, "-o", str(FOLDER / "ours.png"), "--write-brief", str(brief))
    drawn = call("draw", str(brief), "-o", str(FOLDER / "ours.png"))
    script = str(Path(__file__).with_name("by_hand_script.py"))
    hand = python(script, str(ROUTES), str(FOLDER / "theirs.png"))
    svg = str(FOLDER / "ours.svg")
    pages = ("words", "themes", "schema", "completion bash", "help rule.part")
    bare, plain, pixels = python("-c", "pass"), python("-c", PLAIN), python("-c", PIXELS)
    as_svg, as_flags = call("draw", str(brief), "-o", svg), call("flags", str(brief))
    return [
        Case("draw of a small csv / the script", 0.55, drawn, hand, 11, pixels),
        Case("draw of it as SVG / the script", 0.45, as_svg, hand, 11, plain),
        Case("flags of a small csv / the script", 0.36, as_flags, hand, 11, plain),
        Case("why of a small csv / the script", 0.36, call("why", str(brief)), hand, 7, plain),
        Case("start of a small csv / the script", 1.5, _started, hand, 7),
        Case("yuzen --help / python -c pass", 3.5, call("--help"), bare, 21),
        Case("yuzen draw --help / python -c pass", 3.5, call("draw", "--help"), bare, 21),
        *(
            Case(f"yuzen {page} / python -c pass", 12.0, call(*page.split()), bare, 11)
            for page in pages
        ),
    ]


def _started() -> object:
    """A look at the file, a first brief and its picture; a brief is never replaced."""
    brief = FOLDER / "first.toml"
    brief.unlink(missing_ok=True)
    return yuzen("start", str(ROUTES), "-o", str(brief))


def call(*words: str) -> Callable[[], object]:
    """A call of the command line as a process of its own."""
    return lambda: yuzen(*words)


def python(*words: str) -> Callable[[], object]:
    """A call of Python as a process of its own."""
    return lambda: run([sys.executable, *words], check=True, capture_output=True, env=ENVIRONMENT)


def yuzen(*words: str) -> object:
    """Call the command line and wait for it."""
    command = str(Path(sys.executable).with_name("yuzen"))
    return run([command, *words], check=True, capture_output=True, env=ENVIRONMENT)
