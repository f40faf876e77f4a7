"""Charts of random rows with random keys of every section, each from a seed; many of them are refused."""

from __future__ import annotations

from random import Random
from typing import Any

import numpy as np
import pandas as pd

import yuzen as yz
from yuzen.brief.toml.document import known_targets

KINDS = ("bar", "column", "line", "area", "dots", "scatter", "ring", "bridge", "table")
COLORS = ("adverse", "favorable", "notice", "quiet", "ink", "#A05010", "slate")
CONDITIONS = (
    "v negative", "top 3", "v in bottom 20%", "above average", "v highest within g", "v missing", "w above v",
    "v within 10% of median", "rank 2 to 4", "v rises by 10%", "v falls 2 times", "v turns negative", "v new high",
    "outlier", "first 2", "last", "position 3", "every 3 from 2", 'name starts with "a"', 'name one of "ab", "cd"',
    'g != "x"', "v between 2 and 40", "not (v negative or w below 10)", "share of v at least 10%", "always",
    "running share of v at most 80%", "v above average + deviation", "v is lowest within g", "v changes sign",
    "change of v below 0", "v at least 110% of median", "v zero", 'name contains "b"', "rank of w below 3",
)  # fmt: skip
QUANTITIES = (
    "average",
    "median",
    "10",
    "highest",
    "average of w",
    "20% of total",
    "0",
    "lowest + 5",
    "-3",
)
TEXTS = (
    "{v:,.1f}",
    "{v}",
    "{name}",
    "{v / average - 1:arrow .0%}",
    "{w:sign ,.0f}",
    "{share of v:.0%}",
    "{v:paren ,.2f}",
    "{v:,.1fk}",
)


def rows_of(rnd: Random, dated: bool) -> pd.DataFrame:
    """Some rows: ties, missing numbers, zeros, both signs, now and then large or small ones."""
    count = rnd.choice([1, 2, 4, 7, 12, 30])
    size = rnd.choice([1, 1, 1, 1_000, 250_000, 0.01])
    numbers = [rnd.choice([0, 5, 5, -8, 12.5, 40, 71, -33, 3, None, 18, 26]) for _ in range(count)]
    names = [
        rnd.choice("abcdefgh") + rnd.choice("bdx") + rnd.choice(["", "", " and the pier beyond"])
        for _ in range(count)
    ]
    dates = pd.date_range("2025-01-01", periods=count, freq=rnd.choice(["D", "MS", "W", "h"]))
    return pd.DataFrame(
        {
            "name": names if len(set(names)) > 1 or count == 1 else [*names[:-1], "zz"],
            "v": [None if number is None else number * size for number in numbers],
            "w": [abs(rnd.gauss(20, 9)) for _ in range(count)],
            "g": [rnd.choice("xyz") for _ in range(count)],
            "s": [rnd.choice(["first", "second", "third"]) for _ in range(count)],
            "day": dates if dated else pd.date_range("2025-01-01", periods=count, freq="D"),
            "age": np.array([float(rnd.randrange(0, 90)) for _ in range(count)]),
        }
    )


def rule_of(rnd: Random, chart: yz.Chart) -> dict[str, Any]:
    """A rule with some effects on a target that the chart may have."""
    rule: dict[str, Any] = {"on": rnd.choice(["mark"] * 4 + known_targets(chart.stages.brief))}
    kind = rnd.random()
    if kind < 0.15:
        colors = rnd.choice(
            [["paper", "favorable"], ["adverse", "paper", "favorable"], ["notice", "adverse"]]
        )
        rule["shade"] = {"of": rnd.choice(["v", "w", "rank of v"]), "colors": colors}
        for key, value in {
            "center": 5,
            "steps": 3,
            "within": ["g"],
            "range": "5% to 95%",
            "arms": "each",
        }.items():
            if rnd.random() < 0.2:
                rule["shade"][key] = value
    elif kind < 0.25:
        rule["bands"] = {
            "of": "v",
            "edges": [0, 20],
            "names": ["low", "fair", "high"],
            "colors": ["adverse", "notice", "favorable"],
        }
    elif kind < 0.4:
        rule |= {
            "part": rnd.choice(["above average", "below 0", "between 0 and 20", "above 10"]),
            "color": rnd.choice(COLORS),
        }
    else:
        rule["when"] = rnd.choice(CONDITIONS)
    effects = {
        "color": rnd.choice(COLORS), "outline": rnd.choice(COLORS), "pattern": rnd.choice(["stripes", "dots", "cross", "grid"]),
        "opacity": rnd.choice([0.3, 0.7]), "weight": "bold", "badge": rnd.choice(["up", "down", "star", "cup", "flag", "alert", "check", "cross", "dot"]),
        "label": rnd.choice(TEXTS), "size": rnd.choice([6, 14]), "key": "A rule of ours", "totals": True, "ties": "dense", "region": True,
    }  # fmt: skip
    chosen = rnd.sample(sorted(effects), rnd.choice([1, 1, 2, 3]))
    rule |= {
        name: effects[name]
        for name in chosen
        if name not in {"region", "totals", "ties"} or rnd.random() < 0.3
    }
    if "when" in rule and not set(rule) & {"color", "outline", "badge", "pattern", "label"}:
        rule["color"] = rnd.choice(COLORS)
    return rule


