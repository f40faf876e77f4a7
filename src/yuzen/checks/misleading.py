"""What makes flags wrong or misleading, so that drawing itself reports it: a line each."""

import re
from collections.abc import Callable, Iterator, Sequence
from typing import Final

import numpy as np

from yuzen.arrays import Text
from yuzen.checks.finding import Examined, Finding
from yuzen.compose.judged_chart import JudgedChart
from yuzen.formats.name_lists import listed
from yuzen.regex import regex
from yuzen.rules.answers.ties import ties as tied_marks
from yuzen.rules.misspelt_values import misspelt_values
from yuzen.rules.quantities.fields import Field

# "all other routes" may be a total too, and "All Saints" is none.
SURE_TOTAL: Final = (
    r"(grand |sub)?totals?|sum|overall|all|.* (sub)?total|(ins)?gesamt|summe|suma|total général"
)
TOTAL_NAMES: Final = regex(rf"(?i){SURE_TOTAL}|all .*")


def is_named_total(word: str) -> bool:
    """Whether a name can be nothing but that of a total.

    >>> is_named_total("Grand total"), is_named_total("All Saints")
    (True, False)
    """
    return re.fullmatch(rf"(?i){SURE_TOTAL}", word.strip()) is not None


def plain_name(word: str) -> str:
    """A name without what two spellings of it may differ in: case, blanks, hyphens.

    >>> plain_name("North-Pier ") == plain_name("north pier")
    True
    """
    return re.sub(r"[\W_]+", "", word).casefold()


def twins(examined: Examined) -> Iterator[Finding]:
    """A category named twice, but for case, blanks or hyphens."""
    chart_marks = examined.judged.marks
    for name in (chart_marks.category, *chart_marks.series):
        column = chart_marks.columns[name]
        if not isinstance(column, Text):
            continue
        seen: dict[str, str] = {}
        for word in dict.fromkeys(column.values().tolist()):
            plain = plain_name(word or "")
            if plain and plain in seen:
                yield Finding(
                    "name-twice",
                    f"{name} has both '{seen[plain]}' and '{word}', which look like one.",
                    "Give them one name in the rows; as they are, each is a mark with a part of "
                    "the numbers.",
                    "chart, category",
                    ("chart", "category"),
                )
            seen.setdefault(plain, word or "")


def totals_among_items(examined: Examined) -> Iterator[Finding]:
    """A mark that is called a total, or that is the sum of all others."""
    judged = examined.judged
    column = judged.marks.columns[judged.marks.category]
    if not isinstance(column, Text) or judged.marks.series or judged.marks.panel:
        return
    items = examined.items
    values = judged.context.values[items]
    sums = np.isclose(values, np.nansum(values) - values, rtol=1e-9) & (values != 0)
    # Of three marks one is the sum of the others by chance too often.
    sums &= len(items) > 3
    called = np.array([bool(TOTAL_NAMES.fullmatch(word)) for word in (*column.words, "")])
    found = sums | called[column.codes[items]]
    if not found.any():  # most often, and then no mark needs its name
        return
    names = judged.called
    for mark, is_sum in zip(items[found].tolist(), sums[found].tolist(), strict=True):
        yield Finding(
            "total-among-items",
            f"'{names[mark]}' {'is the sum of all others' if is_sum else 'looks like a total'} "
            "among the items: it takes part in averages, ranks and the scale.",
            f"Keep it out ([data] keep = '{Field(judged.marks.category)} != "
            f'"{names[mark]}"\') and let '
            '[chart] totals = ["all"] make it.',
            "chart, category",
            ("chart", "category"),
        )


def near_words(examined: Examined) -> Iterator[Finding]:
    """A value that a rule names, and that its column has only nearly."""
    judged = examined.judged
    for index, rule in enumerate(judged.verdict.rules):
        for misspelt in misspelt_values(rule.condition, judged.context.scope(rule.reach).data):
            yield examined.of_rule(
                "value-unknown", index, misspelt, "Write it as the rows have it."
            )


def ties(examined: Examined) -> Iterator[Finding]:
    """A tie at a cut; a place that nobody has because of a tie."""
    judged = examined.judged
    for index, design_rule in enumerate(judged.design.rules):
        if "ties" in design_rule.section.model_fields_set:
            continue  # it is said how ties count
        rule = judged.verdict.rules[index]
        scope = judged.context.scope_of(rule)
        for test, tied, displaced in tied_marks(rule, judged.context):
            for marks_tied, code, problem in (
                (tied, "tie-at-cut", f"more marks are in than '{test.claim}' says"),
                (displaced, "tie-no-place", f"so no mark is '{test.claim}'"),
            ):
                if marks_tied.any():
                    names = judged.called
                    who = listed([names[mark] for mark in scope.indices[marks_tied]])
                    yield examined.of_rule(
                        code,
                        index,
                        f"{who} have equal numbers at the cut, {problem}.",
                        'Set how ties count: ties = "competition" keeps it so, "dense" or '
                        '"ordinal" do not.',
                    )


MISLEADING: Final[tuple[Callable[[Examined], Iterator[Finding]], ...]] = (
    twins,
    totals_among_items,
    near_words,
    ties,
)


def misleading_notes(judged: JudgedChart, ignored: Sequence[str]) -> list[str]:
    """A sentence for each finding that makes flags wrong or misleading, but for ignored codes."""
    examined = Examined(judged)
    with np.errstate(all="ignore"):  # what is reckoned of endless numbers may be none
        found = [finding for check in MISLEADING for finding in check(examined)]
    return [
        f"{finding.where}: {finding.message}" for finding in found if finding.code not in ignored
    ]
