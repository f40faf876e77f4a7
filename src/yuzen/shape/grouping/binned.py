"""Rows in the bins of a plan, and what the marks have of those."""

from dataclasses import replace

from yuzen.shape.plan.bins import CutColumn, outside_told
from yuzen.shape.plan.plan import Plan
from yuzen.sources.columns import Columns
from yuzen.sources.rows import Rows


def in_bins(rows: Rows, plan: Plan) -> tuple[Rows, CutColumn | None]:
    """The rows that are in a bin, and their bins; without bins all rows."""
    if plan.bins is None:
        return rows, None
    column = Columns(rows.columns)[plan.category]
    cut = plan.bins.cut(column, plan.category)
    remarks = outside_told(cut.inside, column, rows.weights, plan.category)
    if remarks:
        rows, cut = rows.taken(cut.inside), cut.taken(cut.inside)
    return replace(rows, remarks=(*rows.remarks, *remarks)), cut


def upper_name(plan: Plan) -> str:
    """The column of marks with the upper edges of bins."""
    return f"{plan.category} to"
