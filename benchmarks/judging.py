"""The benchmarks of judging: the same rules by Yuzen and in plain NumPy, which is one thread."""

from __future__ import annotations

import os
import tracemalloc
from functools import lru_cache
from typing import TYPE_CHECKING, Final

import numpy as np

from benchmarks import by_hand
from benchmarks.timing import Case
from yuzen.arrays import Text
from yuzen.rules.grammar.parser import parse
from yuzen.rules.judge import EvaluationContext, Rule, judge
from yuzen.rules.marks import Marks

if TYPE_CHECKING:
    from collections.abc import Callable

ROOM: Final = (
    16_000_000_000  # bytes that a hundred million marks take, with what is worked out of them
)
FIVE = (
    "other negative",
    "top 1000",
    "above average within group",
    "below target",
    "highest within group",
)

TEN = (
    "other negative",
    "top 1000",
    "above average within group",
    "rank 2 to 4 within group",
    "falls by 10% within group",
    "outlier within group",
    "share of value at least 0.001%",
    "below target",
    "new high within group",
    "bottom 10% within group",
)


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
        {"item": item, "group": Text(columns["group"].astype(np.intp), words), **numbers},
        "item",
        "value",
    )


def cases() -> list[Case]:
    """Five rules, and ten of ten kinds, on more and more marks; the most where memory allows."""
    few = ((1_000, 15, None), (100_000, 9, None), (1_000_000, 7, 0.95), (10_000_000, 3, None))
    many: list[tuple[int, int, float | None]] = [(1_000_000, 7, 1.0), (10_000_000, 7, 1.0)]
    if os.sysconf("SC_PHYS_PAGES") * os.sysconf("SC_PAGE_SIZE") > ROOM:
        many.append((100_000_000, 1, None))
    return [
        *(
            _case("ten rules", TEN, count, runs, most, by_hand.ten_rules)
            for count, runs, most in few
        ),
        *(
            _case("five rules", FIVE, count, runs, most, by_hand.five_rules)
            for count, runs, most in many
        ),
    ]


def memory() -> str:
    """The most memory that judging ten rules takes beyond its input, for each mark and rule."""
    count = 1_000_000
    rules, marks = rules_of(TEN), marks_of(table(count))
    tracemalloc.start()
    judge(rules, EvaluationContext(marks, {}))
    _, peak = tracemalloc.get_traced_memory()
    tracemalloc.stop()
    each = peak / count / len(TEN)
    return f"ten rules on {count:,} marks: {each:.1f} bytes for each mark and rule at the peak"


def _case(
    name: str,
    texts: tuple[str, ...],
    count: int,
    runs: int,
    most: float | None,
    hand: Callable[[dict[str, np.ndarray]], object],
) -> Case:
    rules = rules_of(texts)
    return Case(
        f"{name} on {count:,} marks",
        most,
        lambda: judge(rules, EvaluationContext(_made(count)[1], {})),
        lambda: hand(_made(count)[0]),
        runs,
    )


@lru_cache(maxsize=1)
def _made(count: int) -> tuple[dict[str, np.ndarray], Marks]:
    """So many marks, as columns and as marks, until others are asked for."""
    columns = table(count)
    return columns, marks_of(columns)


def rules_of(texts: tuple[str, ...]) -> list[Rule]:
    """The rules of these conditions."""
    return [Rule(text, parse(text)) for text in texts]
