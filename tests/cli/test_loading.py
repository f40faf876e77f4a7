"""What a call loads: no more than it needs, in a fresh interpreter."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

import pytest

COMMAND = """
import atexit
sys.argv = ["yuzen", *"{0}".split()]
from yuzen.__main__ import run
try: run()
except SystemExit: pass
atexit._clear()
"""
FRESH = """
import sys
{0}
loaded = [name for name in {1!r} if name in sys.modules]
assert not loaded, loaded
"""

ASKED = """
from matplotlib.lines import Line2D
from numpy import ndarray
from pydantic_core.core_schema import IntSchema
from typing_extensions import TypedDict, is_typeddict
assert ("snap: bool" in Line2D.__init__.__doc__) == has_all
assert bool(ndarray.sum.__doc__) == has_all
assert is_typeddict(IntSchema) == has_all
assert is_typeddict(TypedDict("Keys", {"name": str}))
"""


@pytest.mark.sampled(3)
@pytest.mark.parametrize(
    ("use", "kept_out"),
    [
        ("import yuzen.rules.grammar.parser, yuzen.rules.judge", ("pandas", "matplotlib", "pydantic", "scipy")),
        ("import yuzen.color.themes, yuzen.color.named", ("pandas", "matplotlib", "pydantic")),
        ("from yuzen.cli.main import main\ntry: main(['--help'])\nexcept SystemExit: pass",
         ("pandas", "matplotlib", "numpy", "pydantic", "rich")),
        ("import yuzen as yz\nyz.chart({'a': ['x'], 'v': [1]}, category='a', value='v').image()",
         ("matplotlib.pyplot", "scipy", "rich")),
        ("import yuzen as yz\nyz.chart({'a': ['x'], 'v': [1]}, category='a', value='v').flags()",
         ("matplotlib",)),
        ("import yuzen as yz\nyz.load('busiest.toml').image()", ("pandas", "pyarrow", "sqlite3")),
        (COMMAND.format("draw busiest.toml"), ("pandas", "matplotlib.figure", "importlib.metadata")),
        *((COMMAND.format(f"{name} --help"), ("yuzen.errors", "click", "typing", "numpy")) for name in ("draw", "why", "edit")),
        *((COMMAND.format(f"{name} busiest.toml"), ("pandas", "matplotlib", "importlib.metadata", "PIL", "logging"))
          for name in ("why", "flags")),
        *((COMMAND.format(f"{name} {more}"), ("numpy", "pydantic")) for name, more in
          (("words", "--json"), ("themes", "--json"), ("schema", "--help"), ("completion", "bash"))),
    ],
)  # fmt: skip
@pytest.mark.usefixtures("folder")
def test_what_is_loaded_only_when_needed(use: str, kept_out: tuple[str, ...]) -> None:
    code = FRESH.format(use, kept_out)
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stderr


@pytest.mark.sampled(2)
@pytest.mark.parametrize(
    ("use", "has_all"),
    [
        (COMMAND.format("draw busiest.toml -o busiest.pdf"), False),
        ("import yuzen as yz\nyz.load('busiest.toml').image('pdf')", True),
    ],
)
@pytest.mark.usefixtures("folder")
def test_only_a_process_of_ours_goes_without_help_and_typed_dictionaries(
    use: str, has_all: bool
) -> None:
    code = f"import sys\n{use}\nhas_all = {has_all}\n{ASKED}"
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stderr


def test_the_installed_command_runs_without_a_screen(folder: Path) -> None:
    command = Path(sys.executable).with_name("yuzen")
    bare = {"PATH": os.environ["PATH"], "HOME": str(folder)}
    done = subprocess.run(
        [command, "draw", "causes.toml"], capture_output=True, env=bare, cwd=folder, check=True
    )
    assert b"causes.png: 6 marks" in done.stdout
