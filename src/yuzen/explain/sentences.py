"""Sentences of what stands out in a chart: from its verdict, adverse things first."""

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import asdict
from typing import Any, Final, Literal, TypeAlias

import numpy as np

from yuzen.arrays import Codes, sequence_of
from yuzen.compose.judged_chart import JudgedChart
from yuzen.compose.sums import adds_up_over
from yuzen.compose.texts.number_formats import number_format
from yuzen.explain.benchmarks import Measured, measured
from yuzen.explain.standing_out import StandsOut, asked_rules, plain_name, rule_key
from yuzen.rules.answers.ties import ties
from yuzen.rules.conditions import all_tests
from yuzen.rules.truth import UNKNOWN
from yuzen.value import Value

About: TypeAlias = Literal[
    "rule", "tie", "unknown", "extremes", "new", "no longer", "appeared", "gone", "same"
]
MAX_NAMED_MARKS: Final = 3  # marks that a sentence calls by name before it counts the others
LEAST_SHARE: Final = 0.0005  # the least part of the whole that is told
ROLE_ORDER: Final[Mapping[str, int]] = {"adverse": 0, "notice": 1, "favorable": 2}
OTHER_ROLE: Final = 3
LAST: Final = 4  # the place of sentences that are about no rule


class MarkNumber(Value):
    """A mark that a sentence is about.

    name:     as the sentence calls it.
    measure:  what its number is of; value: the number; None where it has none.
    distance: how far the number lies above what the rule compares it with; None: with nothing.
    before:   the number that it had last time; None: it had none, or nobody asks.
    """

    name: str
    measure: str
    value: float | None
    distance: float | None = None
    before: float | None = None

    @property
    def largest(self) -> float:
        """Its number, or the one that it had; 0 for none."""
        return self.value or self.before or 0.0


class Sentence(Value):
    """One sentence, and the facts that it tells.

    about:  which kind of fact; rule, role, color: the rule's, '' where it is about none.
    count:  how many marks; asked: of how many.
    marks:  those marks, in the order of their weight; the sentence calls the first of them.
    share:  the marks' part of the chart's value; None where it has no parts.
    """

    about: About
    text: str
    rule: str = ""
    role: str = ""
    color: str = ""
    count: int = 0
    asked: int = 0
    marks: tuple[MarkNumber, ...] = ()
    share: float | None = None

    def __str__(self) -> str:
        return self.text

    def data(self) -> dict[str, Any]:
        """The sentence and its facts as plain values."""
        return asdict(self)


def sentences(judged: JudgedChart, trends: Mapping[str, JudgedChart]) -> tuple[Sentence, ...]:
    """What stands out in a chart, and among the small lines in a table's columns."""
    all_sentences = [*_of_rules(judged), *_extremes(judged)]
    for trend in trends.values():
        all_sentences += _of_rules(trend)
    return in_order(all_sentences)


def in_order(all_sentences: Iterable[Sentence]) -> tuple[Sentence, ...]:
    """Sentences in the order in which a reader needs them; those of one rule stay together.

    Adverse rules come first, then those that want a look, then good news; then what is about no
    rule, and rules that flag nothing.
    """
    listed_sentences = list(all_sentences)
    rules = list(dict.fromkeys(sentence.rule for sentence in listed_sentences))
    # That nothing stands out is good to know, and the last thing to be read.
    empty = {s.rule for s in listed_sentences if s.about == "rule" and not s.count}

    def place(sentence: Sentence) -> tuple[bool, int, int]:
        role = ROLE_ORDER.get(sentence.role, OTHER_ROLE) if sentence.rule else LAST
        return sentence.rule in empty, role, rules.index(sentence.rule)

    return tuple(sorted(listed_sentences, key=place))


def _of_rules(judged: JudgedChart) -> Iterator[Sentence]:
    """What each rule flags, where it was tied, and which marks it could not judge."""
    for asked in asked_rules(judged):
        yield _flagged(judged, asked)
        yield from _ties(judged, asked)
        yield from _unknown(judged, asked)


