"""Random tables and random conditions, with ties, missing numbers, infinities, zeros and lone groups."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
from hypothesis import strategies as st

from tests.support.oracle import Table
from yuzen.arrays import Text
from yuzen.formats.periods import UNITS
from yuzen.rules import claims as c
from yuzen.rules import conditions as k
from yuzen.rules.language.period_names import PERIOD_UNITS, PeriodName
from yuzen.rules.marks import Marks
from yuzen.rules.quantities import numbers as q
from yuzen.rules.quantities.ago import Ago
from yuzen.rules.quantities.fields import Field, Number

NUMBERS = ("value", "other")
WORDS = ("waters", "year")
SUMMARIES: list[Any] = ["average", "median", "total", "highest", "lowest", "deviation", "count"]

names = st.text(st.characters(exclude_categories=("Cc", "Cf", "Cs")), min_size=1, max_size=12)
texts = st.text(st.characters(exclude_categories=("Cc", "Cf", "Cs")), max_size=12)
plain_numbers = st.one_of(
    st.integers(0, 10**6).map(float),
    st.floats(1e-6, 1e12).map(lambda x: float(f"{x:.6g}")),
)
counted = st.integers(1, 4).map(lambda i: Number(float(i)))
counts = st.one_of(st.integers(0, 5).map(lambda i: Number(float(i))), st.just(Field("n")))


def fields(within: st.SearchStrategy[str]) -> st.SearchStrategy[Field]:
    return within.map(Field)


def quantities(field: st.SearchStrategy[Field]) -> st.SearchStrategy[Any]:
    """Any quantity over some fields."""
    leaves = st.one_of(
        plain_numbers.map(Number),
        st.sampled_from([0.0, 5.0, 12.5, 80.0, 110.0]).map(q.Percent),
        field,
        st.builds(q.Summary, st.sampled_from(SUMMARIES)),
        st.just(q.Previous()),
        st.builds(q.Moving, counted),
    )

    def grow(inner: st.SearchStrategy[Any]) -> st.SearchStrategy[Any]:
        derived = ["share", "running share", "running total", "rank", "change"]
        return st.one_of(
            st.builds(q.Summary, st.sampled_from(SUMMARIES), inner),
            st.builds(q.Derived, st.sampled_from(derived), inner),
            st.builds(q.Previous, inner),
            st.builds(q.Moving, counted, inner),
            st.builds(q.Negative, inner),
            st.builds(q.Percent, st.sampled_from([10.0, 110.0]), inner),
            st.builds(q.Arithmetic, inner, st.sampled_from("+-*/"), inner),
        )

    return st.recursive(leaves, grow, max_leaves=4)


def claims(quantity: st.SearchStrategy[Any]) -> st.SearchStrategy[Any]:
    """Any claim about numbers or places."""
    amounts = st.one_of(counts, st.sampled_from([0.0, 10.0, 34.0, 100.0]).map(q.Percent))
    optional = st.one_of(st.none(), counts)
    distances = st.one_of(counts, st.sampled_from([0.0, 5.0, 100.0]).map(q.Percent))
    return st.one_of(
        st.builds(c.Compare, st.sampled_from(["<", "<=", "=", "!=", ">=", ">"]), quantity),
        st.builds(c.Between, quantity, quantity),
        st.builds(c.Extreme, st.sampled_from(["highest", "lowest"])),
        st.builds(c.End, st.sampled_from(["top", "bottom"]), amounts),
        st.builds(c.Rank, counts, optional, st.booleans()),
        st.builds(c.HasSign, st.sampled_from(["positive", "negative", "zero"])),
        st.just(c.Missing()),
        st.builds(c.Outlier, st.sampled_from([None, "above", "below"])),
        st.builds(c.Moves, st.sampled_from(["rises", "falls"]), st.none() | quantity, optional),
        st.builds(c.Turns, st.sampled_from(["positive", "negative"])),
        st.just(c.ChangesSign()),
        st.builds(c.NewExtreme, st.sampled_from(["high", "low"])),
        st.builds(c.FirstLast, st.sampled_from(["first", "last"]), optional),
        st.builds(c.Position, counts, optional),
        st.builds(c.Every, counts, optional),
        st.builds(c.Distance, distances, quantity),
    )


def text_claims(text: st.SearchStrategy[str]) -> st.SearchStrategy[Any]:
    """Any claim about words."""
    signs = st.sampled_from(["=", "!=", "starts with", "contains"])
    return st.one_of(
        st.builds(c.TextTest, signs, text),
        st.builds(c.OneOf, st.lists(text, min_size=1, max_size=3).map(tuple)),
    )


def conditions(
    field: st.SearchStrategy[Field],
    word: st.SearchStrategy[Field],
    peers: st.SearchStrategy[str],
    text: st.SearchStrategy[str],
) -> st.SearchStrategy[Any]:
    """Any condition over some number fields, word fields, peers' columns and texts."""
    quantity = quantities(field)
    within = st.lists(peers, max_size=2, unique=True).map(tuple)
    tests = st.one_of(
        st.builds(k.Test, st.none() | quantity, claims(quantity), within),
        st.builds(k.Test, word, text_claims(text), within),
    )
    return st.recursive(
        tests | st.just(k.Always()),
        lambda inner: st.one_of(
            st.builds(k.Not, inner),
            st.builds(k.And, st.lists(inner, min_size=2, max_size=3).map(tuple)),
            st.builds(k.Or, st.lists(inner, min_size=2, max_size=3).map(tuple)),
        ),
        max_leaves=3,
    )


