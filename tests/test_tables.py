"""Tables: what stands in them beside pandas, and how they are drawn on any data."""

from __future__ import annotations

from itertools import pairwise
from typing import Any

import numpy as np
import pandas as pd
import pytest

import yuzen as yz
from tests.test_drawing import assert_tidy, drawn
from yuzen.color.themes import TEXT_CONTRAST, THEMES
from yuzen.draw.table_columns import decimal_place
from yuzen.draw.writing import Writing

WORDS = ("Brinewick", "Cinderquay Upper Landing", "Eel", "Farrowness", "Gullhaven by the Sound", "Ö")


def random_rows(random: np.random.Generator) -> pd.DataFrame:
    """Rows with names of all lengths, numbers of all sizes, some missing, in groups."""
    count = int(random.choice([1, 2, 5, 12, 25]))
    months = int(random.choice([1, 2, 4, 12, 24]))
    names = [f"{random.choice(WORDS)} {place}" for place in range(count)]
    frame = pd.DataFrame(
        [(name, f"Group {place % 3}", f"2025-{m % 12 + 1:02d}" if m < 12 else f"2026-{m % 12 + 1:02d}")
         for place, name in enumerate(names) for m in range(months)],
        columns=["name", "group", "month"],
    )  # fmt: skip
    for column in ("a", "b", "c", "d", "e"):
        size = 10.0 ** random.integers(-3, 10)
        values = random.normal(random.choice([0, 1, 5]), 1, len(frame)) * size
        frame[column] = np.where(random.random(len(frame)) < 0.05, np.nan, values)
    return frame.round(int(random.choice([0, 2, 4])))


SHOWS = ["text", "text", "bar", "both", "trend"]
RULES: list[dict[str, Any]] = [
    {"when": "negative", "color": "adverse"},
    {"shade": {"colors": ["adverse", "paper", "favorable"]}},
    {"shade": {"range": "5% to 95%", "steps": 4}},
    {"bands": {"edges": [0], "names": ["down", "up"], "colors": ["notice", "favorable"]}},
    {"when": "highest within group", "badge": "cup", "outline": "ink"},
    {"when": "above average", "weight": "bold", "pattern": "stripes", "color": "#7A6AA0"},
    {"when": "lowest", "label": "the least of all"},
    {"when": "top 2", "opacity": 0.4, "color": "teal"},
]


def random_table(seed: int) -> yz.Chart:
    """A table of measures, or one with series, with rules of all sorts."""
    random = np.random.default_rng(seed)
    rows = random_rows(random)
    crossed = bool(random.random() < 0.4)
    said: dict[str, Any] = {"totals": [[], ["all"], ["group"], ["group", "all"]][int(random.integers(4))]}
    if crossed:
        said["series"] = "month"
    else:
        chosen = random.choice(list("abcde"), int(random.integers(1, 6)), replace=False).tolist()
        said["column"] = [{"value": name, "name": f"{name} column {place}", "show": str(random.choice(SHOWS))}
                          for place, name in enumerate(chosen)]  # fmt: skip
        for column in said["column"]:
            if column["show"] == "trend":
                column["over"] = "month"
            elif column["show"] != "bar" and random.random() < 0.3:
                column["format"] = str(random.choice(["{,.1fM}", "€{,.0f}", "{paren ,.2f}", "{.1%}"]))
            if random.random() < 0.3:
                column["title"] = "A title of several words, in thousands"
    said["size"] = {"width": int(random.choice([400, 800, 1280]))}
    if random.random() < 0.2:
        said["size"]["height"] = int(random.choice([300, 700]))
    said["theme"] = str(random.choice(sorted(THEMES)))
    chart = yz.chart(rows, kind="table", category="name", value="a", title="A table", **said)
    picked = random.choice(len(RULES), int(random.integers(1, 5)), replace=False).tolist()
    for place, rule in enumerate(picked):
        targets = ["row", "axis name"]
        targets += ["mark", "label"] if crossed else [f"column {c['name']}" for c in said["column"]] * 2
        own = dict(RULES[rule])
        target = str(random.choice(targets))
        if target in {"row", "axis name", "label"}:
            own = {key: value for key, value in own.items() if key not in {"outline", "pattern", "label"}} | {
                "color": "adverse"
            }
            own = own if {"when", "shade", "bands"} & own.keys() else {"when": "negative", **own}
        if "bands" in own or "shade" in own:
            own.pop("color", None)
        chart = chart.rule(own.pop("when", "always"), on=target, name=f"r{place}", **own)
    return chart
