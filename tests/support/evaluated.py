"""Random charts from their rows on, and random conditions in words, for the evaluator of oracle.py.

Each kind of chart makes rows, says how they are drawn, and lays the marks out for the evaluator by
its own sums: months with gaps, weeks, words, totals, series, panels, dots, numbers and bins.
"""

from __future__ import annotations

import datetime as dt
import random
import sys
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from decimal import Decimal
from itertools import pairwise
from typing import Any

import pandas as pd

import yuzen as yz
from tests.support.oracle import Table, TooClose, holds
from yuzen.arrays import Text
from yuzen.errors import YuzenError
from yuzen.rules.grammar.parser import parse
from yuzen.rules.peers.ranks import Ties

Row = dict[str, Any]
# The number of a month counts from January of the year 0 as 1.
TURNING: dict[str, Callable[[int], int]] = {
    "calendar month": lambda month: (month - 1) % 12,
    "calendar quarter": lambda month: (month - 1) % 12 // 3,
}
VALUES = (0, 1, 2, 3, -1, -2, 5, 0.5, 2.25, 10, None)


@dataclass
class Case:
    """A chart, its marks for the evaluator, and what may be said of it."""

    chart: yz.Chart
    table: Table
    peers: list[str]
    dated: bool = False
    binned: bool = False
    rule: dict[str, Any] = field(default_factory=dict)
    reached: list[int] | None = None


def measured(rows: Iterable[Row]) -> Row:
    """The measures of a mark: totals of v, u and w, of which u by w is m."""
    kept = list(rows)
    sums: Row = {}
    for name in ("v", "u", "w"):
        known = [Decimal(str(row[name])) for row in kept if row[name] is not None]
        sums[name] = float(sum(known)) if known else None
    sums["m"] = None if sums["u"] is None or not sums["w"] else sums["u"] / sums["w"]
    return sums


def some_rows(r: random.Random, keys: list[Row]) -> list[Row]:
    """One to three rows for each mark, in any order."""
    rows = [
        {**key, **{name: r.choice(VALUES) for name in ("v", "u", "w")}}
        for key in keys
        for _ in range(r.choice((1, 1, 2, 3)))
    ]
    r.shuffle(rows)
    return rows


def charted(rows: list[Row], **keys: Any) -> yz.Chart:
    frame = pd.DataFrame(rows).astype({"v": float, "u": float, "w": float})
    measures = {"m": "total of u / total of w"}
    return yz.chart(frame, value="v", measures=measures, parameters={"n": 2}, **keys)


def table_of(chart: yz.Chart, rows: list[Row], key: Callable[[Row], tuple[Any, ...]],
             drawn: list[tuple[Any, ...]], more: Callable[[tuple[Any, ...]], Row], **settings: Any) -> Table:  # fmt: skip
    """The marks in the order in which the chart draws them, each with the sums of its rows."""
    marks = [{**measured(row for row in rows if key(row) == mark), **more(mark)} for mark in drawn]
    order = settings.pop("order", list(range(len(drawn))))
    del chart
    return Table(marks, order, "v", {"n": 2.0}, ratios={"m": ("u", "w")}, **settings)


def column(chart: yz.Chart, name: str) -> list[Any]:
    """A column of the marks as Python has it: words, numbers, dates."""
    values = chart.stages.marks.columns[name]
    if isinstance(values, Text):
        return [values.words[code] for code in values.codes.tolist()]
    return [str(value)[:10] if values.dtype.kind == "M" else value for value in list(values)]


