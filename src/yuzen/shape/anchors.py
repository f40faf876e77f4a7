"""The pillars of a bridge among its categories: an opening, a closing, and subtotals on the way."""

from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np

from yuzen.arrays import Bools, Codes, Column, Floats, Text
from yuzen.errors import make_error, suggestion
from yuzen.rules.quantities.numbers import rows_column
from yuzen.shape.grouping.groups import Groups
from yuzen.shape.plan.choices import AnchorTotals
from yuzen.shape.plan.plan import Plan


def anchored(plan: Plan, items: Groups, order: Codes) -> Codes:
    """The categories in this order, with the opening first and the closing last.

    Raises YuzenError (brief-pillar) for pillars that the rows do not have.
    """
    anchor_totals = plan.listing.anchor_totals
    if not anchor_totals.any:
        return order
    if not isinstance(items.names, Text):
        message = f"Pillars are called by words, and {plan.category} holds none."
        remedy = 'Set totals = ["all"] for a pillar at the end.'
        raise make_error("brief-pillar", f"{message} {remedy}", key=("chart",))
    names = [str(name) for name in items.names.values()]
    opening, closing = (None, None) if anchor_totals.sides else _ends(anchor_totals)
    wanted = [
        ("opening", opening),
        *(("subtotals", name) for name in anchor_totals.subtotals),
    ]
    wanted += [("subtotals", step) for _, step in anchor_totals.after]
    for key, name in wanted:
        if name is not None and name not in names:
            message = f"No {plan.category} is called '{name[:60]}'.{suggestion(name, names)}"
            raise make_error("brief-pillar", message, key=("chart", key))
    first, last = named(items, (opening,))[order], named(items, (closing,))[order]
    return np.concatenate([order[first], order[~(first | last)], order[last]])


def _ends(anchor_totals: AnchorTotals) -> tuple[str | None, str | None]:
    return anchor_totals.opening, anchor_totals.closing


def named(items: Groups, names: Sequence[str | None]) -> Bools:
    """Which categories have one of these names, shape (k,)."""
    wanted = {name for name in names if name is not None}
    if not wanted or not isinstance(items.names, Text):
        return np.zeros(len(items), dtype=bool)
    return np.array([word in wanted for word in items.names.values()], dtype=bool)


def anchor_items(plan: Plan, items: Groups) -> Bools:
    """Which categories are pillars, shape (k,)."""
    return named(items, plan.listing.anchor_totals.in_rows)


def steps_of(plan: Plan, items: Groups) -> Groups:
    """The rows of the opening and of the steps: what a pillar at the end is the total of."""
    anchor_totals = plan.listing.anchor_totals
    # The extra place at the end is for code −1, rows that are in no category already.
    opening = None if anchor_totals.sides else anchor_totals.opening
    summed = [name for name in anchor_totals.in_rows if name is None or name != opening]
    gone = np.append(named(items, summed), False)
    return Groups(np.where(gone[items.codes], -1, items.codes), items.first, items.names)


def pillars_made(plan: Plan, items: Groups, columns: Mapping[str, Column]) -> list[Groups]:
    """The anchor rows that no row gives: subtotals of steps, and the total at the end.

    columns: of the rows; of a bridge out of rows one of them tells those of the opening level.
    """
    anchor_totals = plan.listing.anchor_totals
    if not anchor_totals.after and anchor_totals.closing is None:
        return []
    steps = steps_of(plan, items)
    if anchor_totals.sides is not None:
        opens = np.asarray(columns[rows_column(anchor_totals.sides[0])]) > 0
        return [
            replace(steps, codes=np.where(side, steps.codes, -1)).all(str(name))
            for side, name in zip((opens, ~opens), _ends(anchor_totals), strict=True)
        ]
    # A closing that the rows bring is drawn as it is; only one that they lack is summed up.
    ends = anchor_totals.closing is not None and not named(items, (anchor_totals.closing,)).any()
    if plan.panel is not None and (anchor_totals.after or ends):
        message = (
            "In panels the pillars are in the rows; totals up to a step are not computed there."
        )
        raise make_error("brief-pillar", message, key=("chart", "closing" if ends else "subtotals"))
    rows_of_anchors = []
    for name, step in anchor_totals.after:
        place = int(np.argmax(named(items, (step,))))
        up_to = np.where(steps.codes <= place, steps.codes, -1)
        rows_of_anchors.append(Groups(up_to, items.first, items.names).all(name))
    if ends:
        rows_of_anchors.append(steps.all(str(anchor_totals.closing)))
    return rows_of_anchors


def pillar_keys(plan: Plan, items: Groups, layers: Sequence[Groups]) -> list[Floats]:
    """By what pillars are sorted that are no rows: after their step, or after everything."""
    keys: list[Floats] = []
    if plan.listing.anchor_totals.sides is not None:
        first, last = layers
        before = np.array([[-1.0], [0.0], [0.0]])[:, : len(first)]
        return [before, np.array([[np.inf], [2.0], [0.0]])[:, : len(last)]]
    after = [step for _, step in plan.listing.anchor_totals.after]
    for place, layer in enumerate(layers):
        if place < len(after):
            # Half a place after its step, so that it stands between that and the next one.
            key = [[0.0], [0.0], [float(np.argmax(named(items, (after[place],)))) + 0.5]]
        else:
            key = [[np.inf], [2.0], [0.0]]
        keys.append(np.array(key)[:, : len(layer)])
    return keys
