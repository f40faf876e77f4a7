"""What the language reads, and what it says of what it cannot read."""

from __future__ import annotations

from contextlib import suppress
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

import yuzen as yz
from tests.support.oracle import Table
from tests.support.strategies import marks_of
from tests.support.work import bounded
from yuzen.rules.claims import Moves
from yuzen.rules.conditions import Test
from yuzen.rules.evaluation_data import EvaluationData
from yuzen.rules.grammar.parser import parse, parse_quantity
from yuzen.rules.judge import EvaluationContext, Rule, judge
from yuzen.rules.quantities.ago import Ago
from yuzen.rules.quantities.fields import Field, Number
from yuzen.rules.quantities.numbers import (
    Arithmetic,
    Derived,
    Moving,
    Negative,
    Percent,
    Previous,
    Summary,
)

READ = {
    "highest": "highest",
    "Passengers  HIGHEST within waters": "Passengers highest within waters",
    "passengers in bottom n within year": "passengers bottom n within year",
    "surplus < 0 and passengers in top 5": "surplus below 0 and passengers top 5",
    "passengers is above average within waters, year": "passengers above average within waters, year",
    "passengers at least 110% of median": "passengers at least 110% of median",
    "falls by 10%": "falls by 10%",
    "falls by x 3 times": "falls by x 3 times",
    "rank 2 to 4 from bottom": "rank 2 to 4 from bottom",
    "share of complaints at least 20%": "share of complaints at least 20%",
    "running share of cancelled at most 80%": "running share of cancelled at most 80%",
    "cost above average + 2 * deviation": "cost above average + 2 * deviation",
    "not (missing or surplus zero)": "not (missing or surplus zero)",
    'route one of "Brinewick", "Kelpwick"': 'route one of "Brinewick", "Kelpwick"',
    "(a + b) / 2 above 5": "(a + b) / 2 above 5",
    "a + (b / 2) above 5": "a + b / 2 above 5",
    "a - (b - c) above 1": "a - (b - c) above 1",
    "((a) negative)": "a negative",
    "highest - lowest > 5": "highest - lowest above 5",
    "rank of x <= 3": "rank of x at most 3",
    "cost >= 1.5M": "cost at least 1500000",
    "cost >= 10k": "cost at least 10000",
    "cost >= 1_000": "cost at least 1000",
    "`on time %` below 90%": "`on time %` below 90%",
    "`a``b` zero": "`a``b` zero",
    'name = "the ""Kestrel"""': 'name = "the ""Kestrel"""',
    "`top` in top 3": "`top` top 3",
    "`A·` zero": "`A·` zero",
    "between -5 and 5 and always": "between -5 and 5 and always",
    "a or b negative and not c zero": None,
    "count of distinct vessel > 2": "count of distinct vessel above 2",
    "surplus turns negative": "surplus turns negative",
}


@pytest.mark.parametrize(("text", "printed"), [(t, p) for t, p in READ.items() if p])
def test_reads_and_prints(text: str, printed: str) -> None:
    assert str(parse(text)) == printed
    assert parse(printed) == parse(text)


