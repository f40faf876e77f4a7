"""Draws random charts and measures what cannot be read on them: tools/legibility.py [COUNT] [FIRST SEED].

Prints how many of a thousand charts have each fault, with seeds that show it. With --draw SEED the chart of
a seed is drawn into legibility-SEED.png, to be looked at.
"""

from __future__ import annotations

import sys
import time
from collections import Counter
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from itertools import combinations
from os import cpu_count
from pathlib import Path
from typing import TYPE_CHECKING, Any, Final

import numpy as np
from matplotlib.backends.backend_agg import FigureCanvasAgg
from matplotlib.collections import LineCollection
from matplotlib.text import Text

import yuzen as yz
from yuzen.draw.pen import quiet_fonts
from yuzen.draw.rectangles import Rectangles

if TYPE_CHECKING:
    from collections.abc import Iterator

    from matplotlib.figure import Figure
    from numpy.typing import NDArray

    Boxes = NDArray[np.float64]

KINDS: Final = ("bar", "column", "line", "area", "dots", "scatter", "bridge", "ring", "table")
PIERS: Final = (
    "Brinewick", "Cinderquay", "Dunmarrow", "Eelstone", "Farrowness", "Gullhaven", "Hollowmere", "Ivernsay",
    "Kelpwick", "Larkholm", "Mossgate", "Ninefathom", "Sandsend Ferry", "Thistle Roads", "Vane Harbour",
    "Quarrel Head",
)  # fmt: skip
SLOW: Final = 5.0  # seconds
TOUCH: Final = 1.5  # pixels that boxes may share
LEAST: Final = 0.06  # of a text's box on a bar, and off it, that is seen


@dataclass(frozen=True)
class Measured:
    """The faults of one chart."""

    seed: int
    faults: frozenset[str]


def chart_of(seed: int) -> yz.Chart:
    """An ordinary chart, or a hard one: its data, kind, rules, labels, theme and size by the seed."""
    random = np.random.default_rng(seed)
    kind = str(random.choice(KINDS))
    count = int(random.choice([3, 5, 8, 12, 20, 33]))
    rows: dict[str, Any] = {"v": _values(random, count), "w": random.normal(50, 20, count)}
    dated = random.random() < 0.3 and kind != "ring"
    if dated:
        starts = np.datetime64("2024-01", "M") + np.arange(count)
        rows["item"] = starts.astype("datetime64[s]")
    else:
        rows["item"] = [f"{PIERS[k % 16]} {k // 16 or ''}".strip() for k in range(count)]
    if kind == "ring":
        rows["v"] = np.abs(rows["v"])
    said: dict[str, Any] = {"kind": kind, "category": "item", "value": "v", "title": "Passengers by route"}
    if kind == "scatter":
        said["across"] = "w"
    if kind in {"bar", "column", "line", "dots", "table"} and random.random() < 0.25:
        rows, said["series"] = _in_series(rows, random, int(random.integers(2, 4)))
        if kind in {"bar", "column"} and random.random() < 0.5:
            said["arrange"] = "stacked"
    elif kind != "table" and random.random() < 0.15:
        rows["water"] = random.choice(["North Reach", "Outer Isles", "Saltmarsh"], count)
        said["panels"] = "water"
    said["theme"] = str(random.choice(["linen", "dusk", "press"]))
    said["size"] = {"width": int(random.choice([640, 900, 1280]))}
    return _ruled(yz.chart(rows, **said), kind, random)


def _values(random: np.random.Generator, count: int) -> Boxes:
    """Counts, money of both signs, shares, or numbers of all sizes; here and there one is missing."""
    size = 10.0 ** random.integers(1, 7)
    values = [
        random.integers(10, 900, count).astype(float) * size / 10,
        random.normal(0.2, 1, count) * size,
        random.uniform(0.7, 1, count),
        10 ** random.uniform(-3, 7, count),
    ][int(random.choice(4, p=[0.45, 0.3, 0.15, 0.1]))]
    values[random.random(count) < 0.15 * (random.random() < 0.2)] = np.nan
    return np.asarray(values)


def _in_series(rows: dict[str, Any], random: np.random.Generator, count: int) -> tuple[dict[str, Any], str]:
    """The rows once for each of some series."""
    parts = [np.asarray(rows["v"]) * random.uniform(0.6, 1.4, len(rows["v"])) for _ in range(count)]
    names = np.repeat(["plan", "actual", "last year"][:count], len(rows["v"]))
    return {"item": [*rows["item"]] * count, "v": np.concatenate(parts), "part": names}, "part"


def _ruled(chart: yz.Chart, kind: str, random: np.random.Generator) -> yz.Chart:
    """The chart with rules, references, a label and a note."""
    choices = (
        ("top 3", "favorable"),
        ("negative", "adverse"),
        ("below average", "notice"),
        ("lowest", "adverse"),
    )
    for when, color in choices:
        if random.random() < 0.45:
            chart = chart.rule(when, color=color, name=when)
    if random.random() < 0.4 and kind not in {"ring", "table", "bridge"}:
        chart = chart.reference("average")
    if random.random() < 0.25:
        chart = chart.label("{v:,.1f}")
    if random.random() < 0.2 and kind not in {"ring", "table"}:
        chart = chart.note("works since spring", when="highest")
    return chart


