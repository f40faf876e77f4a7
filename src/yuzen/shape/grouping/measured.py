"""The numbers of marks: each measure of the rows behind them, and shares of all of them."""

from collections.abc import Mapping

import numpy as np

from yuzen.arrays import Codes, Column
from yuzen.rules.marks import ITEM_MARK, REST_MARK
from yuzen.rules.peers.codes import Peers
from yuzen.rules.quantities.numbers import Derived, Difference, Quantity
from yuzen.shape.grouping.grouped_rows import GroupedRows
from yuzen.shape.grouping.groups import joined
from yuzen.shape.grouping.measures import Grouped, shares_among
from yuzen.shape.plan.plan import Plan


def _parts(measure: Quantity, count: int, plan: Plan) -> list[Quantity]:
    """What of a measure each of some layers of groups shows.

    Of a bridge out of rows the last two are its opening and its closing level, which show one side
    each.
    """
    if plan.listing.anchor_totals.sides is None or not isinstance(measure, Difference):
        return [measure] * count
    return [*[measure] * (count - 2), measure.right, measure.left]


def measured(
    asked: list[tuple[Grouped, Codes | slice]],
    grouped: GroupedRows,
    named: Mapping[str, Column],
    plan: Plan,
) -> dict[str, Column]:
    """The measures of the marks' groups; shares are of all items and the rest.

    named: the columns that tell marks apart, of which panels share out a whole each.
    """
    columns: dict[str, Column] = {
        name: joined(
            [
                groups.values(part)[rows_of_groups]
                for part, (groups, rows_of_groups) in zip(
                    _parts(measure, len(asked), plan), asked, strict=True
                )
            ]
        )
        for name, measure in plan.measures.items()
    }
    shares = [name for name, measure in plan.measures.items() if isinstance(measure, Derived)]
    if not shares:
        return columns
    items = np.isin(grouped.role, (ITEM_MARK, REST_MARK))
    peers = Peers.by([] if plan.panel is None else [named[plan.panel]])
    panels = np.zeros(len(items), dtype=np.intp) if peers.codes is None else peers.codes
    for name in shares:
        parts = np.asarray(columns[name], dtype=float)
        # The whole is of items and the rest: totals would count everything twice.
        whole = np.bincount(panels, np.where(items, np.nan_to_num(parts), 0.0), peers.count)
        columns[name] = shares_among(parts, whole[panels].astype(float))
    return columns
