"""The sentences of `why`, word for word, for every claim: held, not held and unknown."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

import yuzen as yz
from yuzen.formats.number_text import MINUS, tell, tell_percent
from yuzen.rules import claims as c
from yuzen.rules.conditions import all_tests
from yuzen.rules.grammar.parser import parse

ROWS: dict[str, list[Any]] = {
    "day": ["2025-12-30", "2025-12-31", "2026-01-01", "2026-01-02", "2026-01-03", "2026-01-04"],
    "pier": ["North", "North", "South", "South", "South", None],
    "v": [100, 80, -5, 0, 80, None],
    "limit": [90, 90, -5, 1, None, 3],
}

SENTENCES: list[tuple[str, int, str]] = [
    ("v negative", 2, "v −5 is negative"),
    ("v negative", 0, "v 100 is not negative"),
    ("v negative", 5, "v is missing"),
    ("v zero", 3, "v 0 is zero"),
    ("v missing", 5, "v is missing"),
    ("v missing", 0, "v is not missing"),
    ("pier missing", 5, "pier is missing"),
    ("v above limit", 0, "v 100 is above limit (90)"),
    ("v below limit", 2, "v −5 is not below limit (−5)"),
    ("v above limit", 4, "v 80 cannot be compared: limit is missing"),
    ("v = 80", 1, "v 80 is equal to 80"),
    ("v != 80", 1, "v 80 is not other than 80"),
    ("v above average", 0, "v 100 is above average (51, over 5 marks)"),
    ("v above average within pier", 1, "v 80 is not above average (90, over 2 marks) within pier"),
    ("v at least 110% of median", 0, "v 100 is at least 110% of median (88, over 5 marks)"),
    ("v at most average + deviation", 2, "v −5 is at most average + deviation (101, over 5 marks)"),
    ("share of v above 30%", 0, "share of v 39.2% is above 30%"),
    ("v between -5 and 80", 2, "v −5 is between -5 (−5) and 80"),
    ("v between 1 and 80", 3, "v 0 is not between 1 and 80"),
    ("v between limit and 200", 4, "v 80 cannot be placed between limit (missing) and 200"),
    ("v highest", 0, "v 100 is the highest of 6 marks"),
    ("v highest", 1, "v 80 is not the highest of 6 marks, which is 100"),
    ("v lowest within pier", 2, "v −5 is the lowest of 3 marks within pier"),
    ("v top 2", 1, "v 80 ranks 2 of 5 (with 1 equal), top 2"),
    ("v top 2", 3, "v 0 ranks 4 of 5, not in the top 2"),
    ("v bottom 40%", 2, "v −5 ranks 1 of 5 from the bottom, bottom 40% (2)"),
    ("v top n", 0, "v 100 ranks 1 of 5, top n (3)"),
    ("v rank 2 to 3", 4, "v 80 ranks 2 of 5 (with 1 equal), rank 2 to 3"),
    ("v rank 1 from bottom", 0, "v 100 ranks 5 of 5 from the bottom, not rank 1 from bottom"),
    ("v outlier", 2, "v −5 lies inside the usual −120 to 200 of 6 marks"),
    ("v outlier", 5, "v is missing"),
    ("v falls", 1, "v went down from 100 to 80, by 20%"),
    ("v falls by 25%", 1, "v went down from 100 to 80, by 20%; 'falls by 25%' does not hold"),
    ("v falls 2 times", 2, "v went down from 80 to −5, by 106%; 'falls 2 times' holds"),
    ("v falls 2 times", 1, "v went down from 100 to 80, by 20%; 'falls 2 times' is unknown yet"),
    ("v rises", 0, "v 100 has none before it"),
    ("v rises", 5, "v is missing"),
    ("v rises by 10", 4, "v went up from 0 to 80; 'rises by 10' holds"),
    ("v turns negative", 2, "v −5 after 80 turns negative"),
    ("v turns positive", 4, "v 80 after −5 turns positive"),
    ("v turns negative", 3, "v 0 after −5 does not turn negative"),
    ("v changes sign", 1, "v 80 after 100 does not change sign"),
    ("v turns negative", 5, "v is missing"),
    ("v new low", 1, "v 80 is a new low, below 100"),
    ("v new high", 4, "v 80 is not a new high, after 100"),
    ("v new high", 0, "v 100 has none before it"),
    ("first 2", 1, "drawn 2 of 6, first 2"),
    ("last within pier", 2, "drawn 1 of 3, not last within pier"),
    ("position 2 to 4", 3, "drawn 4 of 6, position 2 to 4"),
    ("every 2", 3, "drawn 4 of 6, every 2"),
    ("every 2 from 1 within pier", 3, "drawn 2 of 3, not every 2 from 1 within pier"),
    ("v within 20% of limit", 0, "v 100 is within 20% of limit (90)"),
    ("v within n of average", 0, "v 100 is not within n of average (51, over 5 marks)"),
    ("v within 1 of limit", 4, "v 80 cannot be compared: limit is missing"),
    ('pier = "north"', 0, 'pier North is "north"'),
    ('pier != "north"', 2, 'pier South is not "north"'),
    ('pier starts with "So"', 0, 'pier North does not start with "So"'),
    ('pier contains "out"', 2, 'pier South contains "out"'),
    ('pier one of "North", "East"', 2, 'pier South is not one of "North", "East"'),
    ('pier contains "x"', 5, "pier is missing"),
    ('day after "2025"', 2, 'day 2026-01-01 is after "2025"'),
    ('day before "2025-12-31"', 1, 'day 2025-12-31 is not before "2025-12-31"'),
    ('day = "2026-Q1"', 4, 'day 2026-01-03 is "2026-Q1"'),
    ("day in last 3 days", 5, "day 2026-01-04 is in last 3 days, which end with 2026-01-04"),
    ("day in last 3 days", 0, "day 2025-12-30 is not in last 3 days, which end with 2026-01-04"),
    ("in latest year", 1, "day 2025-12-31 is not in latest year, which is 2026"),
    ("v falls on 2 days before", 2, "v went down from 100 2 days before to −5, by 105%"),
    ("v falls on a year before", 0, "v 100 has none a year before"),
    ("v above moving average over 2", 1, "v 80 is not above moving average over 2 (90)"),
    ("v negative and v lowest", 2, "v −5 is negative, and v −5 is the lowest of 6 marks"),
    ("v negative and v zero", 3, "v 0 is not negative"),
    ("v negative or v zero", 3, "v 0 is zero"),
    ("v negative or v zero", 0, "v 100 is not negative, and v 100 is not zero"),
    ("not v negative", 0, "v 100 is not negative"),
    ("always", 0, "the rule is for every mark"),
]  # fmt: skip


def sentence(condition: str, mark: int) -> str:
    chart = yz.chart(ROWS, category="day", value="v", parameters={"n": 3}).rule(condition, name="r")
    answer = chart.why(chart.stages.marks.names()[mark])
    return answer.marks[0].reasons[0].sentence


@pytest.mark.parametrize(("condition", "mark", "expected"), SENTENCES)
def test_sentences(condition: str, mark: int, expected: str) -> None:
    assert sentence(condition, mark) == expected


def test_every_claim_has_sentences() -> None:
    told = {type(test.claim) for condition, *_ in SENTENCES for test in all_tests(parse(condition))}
    assert told == set(c.CLAIMS)


@given(
    st.lists(
        st.floats(-1e12, 1e12).filter(lambda x: x == 0 or abs(x) > 1e-5), min_size=2, max_size=4
    )
)
def test_different_numbers_look_different_and_in_order(values: list[float]) -> None:
    """Numbers are shown with enough digits that a comparison is seen to be true."""
    told = [float(text.replace(",", "").replace(MINUS, "-")) for text in tell(*values)]
    for i, one in enumerate(values):
        for j, other in enumerate(values):
            if one < other:
                assert told[i] < told[j] or abs(one - other) < 1e-15 * max(abs(one), abs(other), 1)


TOLD = {
    (1234567.0,): ["1,234,567"],
    (0.1, 0.25): ["0.1", "0.25"],
    (1 / 3,): ["0.333"],
    (2000.5, 2000.25): ["2,000.5", "2,000.2"],
    (1e16,): ["1e+16"],
    (float("inf"), 2.0): ["infinite", "2"],
    (-0.5,): ["−0.5"],
}


@pytest.mark.parametrize(("values", "told"), TOLD.items())
def test_numbers_are_told_short(values: tuple[float, ...], told: list[str]) -> None:
    assert tell(*values) == told


@pytest.mark.parametrize(
    ("share", "told"), [(0.07, "7%"), (-0.125, "−12.5%"), (1.5, "150%"), (float("nan"), "missing")]
)
def test_shares_are_told_as_percentages(share: float, told: str) -> None:
    assert tell_percent(share) == told


def test_ties_are_told_as_the_rule_counts_them() -> None:
    rows = {"item": list("abcd"), "v": [9, 9, 5, 1]}
    told = {}
    for ties in ("competition", "dense", "ordinal"):
        chart = yz.chart(rows, category="item", value="v", order="as given").rule(
            "rank 2", ties=ties, name="r"
        )
        told[ties] = [mark.reasons[0].sentence for mark in chart.why(*"abcd").marks]
    assert told["competition"][1:3] == [
        "v 9 ranks 1 of 4 (with 1 equal), not rank 2",
        "v 5 ranks 3 of 4, not rank 2",
    ]
    assert told["dense"][1:3] == [
        "v 9 ranks 1 of 4 (with 1 equal), not rank 2",
        "v 5 ranks 2 of 4, rank 2",
    ]
    assert told["ordinal"][1:3] == ["v 9 ranks 2 of 4, rank 2", "v 5 ranks 3 of 4, not rank 2"]


def test_outcomes_are_told_for_every_target() -> None:
    chart = (
        yz.chart(ROWS, category="day", value="v", order="as given")
        .rule("v above 90", color="favorable", name="high")
        .rule("v above 50", color="notice", name="fair")
        .rule("v above limit", on="label", color="adverse", name="over")
        .rule("v above limit", name="watched")
    )
    first, fifth = chart.why("2025-12-30", "2026-01-03").marks
    assert [reason.outcome for reason in first.reasons] == ["won", "also held", "won", "also held"]
    assert [reason.outcome for reason in fifth.reasons] == [
        "did not hold",
        "won",
        "unknown",
        "unknown",
    ]
    assert first.colors == {"mark": ("favorable", "#0A4A80"), "label": ("adverse", "#C63E2F")}
    assert str(chart.why("2026-01-03")) == (
        "2026-01-03  80 v, limit missing  (1 row)\n"
        '  bar    notice (#D79A00)  rule 2 "fair": v 80 is above 50\n'
        '         not known         rule 4 "watched": v 80 cannot be compared: limit is missing\n'
        '         not held          rule 1 "high": v 80 is not above 90\n'
        "  label  ink (#22272C)     no rule holds\n"
        '         not known         rule 3 "over": v 80 cannot be compared: limit is missing'
    )
    flags = chart.flags().query("target == 'mark'").set_index("day")
    assert flags["unknown"].astype(str).iloc[4] == "watched"
