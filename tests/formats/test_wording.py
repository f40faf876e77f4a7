"""Texts with numbers in them: formats against Python's own, and what is refused."""

from __future__ import annotations

from contextlib import suppress
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

import yuzen as yz
from tests.support.work import bounded
from yuzen.formats.number_format import Form
from yuzen.rules.grammar.wording import OfRule, Slot, parse_text

FORMS = [
    ("{v:,.0f}", 1234.5, "1,234"),
    ("{v:,.0f}", -1234.5, "−1,234"),
    ("{v:.2f}", 0.005, "0.01"),
    ("{v:.1%}", 0.1234, "12.3%"),
    ("{v:,}", 1234.5, "1,234"),
    ("{v:.1}", 3.14159, "3.1"),
    ("{v:8.1f}", 3.14159, "     3.1"),
    ("{v}", 3.0, "3"),
    ("{v}", 0.25, "0.25"),
    ("{v:sign ,.0f}", 18300, "+18,300"),
    ("{v:sign ,.0f}", -18300, "−18,300"),
    ("{v:sign ,.0f}", 0, "0"),
    ("{v:sign .0f}", -0.2, "0"),
    ("{v:paren ,.0f}", -18300, "(18,300)"),
    ("{v:paren ,.0f}", 18300, "18,300"),
    ("{v:arrow .0%}", 0.77, "▲ 77%"),
    ("{v:arrow .0%}", -0.38, "▼ 38%"),
    ("{v:arrow .0%}", 0, "■ 0%"),
    ("{v:,.1fM}", 2_345_678, "2.3M"),
    ("{v:,.0fk}", -18300, "−18k"),
    ("{v:.2fB}", 1.5e9, "1.50B"),
    ("{v:paren ,.1fk}", -950, "(0.9k)"),
    ("{v:,.0f}", float("nan"), "–"),
    ("{v:,.0f}", float("inf"), "∞"),
    ("{v:,.0f}", float("-inf"), "−∞"),
]


def form_of(text: str) -> Form:
    piece = parse_text(text)[0]
    assert isinstance(piece, Slot)
    assert isinstance(piece.form, Form)
    return piece.form


@pytest.mark.parametrize(("text", "value", "written"), FORMS)
def test_formats(text: str, value: float, written: str) -> None:
    assert form_of(text).write(value) == written


@given(st.floats(-1e9, 1e9), st.integers(0, 6), st.booleans(), st.sampled_from("f%"))
def test_plain_formats_are_pythons_with_a_real_minus(
    value: float, digits: int, comma: bool, kind: Any
) -> None:
    spec = f"{',' if comma else ''}.{digits}{kind}"
    python = format(value, spec)
    if not set(python) & set("123456789"):
        python = python.lstrip("-")
    assert form_of(f"{{v:{spec}}}").write(value) == python.replace("-", "−")


PIECES = {
    "plain": ["plain"],
    "": [],
    "{{braces}}": ["{braces}"],
    "a {v} b {w:,.0f}": ["a ", "v", " b ", "w"],
    "{v / average - 1:arrow .0%}": ["v / average - 1"],
    "{`odd: name`}": ["`odd: name`"],
    "{`a}b`:.1f}": ["`a}b`"],
    '{count "loss"} and {names "x ""y"""}': ["count loss", " and ", 'names x "y"'],
    '{share "loss":.0%}': ["share loss"],
    "{share of surplus:.0%}": ["share of surplus"],
}


@pytest.mark.parametrize(("text", "expected"), PIECES.items())
def test_pieces(text: str, expected: list[str]) -> None:
    found = [
        f"{p.ask} {p.rule}"
        if isinstance(p, OfRule)
        else str(p.quantity)
        if isinstance(p, Slot)
        else p
        for p in parse_text(text)
    ]
    assert found == expected


