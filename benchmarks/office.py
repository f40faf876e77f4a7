"""Benchmarks of slides: twelve bars beside a script that sets each point; painting a deck."""

from __future__ import annotations

from pathlib import Path
from time import process_time
from typing import TYPE_CHECKING, Final

import pandas as pd
from pptx import Presentation
from pptx.chart.data import CategoryChartData
from pptx.enum.chart import XL_CHART_TYPE
from pptx.util import Inches

import yuzen as yz
from benchmarks.by_hand_slide import BARS, slide
from benchmarks.processes import CHART, FOLDER, ROUTES, call, python, yuzen
from benchmarks.timing import Case

if TYPE_CHECKING:
    from collections.abc import Callable

DECK_CHARTS: Final = 40
PAINT_SECONDS: Final = 2.0  # of the processor, at the most


def cases() -> list[Case]:
    """A slide as a whole process, and the same where everything is loaded."""
    brief = FOLDER / "slide.toml"
    yuzen("draw", str(ROUTES), *CHART, "-o", str(FOLDER / "bars.png"), "--write-brief", str(brief))
    text = brief.read_text(encoding="utf-8")
    brief.write_text(text.replace("[chart]", f"[chart]\nlimit = {BARS}"), encoding="utf-8")
    drawn = call("draw", str(brief), "-o", str(FOLDER / "bars.pptx"))
    script = Path(__file__).with_name("by_hand_slide.py")
    hand = python(str(script), str(ROUTES), str(FOLDER / "theirs.pptx"))
    rows = pd.read_csv(ROUTES)
    kept = rows[(rows["service"] == "ferry") & (rows["month"] > "2025-06")]

    def by_hand() -> None:
        slide(kept, FOLDER / "theirs.pptx")

    name = f"{BARS} bars as a slide"
    return [
        Case(f"{name}: draw / the script", 0.60, drawn, hand, 11),
        Case(f"{name}, all loaded / the script", 0.60, _saved(brief), by_hand, 11),
        Case(f"paint {DECK_CHARTS} charts / make them", None, _painted(), _deck, 5),
    ]


def _saved(brief: Path) -> Callable[[], object]:
    """Save the chart of a brief, worked out anew each time."""
    return lambda: yz.load(brief).save(FOLDER / "bars.pptx")


def _deck() -> Path:
    """A deck of charts as somebody makes them."""
    deck, path = Presentation(), FOLDER / "deck.pptx"
    for number in range(DECK_CHARTS):
        page = deck.slides.add_slide(deck.slide_layouts[5])
        data = CategoryChartData()
        data.categories = [f"route {place}" for place in range(20)]
        data.add_series("surplus", [(place * 37 + number * 11) % 90 - 30 for place in range(20)])
        place = (Inches(0.5), Inches(1.5), Inches(9), Inches(5.5))
        page.shapes.add_chart(XL_CHART_TYPE.COLUMN_CLUSTERED, *place, data)
    deck.save(str(path))
    return path


def _painted() -> Callable[[], object]:
    """Paint the deck, and say how long the processor took."""
    path = _deck()
    rules = [yz.rule("negative", color="adverse"), yz.rule("top 3", color="favorable")]

    def paint() -> object:
        return yz.paint(path, *rules).save(FOLDER / "painted.pptx")

    start = process_time()
    paint()
    used = process_time() - start
    over = "" if used <= PAINT_SECONDS else "  over"
    print(f"paint a deck of {DECK_CHARTS} charts: {used:.2f} s of the processor{over}")
    return paint
