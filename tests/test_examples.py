"""Every example runs as it stands."""

from __future__ import annotations

import runpy
from pathlib import Path
from shutil import copy

import pytest

import yuzen as yz

EXAMPLES = Path(__file__).parents[1] / "examples"


@pytest.mark.parametrize("script", sorted(EXAMPLES.glob("*.py")), ids=lambda path: path.stem)
def test_scripts(script: Path, folder: Path, capsys: pytest.CaptureFixture[str]) -> None:
    runpy.run_path(str(script))
    assert (folder / f"{script.stem}.png").is_file()
    assert capsys.readouterr().out.strip()


@pytest.mark.parametrize("brief", sorted(EXAMPLES.glob("*.toml")), ids=lambda path: path.stem)
def test_briefs(brief: Path, folder: Path) -> None:
    copy(brief, folder)
    assert yz.load(folder / brief.name).save("out.png").is_file()