# The twenty mistakes that analysts make most: what they write, where the caret stands and how wide
# it is, what is said, and a rule that works and is what the message proposes.
MISTAKES = [
    ("surpluss negative", 0, 8, "Did you mean surplus?", "surplus negative"),
    ("value => 3", 6, 2, "Write: value >= 3", "value >= 3"),
    ("value == 3", 6, 2, "Write: value = 3", "value = 3"),
    ("value <> 3", 6, 2, "Write: value != 3", "value != 3"),
    ("in top", 6, 1, "top is followed by a number, such as top 3", "top 3"),
    ('value > "3"', 8, 3, "Write a number without quotes", "value > 3"),
    ('value = "3"', 0, 11, "Write: value = 3", "value = 3"),
    ("top 120%", 4, 4, "a percentage up to 100%", "top 12%"),
    ("on time above 3", 3, 4, "a claim belongs here", "`on time` above 3"),
    ("(value negative", 0, 1, "This bracket is not closed.", "(value negative)"),
    ("value negative)", 14, 1, "This bracket closes nothing.", "value negative"),
    ("above average within vessel", 0, 27, "m0 has x and y", "above average within waters"),
    ("above average within water", 0, 26, "Did you mean waters?", "above average within waters"),
    ("value negativ", 6, 7, "Did you mean negative?", "value negative"),
    ("value above averge", 12, 6, "Did you mean average?", "value above average"),
    ("value above", 11, 1, "The rule ends too early", "value above 1"),
    ("waters = 'North'", 9, 1, 'Write: waters = "North"', 'waters = "North"'),
    ("waters above 3", 0, 6, "waters holds words, and a number is needed here", "value above 3"),
    ("value between 1, 3", 15, 1, "between has two ends", "value between 1 and 3"),
    (
        "value negative && top 3",
        15,
        2,
        "Write: value negative and top 3",
        "value negative and top 3",
    ),
    ("value ≥ 3", 6, 1, "Write: value >= 3", "value >= 3"),
    ("falls 3", 7, 1, "falls 3 times", "falls 3 times"),
    ("rank of value", 13, 1, "a claim belongs here", "rank of value <= 3"),
    ("share value > 3", 6, 5, "share is followed by of", "share of value > 3"),
    ("value at lest 3", 9, 4, "Did you mean least?", "value at least 3"),
    ("value within 5", 14, 1, "within 5 needs of and a quantity", "value within 5 of other"),
    (
        "value top 3 within 5 of other",
        12,
        6,
        "a test makes one claim",
        "value top 3 and value within 5 of other",
    ),
    ("value within 1 - 3 of other", 15, 1, "within 1 needs of", "value within 3 of other"),
    ("value > 9**9", 9, 2, "Powers are not part of the language.", "value > 9*9"),
    ("", 0, 1, "say a condition", "top 3"),
]


def mistake_bench() -> EvaluationContext:
    table = Table(
        [{"value": 1.0, "other": 2.0, "waters": "North", "year": "one"}], [0], "value", {}
    )
    marks = marks_of(table)
    columns = {
        **marks.columns,
        "surplus": marks.columns["value"],
        "on time": marks.columns["value"],
    }
    made = type(marks)(columns, "item", "value", ambiguous_columns={"vessel": "m0 has x and y"})
    return EvaluationContext(made, {})


@pytest.mark.parametrize(("text", "column", "width", "said", "works"), MISTAKES)
def test_mistakes_are_told_with_place_and_remedy(
    text: str, column: int, width: int, said: str, works: str
) -> None:
    with pytest.raises(yz.YuzenError) as error:
        judge([Rule("r", parse(text))], mistake_bench())
    lines = str(error.value).splitlines()
    assert said in lines[0]
    assert lines[1:] == [f"    {text}".rstrip(), " " * (4 + column) + "^" * width]
    judge([Rule("r", parse(works))], mistake_bench())


def test_the_whole_message_reads_as_promised() -> None:
    bench = mistake_bench()
    rules = [Rule("fine", parse("top 3")), Rule("Loss-making", parse("surpluss negative"))]
    with pytest.raises(yz.YuzenError) as error:
        judge(rules, bench)
    assert str(error.value) == (
        "rule 2 \"Loss-making\": I know no measure or column 'surpluss'. Did you mean surplus?\n"
        "    surpluss negative\n"
        "    ^^^^^^^^"
    )


HOSTILE = {
    "brackets": "(" * 10_000 + "a" + ")" * 10_000,
    "few brackets": "(" * 4_000 + "a" + ")" * 4_000,
    "nots": "not " * 2_000 + "top 1",
    "sums": "1+" * 4_000 + "1 > 2",
    "ofs": "average of " * 800 + "a > 1",
    "long": "a" * 10_000_000,
    "digits": "a > " + "9" * 5_000,
    "huge": "a > 999999999999999999999",
    "powers": "a > " + "9**" * 50 + "9",
    "nul": "a > 1\x00",
    "bidi": "a \u202e> 1",
    "quote": '"' * 3_333,
    "ticks": "`" * 3_333,
    "surrogate": "a > \ud800",
}


