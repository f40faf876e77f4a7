"""The one way from rows to marks: keep, group, measure, order, limit, totals."""

from collections.abc import Mapping
from dataclasses import replace
from itertools import chain

import numpy as np

from yuzen.arrays import Codes, Column, Floats, Text, are_counted, rises, sequence_of
from yuzen.call_limits import refuse_beyond
from yuzen.formats.display import shown
from yuzen.rules.evaluation_data import EvaluationData
from yuzen.rules.marks import (
    ITEM_MARK,
    MAX_LEVELS,
    REST_MARK,
    REST_TOTAL_MARK,
    ROLES,
    TOTAL_MARK,
    Marks,
)
from yuzen.rules.names import in_quantities
from yuzen.shape.anchors import anchor_items, anchored
from yuzen.shape.coverage import whole_periods
from yuzen.shape.grains import mark_grains, said_grains, times_of
from yuzen.shape.grouping.bin_pieces import bin_pieces
from yuzen.shape.grouping.binned import in_bins, upper_name
from yuzen.shape.grouping.grouped_rows import GroupedRows, Listed
from yuzen.shape.grouping.groups import Groups, floored, joined
from yuzen.shape.grouping.measured import measured
from yuzen.shape.grouping.measures import Grouped, check_measures, implied_words, row_facts
from yuzen.shape.grouping.pooled import pooled_measures
from yuzen.shape.in_place.gathered import gathered
from yuzen.shape.keep import kept_rows
from yuzen.shape.lineage import origin_of
from yuzen.shape.listing import (
    in_time,
    largest_steps,
    latest,
    limited,
    of_series,
    ordered,
    ordered_among,
    ranked,
    rest_panels,
    series_groups,
    series_named,
    series_of,
    sizes_of,
    totals_of,
)
from yuzen.shape.plan.among_marks import with_measures
from yuzen.shape.plan.bins import CutColumn
from yuzen.shape.plan.plan import Plan
from yuzen.shape.plan.resolved import resolved
from yuzen.shape.row_order import row_keys
from yuzen.shape.sizes import category_sizes, group_sizes
from yuzen.shape.window import shown_rows, with_past
from yuzen.sources.columns import Columns
from yuzen.sources.rows import Rows, Source
from yuzen.value import Value


def shape(source: Source, plan: Plan) -> Marks:
    """The marks of a plan. Raises YuzenError for what the source does not have or cannot give."""
    return marks_of(
        *gathered(source, resolved(plan, source.column_names, lambda: source.date_columns))
    )


def marks_of(rows: Rows, plan: Plan) -> Marks:
    """The marks of rows by a resolved plan, with the measures that compare them."""
    refuse_beyond("rows", len(rows))
    rows = kept_rows(rows, plan)
    periods = plan.periods.of_marks(rows.columns, mark_grains(rows, plan))
    rows = whole_periods(replace(rows, columns=periods), plan)
    rows, cut = in_bins(rows, plan)
    if plan.listing.show is None:
        return with_measures(_made(rows, cut, plan).marks, plan)
    # All items are shaped once more, as those that are not shown are known to what looks back.
    plan_of_all = replace(plan, listing=plan.listing.of_all, overall=())
    every = _made(rows, cut, plan_of_all)
    shown = shown_rows(with_measures(every.marks, plan_of_all), every.mark_of_rows, plan)
    sizes = every.listed.sizes_of_rows[shown] if ordered_among(plan) else None
    made = _made(rows.taken(shown), None if cut is None else cut.taken(shown), plan, sizes)
    first_rows = np.flatnonzero(shown)[made.first_rows]
    marks = with_past(made.marks, every.marks, every.mark_of_rows[first_rows])
    return with_measures(marks, plan)


class Made(Value, eq=False):
    """Marks, the rows that they are made of, and where those were before they were put in order."""

    marks: Marks
    listed: Listed
    grouped: GroupedRows
    drawn: Codes | None

    @property
    def mark_of_rows(self) -> Codes:
        """The item that each row is behind, −1 for none."""
        codes = self.grouped.items.codes
        if self.drawn is None:
            return codes
        place = np.full(len(self.drawn) + 1, -1, dtype=np.intp)
        place[self.drawn] = np.arange(len(self.drawn))
        return place[codes]

    @property
    def first_rows(self) -> Codes:
        """The first row behind each mark."""
        first = np.concatenate([groups.first for groups in self.grouped.all])
        return first if self.drawn is None else first[self.drawn]


