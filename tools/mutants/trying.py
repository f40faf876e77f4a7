"""Tries one mutant: in a copy of the project, by the tests that reach it, until one fails."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path
from shutil import copytree, ignore_patterns
from typing import TYPE_CHECKING, Final

from tools.mutants.reached import RECORDS

if TYPE_CHECKING:
    from tools.mutants.sites import Mutant

PATIENCE_S: Final = 900.0  # longer than all tests of a mutant take on a busy machine
LEFT_BEHIND: Final = (".git", ".venv*", ".mutants", "site", "gallery", "*_cache", "__pycache__")
SURVIVED: Final = "survived"


def copied(home: Path, folder: Path) -> Path:
    """A copy of the project without what is made of it."""
    return copytree(home, folder, ignore=ignore_patterns(*LEFT_BEHIND), dirs_exist_ok=True)


def tried(mutant: Mutant, home: Path, tests: list[str]) -> str:
    """What becomes of a mutant: the test that fails first, or 'survived'.

    home: a copy of the project that nobody else uses; it is as before afterwards.
    """
    if not tests:
        return SURVIVED
    path = home / mutant.path
    source = path.read_bytes()
    try:
        path.write_bytes(mutant.applied(source))
        # Records stand in one file, which is loaded sooner than all that reach a place.
        records = [test for test in tests if test.startswith(RECORDS)]
        others = [test for test in tests if not test.startswith(RECORDS)]
        ends = (_first_failure(home, some) for some in (records, others) if some)
        return next((end for end in ends if end != SURVIVED), SURVIVED)
    finally:
        path.write_bytes(source)


def _first_failure(home: Path, tests: list[str]) -> str:
    """The first of some tests that fails, or 'survived'."""
    listed = home / "tests-of-mutant.txt"
    listed.write_text("\n".join(tests), "utf-8")
    words = ["-x", "-q", "-p", "no:xdist", "-p", "no:cacheprovider", "--no-header"]
    environment = {
        **os.environ,
        "ALL_RECORDS": "1",
        "PYTHONPATH": f"{home / 'src'}{os.pathsep}{home}",
        # A file that changes twice in a second would be read as it was before.
        "PYTHONDONTWRITEBYTECODE": "1",
    }
    try:
        done = subprocess.run(
            [sys.executable, "-m", "pytest", *words, f"@{listed}"],
            cwd=home,
            env=environment,
            capture_output=True,
            text=True,
            timeout=PATIENCE_S,
            check=False,
        )
    except subprocess.TimeoutExpired:
        return "never ends"
    if done.returncode == 0:
        return SURVIVED
    if "not found: " in done.stdout + done.stderr:
        raise RuntimeError("The map of tests is older than the tests: remove the folder .mutants.")
    failures = [line for line in done.stdout.splitlines() if line.startswith(("FAILED", "ERROR"))]
    return failures[0].split(" - ")[0] if failures else "does not start"