@pytest.mark.parametrize("text", HOSTILE.values(), ids=HOSTILE)
def test_hostile_text_is_refused_at_once(text: str) -> None:
    with bounded(), pytest.raises(yz.YuzenError) as error:
        parse(text)
    assert len(str(error.value)) < 800


def test_names_without_regard_to_case() -> None:
    table = Table(
        [{"value": -1.0, "other": 2.0, "waters": "North", "year": "one"}], [0], "value", {}
    )
    assert parse("VALUE NEGATIVE within Waters").holds(
        EvaluationData(marks_of(table))
    ).tolist() == [1]


m = yz.measure
BUILT = [
    (yz.top(3, within="waters") & m("surplus").negative, "top 3 within waters and surplus negative"),
    (m("cost") > yz.average + 2 * yz.deviation, "cost above average + 2 * deviation"),
    (m("cost") > 3 + m("v"), "cost above 3 + v"),
    (m("cost") > 3 - m("v"), "cost above 3 - v"),
    (m("cost") > 3 * m("v"), "cost above 3 * v"),
    (m("cost") > 3 / m("v"), "cost above 3 / v"),
    (m("cost") > m("v") / 3, "cost above v / 3"),
    (m("cost") > m("v") - 3, "cost above v - 3"),
    (m("cost") > -m("v"), "cost above -v"),
    (m("cost").above("110% of median", within=("waters", "year")), "cost above 110% of median within waters, year"),
    (~(m("a").missing | m("b").zero), "not (a missing or b zero)"),
    (m("a").highest.among("waters") | yz.bottom("10%") | yz.always, "a highest within waters or bottom 10% or always"),
    (yz.rank(2, 4, bottom=True), "rank 2 to 4 from bottom"),
    (m("a").falls("10%", times=3) & yz.last("n"), "a falls by 10% 3 times and last n"),
    (m("a").share >= yz.percent(20), "share of a at least 20%"),
    ((m("a") - 1) / -m("b") <= 5, "(a - 1) / -b at most 5"),
    (m("route").one_of("A", "B") & m("day").after("2025"), 'route one of "A", "B" and day after "2025"'),
    (m("margin").below(m("margin").overall), "margin below overall of margin"),
    (m("on time").between(-1, yz.previous), "`on time` between -1 and previous"),
    (yz.outlier("above") | yz.position(1, "n") | m("a").turns("negative"), "outlier above or position 1 to n or a turns negative"),
    (m("a").new_high & m("a").changes_sign & yz.rises(), "a new high and a changes sign and rises"),
]  # fmt: skip


@pytest.mark.parametrize(("built", "text"), BUILT)
def test_trees_built_in_python_say_what_they_mean(built: object, text: str) -> None:
    assert str(built) == text
    assert parse(text) == built


@pytest.mark.parametrize(
    ("build", "message"),
    [
        (lambda: yz.top(-1), "counts nothing"),
        (lambda: yz.top("120%"), "no percentage up to 100%"),
        (lambda: m("a") > 1e30, "has no place in a rule"),
        (lambda: m("a") > "b +", "The rule ends too early"),
    ],
)
def test_what_cannot_be_built(build: object, message: str) -> None:
    with pytest.raises(yz.YuzenError, match=message):
        build()  # type: ignore[operator]