def _made(rows: Rows, cut: CutColumn | None, plan: Plan, row_sizes: Floats | None = None) -> Made:
    """The marks of rows: items, then totals, then in drawing order.

    row_sizes: for each row by what its category is ordered; None: as the rows tell.
    """
    # A column may be a name here and a number there: true and false, a year.
    columns = Columns(rows.columns)
    plan = plan.without(implied_words(plan, rows.columns))
    facts = _facts_of(rows, columns, plan)
    check_measures(plan.measures, facts)
    listed = _listed(columns, cut, facts, row_sizes, plan)
    grouped = _grouped(listed, columns, plan)
    asked = _asked(listed, grouped, facts, plan)
    named = _named_columns(grouped, columns, plan)
    mark_columns = named | measured(asked, grouped, named, plan)
    if cut is not None:
        mark_columns[upper_name(plan)] = cut.upper(mark_columns[plan.category])
    attributes, ambiguous_columns = _attributes(grouped, columns, plan)
    panel = plan.panel or ""
    marks = Marks(
        mark_columns | attributes,
        plan.category,
        plan.value,
        () if plan.series is None else (plan.series,),
        panel=panel,
        peer_columns=(panel,) if panel and plan.panel_peers == "panel" else (),
        order=_sequence(listed, grouped, mark_columns, plan),
        role=grouped.role if grouped.role.any() else None,
        rest=_rest_name(listed, plan),
        ambiguous_columns=ambiguous_columns,
        column_names=rows.column_names,
        times=times_of(rows, columns, plan),
        bins="" if cut is None else upper_name(plan),
        joined=plan.listing.joined,
    )
    origin = origin_of(rows, plan, asked, columns, facts, marks)
    marks = _with_rows_behind(replace(marks, origin=origin), rows, columns, facts, grouped, plan)
    drawn = _drawn_order(listed, grouped, facts, plan)
    return Made(marks if drawn is None else marks.taken(drawn), listed, grouped, drawn)


def _with_rows_behind(
    marks: Marks,
    rows: Rows,
    columns: Columns,
    facts: EvaluationData,
    grouped: GroupedRows,
    plan: Plan,
) -> Marks:
    """The marks with what only rows tell: measures of several marks, and pieces of marks."""
    values, behind = columns[plan.category], grouped.items.codes
    pieces = bin_pieces(marks, values, behind, rows.weights, facts, plan)
    overall = pooled_measures(marks, plan, facts, grouped.rows_of)
    return replace(marks, origin=replace(marks.origin, pieces=pieces, overall=overall))


def _facts_of(rows: Rows, columns: Columns, plan: Plan) -> EvaluationData:
    """The rows as measures ask for them."""
    reckoned = [*plan.measures.values(), *chain.from_iterable(plan.formulas.counted.values())]
    numbers = columns.with_numbers(in_quantities(reckoned).numbers)
    return row_facts(numbers, plan, rows.column_names)


def _rest_name(listed: Listed, plan: Plan) -> str:
    """What the rest is called, where the names of the category are no words."""
    worded = isinstance(listed.groups.names, Text)
    return "" if worded else plan.listing.rest or ""


def _listed(
    columns: Columns,
    cut: CutColumn | None,
    facts: EvaluationData,
    row_sizes: Floats | None,
    plan: Plan,
) -> Listed:
    column = columns[plan.category]
    if cut is not None:
        column = cut.lower
    elif plan.grain is not None and not of_series(columns, plan):
        column = floored(column, plan.grain, plan.category)
    groups, panels = Groups.of(column), np.zeros(0, dtype=np.intp)
    if plan.panel is not None:
        groups, _ = groups.crossed(Groups.of(columns[plan.panel]))
        panels = ranked(columns[plan.panel])[groups.first]
    gathered = Grouped(facts, groups.codes, len(groups))
    if row_sizes is not None:
        sizes = row_sizes[groups.first]
    elif ordered_among(plan):
        sizes = category_sizes(gathered, groups, panels, columns, plan)
    else:
        sizes = sizes_of(gathered, groups, columns, facts, plan)
    order = anchored(plan, groups, ordered(groups, sizes, plan.listing, plan.category))
    if plan.listing.keeps_largest_steps:
        order = largest_steps(order, sizes, plan.listing.limit)
    if in_time(groups.names, plan.listing) and plan.listing.limit is not None:
        drawn = latest(order, panels, plan.listing.limit, groups.names)
    else:
        drawn = limited(order, panels, plan.listing.limit)
    return Listed(gathered, sizes, drawn, panels, groups.arranged(drawn, plan.listing.rest, panels))


