"""Which marks there are and in which order they are drawn: limits, totals, panels."""

import re
import unicodedata
from collections.abc import Sequence

import numpy as np

from yuzen.arrays import Codes, Column, Floats, Text, kind_of, sequence_of
from yuzen.errors import make_error, suggestion
from yuzen.formats.display import shown
from yuzen.rules.evaluation_data import EvaluationData
from yuzen.rules.lineage import Remark
from yuzen.rules.marks import TOTAL
from yuzen.shape.anchors import pillars_made, steps_of
from yuzen.shape.grouping.groups import Groups, floored
from yuzen.shape.grouping.measures import Grouped
from yuzen.shape.plan.choices import OVERALL_TOTAL, Listing
from yuzen.shape.plan.plan import Plan
from yuzen.sources.columns import Columns


def totals_of(plan: Plan, items: Groups, drawn: int, columns: Columns) -> list[Groups]:
    """The groups of rows that totals are made of, in the order of the plan.

    drawn: how many of the items are no rest, which is in the total of all and in no other.
    """
    firsts = items.first_ones(drawn)
    layers = []
    for total_name in plan.listing.totals:
        if total_name == OVERALL_TOTAL:
            layers.append(steps_of(plan, items).all(TOTAL))
            continue
        if not isinstance(items.names, Text):
            message = (
                f"Totals of {total_name} need a category of words, and {plan.category} holds none."
            )
            raise make_error("brief-totals", message)
        column = columns[total_name]
        # A route in two waters would be counted in both totals.
        if not isinstance(column, Text) or firsts.unlike(column).any():
            message = (
                f"Totals of {total_name} need one word of {total_name} for each {plan.category}."
            )
            raise make_error("brief-totals", message)
        layers.append(firsts.total_by(column))
    return [*layers, *pillars_made(plan, items, columns)]


def series_of(columns: Columns, plan: Plan) -> Column:
    """The series of each row: where the category is words, a grain is that of the series."""
    assert plan.series is not None  # noqa: S101 - who calls has asked
    if plan.grain is None or not of_series(columns, plan):
        return columns[plan.series]
    return floored(columns[plan.series], plan.grain, plan.series)


def series_groups(columns: Columns, plan: Plan) -> Groups:
    """The rows of each series: words as they are first named, dates and numbers in their order."""
    groups = Groups.of(series_of(columns, plan))
    places = sequence_of(groups.names)
    if places is None:
        return groups
    return groups.arranged(np.argsort(places, kind="stable"), None, np.zeros(0, dtype=np.intp))


def of_series(columns: Columns, plan: Plan) -> bool:
    """Whether a plan's grain is of its series, which are dates, as its category is text."""
    if plan.series is None or kind_of(columns[plan.category]) != "text":
        return False
    return kind_of(columns[plan.series]) == "date"


def dated_name(columns: Columns, plan: Plan) -> str:
    """The column whose dates the plan's grain is of: the category, or the series."""
    return str(plan.series) if of_series(columns, plan) else plan.category


def series_named(series: Column, groups: Sequence[Groups], sums: int) -> Column:
    """The series of the marks of groups, then of sums, which have none."""
    first = np.concatenate([one.first for one in groups])
    if not isinstance(series, Text):
        missing = np.array("NaT" if series.dtype.kind == "M" else np.nan, series.dtype)
        return np.append(series[first], np.full(sums, missing))
    words = series.words
    if sums and TOTAL not in words:
        words = (*words, TOTAL)
    of_sums = np.full(sums, words.index(TOTAL) if sums else -1, dtype=np.intp)
    return Text(np.append(series.codes[first], of_sums), words)


def ranked(column: Column) -> Codes:
    """A number for each row: words as they are first named, dates and numbers in their order."""
    groups = Groups.of(column)
    places = sequence_of(groups.names)
    if places is None:
        return groups.codes
    return np.argsort(np.argsort(places))[groups.codes]


def limited(drawn: Codes, panels: Codes, limit: int | None) -> Codes:
    """The drawn groups, panel after panel, at most a limit in each."""
    if not len(panels):
        return drawn[:limit]
    drawn = drawn[np.argsort(panels[drawn], kind="stable")]
    drawn_panels = panels[drawn]
    # Sorted by panel, a mark's place within its panel is its distance from the first of it.
    place = np.arange(len(drawn_panels)) - np.searchsorted(drawn_panels, drawn_panels)
    if limit is None:
        return drawn
    return drawn[place < limit]


def latest(drawn: Codes, panels: Codes, limit: int | None, names: Column) -> Codes:
    """The drawn groups, which stand in time, panel after panel: the last ones of each.

    names: what groups are called; one without a date is no late one.
    """
    by_date = drawn
    if not isinstance(names, Text):
        dateless = names[drawn] != names[drawn]
        by_date = np.concatenate([drawn[dateless], drawn[~dateless]])
    last = limited(by_date[::-1], panels, limit)
    every = limited(drawn, panels, None)
    kept: Codes = every[np.isin(every, last)]
    return kept


