"""Columns that rows do not have and dates give: the year, the quarter, the day of the week."""

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import field

import numpy as np

from yuzen.arrays import Column, Dates, Text, kind_of
from yuzen.errors import make_error, suggestion
from yuzen.formats.name_lists import listed
from yuzen.formats.periods import CIVIL, CYCLES, LENGTHS, MIDDLE, Calendar, Grain
from yuzen.rules.language.period_names import PeriodName, period_named
from yuzen.rules.quantities.fields import Field
from yuzen.sources.cells import RowColumn, concatenated
from yuzen.sources.columns import column_of
from yuzen.value import Value


class PeriodColumn(Value):
    """A column of periods.

    name: as it is spoken of; of: the column of dates.
    """

    name: str
    period: PeriodName
    of: str
    calendar: Calendar = CIVIL

    @property
    def grain(self) -> Grain | None:
        """The unit of its dates; None for what comes round again, which is no stretch of time."""
        if self.period.unit in CYCLES:
            return None
        return Grain(self.period.unit, self.calendar)  # type: ignore[arg-type]  # no cycle

    def is_longer(self, grain: Grain) -> bool:
        """Whether its periods last longer than those of a grain."""
        return LENGTHS[self.period.unit] > LENGTHS[grain.unit]

    def is_shorter(self, grain: Grain) -> bool:
        """Whether its periods are shorter than those of a grain; a day of the week is a day."""
        return LENGTHS[self.period.unit] < LENGTHS[grain.unit]

    def of_dates(self, dates: Dates) -> RowColumn:
        """The period of each date: its first moment, the name of what comes round, or the hour."""
        cycle = self.period.unit
        if self.grain is not None:
            return self.grain.floored(dates)
        missing = np.isnat(dates)
        there = np.where(missing, np.datetime64(0, "s"), dates)
        places = self.calendar.places(cycle, there)  # type: ignore[arg-type]  # it has no grain
        names = self.calendar.cycle_names(cycle)  # type: ignore[arg-type]  # likewise
        if not names:
            return np.where(missing, np.nan, places.astype(float))
        return Text(np.where(missing, -1, places).astype(np.intp), names, ordered=True)


class Periods(Value):
    """What a plan asks of dates.

    columns: columns of periods.
    asked:   the periods whose first and last texts tell.
    spans:   the columns of dates that those are of, by their names.
    whole:   whether periods of the grain that the rows cover in part are left out.
    """

    calendar: Calendar = CIVIL
    columns: tuple[PeriodColumn, ...] = ()
    asked: tuple[PeriodName, ...] = ()
    spans: Mapping[str, str] = field(default_factory=dict)
    whole: bool = False

    @property
    def bases(self) -> dict[str, str]:
        """For each column of periods the dates that it is of."""
        return {column.name: column.of for column in self.columns}

    @property
    def hours(self) -> frozenset[str]:
        """The columns of hours, which are numbers."""
        return frozenset(column.name for column in self.columns if column.period.unit == "hour")

    @property
    def grains(self) -> dict[str, Grain]:
        """The units of the dates in each period column."""
        return {column.name: column.grain for column in self.columns if column.grain is not None}

    def in_rows(self, names: Iterable[str]) -> tuple[str, ...]:
        """The columns as the rows have them: date columns in place of their periods."""
        bases = {name.casefold(): of for name, of in self.bases.items()}
        return tuple(dict.fromkeys(bases.get(name.casefold(), name) for name in names))

    def ends(self, given: Mapping[str, RowColumn]) -> dict[str, tuple[str, str]]:
        """The first and last moment of dates that texts use, by the periods' names."""
        ends_by_name = {}
        for name, column in self.spans.items():
            dates = _moments(given, column)
            if not len(dates):
                ends_by_name[name] = ("NaT", "NaT")
                continue
            if isinstance(dates, Text) or kind_of(dates) != "date":
                message = f"A text refers to '{name}', and {column} holds no dates."
                raise make_error("brief-period", message)
            known = dates[~np.isnat(dates)]
            ends = (
                (known.min(), known.max())
                if len(known)
                else (np.datetime64("NaT", "s"), np.datetime64("NaT", "s"))
            )
            ends_by_name[name] = (str(ends[0]), str(ends[1]))
        return ends_by_name

    def with_columns(self, given: Mapping[str, RowColumn]) -> Mapping[str, RowColumn]:
        """The rows with the columns of periods. Raises YuzenError (brief-period).

        One whose dates are not there was for choosing rows, which a database has done by itself.
        """
        return self.of_marks(given, {})

    def of_marks(
        self, given: Mapping[str, RowColumn], grains: Mapping[str, Grain]
    ) -> Mapping[str, RowColumn]:
        """Like `with_columns`, for rows whose marks are periods: a mark lies whole in a period.

        grains: of columns of dates, the periods that marks are.
        """
        periods_given = [column for column in self.columns if column.of in given]
        if not periods_given:
            return given
        made = {
            column.name: _made(column, given, grains.get(column.of)) for column in periods_given
        }
        return {**given, **made}


