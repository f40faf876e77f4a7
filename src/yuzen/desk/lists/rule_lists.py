"""What the lists of a sentence offer: only what can be judged on the marks of now."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Final

import numpy as np

from yuzen.arrays import kind_of
from yuzen.desk.lists.sentence import SLOT, ListedTest, forms, sentence_of
from yuzen.desk.lists.tried_rules import TriedRule, can_be_judged, tried, with_rule_of
from yuzen.desk.reading import bounded
from yuzen.desk.shown.row_columns import RowColumnTable
from yuzen.errors import YuzenError
from yuzen.formats.number_text import plain
from yuzen.rules.claims.text import quoted
from yuzen.rules.language.period_names import peer_text
from yuzen.rules.language.words import written
from yuzen.stages.stages import Stages
from yuzen.value import Value

PERIODS: Final = ("month", "quarter", "year", "week", "day")
# What the places of a form offer, the one that they begin with first.
OFFERED: Final[Mapping[str, tuple[str, ...]]] = {
    "amount": ("3", "1", "5", "10", "10%", "25%"),
    "count": ("3", "2", "4", "5", "10", "12"),
    "share": ("10%", "5%", "20%", "50%"),
    "period": PERIODS,
    "ago": ("a year before", "a quarter before", "a month before", "a week before"),
}
COUNTED: Final = frozenset({"amount", "count", "share", "quantity"})  # which parameters can be
COMPARED_WITH: Final = ("average", "median", "110% of average", "90% of average", "0")
# A range begins with two ends, of which the lower one comes first.
RANGES: Final[Mapping[str, tuple[str, ...]]] = {
    "between": ("90% of average", "110% of average"),
    "position": ("2", "4"),
    "rank": ("2", "4"),
    "every": ("3", "1"),
}


class TestLists(Value):
    """One test of a sentence, and what each of its lists offers."""

    __test__ = False  # not one of pytest's

    test: ListedTest
    subjects: tuple[str, ...]
    forms: tuple[str, ...]
    slots: tuple[tuple[str, ...], ...]
    within: tuple[str, ...]


class SentenceLists(Value):
    """A condition as lists, and what it would do.

    tests: none where lists cannot show the condition.
    """

    text: str
    joint: str
    tests: tuple[TestLists, ...]
    tried: TriedRule


def sentence_lists(
    stages: Stages, columns: RowColumnTable, subjects: Sequence[str], text: str
) -> SentenceLists:
    """The lists of a condition on a chart, and what it would do there.

    subjects: what a test of the chart can be about.
    """
    outcome = tried(stages, text)
    try:
        sentence = sentence_of(text)
    except YuzenError:
        sentence = None
    if sentence is None:
        return SentenceLists(text, "and", (), outcome)
    tests = tuple(_lists(stages, columns, subjects, test) for test in sentence.tests)
    return SentenceLists(text, sentence.joint, tests, outcome)


def begun_test(stages: Stages, columns: RowColumnTable, test: ListedTest) -> ListedTest:
    """A test after its subject or its form was chosen: what does not fit it is begun anew."""
    offered = _forms(stages, columns, test.subject)
    form = test.form if test.form in offered else next(iter(offered), test.form)
    wanted = SLOT.findall(form)
    slots = test.slots
    if form != test.form or len(slots) != len(wanted):
        slots = _first_slots(stages, columns, test.subject, form)
    begun = replace(test, form=form, slots=slots)
    if begun.within and not _is_judgeable(stages, begun.text):
        begun = replace(begun, within="")
    return begun


def _lists(
    stages: Stages, columns: RowColumnTable, subjects: Sequence[str], test: ListedTest
) -> TestLists:
    places = SLOT.findall(test.form)
    return TestLists(
        test,
        _with(test.subject, subjects),
        _with(test.form, _forms(stages, columns, test.subject)),
        tuple(
            _with(chosen, _offers(stages, columns, test.subject, place))
            for chosen, place in zip(test.slots, places, strict=True)
        ),
        _with(test.within, _peers(stages, columns, test)),
    )


def _with(chosen: str, offered: Sequence[str]) -> tuple[str, ...]:
    """What a list offers, with what is chosen in it."""
    return tuple(dict.fromkeys([*offered, chosen]))


def subjects_of(stages: Stages, columns: RowColumnTable) -> list[str]:
    """What a test can be about: the chart's value, its measures, columns, what is made of these.

    Columns of words and dates that have several values in one mark are left out.
    """
    brief = stages.housed.brief
    value, others = brief.chart.value, (*brief.measures, *columns.of_kind("number"))
    names = [name for name in dict.fromkeys([value, *others]) if not name.startswith("rows where")]
    # What else can be a subject is typed as text, and the list then shows it.
    made_of_value = [f"{kind} of {written(value)}" for kind in ("share", "change", "running share")]
    words = [written(name) for name in columns.of_kind("words", "date")]
    # All at once, as each further column would group the rows anew.
    tests = [f"{name} missing" for name in words]
    ready = _ready(stages, " missing or ".join(words)) if words else stages
    fitting = [name for name, can in zip(words, can_be_judged(ready, tests), strict=True) if can]
    return ["", *map(written, names), *made_of_value, *fitting]


def _ready(stages: Stages, subject: str) -> Stages:
    """A chart whose marks have a subject; the chart itself where none has it."""
    try:
        with bounded():
            ready = with_rule_of(stages, f"{subject} missing")
            _ = ready.context
    except YuzenError:
        return stages
    return ready


def _forms(stages: Stages, columns: RowColumnTable, subject: str) -> list[str]:
    """What can be said of a subject on these marks."""
    names = list(dict.fromkeys(form for _, form in forms()))
    tests = [
        ListedTest(subject, form, _first_slots(stages, columns, subject, form)) for form in names
    ]
    judged = can_be_judged(_ready(stages, subject), [test.text for test in tests])
    return [form for form, can in zip(names, judged, strict=True) if can]


def _first_slots(
    stages: Stages, columns: RowColumnTable, subject: str, form: str
) -> tuple[str, ...]:
    """What the places of a form begin with."""
    places = SLOT.findall(form)
    if ends := RANGES.get(form.partition(" ")[0]):
        return ends[: len(places)]
    return tuple(_offers(stages, columns, subject, place)[0] for place in places)


def _offers(stages: Stages, columns: RowColumnTable, subject: str, place: str) -> tuple[str, ...]:
    """What is offered for one place of a form; what else may stand there can be typed."""
    if place == "quantity":
        others = (*_middle(stages, subject), *_measures(stages, columns))
        offered: tuple[str, ...] = (*COMPARED_WITH, *others)
    elif place in OFFERED:
        offered = OFFERED[place]
    else:
        return _texts(stages, columns, subject)
    if place not in COUNTED:
        return offered
    return (*offered, *map(written, stages.housed.brief.numbers))


def _measures(stages: Stages, columns: RowColumnTable) -> list[str]:
    """The numbers of marks that a subject is compared with."""
    names = dict.fromkeys([*stages.housed.brief.measures, *columns.of_kind("number")])
    return [written(name) for name in names]


def _middle(stages: Stages, subject: str) -> list[str]:
    """The median of a subject in the marks of now, rounded to two digits."""
    marks = stages.marks
    column = marks.columns.get(subject.strip("`") or marks.value)
    if column is None or kind_of(column) != "number":
        return []
    numbers = np.asarray(column, dtype=float)
    known = numbers[np.isfinite(numbers)]
    if not len(known):
        return []
    middle = float(f"{np.median(known):.2g}")
    return [plain(middle) if middle >= 0 else f"-{plain(-middle)}"]


def _texts(stages: Stages, columns: RowColumnTable, subject: str) -> tuple[str, ...]:
    """The values of a column of words or dates, and the parameters that are words."""
    name = subject.strip("`") or stages.marks.category
    facts = columns.named(name)
    values = () if facts is None else facts.values
    words = tuple(map(written, stages.housed.brief.text_parameters))
    return (*map(quoted, values), *words) or ('""',)


def _peers(stages: Stages, columns: RowColumnTable, test: ListedTest) -> list[str]:
    """The columns and periods whose marks can be compared with one another."""
    names = [*map(peer_text, columns.of_kind("words"))]
    if columns.of_kind("date"):
        names += [period for period in PERIODS if peer_text(period) not in names]
    alone = replace(test, within="")
    return ["", *(n for n in names if _is_judgeable(stages, replace(alone, within=n).text))]


def _is_judgeable(stages: Stages, text: str) -> bool:
    """Whether a condition can be judged, on marks that have all columns that it names."""
    try:
        with bounded():
            ready = with_rule_of(stages, text)
            return not ready.context.faults(ready.rules)
    except YuzenError:
        return False
