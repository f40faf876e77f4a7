"""The benchmarks of charts: the same pictures by Yuzen and by hand."""

from __future__ import annotations

import tempfile
import zlib
from pathlib import Path
from typing import TYPE_CHECKING

import numpy as np
import pandas as pd
from PIL import Image

import yuzen as yz
from benchmarks import by_hand
from benchmarks.processes import ROUTES
from benchmarks.timing import Case
from yuzen.jobs.batches import draw_each

if TYPE_CHECKING:
    from collections.abc import Callable

FOLDER = Path(tempfile.mkdtemp(prefix="yuzen-bench-"))
OURS, THEIRS = FOLDER / "ours.png", FOLDER / "theirs.png"


def cases() -> list[Case]:
    """Every chart, and the ratio that it must keep below."""
    routes = pd.read_csv(ROUTES)
    routes = routes[(routes["service"] == "ferry") & (routes["month"] > "2025-06")]
    twelve = routes[routes["route"].isin(routes["route"].unique()[:12])]
    return [
        Case(
            "12 bars with numbers",
            0.30,
            lambda: _small(twelve, OURS),
            lambda: by_hand.small_chart(twelve, THEIRS),
            9,
        ),
        Case(
            "12 bars with numbers as SVG",
            0.15,
            lambda: _small(twelve, OURS.with_suffix(".svg")),
            lambda: by_hand.small_chart(twelve, THEIRS.with_suffix(".svg")),
            9,
        ),
        *(_bars(count, most, runs) for count, most, runs in ((2_000, 0.06, 7), (20_000, 0.02, 3))),
        *(_labelled(count, most, runs) for count, most, runs in ((30, 0.45, 7), (500, 0.22, 7))),
        _crossing("line", by_hand.masked_line),
        _crossing("area", by_hand.masked_area),
        _panels(),
        _table(40, 6, 0.5, 7, ".png"),
        _table(40, 6, 0.18, 7, ".svg"),
        _table(300, 12, 0.3, 7, ".png"),
        _each(),
    ]


def _small(rows: pd.DataFrame, to: Path) -> None:
    chart = yz.chart(
        rows,
        category="route",
        value="passengers",
        title="Passengers by route",
        subtitle="Twelve months to June 2026",
    )
    chart = chart.rule("surplus negative", color="adverse", key="Runs at a loss")
    chart = chart.rule("top 3", color="favorable", key="Top 3 by passengers")
    chart.reference("average").save(to)


def _bars(count: int, most: float, runs: int) -> Case:
    random = np.random.default_rng(7)
    names = [f"Item {i}" for i in range(count)]
    rows = pd.DataFrame({"item": names, "value": random.normal(100, 30, count)})

    def ours() -> None:
        chart = yz.chart(rows, kind="column", category="item", value="value", order="as given")
        chart = chart.rule("outlier", color="adverse").rule("above 130", color="favorable")
        chart.label("").save(OURS)

    return Case(f"{count:,} bars", most, ours, lambda: by_hand.many_bars(rows, THEIRS), runs)


def _labelled(count: int, most: float, runs: int) -> Case:
    random = np.random.default_rng(8)
    names = [f"Item {i}" for i in range(count)]
    rows = pd.DataFrame(
        {
            "item": names,
            "value": random.normal(1000, 300, count),
            "other": random.normal(20, 20, count),
        }
    )

    def ours() -> None:
        chart = yz.chart(rows, category="item", value="value", title="Value by item")
        chart = chart.rule("other negative", color="adverse", key="Loss")
        chart = chart.rule("top 5", color="favorable", key="Top 5")
        chart = chart.label("{value:,.0f}").label("  ({other:sign ,.0f})", name="rest")
        chart = chart.rule("other negative", on="label.rest", color="adverse", name="rest")
        chart.reference("average").reference("median").save(OURS)

    name = f"{count} labelled bars, two references"
    return Case(name, most, ours, lambda: by_hand.labelled_chart(rows, THEIRS), runs)


def _crossing(kind: str, hand: Callable[[pd.DataFrame, Path], None]) -> Case:
    count, crossings = 100_000, 1_000
    random = np.random.default_rng(9)
    wave = np.sin(np.pi * crossings * (np.arange(count) + 0.37) / count)
    rows = pd.DataFrame(
        {
            "moment": pd.date_range("2024-01-01", periods=count, freq="5min"),
            "value": wave * random.uniform(40, 100, crossings).repeat(count // crossings),
        }
    )

    def ours() -> None:
        chart = yz.chart(rows, kind=kind, category="moment", value="value", title="Value by moment")  # type: ignore[arg-type]
        chart = chart.rule("negative", color="adverse")
        (chart if kind == "line" else chart.rule("positive", color="favorable")).label("").save(
            OURS
        )

    pixels: list[bytes] = []

    def floor() -> None:
        """Compress pixels that are there already: what every way to a PNG ends with."""
        if not pixels:
            pixels.append(Image.open(OURS).convert("RGB").tobytes())
        zlib.compress(pixels[0], 3)

    name = f"{kind} of {count:,} points"
    return Case(name, 0.65, ours, lambda: hand(rows, THEIRS), 7, floor)


def _grouped(groups: int) -> pd.DataFrame:
    random = np.random.default_rng(10)
    return pd.DataFrame(
        {
            "group": np.repeat([f"Group {i}" for i in range(groups)], 12),
            "item": np.tile([f"i{i}" for i in range(12)], groups),
            "value": random.uniform(10, 100, 12 * groups),
        }
    )


def _panels() -> Case:
    rows = _grouped(24)

    def ours() -> None:
        chart = yz.chart(
            rows, kind="column", category="item", value="value", panels="group", order="as given",
            title="Value by item",
        )  # fmt: skip
        chart = chart.rule("highest", color="favorable").rule("below average", color="adverse")
        chart.label("{value:,.0f}", show="highest").save(OURS)

    return Case("24 panels of 12 bars", 0.3, ours, lambda: by_hand.small_multiples(rows, THEIRS), 7)


def _table(count: int, columns: int, most: float, runs: int, ending: str) -> Case:
    to, theirs = OURS.with_suffix(ending), THEIRS.with_suffix(ending)
    random = np.random.default_rng(11)
    names = [f"m{place}" for place in range(columns)]
    rows = pd.DataFrame({"item": [f"Item {place}" for place in range(count)]})
    for place, name in enumerate(names):
        rows[name] = random.normal(0, 10.0 ** (place % 5 + 1), count)

    def ours() -> None:
        chart = yz.chart(
            rows, kind="table", category="item", value="m0", order="as given", title="Measures"
        )
        for name in names:
            chart = chart.column(name)
        chart.rule(
            "always", columns=names, shade={"colors": ["adverse", "paper", "favorable"]}
        ).save(to)

    name = f"table of {count} x {columns}{' as SVG' * (ending == '.svg')}"
    return Case(name, most, ours, lambda: by_hand.colored_table(rows, names, theirs), runs)


def _each() -> Case:
    rows = _grouped(100)

    def ours() -> None:
        chart = yz.chart(rows, category="item", value="value", title="Value by item")
        chart = chart.rule("below average", color="adverse", key="Below average")
        chart = chart.rule("top 3", color="favorable", key="Top 3").label("{value:,.0f}")
        list(draw_each(chart.each("group"), OURS))

    return Case("100 pictures of 12 bars", 0.5, ours, lambda: by_hand.picture_each(rows, FOLDER), 7)