def of_rule(judged: JudgedChart, rule: int, about: About, text: str, **facts: Any) -> Sentence:  # noqa: ANN401 - fields of a sentence
    """A sentence about a rule."""
    palette, styles = judged.verdict.palette, judged.verdict.styles
    color = styles.colors[rule] or styles.outlines[rule]
    name = judged.verdict.rules[rule].name
    capital = f"{text[:1].upper()}{text[1:]}"
    return Sentence(about, capital, name, palette.role(rule), color, **facts)


def _flagged(judged: JudgedChart, asked: StandsOut) -> Sentence:
    """How many of how many, which, by how much, and which part of the whole they are."""
    words, count = judged.words, len(asked.marks)
    counts = {
        "rule": rule_key(judged, asked.rule),
        "count": number_text(judged, count),
        "asked": number_text(judged, asked.count),
    }
    if not count:
        text = words.say("tell none", **counts)
        return of_rule(judged, asked.rule, "rule", text, asked=asked.count)
    numbers = measured(judged, asked)
    order = _by_weight(numbers, smallest_first=_from_below(judged, asked))
    marks = [(int(asked.marks[at]), numbers[at]) for at in order]
    named = [
        f"{judged.name_of(mark)} ({_number(judged, number)})"
        for mark, number in marks[: MAX_NAMED_MARKS + 1]
    ]
    share = _share(judged, asked)
    names = listed(judged, named, count)
    if share is not None:
        value = plain_name(judged.marks.value)
        share_text = judged.context.formats.share.tell(share)[0]
        part = words.say("tell share", share=share_text, value=value)
        names = f"{names}; {part}"
    facts = [
        MarkNumber(judged.name_of(mark), number.measure, finite(number.value), number.distance)
        for mark, number in marks
    ]
    text = words.say("tell", **counts, names=names)
    return of_rule(
        judged,
        asked.rule,
        "rule",
        text,
        count=count,
        asked=asked.count,
        marks=tuple(facts),
        share=share,
    )


def listed(judged: JudgedChart, named: Sequence[str], count: int) -> str:
    """The first of some marks by name, and how many more."""
    # One more is named rather than counted: "and 1 more" says less in as much room.
    most = MAX_NAMED_MARKS + (count > MAX_NAMED_MARKS)
    return judged.words.listed([*named, *[""] * (count - len(named))], most)


def finite(value: float) -> float | None:
    """A number as programs take it; None for a missing or an endless one."""
    return value if np.isfinite(value) else None


def number_text(judged: JudgedChart, count: int) -> str:
    """A count as the language writes it."""
    return judged.context.formats.locale.number(f"{count:,}")


def _number(judged: JudgedChart, number: Measured) -> str:
    """The number of a mark, what it is of where that is not the chart's value, how far it is."""
    of = "" if number.measure == judged.marks.value else f"{plain_name(number.measure)} "
    text = f"{of}{number.text}"
    return f"{text}: {number.compared}" if number.compared else text


def _from_below(judged: JudgedChart, asked: StandsOut) -> bool:
    """Whether a rule asks for the smallest numbers."""
    rule = judged.verdict.rules[asked.rule]
    return any(test.claim.smallest_first for test in all_tests(rule.condition))


def _by_weight(numbers: Sequence[Measured], *, smallest_first: bool) -> list[int]:
    """The indices of marks, the weightiest first: by distance if all have one, else by size."""
    if all(number.distance is not None for number in numbers):
        weights = np.array([abs(number.distance or 0.0) for number in numbers])
    elif smallest_first:
        weights = -np.array([number.value for number in numbers])
    else:
        weights = np.abs([number.value for number in numbers])
    # Marks without a number come last.
    ranked: list[int] = np.argsort(-np.nan_to_num(weights, nan=-np.inf), kind="stable").tolist()
    return ranked


