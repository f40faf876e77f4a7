"""Whether a condition that reads well can be judged on these marks: names, kinds, peers."""

import re
from collections.abc import Iterator
from dataclasses import replace

from yuzen.arrays import kind_of
from yuzen.errors import Fault, Span
from yuzen.formats.number_text import plain
from yuzen.formats.periods import UNITS
from yuzen.rules.conditions import Condition, Test, all_tests
from yuzen.rules.evaluation_data import EvaluationData
from yuzen.rules.language.corrections import corrected
from yuzen.rules.quantities.ago import Ago, grain_along, steps_evenly
from yuzen.rules.quantities.fields import Field, Number
from yuzen.rules.quantities.numbers import (
    Derived,
    Distinct,
    Moving,
    Previous,
    Quantity,
    RowCount,
    Summary,
    Where,
    Within,
)
from yuzen.rules.quantities.structure import constant, in_reverse, inside, where_parts


def faults(condition: Condition, facts: EvaluationData) -> list[Fault]:
    """All that keeps the condition from being judged on these facts, each with its place."""
    test_faults = [fault for test in all_tests(condition) for fault in _test_faults(test, facts)]
    return [_put_right(placed(fault, str(condition))) for fault in test_faults]


def quantity_faults(quantity: Quantity, facts: EvaluationData) -> list[Fault]:
    """Like `condition_faults`, for a quantity."""
    return [placed(fault, str(quantity)) for fault in _quantity_faults(quantity, facts)]


def peers_faults(names: tuple[str, ...], facts: EvaluationData) -> list[Fault]:
    """Like `condition_faults`, for columns that name peers."""
    text = ", ".join(names)
    return [placed(fault, text) for name in names for fault in _within_faults(name, facts, None)]


def _put_right(fault: Fault) -> Fault:
    """The corrected condition, where an unknown name may be a word of the language."""
    if fault.code == "rule-name":
        # `len` never raises: every corrected text may be offered here, as names cannot be checked
        # alone.
        right = corrected(fault.source, len)
    else:
        right = None
    if right is None:
        return fault
    message = fault.message.partition(" Did you mean")[0].partition(" Known here")[0]
    return replace(fault, message=f"{message} Write: {right}")


def _test_faults(test: Test, facts: EvaluationData) -> Iterator[Fault]:
    for name in test.within:
        yield from _within_faults(name, facts, test.span)
    # One fault is enough: that the word is no column either would only confuse.
    if (bare := _without_quotes(test, facts)) is not None:
        yield bare
        return
    if names := test.claim.named():
        yield from _unknown_words(test, names)
        return
    needs = test.claim.needs
    if needs == "number" and test.subject is not None:
        yield from _quantity_faults(test.subject, facts)
    elif test.subject is not None or needs == "words":
        yield from _subject_faults(test, facts)
    for quantity in test.claim.quantities():
        yield from _quantity_faults(quantity, facts, test.subject)
    for ago in test.claim.agos():
        yield from ago_faults(ago, facts, test.span)
    yield from _count_faults(test, facts)
    yield from _distance_faults(test, facts)
    yield from _order_faults(test, facts)


def _count_faults(test: Test, facts: EvaluationData) -> Iterator[Fault]:
    """What counts marks is a whole number, also where a parameter says how many."""
    for count in test.claim.counts():
        if isinstance(count, Field) and facts.name(count.name) in facts.marks.columns:
            message = f"{count} is a column; '{test.claim}' takes a whole number or a parameter."
            yield Fault("rule-count", message, span=count.span or test.span)
            continue
        value = constant(count, facts.parameters)
        if value is not None and (value < 0 or value != int(value)):
            message = f"{count} is {plain(value)}, and '{test.claim}' takes a whole number."
            yield Fault("rule-count", message, span=test.span)
        elif value == 0 and isinstance(count, Number):  # a parameter may be set to none
            message = f"'{test.claim}' holds for no mark, as counts begin at 1."
            yield Fault("rule-count", message, span=test.span)


def _distance_faults(test: Test, facts: EvaluationData) -> Iterator[Fault]:
    """A distance is never negative, also where a parameter sets it."""
    for distance in test.claim.distances():
        value = constant(distance, facts.parameters)
        if value is not None and value < 0:
            message = f"{distance} is {plain(value)}, and '{test.claim}' takes a distance."
            yield Fault("rule-distance", f"{message} Make it 0 or more.", span=test.span)


