"""Draws the gallery: every demo brief, from the ferry data, into a folder."""

from __future__ import annotations

from importlib.resources import as_file, files
from typing import TYPE_CHECKING

from yuzen.charts import load
from yuzen.errors import wrong
from yuzen.files.whole import write_whole

if TYPE_CHECKING:
    from collections.abc import Iterator
    from importlib.resources.abc import Traversable
    from pathlib import Path

    from yuzen.charts import Chart, Drawn


def draw_gallery(folder: Path) -> Iterator[tuple[Drawn, Chart]]:
    """Copy data and briefs into the folder, draw every brief, and hand on each as it is drawn."""
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        message = f"I cannot make the folder {folder}: {error.strerror}."
        raise wrong("call-folder", message) from None
    for name in ("data", "briefs"):
        for item in sorted(_own(name).iterdir(), key=lambda item: item.name):
            write_whole(folder / item.name, item.read_bytes())
    for item in sorted(_own("briefs").iterdir(), key=lambda item: item.name):
        chart = load(folder / item.name)
        yield chart.drawn_into((folder / item.name).with_suffix(".png")), chart


def demo_charts() -> Iterator[tuple[str, Chart]]:
    """Every demo brief as a chart, with its name."""
    with as_file(_own("briefs")) as briefs, as_file(_own("data")) as data:
        for path in sorted(briefs.glob("*.toml")):
            loaded = load(path)
            file = data / str(loaded.spec.data.file)
            yield path.stem, loaded.with_rows(file)


def _own(name: str) -> Traversable:
    return files("yuzen.demo") / name
