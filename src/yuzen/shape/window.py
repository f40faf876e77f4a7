"""A window of marks that are shown, and the others, which only what looks back knows."""

from dataclasses import replace

import numpy as np

from yuzen.arrays import Bools, Codes, Column, Text
from yuzen.errors import YuzenError, make_error
from yuzen.rules import truth, validity
from yuzen.rules.evaluation_data import EvaluationData
from yuzen.rules.marks import ITEM_MARK, Marks, Past
from yuzen.shape.plan.plan import Plan


def shown_rows(every: Marks, mark_of_rows: Codes, plan: Plan) -> Bools:
    """The rows behind marks for which `show` holds, shape (rows,).

    every: all items; mark_of_rows: the item that each row is behind, −1 for none.
    Raises YuzenError where the condition cannot be judged, or holds for none.
    """
    condition = plan.listing.show
    assert condition is not None  # noqa: S101 - who calls has asked
    facts = EvaluationData(every, plan.parameters)
    if faults := validity.faults(condition, facts):
        raise YuzenError(*(fault.at("show", "chart", "show") for fault in faults))
    shown = np.asarray(condition.holds(facts) == truth.TRUE)
    if len(every) and not shown.any():
        message = f"No mark is shown: '{condition}' holds for none of {len(every):,}."
        raise make_error("data-rows", message, key=("chart", "show"))
    return np.asarray(np.append(shown, False)[mark_of_rows])


def with_past(shown: Marks, every: Marks, places: Codes) -> Marks:
    """Marks with all items, shown or not, as their past.

    places: for each of the shown marks the item that its first row is behind.
    """
    # The pillars of a bridge are no marks that anything is compared with.
    items = np.flatnonzero(~every.totals)
    place_of = np.full(len(every) + 1, -1, dtype=np.intp)
    place_of[items] = np.arange(len(items))
    places = place_of[places]
    if shown.role is not None:  # a total's first row is that of an item
        places = np.where(shown.role == ITEM_MARK, places, -1)
    past = Past(every.taken(items), places)
    # A column may have one value in each of the shown marks, and several in others.
    columns = {
        name: past.marks.columns[name] if name in past.marks.columns else _placed(column, past)
        for name, column in shown.columns.items()
    }
    overall = {key: _numbers(numbers, past) for key, numbers in shown.origin.overall.items()}
    origin = replace(past.marks.origin, overall=overall, pieces=None)
    return replace(
        shown, past=replace(past, marks=replace(past.marks, columns=columns, origin=origin))
    )


def _placed(column: Column, past: Past) -> Column:
    """A column of the shown marks at their places among all, missing elsewhere."""
    there = past.places >= 0
    if isinstance(column, Text):
        codes = np.full(len(past.marks), -1, dtype=np.intp)
        codes[past.places[there]] = column.codes[there]
        return replace(column, codes=codes)
    missing = np.array("NaT" if column.dtype.kind == "M" else np.nan, column.dtype)
    placed = np.full(len(past.marks), missing)
    placed[past.places[there]] = column[there]
    return placed


def _numbers(numbers: np.ndarray, past: Past) -> np.ndarray:
    placed = _placed(numbers, past)
    assert not isinstance(placed, Text)  # noqa: S101 - numbers are no words
    return placed