def _order_faults(test: Test, facts: EvaluationData) -> Iterator[Fault]:
    """A fault where the lower end is above the upper one, as far as known without marks."""
    ends = test.claim.ends()
    if ends and in_reverse(ends[0], ends[1], facts.parameters):
        turned = replace(test, claim=replace(test.claim, low=ends[1], high=ends[0]))  # type: ignore[call-arg]  # a claim with ends
        message = f"The ends are in the wrong order, so nothing lies between them. Write {turned}."
        yield Fault("rule-order", message, span=test.span)


def _without_quotes(test: Test, facts: EvaluationData) -> Fault | None:
    """A word that stands without quotes beside a column of words: depot = Ash."""
    subject, test_subject = test.subject, test.claim.quantities()
    if (
        not isinstance(subject, Field)
        or not str(test.claim).startswith(("=", "!="))
        or len(test_subject) != 1
    ):
        return None
    name, word = facts.name(subject.name), test_subject[0]
    if (
        name is None
        or name not in facts.marks.columns
        or kind_of(facts.marks.columns[name]) == "number"
    ):
        return None
    if isinstance(word, Field) and facts.name(word.name) is None:
        sign = str(test.claim).partition(" ")[0]
        message = (
            f'{subject} holds words, and a word needs quotes. Write: {subject} {sign} "{word.name}"'
        )
        return Fault("rule-quotes", message, span=word.span or test.span)
    return None


def _unknown_words(test: Test, names: tuple[Field, ...]) -> Iterator[Fault]:
    """Names where texts are meant, and no parameter that is one is called so."""
    right = replace(
        test, claim=test.claim.worded({name.name.casefold(): name.name for name in names})
    )
    for name in names:
        message = f"{name} is no parameter that is a word, and a word needs quotes. Write: {right}"
        yield Fault("rule-quotes", message, span=name.span or test.span)


def _subject_faults(test: Test, facts: EvaluationData) -> Iterator[Fault]:
    subject = test.subject or Field(test.claim.meant(facts.marks))
    if not isinstance(subject, Field):
        if test.claim.needs == "words":
            message = f"{subject} is a number; '{test.claim}' is for words or dates."
            yield Fault("rule-kind", message, span=test.span)
        else:
            yield from _quantity_faults(subject, facts)
        return
    name = facts.name(subject.name)
    if name is None:
        yield replace(facts.unknown(subject.name), span=subject.span or test.span)
    elif test.claim.needs == "words":
        yield from _word_faults(test, subject, facts)


def _too_fine(test: Test, subject: Field, facts: EvaluationData) -> str:
    """What to say of a claim about shorter periods than those of the marks; '' for none."""
    grain = facts.marks.grains.get(facts.name(subject.name) or "")
    if grain is None:
        return ""
    fine = [u for u in test.claim.units() if UNITS.index(u) < UNITS.index(grain.unit)]
    if not fine:
        return ""
    return (
        f"'{test.claim}' is about a {fine[0]}, and each mark is a whole {grain.unit}. Name a "
        f"{grain.unit} or a longer period, or draw {fine[0]}s."
    )


def _word_faults(test: Test, subject: Field, facts: EvaluationData) -> Iterator[Fault]:
    kind = kind_of(facts.column(subject.name))
    message = test.claim.unfit(kind, str(subject), facts.marks.calendar) or _too_fine(
        test, subject, facts
    )
    if kind == "number":
        message = f"{subject} is a number, so it is compared with a number, without quotes."
        plainly = str(test).replace('"', "")
        # Without a digit there is no number to propose.
        if re.search(r"\d", plainly):
            message += f" Write: {plainly}"
    if message:
        yield Fault("rule-kind" if kind != "date" else "rule-date", message, span=test.span)


def _quantity_faults(
    quantity: Quantity, facts: EvaluationData, subject: Quantity | None = None
) -> Iterator[Fault]:
    """What is wrong with a quantity; `subject` is meant where a summary names none."""
    words: set[Quantity | None] = {
        part.of for part in inside(quantity) if isinstance(part, Distinct)
    }
    words |= {p.of for p in inside(quantity) if isinstance(p, Summary) and p.kind == "count"}
    inner = {id(part.of) for part in where_parts(quantity)}
    for part in inside(quantity):
        if id(part) in inner:
            continue  # what is wrong with it is said of the whole
        if isinstance(part, Field):
            yield from _field_faults(part, facts, counted=part in words)
        elif isinstance(part, Summary) and part.kind == "overall":
            yield from _overall_faults(part, facts, subject)
        elif isinstance(part, RowCount | Where) and facts.marks.origin.formulas:
            yield _of_rows(part)
        elif isinstance(part, Within):
            for name in part.peers:
                yield from _within_faults(name, facts, None)
        else:
            yield from _sequence_faults(part, facts)