def _share(judged: JudgedChart, asked: StandsOut) -> float | None:
    """The part of the chart's value that marks are; None where it has no parts, or next to none."""
    marks, values = judged.marks, judged.context.values
    items = values[~marks.sums]
    # The marks are parts of the whole that their panel is none of.
    if not adds_up_over(marks) or marks.totals[asked.marks].any() or marks.panel:
        return None
    # Months follow one another; nobody asks which part of all months one of them is.
    if not marks.bins and sequence_of(marks.columns[marks.along]) is not None:
        return None
    # Of sums with both signs a part may be more than the whole.
    if not np.isfinite(items).all() or (items < 0).any() or not items.sum():
        return None
    rule = judged.verdict.rules[asked.rule]
    if rule.on.part == "layer" or rule.value is not None:
        return None
    share = float(judged.context.part_values(rule)[asked.marks].sum() / items.sum())
    return share if share >= LEAST_SHARE else None


def _ties(judged: JudgedChart, asked: StandsOut) -> Iterator[Sentence]:
    """The marks with equal numbers at a rule's cut, or at a place that nobody has for that."""
    rule = judged.verdict.rules[asked.rule]
    scope = judged.context.scope_of(rule)
    for _, tied, displaced in ties(rule, judged.context):
        for key, marks in (("tell tie", tied), ("tell no place", displaced)):
            if marks.any():
                yield _of_names(judged, asked.rule, "tie", key, scope.indices[marks])


def _unknown(judged: JudgedChart, asked: StandsOut) -> Iterator[Sentence]:
    """The marks that a rule could not judge."""
    rule = judged.verdict.rules[asked.rule]
    unknown = judged.verdict.whole.truths[asked.rule] == UNKNOWN
    marks = np.flatnonzero(unknown & judged.marks.reached_by(rule.on))
    if len(marks):
        yield _of_names(judged, asked.rule, "unknown", "tell unknown", marks)


def _of_names(judged: JudgedChart, rule: int, about: About, key: str, marks: Codes) -> Sentence:
    """A sentence about marks that are named without numbers."""
    names = [judged.name_of(mark) for mark in marks[: MAX_NAMED_MARKS + 1].tolist()]
    text = judged.words.say(
        key,
        rule=rule_key(judged, rule),
        count=number_text(judged, len(marks)),
        names=listed(judged, names, len(marks)),
    )
    values = judged.context.values
    facts = tuple(
        MarkNumber(judged.name_of(mark), judged.marks.value, finite(float(values[mark])))
        for mark in marks.tolist()
    )
    return of_rule(judged, rule, about, text, count=len(marks), marks=facts)


def _extremes(judged: JudgedChart) -> Iterator[Sentence]:
    """The highest and the lowest mark, or those that share a place."""
    marks, values = judged.marks, judged.context.values
    items = np.flatnonzero(~marks.totals & np.isfinite(values))
    if len(items) < 2:
        return
    numbers = number_format(judged.design, judged.context, marks.value)
    value = plain_name(marks.value)
    low, high = float(values[items].min()), float(values[items].max())
    if low == high:
        count = number_text(judged, len(items))
        text = judged.words.say("tell equal", value=value, count=count, number=numbers.write(low))
        ends = [items]
    else:
        ends = [items[values[items] == end] for end in (high, low)]
        texts = [_end(judged, end, numbers.write(float(values[end[0]]))) for end in ends]
        text = judged.words.say("tell extremes", value=value, high=texts[0], low=texts[1])
    facts = [
        MarkNumber(judged.name_of(mark), marks.value, float(values[mark]))
        for end in ends
        for mark in end.tolist()
    ]
    yield Sentence(
        "extremes", f"{text[:1].upper()}{text[1:]}", count=len(items), marks=tuple(facts)
    )


def _end(judged: JudgedChart, marks: Codes, number: str) -> str:
    """The marks at one end, with the number that they have."""
    names = [judged.name_of(mark) for mark in marks[: MAX_NAMED_MARKS + 1].tolist()]
    if len(marks) > 1:
        number = judged.words.say("each", number=number)
    return f"{listed(judged, names, len(marks))} ({number})"