REFUSED = [
    ("{v", 0, "This brace is not closed; write {{ for a plain one."),
    ("v}", 1, "This brace closes nothing; write }} for a plain one."),
    ("a {v:x} b", 5, "I cannot read this number format."),
    ("{v:>10}", 3, "I cannot read this number format."),
    ("{v:0100.3f}", 3, "I cannot read this number format."),
    ("{v!r}", 2, "I cannot read '!' here."),
    ("{v.real}", 2, "I cannot read '.' here."),
    ("{v[0]}", 2, "I cannot read '[' here. Write ( instead."),
    ("{__import__('os')}", 12, "I cannot read ''' here. Write \" instead."),
    ("{}", 1, "The rule ends too early"),
    ("{v v}", 3, "the quantity is complete before it"),
]


@pytest.mark.parametrize(("text", "column", "message"), REFUSED)
def test_what_is_refused_is_told_with_its_place(text: str, column: int, message: str) -> None:
    with pytest.raises(yz.YuzenError) as error:
        parse_text(text)
    fault = error.value.faults[0]
    assert message in fault.message
    assert fault.span is not None
    assert fault.span.start == column
    assert str(error.value).splitlines()[1] == f"    {text}"


@given(st.text(max_size=60))
def test_any_text_is_read_or_refused_with_a_message(text: str) -> None:
    with suppress(yz.YuzenError):
        plain = "".join(piece for piece in parse_text(text) if isinstance(piece, str))
        assert len(plain) <= len(text)


@pytest.mark.parametrize(
    "text", ["{" * 1_999, "{v}" * 700, "{v:" + "," * 1_900 + "}", "x" * 2_001, "{(" * 900]
)
def test_long_texts_end_soon(text: str) -> None:
    with bounded(), suppress(yz.YuzenError):
        assert len(parse_text(text)) <= len(text)


NAMES = [
    ([], "none"),
    (["A"], "A"),
    (["A", "B"], "A and B"),
    (["A", "B", "C"], "A, B and C"),
    (list("ABCDEF"), "A, B, C, D, E and F"),
    (list("ABCDEFGH"), "A, B, C, D, E and 3 others"),
]


@pytest.mark.parametrize(("held", "listed"), NAMES)
def test_names_are_listed_as_a_sentence_does(held: list[str], listed: str) -> None:
    rows = {"item": list("ABCDEFGHXY"), "v": [1 if item in held else 0 for item in "ABCDEFGHXY"]}
    chart = yz.chart(rows, category="item", value="v", order="as given", title='{names "one"}')
    assert chart.rule("v = 1", name="one").stages.page.words.title == listed


def test_titles_stay_true_when_rows_and_parameters_change() -> None:
    rows = {"item": list("abcd"), "v": [4, 3, 2, 1]}
    title = 'Top {n:.0f}: {names "top"} with {share "top":.0%} of {total:,.0f}; {count:.0f} in all'
    chart = yz.chart(rows, category="item", value="v", title=title, parameters={"n": 1})
    chart = chart.rule("top n", name="top")
    assert chart.stages.page.words.title == "Top 1: a with 40% of 10; 4 in all"
    assert chart.given(n=2).stages.page.words.title == "Top 2: a and b with 70% of 10; 4 in all"
    fewer = chart.with_rows({"item": ["x", "y"], "v": [5, 5]})
    assert fewer.stages.page.words.title == "Top 1: x and y with 100% of 10; 2 in all"
    empty = chart.with_rows({"item": ["x"], "v": [None]})
    assert empty.stages.page.words.title == "Top 1: none with – of –; 0 in all"


def test_a_text_is_as_long_as_is_allowed_and_no_longer() -> None:
    rows = {"c": ["a"], "v": [1]}
    longest = yz.chart(rows, category="c", value="v", title="x" * 2_000)
    assert longest.stages.brief.title is not None
    with pytest.raises(yz.YuzenError, match=r"2,000|2000"):
        yz.chart(rows, category="c", value="v", title="x" * 2_001)