def in_time(names: Column, listing: Listing) -> bool:
    """Whether the groups stand in time, so that a limit keeps the latest."""
    if listing.order is None:
        return kind_of(names) == "date"
    return listing.order.way == "in time"


def rest_panels(panels: Codes, drawn: Codes) -> Codes:
    """The panels that have a rest, in their order."""
    return np.unique(np.delete(panels, drawn))


def largest_steps(order: Codes, sizes: Floats, limit: int | None) -> Codes:
    """The groups in their order, those of the largest size of either sign first of all."""
    largest = np.argsort(-np.abs(sizes[order]), kind="stable")[:limit]
    kept = np.zeros(len(order), dtype=bool)
    kept[largest] = True
    return np.concatenate([order[kept], order[~kept]])


def ordered_by(plan: Plan) -> str:
    """The measure by whose size categories are ordered."""
    order = plan.listing.order
    if order is None or not order.by:
        return plan.value
    return order.by


def ordered_among(plan: Plan) -> bool:
    """Whether categories are ordered by a measure that compares them."""
    return ordered_by(plan) in plan.formulas.peer_columns


def sizes_of(
    gathered: Grouped, groups: Groups, columns: Columns, facts: EvaluationData, plan: Plan
) -> Floats:
    """Sort numbers of categories: the chart's value, a measure, or the value in one series."""
    order = plan.listing.order
    if order is None or not order.by:
        return gathered.values(plan.measures[plan.value])
    if order.by in plan.measures:
        return gathered.values(plan.measures[order.by])
    assert plan.series is not None  # noqa: S101 - a plan that is resolved
    series = series_groups(columns, plan)
    names = shown(series.names)
    if order.by not in names:
        message = f"There is no measure and no {plan.series} '{order.by[:60]}' to order by."
        raise make_error(
            "brief-column", f"{message}{suggestion(order.by, names)}", key=("chart", "order")
        )
    codes_of_series = np.where(series.codes == names.index(order.by), groups.codes, -1)
    return Grouped(facts, codes_of_series, len(groups)).values(plan.measures[plan.value])


def sorting_key(name: str) -> tuple[tuple[int, int, str], ...]:
    """Sort key of names: numbers in them by size, letters without accents and case.

    >>> sorted(["Ward 10", "Ward 2", "Élan", "Zeta"], key=sorting_key)
    ['Élan', 'Ward 2', 'Ward 10', 'Zeta']
    """
    plain = "".join(
        # É sorts with E, as readers of a list expect, and not behind Z.
        c
        for c in unicodedata.normalize("NFKD", name.casefold())
        if not unicodedata.combining(c)
    )
    # "Pier 9" before "Pier 10"; longer digits than a float holds are letters.
    parts = [part for part in re.split(r"(\d{1,15})", plain) if part]
    return tuple((0, int(part), "") if part.isdecimal() else (1, 0, part) for part in parts)


def _places_listed(column: Column, names: Sequence[str]) -> Codes:
    """Place of each name in a list, the end where it is not in it; without regard to case."""
    # Of a name that is listed twice the first place counts.
    place = {name.casefold(): index for index, name in reversed(list(enumerate(names)))}
    return np.array(
        [place.get(name.casefold(), len(names)) for name in shown(column)], dtype=np.intp
    )


def strangers_listed(column: Column, names: Sequence[str], category: str) -> list[Remark]:
    """What to say of names in an order that nothing is called by."""
    there = {name.casefold() for name in shown(column)}
    return [
        Remark(
            "order-unknown",
            f"order lists '{name[:60]}', and no {category} is called "
            f"so.{suggestion(name, shown(column))}",
            "Take it out of the list, or write it as the rows have it.",
        )
        for name in names
        if name.casefold() not in there
    ]


def ordered(items: Groups, sizes: Floats, listing: Listing, category: str) -> Codes:
    """The groups in drawing order; equal ones in the order of first appearance."""
    column = items.names
    if listing.order is not None:
        order = listing.order.way
    elif sequence_of(column) is None:
        order = listing.words
    else:
        order = "in time"
    if order in {"largest first", "smallest first"}:
        # A stable sort leaves ties in the order in which the rows first name them; NaN goes last.
        return np.argsort(-sizes if order == "largest first" else sizes, kind="stable")
    if order == "as given":
        return np.arange(len(items))
    if listing.order is not None and order == "listed":
        return np.argsort(_places_listed(column, listing.order.names), kind="stable")
    places = sequence_of(column)
    if isinstance(column, Text) and (places is None or order == "by name"):
        if order == "in time":
            message = f"{category} holds words, which have no order in time."
            raise make_error("brief-order", f'{message} Set order = "as given" or "by name".')
        names = [sorting_key(name) for name in shown(column)]
        return np.array(sorted(range(len(names)), key=names.__getitem__), dtype=np.intp)
    assert places is not None  # noqa: S101 - words without an order are listed above
    return np.argsort(places, kind="stable")