judged = conditions(
    fields(st.sampled_from([*NUMBERS, "n"])),
    fields(st.sampled_from(WORDS)),
    st.sampled_from(WORDS),
    st.sampled_from(["north", "o", "East", ""]),
)
agos = st.builds(Ago, st.sampled_from(UNITS), st.none() | counted)
periods = st.builds(PeriodName, st.sampled_from(PERIOD_UNITS), names).map(str)
dated = st.one_of(
    st.builds(c.Moves, st.sampled_from(["rises", "falls"]), st.none(), st.none() | counted, agos),
    st.builds(
        c.Recent,
        st.sampled_from(["first", "last", "latest"]),
        st.sampled_from(UNITS),
        st.none() | counts,
    ),
    st.builds(c.Compare, st.just(">"), st.builds(q.Previous, st.none() | fields(names), agos)),
    st.builds(
        c.Compare, st.just("<"), st.builds(q.Derived, st.just("change"), fields(names), agos)
    ),
)
within_periods = st.lists(periods, max_size=2, unique=True).map(tuple)
written = st.one_of(
    conditions(fields(names), fields(names), names, texts),
    st.builds(k.Test, st.none() | fields(names), dated, within_periods),
)


@st.composite
def tables(draw: st.DrawFn) -> Table:
    """Up to nine marks in three waters and two years, in any sequence."""
    number = st.one_of(
        st.integers(-3, 3).map(float),
        st.sampled_from([None, 0.5, -2.5, math.inf, -math.inf, 0.0]),
    )
    row = st.fixed_dictionaries(
        {
            "value": number,
            "other": number,
            "waters": st.sampled_from(["North", "East", None]),
            "year": st.sampled_from(["one", "two"]),
        }
    )
    rows = draw(st.lists(row, min_size=1, max_size=9))
    order = draw(st.permutations(range(len(rows))))
    return Table(rows, order, "value", {"n": float(draw(st.integers(0, 4)))})


def marks_of(table: Table) -> Marks:
    """The same table as the package takes it."""
    rows = table.rows
    columns: dict[str, Any] = {"item": Text.of([f"m{i}" for i in range(len(rows))])}
    for name in WORDS:
        columns[name] = Text.of([row[name] for row in rows])
    for name in NUMBERS:
        columns[name] = np.array([math.nan if row[name] is None else row[name] for row in rows])
    return Marks(columns, "item", "value", order=np.array(table.order, dtype=np.intp))
