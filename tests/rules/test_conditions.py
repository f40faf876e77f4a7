"""Every claim and quantity against the slow oracle, and laws that hold for all conditions."""

from __future__ import annotations

import operator
from collections.abc import Callable
from dataclasses import replace
from itertools import pairwise
from typing import Any

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

import yuzen as yz
from tests.support import oracle
from tests.support.sampling import examples
from tests.support.strategies import judged, marks_of, tables, written
from yuzen.rules import claims as c
from yuzen.rules.conditions import And, Not, Or, all_tests
from yuzen.rules.evaluation_data import EvaluationData
from yuzen.rules.grammar.parser import parse
from yuzen.rules.quantities.structure import inside

TIES = st.sampled_from(["competition", "dense", "ordinal"])


def expected(condition: Any, table: oracle.Table, ties: str) -> list[int]:
    try:
        truths = oracle.holds(condition, table, ties)
    except oracle.TooClose:
        assume(False)  # noqa: FBT003 - hypothesis' own way
    return [0 if t is None else 1 if t else -1 for t in truths]


@settings(max_examples=examples(300), deadline=None)
@given(tables(), judged, TIES)
def test_judged_as_the_oracle_judges(table: oracle.Table, condition: Any, ties: Any) -> None:
    facts = EvaluationData(marks_of(table), table.parameters)
    assert condition.holds(facts, ties).tolist() == expected(condition, table, ties), str(condition)


CASES = {
    c.Compare: "other at least 110% of median within waters",
    c.Between: "value between previous and average of other",
    c.HasSign: "change of value negative",
    c.Missing: "share of other missing",
    c.Extreme: "highest within waters, year",
    c.End: "bottom 34% within waters",
    c.Rank: "rank 2 to 3 from bottom",
    c.Outlier: "outlier above",
    c.Moves: "falls by 10% 2 times within year",
    c.Turns: "turns negative",
    c.ChangesSign: "other changes sign within waters",
    c.NewExtreme: "new high within year",
    c.FirstLast: "last n within waters",
    c.Position: "position 2 to n",
    c.Every: "every 2 from n within waters",
    c.Distance: "value within 50% of other within waters",
    c.TextTest: 'waters contains "ort"',
    c.OneOf: 'waters one of "north", "south"',
}


def test_every_claim_has_a_case() -> None:
    assert {*CASES, c.Recent} == set(
        c.CLAIMS
    )  # of dates, which tests/test_periods has beside pandas


@pytest.mark.parametrize("text", CASES.values())
@settings(max_examples=examples(40), deadline=None)
@given(table=tables(), ties=TIES)
def test_each_claim_as_the_oracle(text: str, table: oracle.Table, ties: Any) -> None:
    condition = parse(text)
    facts = EvaluationData(marks_of(table), table.parameters)
    assert condition.holds(facts, ties).tolist() == expected(condition, table, ties)


@settings(max_examples=examples(100), deadline=None)
@given(tables(), judged, st.randoms(use_true_random=False))
def test_the_order_of_marks_does_not_matter(
    table: oracle.Table, condition: Any, random: Any
) -> None:
    """Only positions, ordinal ties, and what runs along words look at the drawn order."""
    tests = list(all_tests(condition))
    assume(not any(isinstance(test.claim, c.FirstLast | c.Position | c.Every) for test in tests))
    parts = [part for test in tests for of in test.quantities() for part in inside(of)]
    assume(not any(getattr(part, "kind", "").startswith("running") for part in parts))
    shuffled = list(range(len(table.rows)))
    random.shuffle(shuffled)
    place = {old: new for new, old in enumerate(shuffled)}
    other = replace(
        table, rows=[table.rows[i] for i in shuffled], order=[place[i] for i in table.order]
    )
    held = condition.holds(EvaluationData(marks_of(table), table.parameters))
    moved = condition.holds(EvaluationData(marks_of(other), table.parameters))
    try:
        oracle.holds(condition, table)
    except oracle.TooClose:
        assume(False)  # noqa: FBT003
    assert held[shuffled].tolist() == moved.tolist()


@settings(max_examples=examples(100), deadline=None)
@given(tables(), judged, judged)
def test_kleenes_laws(table: oracle.Table, one: Any, other: Any) -> None:
    facts = EvaluationData(marks_of(table), table.parameters)
    left = Not(And((one, other))).holds(facts)
    right = Or((Not(one), Not(other))).holds(facts)
    assert np.array_equal(left, right)


@settings(max_examples=examples(100), deadline=None)
@given(tables(), judged, TIES)
def test_every_mark_has_a_reason(table: oracle.Table, condition: Any, ties: Any) -> None:
    because = condition.explain(EvaluationData(marks_of(table), table.parameters), ties)
    for mark in range(len(table.rows)):
        sentence = because(mark)
        assert sentence
        assert "nan" not in sentence.casefold().split()


@settings(max_examples=examples(60), deadline=None)
@given(written)
def test_a_tree_prints_as_text_that_parses_to_it(condition: Any) -> None:
    text = str(condition)
    assert parse(text) == condition
    assert str(parse(text)) == text


SIGNS: dict[str, Callable[[float, float], bool]] = {
    "above": operator.gt,
    "at least": operator.ge,
    "below": operator.lt,
    "at most": operator.le,
    "=": operator.eq,
    "!=": operator.ne,
}
OPPOSITE = {"above": "below", "below": "above", "at least": "at most", "at most": "at least"}


@pytest.mark.sampled(3)
@pytest.mark.parametrize("sign", SIGNS)
@given(level=st.integers(-1, 13), turned=st.booleans())
def test_a_comparison_holds_of_a_bin_where_it_holds_of_all_that_may_lie_in_it(
    sign: str, level: int, turned: bool
) -> None:
    """Tried with every quarter in the bin: with the lower edge, with the upper one in the last."""
    edges = [0, 3, 6, 9, 12]
    rows = {"age": [1, 4, 7, 12], "n": [1, 1, 1, 1]}
    chart = yz.chart(rows, category="age", value="n", kind="column", edges=edges)
    said = f"{level} {OPPOSITE.get(sign, sign)} age" if turned else f"age {sign} {level}"
    flags = chart.rule(said, name="it", color="adverse").flags()
    for place, (low, high) in enumerate(pairwise(edges)):
        values = np.arange(low, high + (0.25 if high == 12 else 0), 0.25)
        truths = {SIGNS[sign](value, level) for value in values.tolist()}
        expected = ("it", "") if truths == {True} else ("", "" if truths == {False} else "it")
        assert tuple(flags.loc[place, ["rule", "unknown"]]) == expected, (low, high)