def months(r: random.Random) -> Case:
    """Months with gaps, as texts or as dates with a grain; perhaps in series or panels."""
    apart = r.choice((None, "series", "panels"))
    keys = [
        {"d": f"{2024 + month // 12}-{month % 12 + 1:02d}", "s": s, "g": "xyz"[month % 3]}
        for s in ("a", "b")[: 2 if apart else 1]
        for month in sorted(r.sample(range(20), r.randint(1, 14)))
    ]
    rows = some_rows(r, keys)
    chart_rows: list[Row] = rows
    settings: Row = {"category": "d", "kind": "line"}
    if r.random() < 0.5:
        chart_rows = [
            {**row, "d": pd.Timestamp(f"{row['d']}-{r.randint(1, 28):02d}")} for row in rows
        ]
        settings["grain"] = "month"
    if apart:
        settings[apart] = "s"
    chart = charted(chart_rows, **settings)
    window = r.choice((None, None, "d in last 7 months", "not v below 1", 'd after "2024-09"'))
    names = [date[:7] for date in column(chart, "d")]
    drawn = list(zip(names, column(chart, "s") if apart else ["a"] * len(names), strict=True))
    number = {mark: int(mark[0][:4]) * 12 + int(mark[0][5:]) for mark in drawn}
    table = table_of(
        chart, rows, lambda row: (row["d"], row["s"]), drawn,
        lambda mark: {
            "s": mark[1], "g": "xyz"[(int(mark[0][5:]) - 1 + (int(mark[0][:4]) - 2024) * 12) % 3],
            "year": mark[0][:4], "quarter": (number[mark] - 1) // 3,
            **{name: place(number[mark]) for name, place in TURNING.items()},
        },
        order=sorted(range(len(drawn)), key=lambda i: number[drawn[i]]),
        apart=("s",), periods=[number[mark] for mark in drawn], dated=True,
        among=("s",) if apart == "panels" else (), turning=TURNING,
    )  # fmt: skip
    reached = None
    if window:
        chart = charted(chart_rows, **settings, show=window)
        try:
            names = [date[:7] for date in column(chart, "d")]
        except YuzenError:  # it holds for none
            return months(r)
        shown = list(zip(names, column(chart, "s") if apart else ["a"] * len(names), strict=True))
        reached = [drawn.index(mark) for mark in shown]
        table.hidden = frozenset(range(len(drawn))) - frozenset(reached)
    peers = ["g", "year", "quarter", *TURNING, *(["s"] if apart else [])]
    return Case(chart, table, peers, dated=True, reached=reached)