def keys_of(rnd: Random, kind: str) -> dict[str, Any]:
    """Some keys of every section."""
    panels = {
        "panels": "g",
        "panel_scale": rnd.choice(["own", "shared"]),
        "panel_peers": rnd.choice(["panel", "chart"]),
    }
    layer = {
        "name": "other",
        "value": "w",
        "kind": rnd.choice(["bar", "line", "tick", "dots"]),
        "axis": rnd.choice(["own", "shared"]),
        "place": rnd.choice(["over", "beside"]),
        "width": rnd.choice([0.4, 1.0]),
    }
    options: list[dict[str, Any]] = [
        {"series": "s", "arrange": rnd.choice(["beside", "stacked"])}, {"series": "s"}, panels,
        {"layer": [{"name": "own", "value": "v", "width": 0.8}, layer]},
        {"limit": 4, "rest": "all others"}, {"limit": 3}, {"totals": ["g", "all"]}, {"totals": ["all"]}, {"base": "w"}, {"smooth": True},
        {"theme": rnd.choice(["dusk", "press"])}, {"locale": rnd.choice(["de", "fr", "pl"])}, {"key_place": rnd.choice(["none", "beside subtitle"])},
        {"size": {"width": rnd.choice([500, 900]), "row_height": rnd.choice([20, 48])}}, {"size": {"width": 700, "height": 520, "bar_width": 0.5}},
        {"scale": {"low": rnd.choice([-50, 0]), "title": "thousand crowns"}}, {"scale": {"high": "highest * 2"}},
        {"note": [{"when": "highest", "text": "the best of all: {v:,.0f}"}]}, {"formats": {"v": rnd.choice(["{,.2f}", "€{,.0f}", "{,.1fk}", "{.0%}"])}},
        {"order": rnd.choice(["largest first", "smallest first", "by name", "as given", "w, smallest first"])}, {"show": "v above -10"},
        {"title": rnd.choice(["{total:,.0f} of all, {average:,.1f} each", "A title that is so long that it takes a second line and more of the page than it has " * 2])},
        {"subtitle": "Numbers by name", "footer": "Source: none"}, {"group_order": "largest first"},
    ]  # fmt: skip
    keys: dict[str, Any] = {}
    for option in rnd.sample(options, rnd.choice([0, 1, 2, 3, 4])):
        keys |= option
    if kind == "scatter":
        keys |= {"across": "w"} | ({"point_size": "age"} if rnd.random() < 0.4 else {})
    if kind == "table" and "series" not in keys:
        columns = [
            {"value": "v"},
            {
                "value": "w",
                "show": rnd.choice(["bar", "both", "text"]),
                "title": "the other number",
            },
        ]
        columns += [{"value": "v", "name": "course", "show": "trend", "over": "day"}] * (
            rnd.random() < 0.4
        )
        keys["column"] = columns
    return keys


def begun(rnd: Random, kind: Any) -> tuple[yz.Chart, list[str]]:
    """A chart without rules, and the messages of the keys that did not go together before."""
    refused = []
    while True:
        category = rnd.choice(
            ["day", "day", "name", "age"]
            if kind in {"line", "area"}
            else ["name", "name", "name", "day", "age"]
        )
        keys = keys_of(rnd, kind)
        if category == "age" and rnd.random() < 0.6:
            keys |= rnd.choice([{"grain": 10}, {"bins": 5}, {"edges": [0, 10, 30, 100]}])
        if category == "day" and rnd.random() < 0.4:
            keys["grain"] = rnd.choice(["week", "month", "quarter"])
        try:
            chart = yz.chart(
                rows_of(rnd, category == "day"), category=category, value="v", kind=kind, **keys
            )
            _ = chart.stages.scene
        except yz.YuzenError as error:
            refused.append(str(error))
        else:
            return chart, refused


def random_chart(seed: int) -> tuple[yz.Chart, list[str]]:
    """A chart of a seed, and the messages of all that was refused on the way to it."""
    rnd = Random(seed)
    chart, refused = begun(rnd, KINDS[seed % len(KINDS)])
    labels: list[dict[str, Any]] = [
        {"text": rnd.choice(TEXTS), "where": rnd.choice(["end", "inside", "base", "above"]), "show": rnd.choice(["all", "flagged", "v above 3"])},
        {"text": " and more", "name": "more", "weight": "bold"},
    ][: rnd.choice([0, 1, 1, 2])]  # fmt: skip
    references: list[dict[str, Any]] = [
        {"at": rnd.choice(QUANTITIES), "label": rnd.choice(["here", "average {average:,.1f}"]), "within": rnd.choice([[], [], ["g"]])},
        {"low": "0", "high": "average", "label": "a band"},
        {"after": "first 2", "label": "two"},
    ]  # fmt: skip
    for label in labels:
        chart = tried(chart, refused, "label", label)
    for reference in rnd.sample(references, rnd.choice([0, 0, 1, 2])):
        chart = tried(chart, refused, "reference", reference)
    for _ in range(rnd.choice([1, 2, 3, 4])):
        chart = tried(chart, refused, "rule", rule_of(rnd, chart))
    return chart, refused


def tried(chart: yz.Chart, refused: list[str], section: str, entry: dict[str, Any]) -> yz.Chart:
    """The chart with one more entry; as it is, and the message kept, where that is refused."""
    try:
        longer: yz.Chart = getattr(chart, section)(**entry)
        _ = longer.stages.verdict
    except yz.YuzenError as error:
        refused.append(str(error))
        return chart
    return longer
