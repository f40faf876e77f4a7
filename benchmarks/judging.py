"""The benchmarks of judging: the same rules by Yuzen and in plain NumPy."""

from __future__ import annotations

import numpy as np

from benchmarks import by_hand
from benchmarks.timing import Case
from yuzen.rules.arrays import Text
from yuzen.rules.grammar import parse
from yuzen.rules.judge import Bench, Rule, judge
from yuzen.rules.marks import Marks

FIVE = ("other negative", "top 1000", "above average within group", "below target", "highest within group")


def table(count: int, groups: int = 50) -> dict[str, np.ndarray]:
    """Random marks: one in a hundred values is missing."""
    random = np.random.default_rng(11)
    value = random.normal(100, 30, count)
    value[random.random(count) < 0.01] = np.nan
    return {
        "value": value,
        "other": random.normal(10, 20, count),
        "target": random.normal(90, 30, count),
        "group": random.integers(0, groups, count),
    }


def marks_of(columns: dict[str, np.ndarray]) -> Marks:
    """The same columns as marks."""
    count = len(columns["value"])
    words = tuple(f"group {i}" for i in range(int(columns["group"].max()) + 1))
    numbers = {name: column for name, column in columns.items() if name != "group"}
    item = np.arange(count, dtype=float)
    return Marks(
        {"item": item, "group": Text(columns["group"].astype(np.intp), words), **numbers}, "item", "value"
    )


def cases() -> list[Case]:
    """Five rules on a million marks."""
    columns = table(1_000_000)
    rules, marks = [Rule(text, parse(text)) for text in FIVE], marks_of(columns)
    return [
        Case(
            "five rules on 1,000,000 marks",
            1.2,
            lambda: judge(rules, Bench(marks, {})),
            lambda: by_hand.five_rules(columns),
            7,
        )
    ]
