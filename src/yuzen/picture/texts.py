"""Numbers into the texts of a chart: titles, labels, references and the key."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from yuzen.errors import Fault, YuzenError, suggestion
from yuzen.rules import truth, validity
from yuzen.rules.language.wording import OfRule, Slot
from yuzen.rules.marks import TOTAL_MARK
from yuzen.rules.quantities import Field

if TYPE_CHECKING:
    from collections.abc import Sequence

    from yuzen.rules.arrays import Bools, Floats
    from yuzen.rules.facts import Facts
    from yuzen.rules.judge import Bench, Verdict
    from yuzen.rules.language.wording import Wording
    from yuzen.rules.marks import Marks
    from yuzen.rules.quantities import Quantity

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

    A quantity that differs from mark to mark has no number for the whole: its total is written.
    """
    _check(wording, facts)
    parts = []
    for piece in wording:
        if isinstance(piece, str):
            parts.append(piece)
        elif isinstance(piece, OfRule):
            parts.append(_of_rule(piece, bench.marks, verdict))
        else:
            parts.append(piece.form.write(whole(piece.quantity, facts)))
    return "".join(parts)


def whole(quantity: Quantity, facts: Facts) -> float:
    """The quantity's number for all marks together; NaN where there is none."""
    view = facts.view(Field(facts.marks.value))
    with np.errstate(all="ignore"):
        values = quantity.values(view)
        if values.ndim == 0:
            return float(values)
        known = values[~np.isnan(values)]
        if len(known):
            return float(np.sum(known))
        return float("nan")


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
        counted = values[marks.standing != TOTAL_MARK]
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
