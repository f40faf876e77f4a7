"""Findings in marks and numbers: twins, totals among items, outsized and missing numbers."""

from collections.abc import Iterator, Sequence
from typing import Final

import numpy as np

from yuzen.arrays import Text
from yuzen.checks.finding import Examined, Finding, marks
from yuzen.formats.name_lists import listed
from yuzen.rules.conditions import all_tests
from yuzen.rules.grammar.parser import parse_quantity
from yuzen.rules.quantities.fields import Field
from yuzen.rules.quantities.numbers import Arithmetic, Quantity, Summary, completed
from yuzen.rules.quantities.structure import inside, of_marks

OUTSIZED_TIMES: Final = 10  # times the next


def outsized(examined: Examined) -> Iterator[Finding]:
    """One mark that is ten times the next and flattens the rest."""
    items, judged = examined.items, examined.judged
    sizes = np.abs(judged.context.values[items])
    sizes = np.where(np.isfinite(sizes), sizes, 0.0)
    if len(items) < 3 or judged.design.brief.scale.high is not None or judged.design.tabular:
        return  # numbers in a table have no scale in common
    order = np.argsort(-sizes, kind="stable")
    first, second = sizes[order[0]], sizes[order[1]]
    if second > 0 and first >= OUTSIZED_TIMES * second:
        name = judged.called[int(items[order[0]])]
        yield Finding(
            "outsized",
            f"{name} is {first / second:,.0f} times the next, so all others look alike.",
            "Keep it out, set [scale] high, or draw a share or a change instead.",
            "chart, value",
            ("chart", "value"),
        )


def missing_numbers(examined: Examined) -> Iterator[Finding]:
    """Marks without a number, counted."""
    chart_marks = examined.judged.marks
    items, names = examined.items, examined.judged.called
    for name in chart_marks.columns:
        column = chart_marks.columns[name]
        if (
            isinstance(column, Text)
            or column.dtype.kind == "M"
            or name not in chart_marks.origin.formulas
        ):
            continue
        if of_marks(parse_quantity(chart_marks.origin.formulas[name])):
            continue  # the first marks of a sequence have no number before them
        gone = items[np.isnan(column[items].astype(float))]
        if len(gone):
            yield Finding(
                "numbers-missing",
                f"{len(gone):,} of {marks(len(items))} {'has' if len(gone) == 1 else 'have'} no "
                f"number in {name}: {listed([names[mark] for mark in gone.tolist()])}.",
                'They are never flagged; a rule with when = "missing" would show them.',
                f"measure {name}"
                if name in examined.judged.design.brief.measures
                else "chart, value",
                ("measures", name)
                if name in examined.judged.design.brief.measures
                else ("chart", "value"),
            )


def averaged_ratios(examined: Examined) -> Iterator[Finding]:
    """A ratio averaged: of rows in a measure, of marks in a rule or a reference."""
    judged = examined.judged
    ratios = {
        name
        for name, text in judged.marks.origin.formulas.items()
        if _is_ratio(parse_quantity(text))
    }
    remedy = "An average of ratios counts small and large alike; "
    for name, measure in judged.design.brief.measures.items():
        if any(_averages(part) and _divides(part) for part in inside(measure.tree)):
            yield Finding(
                "ratio-averaged",
                f"{name} averages a ratio of each row.",
                f"{remedy}divide the totals instead, as in total of surplus / total of fares.",
                f"measure {name}",
                ("measures", name),
            )
    value = Field(judged.marks.value)
    for index, rule in enumerate(judged.verdict.rules):
        quantities_used = [
            completed(quantity, value if test.subject is None else completed(test.subject, value))
            for test in all_tests(rule.condition)
            for quantity in test.quantities()
        ]
        if ratio := _averaged(quantities_used, ratios):
            message = f"It averages {ratio} over marks, and {ratio} is a ratio."
            pooled = f"{remedy}overall of {ratio} is the ratio of all rows together."
            yield examined.of_rule("ratio-averaged", index, message, pooled)
    for place, section in enumerate(judged.design.brief.reference):
        ends = [end.tree for end in (section.at, section.low, section.high) if end]
        if ratio := _averaged([completed(end, value) for end in ends], ratios):
            message = f"It averages {ratio} over marks, and {ratio} is a ratio."
            pooled = f"{remedy}overall of {ratio} is the ratio of all rows together."
            yield Finding(
                "ratio-averaged", message, pooled, f"reference {place + 1}", ("reference", place)
            )


def remarks(examined: Examined) -> Iterator[Finding]:
    """How the rows were read, where it could be meant otherwise."""
    for remark in examined.judged.marks.origin.remarks:
        yield Finding(remark.code, remark.message, remark.remedy, "data", ("data",))


def partly_missing(examined: Examined) -> Iterator[Finding]:
    """Marks whose number is a total of some rows only, as others of theirs have none."""
    chart_marks = examined.judged.marks
    if chart_marks.origin.row_counts is None:
        return
    names, row_counts = examined.judged.called, chart_marks.origin.row_counts
    for measure, numbered in chart_marks.origin.value_counts.items():
        parts = inside(parse_quantity(chart_marks.origin.formulas[measure]))
        if not any(getattr(part, "kind", "") == "total" for part in parts):
            continue
        if chart_marks.origin.has_unlike_parts(measure):  # of which the remark says more
            continue
        items = [mark for mark in examined.items.tolist() if 0 < numbered[mark] < row_counts[mark]]
        if items:
            examples = [
                f"{names[mark]} ({numbered[mark]:,} of {row_counts[mark]:,} rows)" for mark in items
            ]
            is_defined = measure in examined.judged.design.brief.measures
            yield Finding(
                "numbers-partly-missing",
                f"{measure} is made of some rows only in {marks(len(items))}: {listed(examples)}.",
                "The other rows have no number, and count as if they were not there.",
                f"measure {measure}" if is_defined else "chart, value",
                ("measures", measure) if is_defined else ("chart", "value"),
            )


def _is_ratio(quantity: Quantity) -> bool:
    return isinstance(quantity, Arithmetic) and quantity.sign == "/"


def _averages(quantity: Quantity) -> bool:
    return isinstance(quantity, Summary) and quantity.kind in {"average", "median"}


def _divides(quantity: Quantity) -> bool:
    of = getattr(quantity, "of", None)
    return of is not None and any(_is_ratio(part) for part in inside(of))


def _averaged(quantities_used: Sequence[Quantity], ratios: set[str]) -> str:
    """The first ratio that some quantity averages; '' for none."""
    of = [
        getattr(part, "of", None)
        for quantity in quantities_used
        for part in inside(quantity)
        if _averages(part)
    ]
    return next(
        (field.name for field in of if isinstance(field, Field) and field.name in ratios), ""
    )