def measured(seed: int) -> Measured:
    """The faults of a seed's chart."""
    began = time.monotonic()
    try:
        figure = chart_of(seed).figure()
        FigureCanvasAgg(figure)
        found = set(faults_of(figure))
    except Exception as error:  # noqa: BLE001 - whatever it is, it is what is looked for
        found = {f"crash {type(error).__name__}"}
    if time.monotonic() - began > SLOW:
        found.add("slow")
    return Measured(seed, frozenset(found))


def faults_of(figure: Figure) -> Iterator[str]:
    """What cannot be read on a figure."""
    boxes = text_boxes(figure)
    width, height = figure.get_size_inches() * figure.dpi
    if np.any((boxes[:, :2] < 0) | (boxes[:, 2:] > np.array([width, height]))):
        yield "text off the page"
    if any(_touch(one, other) for one, other in combinations(boxes, 2)):
        yield "text on text"
    if any(_half_on(boxes, bars) for bars in bar_boxes(figure)):
        yield "text half on a bar"
    if any(_crossed(boxes, segment) for segment in segments_of(figure)):
        yield "line through text"


def text_boxes(figure: Figure) -> Boxes:
    """The box of every text: left, bottom, right and top in pixels, shape (n, 4)."""
    with quiet_fonts():
        renderer = figure.canvas.get_renderer()  # type: ignore[attr-defined]
        texts = [text for text in figure.findobj(Text) if text.get_text()]
        extents = [text.get_window_extent(renderer).extents for text in texts]
    return np.array(extents, dtype=float).reshape(-1, 4)


def bar_boxes(figure: Figure) -> Iterator[Boxes]:
    """The bars of each axes, in pixels, shape (m, 4)."""
    for axes in figure.axes:
        for made in axes.collections:
            if isinstance(made, Rectangles) and str(made.get_gid()).startswith("bars"):
                corners = np.asarray(made.corners)
                low, high = (axes.transData.transform(corners[:, part]) for part in ([0, 1], [2, 3]))
                yield np.hstack([np.minimum(low, high), np.maximum(low, high)])


def segments_of(figure: Figure) -> Iterator[Boxes]:
    """The straight lines of all axes, in pixels."""
    for axes in figure.axes:
        for made in axes.collections:
            if isinstance(made, LineCollection):
                yield from (axes.transData.transform(s) for s in made.get_segments() if len(s) == 2)


def _touch(one: Boxes, other: Boxes) -> bool:
    apart = (one[2:] <= other[:2] + TOUCH) | (other[2:] <= one[:2] + TOUCH)
    return not apart.any()


def _half_on(boxes: Boxes, bars: Boxes) -> bool:
    """Whether some text lies on a bar with a part of it only."""
    if not len(boxes) or not len(bars):
        return False
    low = np.maximum(boxes[:, None, :2], bars[None, :, :2])
    high = np.minimum(boxes[:, None, 2:], bars[None, :, 2:])
    shared = np.clip(high - low, 0, None).prod(axis=2)
    part = shared / np.maximum((boxes[:, 2:] - boxes[:, :2]).prod(axis=1), 1)[:, None]
    return bool(np.any((part > LEAST) & (part < 1 - LEAST)))


def _crossed(boxes: Boxes, segment: Boxes) -> bool:
    """Whether a line that lies or stands runs through some text."""
    (left, low), (right, high) = np.min(segment, axis=0), np.max(segment, axis=0)
    across = (boxes[:, 0] + TOUCH < right) & (boxes[:, 2] - TOUCH > left)
    upright = (boxes[:, 1] + TOUCH < high) & (boxes[:, 3] - TOUCH > low)
    straight = right - left < 1 or high - low < 1
    return bool(straight and np.any(across & upright))


def report(count: int, first: int = 0) -> list[str]:
    """A line for each fault: how many of a thousand charts have it, and the first seeds that do."""
    with ProcessPoolExecutor(cpu_count()) as pool:
        found = list(pool.map(measured, range(first, first + count), chunksize=10))
    counts = Counter(fault for one in found for fault in one.faults)
    lines = []
    for fault, times in counts.most_common():
        seeds = [str(one.seed) for one in found if fault in one.faults][:5]
        lines.append(f"{1000 * times / count:7.1f} in 1,000  {fault}: seeds {', '.join(seeds)}")
    return lines or [f"nothing found on {count:,} charts"]


def main(words: list[str]) -> None:
    """Measure, or draw one."""
    if words[:1] == ["--draw"]:
        print(chart_of(int(words[1])).save(Path(f"legibility-{words[1]}.png")))
        return
    print("\n".join(report(*(int(word) for word in words or ["2000"]))))


if __name__ == "__main__":
    main(sys.argv[1:])
