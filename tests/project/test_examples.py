"""Every example runs as it stands: the scripts, and those in docstrings."""

from __future__ import annotations

import doctest
import runpy
from importlib import import_module
from pathlib import Path
from shutil import copy

import pytest

import yuzen as yz

EXAMPLES = Path(__file__).parents[2] / "examples"
SOURCES = Path(yz.__file__).parent
TOLD = [path for path in sorted(SOURCES.rglob("*.py")) if ">>> " in path.read_text()]


@pytest.mark.parametrize("script", sorted(EXAMPLES.glob("*.py")), ids=lambda path: path.stem)
def test_scripts(script: Path, folder: Path, capsys: pytest.CaptureFixture[str]) -> None:
    runpy.run_path(str(script))
    [made] = [path for path in folder.glob(f"{script.stem}.*") if path.suffix in {".png", ".html"}]
    assert made.stat().st_size > 5_000
    assert capsys.readouterr().out.strip()


@pytest.mark.parametrize("source", TOLD, ids=lambda path: path.stem)
def test_docstrings(source: Path) -> None:
    place = source.relative_to(SOURCES.parent).with_suffix("")
    done = doctest.testmod(import_module(".".join(place.parts)))
    assert done.attempted
    assert not done.failed


def test_other_programs_are_given_the_colors_that_rules_say(folder: Path) -> None:
    assert folder.is_dir()
    bars = runpy.run_path(str(EXAMPLES / "bars_in_plotly.py"))
    assert list(bars["figure"].data[0].marker.color) == [
        "#C63E2F",
        "#0A4A80",
        "#C9CCD0",
        "#C9CCD0",
        "#C9CCD0",
    ]
    assert list(bars["figure"].data[0].textfont.color) == ["#FFFFFF", "#FFFFFF", *["#22272C"] * 3]
    points = runpy.run_path(str(EXAMPLES / "points_in_bokeh.py"))
    told = dict(zip(points["rows"]["route"], points["rows"]["color"], strict=True))
    assert told["Cinderquay"] == "#0A4A80"
    assert points["plot"].renderers[0].data_source.data["color"] == list(told.values())


@pytest.mark.parametrize("brief", sorted(EXAMPLES.glob("*.toml")), ids=lambda path: path.stem)
def test_briefs(brief: Path, folder: Path) -> None:
    copy(brief, folder)
    assert yz.load(folder / brief.name).save("out.png").is_file()
