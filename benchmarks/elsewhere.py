"""The benchmarks of charts made elsewhere and of bare values: painting, colours, verdicts."""

from __future__ import annotations

from io import BytesIO
from typing import TYPE_CHECKING, Any

import numpy as np
import pandas as pd
from matplotlib.colors import to_rgba
from matplotlib.figure import Figure

import yuzen as yz
from benchmarks.timing import Case

if TYPE_CHECKING:
    from collections.abc import Callable

    from matplotlib.axes import Axes

    from yuzen.arrays import Floats

BARS, POINTS, MILLION = 20_000, 100_000, 1_000_000
RUNS = 3
LOSS = yz.rule("negative", color="adverse")
RULES = (
    yz.rule("top 3", color="favorable"),
    yz.rule("below -3", color="adverse"),
    yz.rule("above 2 * deviation", color="notice"),
    yz.rule("above average", color="slate"),
    yz.rule("between -0.1 and 0", color="ink"),
)
COLORS = ("#0A4A80", "#C63E2F", "#D79A00", "#5B646D", "#22272C")
QUIET = "#C9CCD0"


def cases() -> list[Case]:
    """Every case, and the ratio that it must keep below."""
    values = np.random.default_rng(7).normal(size=MILLION)
    rows = pd.DataFrame({"place": np.arange(MILLION), "v": values})
    words = rows.assign(place=[f"Item {place}" for place in range(MILLION)])
    course = np.cumsum(values[:POINTS])
    return [
        Case(
            "paint 20,000 bars / a loop",
            0.8,
            _fresh(values, _painted),
            _fresh(values, _looped),
            RUNS,
            _fresh(values, _read_and_set),
        ),
        Case(
            "paint a line of 100,000 / a mask",
            1.4,
            lambda: _line(course),
            lambda: _masked(course),
            7,
            lambda: _bare(course),
        ),
        Case(
            "colors of a million / where",
            1.2,
            lambda: yz.colors(values, *RULES),
            lambda: _where(values),
            7,
        ),
        Case(
            "colors of a million / select",
            2.2,
            lambda: yz.colors(values, *RULES),
            lambda: _select(values),
            7,
        ),
        Case(
            "judge a million rows / pandas", 4.0, lambda: _judged(rows), lambda: _grouped(rows), 5
        ),
        Case(
            "judge a million rows by words / pandas",
            3.0,
            lambda: _judged(words),
            lambda: _grouped(words),
            3,
            lambda: pd.factorize(words["place"]),
        ),
    ]


def _fresh(values: Floats, act: Callable[[Axes], None]) -> Callable[[], None]:
    """An act on bars that nobody has touched, which are made before the time is taken."""
    made = []
    for _ in range(RUNS + 1):
        made.append(Figure().subplots())
        made[-1].bar(np.arange(BARS), values[:BARS])
    return lambda: act(made.pop())


def _painted(axes: Axes) -> None:
    yz.paint(axes, LOSS, yz.rule("top 3", color="favorable"))


def _looped(axes: Axes) -> None:
    heights = [bar.get_height() for bar in axes.patches]  # type: ignore[attr-defined]  # a bar
    third = sorted(heights)[-3]
    for bar, height in zip(axes.patches, heights, strict=True):
        if height < 0:
            bar.set_color(COLORS[1])
        elif height >= third:
            bar.set_color(COLORS[0])
        else:
            bar.set_color(QUIET)


def _read_and_set(axes: Axes) -> None:
    """Ask each bar what painting has to know, and give it one of three colours, already made."""
    bars: list[Any] = list(axes.patches)
    for ask in ("get_x", "get_width", "get_y", "get_height", "get_facecolor", "get_alpha"):
        [getattr(bar, ask)() for bar in bars]
    colors = [{"_facecolor": to_rgba(color)} for color in (COLORS[0], COLORS[1], QUIET)]
    for place, bar in enumerate(bars):
        vars(bar).update(colors[place % 3])


def _bare(course: Floats) -> None:
    axes = Figure(figsize=(12.8, 8)).subplots()
    axes.plot(course)
    axes.figure.savefig(BytesIO(), dpi=100)  # type: ignore[union-attr]  # as above


def _line(course: Floats) -> None:
    axes = Figure(figsize=(12.8, 8)).subplots()
    axes.plot(course)
    yz.paint(axes, LOSS)
    axes.figure.savefig(BytesIO(), dpi=100)  # type: ignore[union-attr]  # no part of one


def _masked(course: Floats) -> None:
    axes = Figure(figsize=(12.8, 8)).subplots()
    axes.plot(course, color=QUIET)
    axes.plot(np.where(course < 0, course, np.nan), color=COLORS[1])
    axes.figure.savefig(BytesIO(), dpi=100)  # type: ignore[union-attr]  # as above


def _colors(values: Floats) -> object:
    return yz.colors(values, *RULES)


def _conditions(v: Floats) -> list[np.ndarray[tuple[int], np.dtype[np.bool_]]]:
    far, third = 2 * v.std(ddof=1), np.partition(v, -3)[-3]
    return [v >= third, v < -3, v > far, v > v.mean(), (v >= -0.1) & (v <= 0)]


def _where(v: Floats) -> np.ndarray[tuple[int], np.dtype[np.str_]]:
    found = np.array(QUIET)
    for condition, color in zip(_conditions(v)[::-1], COLORS[::-1], strict=True):
        found = np.where(condition, color, found)
    return found


def _select(v: Floats) -> object:
    return np.select(_conditions(v), COLORS, QUIET)


def _judged(rows: pd.DataFrame) -> None:
    yz.judge(rows, *RULES, category="place", value="v").winners()


def _grouped(rows: pd.DataFrame) -> None:
    sums = rows.groupby("place", sort=False)["v"].sum()
    np.select(_conditions(sums.to_numpy()), range(5), -1)