def earliest(column: str) -> str:
    """What a database calls the first date of a column in each of its groups."""
    return f"earliest {column}"


def latest(column: str) -> str:
    """What it calls the last one."""
    return f"latest {column}"


def _moments(given: Mapping[str, RowColumn], column: str) -> Column:
    """The dates of a column, or the first and last of each group from a database."""
    if earliest(column) not in given:
        return column_of(given[column])
    return column_of(concatenated([given[earliest(column)], given[latest(column)]], column))


def _made(
    column: PeriodColumn, given: Mapping[str, RowColumn], grain: Grain | None = None
) -> RowColumn:
    """A column of periods. Raises YuzenError (brief-period) where there are no dates.

    grain: of the marks; a week lies in the month, quarter or year of its middle day, whichever of
           its days have rows.
    """
    dates = column_of(given[column.of])
    if isinstance(dates, Text) or kind_of(dates) != "date":
        message = f"{column.of} holds no dates, so there is no {column.period.unit} of it."
        raise make_error(
            "brief-period", f"{message} Take a column of dates: {column.period.unit} of COLUMN."
        )
    moments: Dates = dates  # type: ignore[assignment]  # by their kind
    if grain is not None and grain.unit == "week" and column.is_longer(grain):
        return column.of_dates(grain.floored(moments) + np.timedelta64(MIDDLE, "D"))
    return column.of_dates(moments)


class DateColumns(Value):
    """The columns of a source that hold dates: those that a chart is along, and all.

    along: the category and the series, as far as they are columns of the source.
    """

    column_names: Sequence[str]
    along: Sequence[str]
    all: Callable[[], Sequence[str]]

    def of(self, period: PeriodName, written: str) -> str:
        """The column that a period is of. Raises YuzenError (brief-period)."""
        if period.of:
            return _column(period.of, self.column_names, written)
        same = [name for name in self.column_names if name.casefold() == period.unit]
        date_columns = self.all()
        # A column named month that holds dates is what "month" means.
        if same and same[0] in date_columns:
            return same[0]
        date_names = [name for name in self.along if name in date_columns] or list(date_columns)
        # Of several columns of dates, the one that the chart runs along is meant.
        if len(date_names) == 1 or (date_names and date_names[0] in self.along):
            return date_names[0]
        if not date_names:
            raise make_error(
                "brief-period", f"'{written}' is about dates, and no column holds any."
            )
        remedy = f"Write {period.unit} of {Field(date_names[0])}."
        raise make_error(
            "brief-period",
            f"'{written}' of which column? There are dates in {listed(date_names)}. {remedy}",
        )


def _column(written: str, column_names: Sequence[str], where: str) -> str:
    near = [name for name in column_names if name.casefold() == written.casefold()]
    if written in column_names:
        return written
    if len(near) == 1:
        return near[0]
    raise make_error(
        "brief-column",
        f"There is no column '{written}' for '{where}'.{suggestion(written, column_names)}",
    )


def period_columns(
    names: Iterable[str], known: Iterable[str], dates: DateColumns, calendar: Calendar
) -> Mapping[str, PeriodColumn]:
    """The names that are periods, by the names without regard to case.

    known: what other names mean already.
    """
    taken = {name.casefold() for name in known}
    columns_by_name: dict[str, PeriodColumn] = {}
    for name in names:
        period = period_named(name)
        if period is None or name.casefold() in taken or name.casefold() in columns_by_name:
            continue
        of = dates.of(period, name)
        called = str(PeriodName(period.unit, of) if period.of else period)
        columns_by_name[name.casefold()] = PeriodColumn(called, period, of, calendar)
    return columns_by_name
