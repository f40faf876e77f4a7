"""Random charts: each seed is one, ordinary or hard, of any kind, with options and a theme."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Any, Final

import numpy as np

import yuzen as yz

if TYPE_CHECKING:
    from numpy.typing import NDArray

    Values = NDArray[np.float64]

KINDS: Final = ("bar", "column", "line", "area", "dots", "scatter", "bridge", "ring", "table")
ON_AXES: Final = frozenset({"bar", "column", "line", "area", "dots"})
PIERS: Final = (
    "Brinewick",
    "Cinderquay",
    "Dunmarrow",
    "Eelstone",
    "Farrowness",
    "Gullhaven",
    "Hollowmere",
    "Ivernsay",
    "Kelpwick",
    "Larkholm",
    "Mossgate",
    "Ninefathom",
    "Sandsend Ferry",
    "Thistle Roads",
    "Vane Harbour",
    "Quarrel Head",
)
WATERS: Final = (
    "North Reach",
    "Outer Isles",
    "Saltmarsh",
    "The Narrows between Kelpwick and Vane Harbour",
)
WHENS: Final = (
    ("top 3", "favorable"),
    ("negative", "adverse"),
    ("below average", "notice"),
    ("lowest", "adverse"),
    ("above average within water", "favorable"),
)


@dataclass
class Draft:
    """A chart while it is being made up: its rows and what is said of it."""

    random: np.random.Generator
    kind: str
    count: int
    rows: dict[str, Any]
    said: dict[str, Any] = field(default_factory=dict)

    def often(self, share: float) -> bool:
        """Whether something that so many charts have is had by this one."""
        return bool(self.random.random() < share)


def chart_of(seed: int) -> yz.Chart:
    """The chart of a seed."""
    random = np.random.default_rng(seed)
    kind = str(random.choice(KINDS))
    count = int(
        random.choice(
            [1, 2, 3, 5, 8, 12, 20, 33, 60], p=[0.03, 0.04, 0.1, 0.18, 0.2, 0.2, 0.14, 0.08, 0.03]
        )
    )
    rows: dict[str, Any] = {
        "v": _values(random, count),
        "w": random.normal(50, 20, count),
        "u": _values(random, count),
    }
    rows["water"] = random.choice(WATERS, count)
    draft = Draft(random, kind, count, rows)
    dated = draft.often(0.3) and kind != "ring"
    if dated:
        starts = np.datetime64("2024-01", "M") + np.arange(count)
        rows["item"] = starts.astype("datetime64[s]")
    else:
        rows["item"] = [f"{PIERS[k % 16]} {k // 16 or ''}".strip() for k in range(count)]
    if kind == "ring":
        rows["v"] = np.abs(rows["v"])
    draft.said = {"kind": kind, "category": "item", "value": "v", "title": "Passengers by route"}
    if kind == "scatter":
        draft.said["across"] = "w"
    if not dated and draft.often(0.3):
        draft.said["order"] = str(random.choice(["largest first", "smallest first", "as given"]))
    _shared(draft)
    draft.said["theme"] = str(random.choice(["linen", "dusk", "press"]))
    draft.said["size"] = _size(draft)
    chart = _ruled(yz.chart(draft.rows, **draft.said), draft)
    return _compared(_labelled(_layered(chart, draft), draft), draft)


def _values(random: np.random.Generator, count: int) -> Values:
    """Counts, money of both signs, shares, or numbers of all sizes; some are missing."""
    size = 10.0 ** random.integers(1, 7)
    far = 10.0 ** random.choice([-7.0, 13.0, 15.0, 300.0])
    values = [
        random.integers(10, 900, count).astype(float) * size / 10,
        random.normal(0.2, 1, count) * size,
        random.uniform(0.7, 1, count),
        10 ** random.uniform(-3, 7, count),
        random.normal(1, 1, count) * far,
    ][int(random.choice(5, p=[0.45, 0.28, 0.14, 0.08, 0.05]))]
    values[random.random(count) < 0.15 * (random.random() < 0.2)] = np.nan
    return np.asarray(values)


def _size(draft: Draft) -> dict[str, int]:
    """The page's size; its height is told now and then, also where it is little."""
    size = {"width": int(draft.random.choice([400, 640, 900, 1280]))}
    if draft.often(0.12):
        size["height"] = int(draft.random.choice([300, 480, 800]))
    return size