def _field_faults(part: Field, facts: EvaluationData, *, counted: bool) -> Iterator[Fault]:
    """What keeps a column from being a number; one that is counted may hold anything."""
    name = facts.name(part.name)
    if name is None:
        yield replace(facts.unknown(part.name), span=part.span)
    elif name in facts.marks.columns and not counted:
        kind = kind_of(facts.marks.columns[name])
        if kind != "number":
            held = "words" if kind == "text" else "dates"
            message = f"{part} holds {held}, and a number is needed here."
            yield Fault("rule-kind", message, span=part.span)


def _of_rows(part: RowCount | Where) -> Fault:
    """What to say of a number of rows in a rule."""
    if isinstance(part, RowCount):
        message = (
            'count of rows is about the rows behind a mark: make it a measure, rows = "count '
            'of rows".'
        )
        return Fault("rule-rows", message)
    message = f"where chooses rows, and a rule is about marks. Make '{part}' a measure, and "
    return Fault("rule-rows", f"{message}refer to it by its name.")


def _sequence_faults(part: Quantity, facts: EvaluationData) -> Iterator[Fault]:
    """What keeps a quantity from being worked out along a sequence."""
    if isinstance(part, Moving):
        yield from _whole_faults(part.over, facts, f"'{part}' is over", None)
    elif isinstance(part, Derived | Previous) and part.ago is not None:
        yield from ago_faults(part.ago, facts, None)


def ago_faults(ago: Ago, facts: EvaluationData, span: Span | None) -> Iterator[Fault]:
    """What keeps marks from being compared with those of a time before."""
    marks = facts.marks
    grain = grain_along(marks)
    if ago.count is not None and (
        bad := [*_whole_faults(ago.count, facts, f"'{ago}' counts", span)]
    ):
        yield from bad
        return
    if grain is None:
        message = f"'{ago}' goes back in time, and {marks.along} holds no dates."
        yield Fault(
            "rule-ago",
            f"{message} It is for marks that follow one another by dates.",
            span=span,
        )
        return
    counted = 1 if ago.count is None else constant(ago.count, facts.parameters)
    if counted is not None and not steps_evenly(ago, int(counted), grain):
        message = (
            f"Marks are {grain.unit}s here, and {ago} there is none that begins so much earlier."
        )
        yield Fault("rule-ago", f"{message} Go back by whole {grain.unit}s.", span=span)


def _whole_faults(
    count: Quantity, facts: EvaluationData, what: str, span: Span | None
) -> Iterator[Fault]:
    """A count of marks or periods is a whole number, one at least."""
    if isinstance(count, Field) and facts.name(count.name) in facts.marks.columns:
        message = f"{what} a whole number, and {count} is a column."
        yield Fault("rule-count", message, span=count.span or span)
        return
    value = constant(count, facts.parameters)
    if value is not None and (value < 1 or value != int(value)):
        yield Fault(
            "rule-count", f"{what} a whole number from 1 on, and this is {plain(value)}.", span=span
        )


def _overall_faults(
    summary: Summary, facts: EvaluationData, subject: Quantity | None
) -> Iterator[Fault]:
    """Faults of `overall`: it needs a measure that was computed with the marks."""
    of = summary.of or subject or Field(facts.marks.value)
    if isinstance(of, Field):
        name = facts.name(of.name)
    else:
        name = None
    if name not in facts.marks.origin.formulas:
        message = "overall needs a measure, such as overall of margin."
        yield Fault("rule-overall", message, span=summary.span)
    elif name not in {key.measure for key in facts.marks.origin.overall}:
        message = f"overall of {of} needs the rows, and a picture has none."
        remedy = "Use the brief; for a measure that compares marks use average."
        yield Fault("rule-overall", f"{message} {remedy}", span=summary.span)


def _within_faults(peer: str, facts: EvaluationData, span: Span | None) -> Iterator[Fault]:
    name = facts.name(peer)
    if peer in facts.marks.ambiguous_columns:
        message = (
            f"within {peer} needs one {peer} for each mark; {facts.marks.ambiguous_columns[peer]}."
        )
        yield Fault("rule-within", message, span=span)
    elif name is None:
        yield replace(facts.unknown(peer), span=span)
    elif name not in facts.marks.columns:
        message = (
            f"within takes a column, and {peer} is a parameter. For a distance write of what: "
            f"within {peer} of {facts.marks.value}."
        )
        yield Fault("rule-within", message, span=span)


def placed(fault: Fault, text: str) -> Fault:
    """The fault with the text that it points into: as read, else as the tree prints."""
    span = fault.span or Span(0, len(text), text)
    return replace(fault, source=span.source or text, span=span)
