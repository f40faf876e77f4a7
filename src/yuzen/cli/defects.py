"""The report of a defect: one line, and a file with all that is needed to mend it."""

import os
import platform
import sys
import tempfile
import time
import traceback
from importlib.metadata import PackageNotFoundError, version
from pathlib import Path

from yuzen.secrets import without_secrets


def report_defect(error: BaseException) -> str:
    """Write a defect into a file with all that is needed to mend it; returns the message."""
    head = "This is a defect of Yuzen, not of your brief or your data"
    report = "\n".join(
        (
            "A defect of Yuzen",
            "",
            "Please send this file to the makers of Yuzen, with a word on what you were doing.",
            "It holds the call and where the program failed, without passwords. Look through it",
            "first: a message may quote a name or a number of your data.",
            "",
            f"Call:    yuzen {' '.join(sys.argv[1:])}",
            f"Version: {_versions()}",
            "",
            "".join(traceback.format_exception(error)),
        )
    )
    try:
        # mkstemp: only the user can read it, as it may quote a name of the data.
        handle, path = tempfile.mkstemp(
            prefix=f"yuzen-defect-{time.strftime('%Y%m%d-%H%M')}-", suffix=".txt"
        )
        with os.fdopen(handle, "w", encoding="utf-8", errors="replace") as file:
            file.write(without_secrets(report))
    except OSError as refused:
        place = f"no report of it could be written ({refused.strerror}): {type(error).__name__}"
        return f"{head}, and {place} in {_where(error)}."
    return f"{head}. Please send {path} to its makers: it shows where ({type(error).__name__})."


def _where(error: BaseException) -> str:
    last = traceback.extract_tb(error.__traceback__)[-1]
    return f"{Path(last.filename).name}, line {last.lineno}"


def _versions() -> str:
    versions = [f"Python {platform.python_version()} on {platform.system()}"]
    for name in ("yuzen", "numpy", "pandas", "matplotlib", "pydantic"):
        try:
            versions.append(f"{name} {version(name)}")
        except PackageNotFoundError:
            versions.append(f"{name} not there")
    return ", ".join(versions)