def _shared(draft: Draft) -> None:
    """Series, panels or totals, of which a chart has one at the most."""
    random, kind = draft.random, draft.kind
    if kind in {"bar", "column", "line", "area", "dots", "table"} and draft.often(0.25):
        count = int(random.integers(1, 5))
        parts = [
            np.asarray(draft.rows["v"]) * random.uniform(0.6, 1.4, draft.count)
            for _ in range(count)
        ]
        names = np.repeat(
            ["plan", "actual", "last year", "the year before that"][:count], draft.count
        )
        rows = {name: [*column] * count for name, column in draft.rows.items()}
        draft.rows = {**rows, "v": np.concatenate(parts), "part": names}
        draft.said["series"] = "part"
        if kind in {"bar", "column"} and draft.often(0.5):
            draft.said["arrange"] = "stacked"
    elif kind != "table" and draft.often(0.15):
        count = int(random.choice([3, 6, 16]))
        draft.rows["water"] = random.choice([f"Water {k}" for k in range(count)], draft.count)
        draft.said["panels"] = "water"
    elif kind in {"bar", "column", "table"} and draft.often(0.2):
        draft.rows["water"] = np.sort(draft.rows["water"])
        draft.said["totals"] = [["all"], ["water"], ["water", "all"]][int(random.integers(3))]


def _ruled(chart: yz.Chart, draft: Draft) -> yz.Chart:
    """The chart with rules: colours, and signs besides them."""
    for when, color in WHENS:
        if "within water" in when and ("panels" in draft.said or "water" not in draft.rows):
            continue
        if draft.often(0.35):
            more: dict[str, Any] = {}
            if draft.often(0.2):
                more["badge"] = str(draft.random.choice(["up", "down", "star", "flag"]))
            if draft.often(0.1) and draft.kind in ON_AXES:
                more["label"] = "{v:,.0f} passed"
            chart = chart.rule(when, color=color, name=when, **more)
    if draft.often(0.06) and draft.kind in {"bar", "column", "table"}:
        chart = chart.rule("always", shade={"of": "v"}, name="shade")
    return chart


def _layered(chart: yz.Chart, draft: Draft) -> yz.Chart:
    """The chart with a further measure, now and then."""
    plain = not {"series", "panels", "totals"} & draft.said.keys()
    if not plain or draft.kind not in {"bar", "column", "line"} or not draft.often(0.25):
        return chart
    kinds = {"bar": ["bar", "tick", "dots"], "column": ["bar", "tick", "line"], "line": ["line"]}[
        draft.kind
    ]
    more: dict[str, Any] = {"kind": str(draft.random.choice(kinds))}
    if more["kind"] == "line" and draft.often(0.5):
        more["axis"] = "own"
    if more["kind"] == "bar" and draft.often(0.5):
        more["place"] = "beside"
    chart = chart.layer("plan", value="u", **more)
    if draft.often(0.3):
        chart = chart.rule(
            "highest", on="layer plan", color="notice", label="plan {u:,.0f}", name="peak"
        )
    return chart


def _labelled(chart: yz.Chart, draft: Draft) -> yz.Chart:
    """The chart with labels of its own, of one or two pieces, and a note."""
    random = draft.random
    if draft.often(0.3) and draft.kind != "table":
        where: Any = (
            str(random.choice(["end", "inside", "base", "above"]))
            if draft.kind in {"bar", "column"}
            else "end"
        )
        shown: dict[str, Any] = {"show": "flagged"} if draft.often(0.3) else {}
        chart = chart.label("{v:,.1f}", where=where, **shown)
        if draft.often(0.4):
            chart = chart.label(" of {w:.0f}", where=where, name="second", **shown)
    if draft.often(0.2) and draft.kind not in {"ring", "table"}:
        chart = chart.note("works since spring", when="highest")
    return chart


def _compared(chart: yz.Chart, draft: Draft) -> yz.Chart:
    """The chart with references: lines, one for each group, dividers, bands."""
    if draft.kind in {"ring", "table", "bridge"}:
        return chart
    if draft.often(0.35):
        chart = chart.reference(
            "average", label=str(draft.random.choice(["average", "the average of all of them"]))
        )
    if draft.often(0.15):
        chart = chart.reference("median", label="median {median:,.0f}")
    if draft.kind == "scatter":
        return chart
    if draft.often(0.12) and "panels" not in draft.said:
        chart = chart.reference("average", within=["water"], label="of the water")
    if draft.often(0.12) and draft.kind in {"bar", "column"}:
        chart = chart.reference(after="top 3", label="the first three")
    if draft.often(0.08):
        chart = chart.reference(low="lowest", high="median", label="the lower half")
    return chart
