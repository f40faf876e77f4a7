"""Numbers into the texts of a chart: titles, labels, references and the key."""

from dataclasses import replace
from typing import Any

import numpy as np

from yuzen.arrays import Bools, Codes, Floats
from yuzen.compose.mark_names import marks_in_words
from yuzen.compose.texts.words import of_dates, words_of
from yuzen.errors import Fault, YuzenError, make_error, suggestion
from yuzen.formats.number_format import Form, NumberFormat
from yuzen.rules import truth, validity
from yuzen.rules.evaluation_data import EvaluationData
from yuzen.rules.grammar.parser import parse_quantity
from yuzen.rules.grammar.wording import OfDates, OfRule, Plural, Slot, Wording
from yuzen.rules.judge import EvaluationContext, Verdict
from yuzen.rules.lineage import Pooled
from yuzen.rules.marks import Marks
from yuzen.rules.measure_formats import Formats
from yuzen.rules.peers.codes import ALONE
from yuzen.rules.peers.summaries import total
from yuzen.rules.quantities.context import QuantityContext
from yuzen.rules.quantities.fields import Field
from yuzen.rules.quantities.numbers import Arithmetic, Negative, Percent, Quantity
from yuzen.rules.quantities.structure import adds_up, of_marks
from yuzen.value import Value

MAX_LISTED_NAMES = 6  # that {names "..."} lists before it says "and n others"


def fill_each(
    wording: Wording, data: EvaluationData, wanted: Bools, within: tuple[str, ...] = ()
) -> dict[int, str]:
    """The text for each wanted mark, by its place among all, with the mark's own numbers.

    wanted: shape (n,). `within` names the peers of quantities such as averages.
    """
    _check(wording, data, within)
    places = np.flatnonzero(wanted)
    columns = [
        _texts_each(piece, data, places, within)
        for piece in wording
        if not isinstance(piece, OfRule)
    ]
    if not columns:
        return {}
    filled = map("".join, zip(*columns, strict=True))
    return dict(zip(places.tolist(), filled, strict=True))


def fill_once(wording: Wording, context: EvaluationContext, verdict: Verdict) -> str:
    """The text for the whole chart: quantities over all items, and what rules flagged.

    A measure is worked out over all rows that are drawn, by its own formula.
    """
    data = context.whole
    _check(wording, data)
    parts = []
    for piece in wording:
        if isinstance(piece, str):
            parts.append(piece)
        elif isinstance(piece, OfDates):
            parts.append(of_dates(piece, context.marks, data.formats.locale))
        elif isinstance(piece, OfRule):
            parts.append(_of_rule(piece, context, verdict))
        else:
            parts.append(_slot_once(piece, data, context.marks))
    return "".join(parts)


class OfAllRows(Value):
    """The number that a measure has over all rows: stands in a quantity where the measure stood."""

    number: float

    def values(self, view: QuantityContext[Quantity]) -> Floats:  # noqa: ARG002 - the same for every mark
        """The number."""
        return np.asarray(self.number)


def whole(quantity: Quantity, data: EvaluationData, marks: Marks) -> float:
    """The quantity's number for all marks together; NaN where there is none.

    data: of the items, which are peers of one another.  marks: all that are drawn, of whose rows a
    measure is worked out. Raises YuzenError (text-each) where it differs from mark to mark.
    """
    view = data.view(Field(data.marks.value))
    with np.errstate(all="ignore"):
        values = np.atleast_1d(_over_all_rows(quantity, data, marks).values(view))
    if not len(values):
        return float("nan")
    if np.array_equal(values, np.full_like(values, values[0]), equal_nan=True):
        return float(values[0])
    message = f"{quantity} differs from mark to mark, and one number is needed here."
    raise make_error(
        "text-each", f"{message} Name which one: highest of {quantity}, average of {quantity}."
    )


def _told(piece: Slot, data: EvaluationData, marks: Marks) -> float:
    try:
        return whole(piece.quantity, data, marks)
    except YuzenError as error:
        located_faults = [
            replace(fault, source=piece.span.source, span=piece.span) for fault in error.faults
        ]
        raise YuzenError(*located_faults) from None


def _over_all_rows(quantity: Quantity, data: EvaluationData, marks: Marks) -> Any:  # noqa: ANN401 - or OfAllRows
    """The quantity with the numbers of all rows in the place of its measures."""
    if isinstance(quantity, Field) and _of_rows(data.name(quantity.name), marks):
        return OfAllRows(_of_all_rows(str(data.name(quantity.name)), marks))
    if isinstance(quantity, Arithmetic):
        left, right = (
            _over_all_rows(part, data, marks) for part in (quantity.left, quantity.right)
        )
        return replace(quantity, left=left, right=right)
    if isinstance(quantity, Negative | Percent) and quantity.of is not None:
        return replace(quantity, of=_over_all_rows(quantity.of, data, marks))
    return quantity