CORRECTED = {
    "value greater than 5": "value above 5",
    "value is more than 5": "value above 5",
    "value less than or equal to 3": "value at most 3",
    "value equals 5": "value = 5",
    "value is not equal to 5": "value != 5",
    "value max": "value highest",
    "highest other": "other highest",
    "value >= min": "value >= lowest",
    "value above avg": "value above average",
    "value above mean of other": "value above average of other",
    "value => 5": "value >= 5",
    "top 10 percent": "top 10%",
    "value above 5,000": "value above 5000",
    "value above 1,5": "value above 1.5",
    "value is null": "value missing",
    "value is not null": "not value missing",
    "waters in ('North', 'South')": 'waters one of "North", "South"',
    "waters not in ('North')": 'not waters one of "North"',
    "value in (2025, 2026)": "(value = 2025 or value = 2026)",
    "waters = 'North'": 'waters = "North"',
    "waters = ‘North’": 'waters = "North"',
    "waters = North": 'waters = "North"',
    "waters = North Reach": 'waters = "North Reach"',
    'waters one of "North" "South"': 'waters one of "North", "South"',
    'value > "5"': "value > 5",
    'value = "5"': "value = 5",
    "value > 1 && other < 2": "value > 1 and other < 2",
    "value > 1 || other < 2": "value > 1 or other < 2",
    "value == 5": "value = 5",
    "value <> 5": "value != 5",
    "!(value > 5)": "not (value > 5)",
    "value ≥ 3": "value >= 3",
    "top 3 other": "other top 3",
    "top 3 by other": "other top 3",
    "value is not negative": "not value negative",
    "every third": "every 3",
    "value within ± 5 percent from other": "value within 5% of other",
    "between 5 to 10": "between 5 and 10",
    'waters begins with "N"': 'waters starts with "N"',
    'waters like "N"': 'waters contains "N"',
}


@pytest.mark.parametrize(("text", "right"), CORRECTED.items())
def test_what_is_likely_written_instead_is_corrected_whole(text: str, right: str) -> None:
    with pytest.raises(yz.YuzenError) as error:
        judge([Rule("r", parse(text))], mistake_bench())
    told = str(error.value).splitlines()[0]
    assert told.endswith(f" Write: {right}"), told
    assert "Did you mean" not in told
    judge([Rule("r", parse(right))], mistake_bench())


@given(st.text(alphabet="abc \"'`=<>()!&|,.5%≥‘’", max_size=30))
def test_no_text_breaks_the_corrections(text: str) -> None:
    with suppress(yz.YuzenError):
        parse(text)


def test_within_may_stand_before_the_claim() -> None:
    early = parse("share of value within waters, year at least 30%")
    assert early == parse("share of value at least 30% within waters, year")
    assert str(early) == "share of value at least 30% within waters, year"
    assert parse("within waters top 3") == parse("top 3 within waters")
    assert parse("(value + other) within waters above 5 and top 1") == parse(
        "value + other above 5 within waters and top 1"
    )
    with pytest.raises(yz.YuzenError, match="a test has one within"):
        parse("value within waters above 5 within year")


AGO = st.sampled_from([None, Ago("year"), Ago("month", Number(3.0))])
QUANTITIES: st.SearchStrategy[Any] = st.recursive(
    st.sampled_from([Field("u"), Field("v w"), Number(3.0)]),
    lambda inner: st.one_of(
        st.builds(Derived, st.just("change"), inner, AGO),
        st.builds(Previous, inner, AGO),
        st.builds(Derived, st.sampled_from(["share", "rank", "running total"]), inner),
        st.builds(Summary, st.sampled_from(["average", "total"]), inner),
        st.builds(Arithmetic, inner, st.sampled_from("+-*/"), inner),
        st.builds(Negative, inner),
        st.builds(Moving, st.just(Number(3.0)), inner),
        st.builds(Percent, st.just(50.0), inner),
    ),
    max_leaves=6,
)


@given(QUANTITIES)
def test_nested_quantities_print_with_the_brackets_that_they_need(quantity: Any) -> None:
    assert parse_quantity(str(quantity)) == quantity


@given(QUANTITIES, st.sampled_from(["rises", "falls"]), AGO)
def test_steps_by_a_quantity_print_with_the_brackets_that_they_need(
    by: Any, way: Any, on: Ago | None
) -> None:
    condition = parse(str(Test(Field("u"), Moves(way, by, None, on))))
    assert condition == Test(Field("u"), Moves(way, by, None, on))
