"""Builds the wheel and the sdist twice, compares and checks them, and writes what they depend on.

The files go into dist/: the wheel, the sdist, and a bill of materials of all extras (CycloneDX).
"""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
import tempfile
from filecmp import cmp
from pathlib import Path
from typing import Final

HOME: Final = Path(__file__).parents[1]
DIST: Final = HOME / "dist"
BIN: Final = Path(sys.executable).parent


def main() -> int:
    """Write dist/; returns the exit code."""
    shutil.rmtree(DIST, ignore_errors=True)
    with tempfile.TemporaryDirectory() as folder:
        first, second = (_built(Path(folder) / name) for name in ("first", "second"))
        unlike = [
            path.name
            for path in first
            if not cmp(path, second[0].parent / path.name, shallow=False)
        ]
        if unlike or len(first) != len(second):
            print(f"Two builds are unlike: {', '.join(unlike) or 'other files'}")
            return 1
        DIST.mkdir()
        for path in first:
            shutil.copy(path, DIST)
    wheel = next(DIST.glob("*.whl"))
    _run(BIN / "twine", "check", "--strict", *DIST.iterdir())
    _run(BIN / "check-wheel-contents", wheel)
    _write_bill(DIST / f"{'-'.join(wheel.name.split('-')[:2])}.cdx.json")
    print(
        "\n".join(
            f"{path.relative_to(HOME)}  {path.stat().st_size:,} bytes"
            for path in sorted(DIST.iterdir())
        )
    )
    return 0


def _built(folder: Path) -> list[Path]:
    """The wheel and the sdist, built into a folder."""
    # The time of the last commit, not that of the build, is written into archives.
    stamp = subprocess.run(
        ["git", "log", "-1", "--format=%ct"], cwd=HOME, capture_output=True, text=True, check=True
    ).stdout.strip()
    environment = {**os.environ, "SOURCE_DATE_EPOCH": stamp}
    _run(
        sys.executable,
        "-m",
        "build",
        "--installer",
        "uv",
        "--outdir",
        folder,
        HOME,
        environment=environment,
    )
    return sorted(folder.iterdir())


def _write_bill(path: Path) -> None:
    """Write the packages that all extras bring, with their versions of today."""
    with tempfile.TemporaryDirectory() as folder:
        pinned = Path(folder) / "requirements.txt"
        _run(
            BIN / "uv",
            "pip",
            "compile",
            "--quiet",
            "--extra",
            "all",
            HOME / "pyproject.toml",
            "--output-file",
            pinned,
        )
        _run(
            BIN / "cyclonedx-py",
            "requirements",
            pinned,
            "--pyproject",
            HOME / "pyproject.toml",
            "--output-reproducible",
            "--output-file",
            path,
        )


def _run(*words: str | Path, environment: dict[str, str] | None = None) -> None:
    subprocess.run([str(word) for word in words], cwd=HOME, env=environment, check=True)


if __name__ == "__main__":
    sys.exit(main())
