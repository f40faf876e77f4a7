"""Which marks there are and in which order they are drawn: limits, totals, panels."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from yuzen.errors import wrong
from yuzen.rules.arrays import Text
from yuzen.rules.marks import shown
from yuzen.shape.groups import Groups, joined
from yuzen.shape.plan import ALL

if TYPE_CHECKING:
    from collections.abc import Sequence

    from yuzen.rules.arrays import Codes, Column, Floats
    from yuzen.shape.columns import Columns
    from yuzen.shape.plan import Order, Plan

TOTAL = "Total"


def totals_of(plan: Plan, items: Groups, columns: Columns) -> list[Groups]:
    """The groups of rows that totals are made of, in the order of the plan."""
    if plan.listing.totals and not isinstance(items.names, Text):
        message = f"Totals need a category of words, and {plan.category} holds none."
        raise wrong("brief-totals", message)
    layers = []
    for said in plan.listing.totals:
        if said == ALL:
            layers.append(items.all(TOTAL))
            continue
        column = columns[said]
        if not isinstance(column, Text) or items.unlike(column).any():
            message = f"Totals of {said} need one word of {said} for each {plan.category}."
            raise wrong("brief-totals", message)
        layers.append(items.total_by(column))
    return layers


def interleaved(layers: Sequence[Groups], sizes: Floats, plan: Plan) -> Codes:
    """All marks listed as they are drawn: the items of a group together, then the group's total."""
    items = layers[0]
    rank, place = np.zeros(len(items)), np.arange(len(items), dtype=float)
    keys = [np.stack([rank, np.zeros(len(items)), place])]
    for said, layer in zip(plan.listing.totals, layers[1:], strict=True):
        if said == ALL:
            keys.append(np.array([[np.inf], [1.0], [0.0]])[:, : len(layer)])
            continue
        group = layer.codes[items.first].astype(float)
        group[len(sizes) :] = len(layer)  # the rest stands after all groups
        order = np.argsort([np.min(place[group == g], initial=np.inf) for g in range(len(layer))])
        rank_of = np.append(np.argsort(order), len(layer)).astype(float)
        keys[0][0] = rank_of[group.astype(np.intp)]
        keys.append(np.stack([rank_of[:-1], np.ones(len(layer)), np.zeros(len(layer))]))
    rows = np.concatenate(keys, axis=1)
    return np.lexsort((rows[2], rows[1], rows[0]))


def series_named(series: Column, totals: int) -> Column:
    """The series of the items, then of so many totals, which are of none."""
    if not totals:
        return series
    if isinstance(series, Text):
        return joined([series, Text.of([TOTAL] * totals)])
    return np.append(
        series, np.full(totals, np.array("NaT" if series.dtype.kind == "M" else np.nan, series.dtype))
    )


def ranked(column: Column) -> Codes:
    """A number for each row: words as they are first named, dates and numbers in their order."""
    groups = Groups.of(column)
    if isinstance(groups.names, Text):
        return groups.codes
    return np.argsort(np.argsort(groups.names))[groups.codes]


def limited(drawn: Codes, panels: Codes, limit: int | None) -> Codes:
    """The groups that are drawn, panel after panel, at most so many in each."""
    if not len(panels):
        return drawn[:limit]
    drawn = drawn[np.argsort(panels[drawn], kind="stable")]
    own = panels[drawn]
    place = np.arange(len(own)) - np.searchsorted(own, own)
    if limit is None:
        return drawn
    return drawn[place < limit]


def rest_panels(panels: Codes, drawn: Codes) -> Codes:
    """The panels that have a rest, in their order."""
    return np.unique(np.delete(panels, drawn))


def ordered(items: Groups, sizes: Floats, order: Order | None, category: str) -> Codes:
    """The groups listed in the order in which they are drawn; equal ones as they were first named."""
    column = items.names
    if order is None:
        if isinstance(column, Text):
            order = "largest first"
        else:
            order = "in time"
    if order in {"largest first", "smallest first"}:
        return np.argsort(-sizes if order == "largest first" else sizes, kind="stable")
    if order == "as given":
        return np.arange(len(items))
    if isinstance(column, Text):
        if order == "in time":
            message = f"{category} holds words, which have no order in time."
            raise wrong("brief-order", f'{message} Say order = "as given" or "by name".')
        return np.argsort(np.array([name.casefold() for name in shown(column)]), kind="stable")
    return np.argsort(column, kind="stable")