def _of_rows(name: str | None, marks: Marks) -> bool:
    """Whether it is a measure of rows, which can be worked out of all of them."""
    formula = marks.origin.formulas.get(name or "")
    return formula is not None and not of_marks(parse_quantity(formula))


def _of_all_rows(measure: str, marks: Marks) -> float:
    """A measure over the rows of all items and the rest: pooled, or the sum of one that adds up."""
    pooled = marks.origin.overall.get(Pooled(measure, frozenset(), "all"))
    if pooled is not None:
        known = pooled[~np.isnan(pooled)]
        if len(known):
            return float(known[0])
        return float("nan")
    if not adds_up(parse_quantity(marks.origin.formulas[measure])):
        message = f"{measure} of all rows needs the rows, and a picture has none."
        raise make_error("rule-overall", f"{message} Use the brief.")
    values = np.asarray(marks.columns[measure], dtype=float)
    if marks.role is not None:
        values = values[~marks.sums]
    return float(total(values, ALONE)[0])


def _texts_each(
    piece: str | Slot | OfDates, data: EvaluationData, places: Codes, within: tuple[str, ...]
) -> list[str]:
    """A piece of a text at some marks, shape (k,)."""
    if isinstance(piece, str):
        return [piece] * len(places)
    if isinstance(piece, OfDates):
        return [of_dates(piece, data.marks, data.formats.locale)] * len(places)
    words = words_of(piece, data)
    if words is not None:
        return [words[place] for place in places.tolist()]
    quantity = piece.quantity
    with np.errstate(all="ignore"):
        values: Floats = np.broadcast_to(
            quantity.values(data.view(Field(data.marks.value), within)), (len(data.marks),)
        )
    form, numbers = form_of(piece, data), values[places].tolist()
    if isinstance(form, NumberFormat):
        return form.write_all(numbers)
    return [form.write(number) for number in numbers]


def _slot_once(piece: Slot, data: EvaluationData, marks: Marks) -> str:
    """The number or shared text of a slot for the whole chart. Raises YuzenError (text-each)."""
    words = words_of(piece, data)
    if words is None:
        return form_of(piece, data).write(_told(piece, data, marks))
    if len(different := dict.fromkeys(words)) == 1:
        return words[0]
    first = " and ".join(list(different)[:2]) or "none"
    message = f"{piece.quantity} differs from mark to mark ({first}), and one word is needed here."
    raise YuzenError(Fault("text-each", message, "", piece.span.source, piece.span))


def form_of(piece: Slot, data: EvaluationData) -> NumberFormat | Plural:
    """How a number is written: as the text says, else as its measure is."""
    form = piece.form
    if isinstance(form, Plural | NumberFormat):
        return form
    assert isinstance(form, Form)  # noqa: S101 - dates are words
    if form.spec or form.scale:
        return NumberFormat(form, locale=data.formats.locale)
    measure_format = data.formats.of(piece.quantity, data.marks.value)
    return measure_format.styled(form.style) if form.style else measure_format


def _of_rule(piece: OfRule, context: EvaluationContext, verdict: Verdict) -> str:
    marks = context.marks
    form = rule_form(piece, context.formats)
    names = [rule.name for rule in verdict.rules]
    if piece.rule not in names:
        message = f'There is no rule called "{piece.rule}".{suggestion(piece.rule, names)}'
        raise YuzenError(Fault("text-rule", message, "", piece.span.source, piece.span))
    held = verdict.truths[names.index(piece.rule)] == truth.TRUE
    if piece.ask == "count":
        return form.write(float(np.count_nonzero(held)))
    if piece.ask == "names":
        names = marks_in_words(marks, context.formats.locale)
        named = [name for name, is_held in zip(names, held, strict=True) if is_held]
        return context.formats.locale.words.listed(named, MAX_LISTED_NAMES, "others")
    total = float(np.nansum(context.values[~marks.sums]))
    flagged = context.part_values(verdict.rules[names.index(piece.rule)])[held]
    return form.write(float(np.nansum(flagged)) / total if total else float("nan"))


def rule_form(piece: OfRule, formats: Formats) -> NumberFormat | Plural:
    """How a title writes what it says of a rule."""
    if isinstance(piece.form, Plural):
        return piece.form
    if piece.ask == "share" and not piece.form.spec:
        return formats.share
    return NumberFormat(piece.form, locale=formats.locale)


def _check(wording: Wording, data: EvaluationData, within: tuple[str, ...] = ()) -> None:
    faults = validity.peers_faults(within, data)
    for piece in wording:
        if isinstance(piece, Slot) and words_of(piece, data) is None:
            make_error = validity.quantity_faults(piece.quantity, data)
            span = piece.span
            faults += [Fault(f.code, f.message, "", span.source, span) for f in make_error]
    if faults:
        raise YuzenError(*faults)
