"""In which order categories, the totals of their groups and the total of all are drawn."""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from yuzen.arrays import Codes, Floats, Text
from yuzen.errors import make_error
from yuzen.formats.display import shown
from yuzen.shape.anchors import pillar_keys
from yuzen.shape.grouping.groups import Groups
from yuzen.shape.listing import ordered
from yuzen.shape.plan.choices import OVERALL_TOTAL, Listing
from yuzen.shape.plan.plan import Plan


def row_keys(
    rows: Sequence[Groups], drawn: int, plan: Plan, sizes: Sequence[Floats]
) -> list[Floats]:
    """By what categories and their totals are sorted, shape (d, n) for each of the groups.

    For each level of groups the rank of the group and whether it is a total, then the place among
    the categories: the items of a group stand together, then comes the group's total.
    drawn: how many of the categories are no rest.  sizes: for each level of groups the number that
           these are ordered by, as far as they are.
    Raises YuzenError (brief-totals) where a group lies in several of the level above it.
    """
    items, totals = rows[0], plan.listing.totals
    named = [(name, layer) for name, layer in zip(totals, rows[1:], strict=False)]
    groups = [(name, layer) for name, layer in named if name != OVERALL_TOTAL]
    depth = 2 * max(1, len(groups)) + 1
    item_keys = np.zeros((depth, len(items)))
    item_keys[-1] = np.arange(len(items))
    group_of: list[Codes] = []
    ranks: list[Floats] = []
    for level, (_, layer) in enumerate(groups):
        group = layer.codes[items.first].copy()
        group[drawn:] = len(layer)  # the rest stands after all groups
        ranks.append(_ranks(layer, group, plan.listing, sizes[level : level + 1]))
        group_of.append(group)
        item_keys[2 * level] = np.append(ranks[level], len(layer))[group]
    # A total has the ranks of the groups that it lies in, and comes after the items of its own.
    keys, level = [item_keys], 0
    for name, layer in named:
        key = np.zeros((depth, len(layer)))
        if name == OVERALL_TOTAL:
            key[0], key[1] = np.inf, 1.0
        else:
            first = np.array([np.argmax(group_of[level] == g) for g in range(len(layer))], np.intp)
            for above in range(level):
                _refuse_unnested(groups, group_of, level, above)
                key[2 * above] = ranks[above][group_of[above][first]]
            key[2 * level], key[2 * level + 1] = ranks[level], 1.0
            level += 1
        keys.append(key)
    return [*keys, *pillar_keys(plan, items, rows[1 + len(totals) :])]


def _ranks(layer: Groups, group: Codes, listing: Listing, sizes: Sequence[Floats]) -> Floats:
    """The rank of each group, shape (k,): by an order, else as their first categories stand."""
    if listing.group_order is None:
        place = [float(np.argmax(group == g)) for g in range(len(layer))]
        listed = np.argsort(place, kind="stable")
    else:
        named = replace(layer, names=Text.of(group_names(layer)))
        size = sizes[0] if sizes else np.zeros(len(layer))  # no number orders them
        listed = ordered(named, size, replace(listing, order=listing.group_order), "totals")
    return np.argsort(listed).astype(float)


def group_names(layer: Groups) -> list[str]:
    """What the groups of totals are called, whose totals bear their names."""
    return [name.removesuffix(" total") for name in shown(layer.names)]


def _refuse_unnested(
    groups: Sequence[tuple[str, Groups]], group_of: Sequence[Codes], level: int, above: int
) -> None:
    """Raise YuzenError (brief-totals) where a group lies in several of a level above it."""
    inner, outer = group_of[level], group_of[above]
    pairs = np.unique(np.stack([inner, outer]), axis=1)
    several = np.flatnonzero(np.bincount(pairs[0]) > 1)
    several = several[several < len(groups[level][1])]
    if not len(several):
        return
    (name, layer), (name_above, layer_above) = groups[level], groups[above]
    names_above = [*group_names(layer_above), "the rest"]
    first, second, *_ = [names_above[code] for code in pairs[1][pairs[0] == several[0]].tolist()]
    message = (
        f"Totals of {name} stand inside those of {name_above}, and "
        f"{group_names(layer)[several[0]]} is in {first} and {second}."
    )
    remedy = "Write the larger groups first in totals, or leave one of them out."
    raise make_error("brief-totals", f"{message} {remedy}", key=("chart", "totals"))
