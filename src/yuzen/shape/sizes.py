"""The numbers by which categories, and groups of them, are ordered."""

from collections.abc import Sequence

import numpy as np

from yuzen.arrays import Codes, Column, Floats, sequence_of
from yuzen.errors import make_error
from yuzen.formats.periods import Times
from yuzen.rules.evaluation_data import EvaluationData
from yuzen.rules.marks import Marks
from yuzen.shape.grouping.groups import Groups
from yuzen.shape.grouping.measures import Grouped
from yuzen.shape.listing import ordered_by
from yuzen.shape.plan.among_marks import sizes_among
from yuzen.shape.plan.choices import OVERALL_TOTAL
from yuzen.shape.plan.plan import Plan
from yuzen.sources.columns import Columns


def category_sizes(
    gathered: Grouped, groups: Groups, panels: Codes, row_columns: Columns, plan: Plan
) -> Floats:
    """By what the categories are ordered, where that is a measure of marks."""
    columns: dict[str, Column] = {
        name: gathered.values(measure) for name, measure in plan.measures.items()
    }
    # Measures among marks may have peers of their own: share of sales within district.
    columns |= {
        name: groups.values(row_columns[name]) for name in plan.attributes(list(row_columns))
    }
    columns[plan.category] = groups.names
    peer_columns: tuple[str, ...] = ()
    if plan.panel is not None:
        columns[plan.panel] = panels.astype(float)
        peer_columns = (plan.panel,) if plan.panel_peers == "panel" else ()
    places = sequence_of(groups.names)
    order = None if places is None else np.argsort(places, kind="stable")
    times = Times({} if plan.grain is None else {plan.category: plan.grain}, plan.periods.calendar)
    marks = Marks(
        columns,
        plan.category,
        plan.value,
        panel=plan.panel or "",
        peer_columns=peer_columns,
        order=order,
        times=times,
    )
    return sizes_among(marks, ordered_by(plan), plan)


def group_sizes(rows: Sequence[Groups], facts: EvaluationData, plan: Plan) -> list[Floats]:
    """By what the groups of totals are ordered, level by level; [] where no number orders them."""
    order = plan.listing.group_order
    if order is None or order.way not in {"largest first", "smallest first"}:
        return []
    measure = plan.measures.get(order.by or plan.value)
    if measure is None:
        message = f"Groups are ordered by what rows tell, and {order.by or plan.value} does not."
        remedy = 'Take a measure of rows: group_order = "fares, largest first".'
        raise make_error("brief-order", f"{message} {remedy}", key=("chart", "group_order"))
    layers = zip(plan.listing.totals, rows[1:], strict=False)
    return [
        Grouped(facts, layer.codes, len(layer)).values(measure)
        for name, layer in layers
        if name != OVERALL_TOTAL
    ]
