"""Numbers into the texts of a chart: titles, labels, references and the key."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Any

import numpy as np

from yuzen.errors import Fault, YuzenError, suggestion, wrong
from yuzen.rules import truth, validity
from yuzen.rules.language.grammar import parse_quantity
from yuzen.rules.language.wording import OfRule, Slot
from yuzen.rules.marks import Pooled
from yuzen.rules.parts import adds_up
from yuzen.rules.peers import ALONE
from yuzen.rules.quantities import Arithmetic, Field, Negative, Percent
from yuzen.rules.summaries import total

if TYPE_CHECKING:
    from collections.abc import Sequence

    from yuzen.rules.arrays import Bools, Floats
    from yuzen.rules.facts import Facts
    from yuzen.rules.judge import Bench, Verdict
    from yuzen.rules.language.wording import Wording
    from yuzen.rules.marks import Marks
    from yuzen.rules.quantities import Quantity
    from yuzen.rules.view import View

MOST_NAMES = 6  # that {names "..."} lists before it says "and n others"


def fill_each(wording: Wording, facts: Facts, wanted: Bools, within: tuple[str, ...] = ()) -> tuple[str, ...]:
    """The text for each mark, shape (n,), with the mark's own numbers; '' where it is not wanted.

    `within` names the peers of quantities such as averages.
    """
    _check(wording, facts, within)
    count = len(facts.marks)
    columns = [
        [piece] * count if isinstance(piece, str) else _texts(piece, facts, wanted, within)
        for piece in wording
        if not isinstance(piece, OfRule)
    ]
    if not columns:
        return ("",) * count
    filled = map("".join, zip(*columns, strict=True))
    return tuple(text if own else "" for text, own in zip(filled, wanted.tolist(), strict=True))


def fill_once(wording: Wording, facts: Facts, bench: Bench, verdict: Verdict) -> str:
    """The text for the whole chart: quantities over all items, and what rules flagged.

    A measure is worked out over all rows that are drawn, by its own formula.
    """
    _check(wording, facts)
    parts = []
    for piece in wording:
        if isinstance(piece, str):
            parts.append(piece)
        elif isinstance(piece, OfRule):
            parts.append(_of_rule(piece, bench.marks, verdict))
        else:
            parts.append(piece.form.write(_told(piece, facts, bench.marks)))
    return "".join(parts)


@dataclass(frozen=True)
class OfAllRows:
    """The number that a measure has over all rows: stands in a quantity where the measure stood."""

    number: float

    def values(self, view: View) -> Floats:  # noqa: ARG002 - the same for every mark
        """The number."""
        return np.asarray(self.number)


def whole(quantity: Quantity, facts: Facts, marks: Marks) -> float:
    """The quantity's number for all marks together; NaN where there is none.

    facts: of the items, which are peers of one another.  marks: all that are drawn, of whose rows a
    measure is worked out. Raises YuzenError (text-each) where it differs from mark to mark.
    """
    view = facts.view(Field(facts.marks.value))
    with np.errstate(all="ignore"):
        values = np.atleast_1d(_over_all_rows(quantity, facts, marks).values(view))
    if not len(values):
        return float("nan")
    if np.array_equal(values, np.full_like(values, values[0]), equal_nan=True):
        return float(values[0])
    message = f"{quantity} differs from mark to mark, and one number is needed here."
    raise wrong("text-each", f"{message} Say which: highest of {quantity}, average of {quantity}.")


def _told(piece: Slot, facts: Facts, marks: Marks) -> float:
    try:
        return whole(piece.quantity, facts, marks)
    except YuzenError as error:
        told = [replace(fault, source=piece.span.source, span=piece.span) for fault in error.faults]
        raise YuzenError(*told) from None


def _over_all_rows(quantity: Quantity, facts: Facts, marks: Marks) -> Any:  # noqa: ANN401 - or OfAllRows
    """The quantity with the numbers of all rows in the place of its measures."""
    if isinstance(quantity, Field) and facts.name(quantity.name) in marks.origin.formulas:
        return OfAllRows(_of_all_rows(str(facts.name(quantity.name)), marks))
    if isinstance(quantity, Arithmetic):
        left, right = (_over_all_rows(part, facts, marks) for part in (quantity.left, quantity.right))
        return replace(quantity, left=left, right=right)
    if isinstance(quantity, Negative | Percent) and quantity.of is not None:
        return replace(quantity, of=_over_all_rows(quantity.of, facts, marks))
    return quantity


def _of_all_rows(measure: str, marks: Marks) -> float:
    """A measure over the rows behind all items and the rest: pooled, or the sum of one that adds up."""
    pooled = marks.overall.get(Pooled(measure, frozenset(), "all"))
    if pooled is not None:
        known = pooled[~np.isnan(pooled)]
        if len(known):
            return float(known[0])
        return float("nan")
    if not adds_up(parse_quantity(marks.origin.formulas[measure])):
        message = f"{measure} of all rows is worked out from rows, and there are none any more."
        raise wrong("rule-overall", f"{message} Ask the brief instead of the picture.")
    values = np.asarray(marks.columns[measure], dtype=float)
    if marks.standing is not None:
        values = values[~marks.sums]
    return float(total(values, ALONE)[0])


def _texts(piece: Slot, facts: Facts, wanted: Bools, within: tuple[str, ...]) -> list[str]:
    quantity = piece.quantity
    with np.errstate(all="ignore"):
        values: Floats = np.broadcast_to(
            quantity.values(facts.view(Field(facts.marks.value), within)), (len(facts.marks),)
        )
    return [piece.form.write(float(v)) if w else "" for v, w in zip(values, wanted, strict=True)]


def _of_rule(piece: OfRule, marks: Marks, verdict: Verdict) -> str:
    names = [rule.name for rule in verdict.rules]
    if piece.rule not in names:
        message = f'There is no rule called "{piece.rule}".{suggestion(piece.rule, names)}'
        raise YuzenError(Fault("text-rule", message, "", piece.span.source, piece.span))
    held = verdict.truths[names.index(piece.rule)] == truth.TRUE
    if piece.ask == "count":
        return piece.form.write(float(np.count_nonzero(held)))
    if piece.ask == "names":
        return _listed([name for name, is_held in zip(marks.names(), held, strict=True) if is_held])
    values = np.asarray(marks.columns[marks.value], dtype=float)
    if marks.standing is None:
        counted = values
    else:
        counted = values[~marks.sums]
    total = float(np.nansum(counted))
    return piece.form.write(float(np.nansum(values[held])) / total if total else float("nan"))


def _listed(names: Sequence[str]) -> str:
    """Names as a sentence lists them.

    >>> _listed(["Brinewick", "Kelpwick", "Eelstone"])
    'Brinewick, Kelpwick and Eelstone'
    """
    if not names:
        return "none"
    if len(names) > MOST_NAMES:
        names = [*names[: MOST_NAMES - 1], f"{len(names) - MOST_NAMES + 1} others"]
    if len(names) > 1:
        return " and ".join([", ".join(names[:-1]), names[-1]])
    return names[0]


def _check(wording: Wording, facts: Facts, within: tuple[str, ...] = ()) -> None:
    faults = validity.peers_faults(within, facts)
    for piece in wording:
        if isinstance(piece, Slot):
            wrong = validity.quantity_faults(piece.quantity, facts)
            span = piece.span
            faults += [Fault(f.code, f.message, "", span.source, span) for f in wrong]
    if faults:
        raise YuzenError(*faults)