def weeks(r: random.Random) -> Case:
    """Weeks of random days, which lie in the month of their middle day."""
    first = dt.date(2025, 12, 1)
    keys = [
        {"d": first + dt.timedelta(days=day)}
        for day in sorted(r.sample(range(90), r.randint(2, 25)))
    ]
    rows = some_rows(r, keys)
    chart = charted([{**row, "d": pd.Timestamp(row["d"])} for row in rows], category="d", kind="column", grain="week")  # fmt: skip

    def monday(day: dt.date) -> dt.date:
        return day - dt.timedelta(days=day.weekday())

    drawn = [(dt.date.fromisoformat(day),) for day in column(chart, "d")]
    middles = {mark: mark[0] + dt.timedelta(days=3) for mark in drawn}
    table = table_of(
        chart, rows, lambda row: (monday(row["d"]),), drawn,
        lambda mark: {"year": middles[mark].year, "month": middles[mark].strftime("%Y-%m")},
        periods=[(mark[0] - first).days // 7 for mark in drawn], dated=True,
    )  # fmt: skip
    return Case(chart, table, ["year", "month"])


def words(r: random.Random) -> Case:
    """Words in the order of the rows or of their size; perhaps with totals that rules reach."""
    keys = [{"item": f"i{n}", "g": r.choice("xy")} for n in range(r.randint(1, 9))]
    rows = some_rows(r, keys)
    totals, group = r.choice((None, True, "only")), {key["item"]: key["g"] for key in keys}
    settings: Row = {"order": r.choice(("as given", "largest first"))}
    if totals:
        settings |= {"kind": "table", "totals": r.choice((["all"], ["g", "all"], ["g"]))}
    chart = charted(rows, category="item", **settings)
    drawn = [(name,) for name in column(chart, "item")]
    named = list(dict.fromkeys(row["item"] for row in rows))
    marks: list[Row] = []
    for (name,) in drawn:
        level, own = "item", [row for row in rows if row["item"] == name]
        if name == "Total":
            level, own = "all", rows
        elif name not in group:
            level, own = "group", [row for row in rows if row["g"] == name.removesuffix(" total")]
        marks.append({**measured(own), "level": level, "item": name, "g": group.get(name, name[0])})
    items = [i for i, mark in enumerate(marks) if mark["level"] == "item"]
    reached = list(range(len(marks)))
    if totals == "only":
        reached = [i for i in reached if i not in items]
    elif totals is None:
        reached = items
    kept = [marks[i] for i in reached]
    # Totals of groups too follow one another as the rows first name their groups.
    place = {name: n for n, name in enumerate(named)}
    place |= {f"{g} total": 50 + n for n, g in enumerate(dict.fromkeys(row["g"] for row in rows))}
    order = sorted(range(len(kept)), key=lambda i: place.get(kept[i]["item"], 99))
    table = Table(
        kept, order, "v", {"n": 2.0}, ratios={"m": ("u", "w")},
        totals=frozenset(n for n, i in enumerate(reached) if i not in items) if totals is True else frozenset(),
        among=("level",) if totals == "only" else (),
    )  # fmt: skip
    peers = [] if totals else ["g"]
    return Case(chart, table, peers, rule={"totals": totals} if totals else {}, reached=reached)


def beside(r: random.Random) -> Case:
    """Words as categories and months as series: the row is the sequence."""
    keys = [
        {"item": f"i{n}", "d": f"2025-{month:02d}"}
        for n in range(r.randint(1, 3))
        for month in sorted(r.sample(range(1, 9), r.randint(1, 6)))
    ]
    rows = some_rows(r, keys)
    chart = charted(rows, category="item", series="d", kind="column", order="as given")
    names = [date[:7] for date in column(chart, "d")]
    drawn = list(zip(column(chart, "item"), names, strict=True))
    number = [int(name[5:]) for name in names]
    table = table_of(
        chart, rows, lambda row: (row["item"], row["d"]), drawn, lambda mark: {"item": mark[0], "d": mark[1]},
        order=sorted(range(len(drawn)), key=lambda i: number[i]), apart=("item",), periods=number, dated=True,
    )  # fmt: skip
    return Case(chart, table, ["item", "d"], dated=True)


def dots(r: random.Random) -> Case:
    """Dots of two series, joined from plan to actual in each row."""
    keys = [
        {"item": f"i{n}", "s": s}
        for n in range(r.randint(1, 5))
        for s in ("plan", "actual")[: r.choice((1, 2, 2))]
    ]
    rows = some_rows(r, keys)
    chart = charted(rows, category="item", series="s", kind="dots", order="as given")
    drawn = list(zip(column(chart, "item"), column(chart, "s"), strict=True))
    named = list(dict.fromkeys(row["s"] for row in rows))
    table = table_of(
        chart, rows, lambda row: (row["item"], row["s"]), drawn, lambda mark: {"item": mark[0], "s": mark[1]},
        order=sorted(range(len(drawn)), key=lambda i: named.index(drawn[i][1])), apart=("item",),
    )  # fmt: skip
    return Case(chart, table, ["item", "s"])


def binned(r: random.Random) -> Case:
    """Bins of a number, of which the last holds its upper edge."""
    edges = sorted(r.sample(range(12), r.randint(2, 5)))
    inside = range(edges[0], edges[-1] + 1)
    rows = some_rows(r, [{"size": float(r.choice(inside))} for _ in range(r.randint(1, 8))])
    chart = charted(rows, category="size", kind="column", edges=edges)
    lower = [(float(edge),) for edge in column(chart, "size")]
    upper = dict(pairwise(edges))

    def bin_of(row: Row) -> tuple[float]:
        return (float(max(edge for edge in edges[:-1] if edge <= row["size"])),)

    highest = max(upper[int(low)] for (low,) in lower)
    table = table_of(
        chart, rows, bin_of, lower, lambda mark: {"size": mark[0]}, dated=True,
        periods=[edges.index(int(low)) for (low,) in lower],
        ends=[(low, upper[int(low)], upper[int(low)] == highest) for (low,) in lower],
    )  # fmt: skip
    return Case(chart, table, [], binned=True)


def numbered(r: random.Random) -> Case:
    """Numbers as categories, whose neighbours are neighbours however far apart."""
    keys = [{"size": float(n), "g": "xy"[n % 2]} for n in r.sample(range(20), r.randint(1, 9))]
    rows = some_rows(r, keys)
    chart = charted(rows, category="size", kind="column")
    drawn = [(float(size),) for size in column(chart, "size")]
    table = table_of(
        chart, rows, lambda row: (row["size"],), drawn,
        lambda mark: {"size": mark[0], "g": "xy"[int(mark[0]) % 2]},
        order=sorted(range(len(drawn)), key=lambda i: drawn[i]), dated=True,
    )  # fmt: skip
    return Case(chart, table, ["g"])


KINDS: dict[str, Callable[[random.Random], Case]] = {
    kind.__name__: kind for kind in (months, weeks, words, beside, dots, binned, numbered)
}


def quantity(r: random.Random, case: Case, depth: int = 2) -> str:
    """A quantity in words."""
    name = r.choice(("v", "v", "u", "m"))
    leaves = [name, name, str(r.choice((0, 1, 2.5, 100))), "n", "average", "previous", "count",
              "moving average over 2", "highest", "overall of m", f"average of {name}"]  # fmt: skip
    if case.dated:
        leaves += ["previous a year before", "previous 2 months before"]
    if depth == 0 or r.random() < 0.4:
        return r.choice(leaves)
    inner = quantity(r, case, depth - 1)
    grown = [
        f"{r.choice(('average', 'median', 'total', 'lowest', 'deviation', 'count'))} of ({inner})",
        f"{r.choice(('share', 'running share', 'running total', 'rank', 'change'))} of ({inner})",
        f"previous of ({inner})",
        f"moving average of ({inner}) over n",
        f"{r.choice((10, 110))}% of ({inner})",
        f"({inner}) {r.choice('+-*/')} ({quantity(r, case, depth - 1)})",
        f"-({inner})",
    ]
    if case.dated:
        grown += [f"change of ({inner}) on a year before", f"previous of ({inner}) a month before"]
    return r.choice(grown)


def claim(r: random.Random, case: Case) -> str:
    """A claim in words."""
    of = quantity(r, case, 1)
    ago = (
        f" on {r.choice(('a year before', '2 months before'))}"
        if case.dated and r.random() < 0.4
        else ""
    )
    times = r.choice(("", "", " 2 times", " 3 times"))
    by = r.choice(("", "", " by 10%", " by 1", f" by ({of})"))
    return r.choice((
        f"{r.choice(('above', 'below', 'at least', 'at most', '=', '!='))} {of}",
        f"between ({of}) and ({quantity(r, case, 1)})",
        r.choice(("highest", "lowest", "outlier", "outlier above", "outlier below", "missing")),
        r.choice(("positive", "negative", "zero", "changes sign", "turns positive", "turns negative")),
        f"{r.choice(('top', 'bottom'))} {r.choice(('1', '2', 'n', '34%'))}",
        r.choice(("rank 1", "rank 2 to 3", "rank 1 to n from bottom")),
        f"within {r.choice(('1', '2.5', 'n', '50%', '5%'))} of ({of})",
        f"{r.choice(('rises', 'falls'))}{by}{ago}{times}",
        f"{r.choice(('rises', 'falls'))}{ago}{times}",
        r.choice(("new high", "new low", "first", "last", "first 2", "last n", "position 2", "position 1 to 2",
                  "every 2", "every n from 1", "every 3 from 2")),
    ))  # fmt: skip


def one_test(r: random.Random, case: Case) -> str:
    """One test in words."""
    if case.binned and r.random() < 0.4:
        sign, level = (
            r.choice(("above", "below", "at least", "at most", "=", "!=")),
            r.randint(0, 12),
        )
        return r.choice((
            f"size {sign} {level}", f"size between {level} and {level + r.randint(0, 4)}",
            f"size within {level + 1} of 6", f"size + 1 {sign} {level}", f"v {sign} size", f"average of size {sign} {level}", "size outlier",
            f"size {r.choice(('highest', 'lowest', 'rises', 'top 2', 'new high', 'last'))}",
        ))  # fmt: skip
    within = f" within {r.choice(case.peers)}" if case.peers and r.random() < 0.4 else ""
    subject = r.choice(("", "", "v ", "u ", "m ", f"({quantity(r, case)}) "))
    return f"{subject}{claim(r, case)}{within}"


def condition(r: random.Random, case: Case) -> str:
    """A condition of one to three tests."""
    tests = [
        f"{r.choice(('', '', 'not '))}({one_test(r, case)})" for _ in range(r.choice((1, 1, 2, 3)))
    ]
    return f" {r.choice(('and', 'or'))} ".join(tests)


@dataclass
class Tally:
    """How many conditions were judged alike, and what was not."""

    judged: int = 0
    refused: int = 0
    unlike: list[str] = field(default_factory=list)


def judge_all(kind: str, seed: int, count: int, tally: Tally) -> None:
    """Judge some random conditions on one random chart, by the package and by the evaluator."""
    r = random.Random(seed)  # noqa: S311 - no secret
    case = KINDS[kind](r)
    for _ in range(count):
        text = condition(r, case)
        ties: Ties = r.choice(("competition", "competition", "dense", "ordinal"))
        try:
            ruled = case.chart.rule(text, name="r", color="adverse", ties=ties, **case.rule)
            truths = ruled.stages.verdict.whole.truths[0].tolist()
        except YuzenError:
            tally.refused += 1
            continue
        told = truths
        if case.reached is not None and not case.table.hidden:
            told = [truths[i] for i in case.reached]
        try:
            expected = [
                0 if t is None else 1 if t else -1 for t in holds(parse(text), case.table, ties)
            ]
            if case.table.hidden:
                expected = [expected[i] for i in case.reached or ()]
        except TooClose:
            continue
        tally.judged += 1
        if told != expected:
            tally.unlike.append(f"{kind} {seed} [{ties}] {text}: {told}, and {expected} is right")


def main(conditions: int) -> int:
    """Judge so many conditions, a part of them on each kind of chart; 1 where one was judged unlike."""
    tally, each = Tally(), 10
    for kind in KINDS:
        for seed in range(conditions // each // len(KINDS) + 1):
            judge_all(kind, seed, each, tally)
    print(
        f"{tally.judged:,} conditions judged, {tally.refused} refused, {len(tally.unlike)} unlike"
    )
    for unlike in tally.unlike:
        print(f"UNLIKE {unlike}")
    return int(bool(tally.unlike))


if __name__ == "__main__":
    sys.exit(main(int(sys.argv[1]) if len(sys.argv) > 1 else 20_000))
