"""Which columns of dates are periods: those that a brief says, and those written as periods."""

from collections.abc import Mapping
from dataclasses import replace

from yuzen.errors import make_error
from yuzen.formats.periods import CIVIL, Grain, Times
from yuzen.rules.language.period_names import period_named
from yuzen.shape.listing import dated_name
from yuzen.shape.plan.period_columns import PeriodColumn
from yuzen.shape.plan.plan import Plan
from yuzen.sources.cells import Cells
from yuzen.sources.columns import Columns, is_iso
from yuzen.sources.rows import Rows
from yuzen.sources.typed.date_cells import written_unit


def said_grains(columns: Columns, plan: Plan) -> dict[str, Grain]:
    """The units of dates in columns: the plan's for the category, or for the series."""
    grains = plan.periods.grains
    if plan.grain is not None:
        grains[dated_name(columns, plan)] = plan.grain
    return grains


def written_grains(rows: Rows, plan: Plan) -> Mapping[str, Grain]:
    """The units of dates that are written as periods, 2026-03 or Q1 2026, along which marks lie.

    Where years or weeks begin elsewhere than people write them, only months are sure to be meant.
    """
    grains: dict[str, Grain] = {}
    for name in filter(None, (plan.category, plan.series, plan.panel)):
        # A column of periods is made of these rows, and is as the brief says.
        column, unit = rows.columns.get(name), rows.units.get(name)
        if isinstance(column, Cells) and is_iso(column):
            unit = written_unit(map(str, column.distinct))
        if unit == "month" or (unit is not None and plan.periods.calendar == CIVIL):
            grains[name] = Grain(unit, plan.periods.calendar)
    return grains


def times_of(rows: Rows, columns: Columns, plan: Plan) -> Times:
    """How dates of marks are read: a unit that the brief sets comes before how they are written."""
    grains = {**written_grains(rows, plan), **said_grains(columns, plan)}
    return Times(grains, plan.periods.calendar)


def mark_grains(rows: Rows, plan: Plan) -> Mapping[str, Grain]:
    """Of columns of dates along which marks lie, the periods that marks are.

    Raises YuzenError (brief-period) for peers in shorter periods, in which no mark lies whole.
    """
    if not plan.periods.columns:
        return {}
    grains = dict(written_grains(rows, plan))
    along = [name for name in (plan.category, plan.series, plan.panel) if name is not None]
    made = {column.name: column for column in plan.periods.columns}
    columns_along = [made[name] for name in along if name in made]
    if plan.grain is not None:
        # Only what marks lie along tells which dates are meant; the others are made for marks.
        periods_along = replace(plan.periods, columns=tuple(columns_along))
        grains |= said_grains(Columns(periods_along.with_columns(rows.columns)), plan)
    for column in columns_along:
        if column.grain is not None:
            grains.setdefault(column.of, column.grain)
    in_rules = {
        str(period).casefold()
        for name in (*plan.names.peers, *plan.names.words)
        if (period := period_named(name)) is not None
    }
    for column in plan.periods.columns:
        grain = grains.get(column.of)
        # A measure may count shorter periods: count of distinct day of opened.
        asked = column.name.casefold() in in_rules and column.name not in along
        if grain is not None and asked and column.is_shorter(grain):
            raise make_error("brief-period", _too_short(column, grain))
    return grains


def _too_short(column: PeriodColumn, grain: Grain) -> str:
    """What to say of a column of shorter periods than those of the marks."""
    return (
        f"'{column.name}' is shorter than a mark, and each mark is a whole {grain.unit}. Take "
        f"longer periods, or draw {column.period.unit}s."
    )
