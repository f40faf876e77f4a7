"""Draws the gallery: every demo brief, from the ferry data, into a folder."""

from __future__ import annotations

from collections.abc import Iterator
from importlib.resources import as_file, files
from pathlib import Path
from typing import TYPE_CHECKING, Final

from yuzen.charts.begin import load
from yuzen.charts.chart import Chart
from yuzen.files.whole import made_folder, write_whole
from yuzen.jobs.batches import DrawResult, draw_one

if TYPE_CHECKING:
    from importlib.resources.abc import Traversable

MONTHLY: Final = "monthly"  # the folder of the month's report


def draw_gallery(folder: Path) -> Iterator[DrawResult]:
    """Copy data and briefs into the folder, draw every brief, and hand on each as it is drawn."""
    made_folder(folder)
    for name in ("data", "briefs"):
        for item in sorted(_own(name).iterdir(), key=lambda item: item.name):
            write_whole(folder / item.name, item.read_bytes())
    for path in gallery_pictures(folder):
        brief = path.with_suffix(".toml")
        yield draw_one(brief.name, load(brief), path)


def write_reports(folder: Path) -> list[Path]:
    """Write the month's report of the gallery's charts, with what is new since the month before.

    Raises YuzenError (data-extra) where what reports need is not installed.
    """
    monthly = folder / MONTHLY
    made_folder(monthly)
    for item in _own("reports").iterdir():
        write_whole(monthly / item.name, item.read_bytes())
    from yuzen.documents.report import load_report  # noqa: PLC0415 - pictures need none of it

    report = load_report(monthly / "june.toml")
    return [report.save(path) for path in gallery_reports(folder)]


def gallery_reports(folder: Path) -> list[Path]:
    """The reports of the gallery in a folder."""
    return [folder / "report.html", folder / "report.pdf"]


def gallery_pictures(folder: Path) -> list[Path]:
    """The pictures of the gallery in a folder, in the order in which they are drawn."""
    names = sorted(item.name for item in _own("briefs").iterdir())
    return [(folder / name).with_suffix(".png") for name in names]


def demo_charts() -> Iterator[tuple[str, Chart]]:
    """Every demo brief as a chart, with its name."""
    with as_file(_own("briefs")) as briefs, as_file(_own("data")) as data:
        for path in sorted(briefs.glob("*.toml")):
            loaded = load(path)
            file = data / str(loaded.stages.brief.data.file)
            yield path.stem, loaded.with_rows(file)


def _own(name: str) -> Traversable:
    return files("yuzen.demo") / name