def _grouped(listed: Listed, columns: Columns, plan: Plan) -> GroupedRows:
    """The rows behind each mark: of every category and series, then of what totals are made of."""
    rows = (listed.groups, *totals_of(plan, listed.groups, len(listed.drawn), columns))
    offsets = np.cumsum([0, *map(len, rows)])
    named = np.full(offsets[-1], TOTAL_MARK, dtype=np.int8)
    named[: offsets[1]] = REST_MARK
    named[: len(listed.drawn)] = ITEM_MARK
    # Pillars are categories of the rows, but they say again what their steps say.
    named[: offsets[1]][anchor_items(plan, listed.groups)] = TOTAL_MARK + ROLES
    levels = np.minimum(np.arange(1, len(rows)), MAX_LEVELS)
    named[offsets[1] :] += (np.repeat(levels, np.diff(offsets)[1:]) * ROLES).astype(np.int8)
    if plan.series is None:
        category = np.arange(len(listed.groups))
        return GroupedRows(rows, rows[0], rows[1:], (), category, np.arange(offsets[-1]), named)
    series = series_groups(columns, plan)
    crossed = [groups.crossed(series) for groups in rows]
    order = np.concatenate([of + start for (_, of), start in zip(crossed, offsets, strict=False)])
    role = named[order]
    sums: tuple[Groups, ...] = ()
    if plan.listing.across:
        # A total over series of the rest is a total and of the rest, and rules have to know both.
        # Sums over series are levels of their own, beyond those of the totals of categories.
        summed = np.where(named == REST_MARK, REST_TOTAL_MARK, TOTAL_MARK)
        summed = (summed + (named // ROLES + MAX_LEVELS + 1) * ROLES).astype(np.int8)
        order, role, sums = (
            np.append(order, np.arange(offsets[-1])),
            np.append(role, summed),
            rows,
        )
    (items, category), *totals = crossed
    return GroupedRows(
        rows, items, tuple(groups for groups, _ in totals), sums, category, order, role
    )


def _named_columns(grouped: GroupedRows, columns: Columns, plan: Plan) -> dict[str, Column]:
    """The columns that tell marks apart: the category, the series and the panel."""
    named: dict[str, Column] = {plan.category: joined([groups.names for groups in grouped.all])}
    if plan.series is not None:
        sums = sum(map(len, grouped.sums))
        named[plan.series] = series_named(
            series_of(columns, plan), (grouped.items, *grouped.totals), sums
        )
    if plan.panel is not None:
        named[plan.panel] = joined([groups.values(columns[plan.panel]) for groups in grouped.all])
    return named


def _asked(
    listed: Listed, grouped: GroupedRows, facts: EvaluationData, plan: Plan
) -> list[tuple[Grouped, Codes | slice]]:
    """The groups that are marks: rows in groups, and which of those are marks."""
    groups, asked = grouped.all, []
    # A million rows are grouped once: the items are then the categories, only listed in another
    # order.
    if plan.series is None and len(grouped.items) == len(listed.drawn):
        every = are_counted(listed.drawn, len(listed.sizes))
        groups, asked = grouped.all[1:], [(listed.gathered, slice(None) if every else listed.drawn)]
    return [*asked, *((Grouped(facts, one.codes, len(one)), slice(None)) for one in groups)]


def _example(groups: Groups, columns: Columns, name: str, group: int, plan: Plan) -> str:
    """A group with two of the values that its rows have in a column."""
    grains = said_grains(columns, plan)
    values = columns[name][np.flatnonzero(groups.codes == group)]
    # Two different values are enough to show an analyst what is meant.
    first, second, *_ = dict.fromkeys(shown(values, grains.get(name)))
    return f"{shown(groups.names, grains.get(plan.category))[group]} has {first} and {second}"


def _attributes(
    grouped: GroupedRows, columns: Columns, plan: Plan
) -> tuple[dict[str, Column], dict[str, str]]:
    """Columns that rules use as they are; of ambiguous ones, the name of such a mark."""
    attributes: dict[str, Column] = {}
    ambiguous_columns: dict[str, str] = {}
    for name in plan.attributes(list(columns)):
        mixed = grouped.items.unlike(columns[name])[: grouped.count]
        if mixed.any():
            ambiguous_columns[name] = _example(
                grouped.items, columns, name, int(np.argmax(mixed)), plan
            )
        else:
            attributes[name] = joined([groups.values(columns[name]) for groups in grouped.all])
    return attributes, ambiguous_columns


def _drawn_order(
    listed: Listed, grouped: GroupedRows, facts: EvaluationData, plan: Plan
) -> Codes | None:
    """The order in which marks are drawn; None: as made. A total follows its series."""
    if len(grouped.all) == 1 and plan.panel is None:
        return None
    sizes = group_sizes(grouped.rows, facts, plan)
    keys = np.concatenate(row_keys(grouped.rows, len(listed.drawn), plan, sizes), axis=1)
    if plan.panel is not None:
        panels = np.append(listed.panels[listed.drawn], rest_panels(listed.panels, listed.drawn))
        keys[0] = panels[: keys.shape[1]]  # of the rest only where there is one
    # By group, then items before their total, then as listed.
    return np.lexsort(keys[::-1, grouped.order])


def _sequence(
    listed: Listed, grouped: GroupedRows, columns: Mapping[str, Column], plan: Plan
) -> Codes | None:
    """The marks listed in time or number order, else as first named; what is no item comes last.

    It is the order of the category, or, where that is words, of series that are dates or numbers;
    of series that are joined theirs.
    """
    slots = grouped.category[: grouped.count]
    along, count = listed.groups.names[slots], sum(map(len, grouped.all))
    words = sequence_of(along) is None
    if plan.series is not None and (words or plan.listing.joined):
        along = columns[plan.series][: grouped.count]
    places = sequence_of(along)
    if places is None and not plan.listing.joined:
        places = listed.drawn[slots]  # as first named
    if places is None:
        # Items stand by category, then by series as those are first named.
        order = np.arange(len(slots))
    elif count == len(places) and rises(places):
        return None  # without a sort
    else:
        order = np.argsort(places, kind="stable")
    # Totals and the rest have no place in a sequence; they stand behind it.
    order = np.append(order, np.arange(len(slots), count))
    if np.array_equal(order, np.arange(count)):
        return None
    return order
