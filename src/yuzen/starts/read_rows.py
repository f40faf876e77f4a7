"""The profile of rows: read into memory, or asked of the database or the engine they are in."""

from __future__ import annotations

from collections.abc import Mapping
from contextlib import suppress
from dataclasses import replace
from typing import TYPE_CHECKING, Any, Final, cast

import numpy as np

from yuzen.arrays import Floats, kind_of
from yuzen.errors import YuzenError, make_error
from yuzen.sources.cells import Cells, RowColumn
from yuzen.sources.columns import column_of
from yuzen.sources.files import File
from yuzen.sources.rows import Rows, Source
from yuzen.sources.typed.date_cells import looks_dated
from yuzen.sources.typed.numerals import numeral
from yuzen.sources.wanted import Wanted
from yuzen.starts.column_facts import facts_of, facts_of_counted, unit_written
from yuzen.starts.dirt import columns_side_by_side, spellings_of, totals_in
from yuzen.starts.profile import ColumnFacts, Profile

if TYPE_CHECKING:
    from yuzen.sources.sets.file_set import FileSet
    from yuzen.sources.sql.database import Database
    from yuzen.sources.sql.relation import Relation

MOST_COLUMNS: Final = 1_000  # that are looked at
PROBED: Final = 50  # different texts of a column that show whether they are numbers
NUMERIC_SHARE: Final = 0.5  # of those that have to be numbers
MOST_VALUES: Final = 5_000  # different values of a column that a database is asked for
NOTATIONS: Final = {  # how numbers are written where they are no plain ones
    "%": "percent",
    "(": "brackets for a minus",
    "-": "minus behind the number",
}


def profile_of(source: Source) -> Profile:
    """What is in the rows of a source. Raises YuzenError (data-…)."""
    names = source.column_names[:MOST_COLUMNS]
    table = _table_in_place(source, names)
    remarks: list[str] = []
    if table is not None:
        columns = _asked(table, names)
    else:
        columns, remarks = _read(source, names)
    if not columns or not max(column.rows for column in columns):
        raise make_error("data-rows", "There are no rows to look at.", where=source.called)
    words = [column for column in columns if column.kind == "words"]
    return Profile(
        source.called,
        max(column.rows for column in columns),
        tuple(columns),
        tuple(dict.fromkeys(remarks)),
        {column.name: totals for column in words if (totals := totals_in(column))},
        {column.name: spellings for column in words if (spellings := spellings_of(column))},
        columns_side_by_side(columns),
        len(source.column_names) - len(names),
    )


def _table_in_place(source: Source, names: tuple[str, ...]) -> Relation | None:
    """The table that can be asked without reading its rows; None: the rows are read."""
    if hasattr(source, "relation"):
        return cast("Database", source).relation
    if hasattr(source, "asked"):
        return cast("FileSet", source).table(Wanted(names))
    return None


def _read(source: Source, names: tuple[str, ...]) -> tuple[list[ColumnFacts], list[str]]:
    """The columns of rows that are read, and remarks on how they were."""
    first = _first_cells(source, names)
    unread: list[str] = []
    # Numbers are asked for as such: to find them out cell by cell takes ten times as long.
    numbers = frozenset(name for name, cells in first.items() if _holds_numerals(cells))
    rows = _readable(source, names, numbers, unread)
    facts = []
    for name in names:
        if name in rows.columns:
            cells = rows.columns[name]
            column = facts_of(name, cells, rows.units.get(name))
            # Numbers that were read are texts only in the first cells.
            written = cells if isinstance(cells, Cells) else first.get(name, cells)
            facts.append(replace(column, typed=_notations(written)))
        else:
            facts.append(ColumnFacts(name, "nothing", len(rows)))
    return facts, [*(remark.message for remark in rows.remarks), *unread]


def _first_cells(source: Source, names: tuple[str, ...]) -> Mapping[str, RowColumn]:
    """The first cells of each column as they are written; of a table in memory all of them."""
    if isinstance(source, File):
        return source.begun()
    return _readable(source, names, frozenset(), []).columns


def _readable(
    source: Source, names: tuple[str, ...], numbers: frozenset[str], unread: list[str]
) -> Rows:
    """The rows with all columns that can be read; of none the message is that of all.

    numbers: columns that are supposed to hold numbers; one of which a cell is a word holds words.
    unread:  takes what is said of columns that cannot be read.
    """
    with suppress(YuzenError):
        return source.rows(Wanted(names, numbers, auto_totals=numbers))
    parts: list[Rows] = []
    for name in names:
        own = numbers & {name}
        try:
            parts.append(source.rows(Wanted((name,), own, auto_totals=own)))
        except YuzenError as error:
            unread.append(f"{name} cannot be read. {error.faults[0].message}")
    if not parts:
        return source.rows(Wanted(names))
    columns = {name: cells for part in parts for name, cells in part.columns.items()}
    remarks = tuple(remark for part in parts for remark in part.remarks)
    units = {name: unit for part in parts for name, unit in part.units.items()}
    return replace(parts[0], columns=columns, remarks=remarks, units=units)


def _holds_numerals(cells: RowColumn) -> bool:
    """Whether a column of texts holds numbers as people write them, at least half of them."""
    if isinstance(cells, np.ndarray):
        return cells.dtype.kind in "iuf"
    if not isinstance(cells, Cells) or kind_of(column_of(cells)) == "date":
        return False
    first = [str(cell) for cell in cells.distinct[:PROBED]]
    if looks_dated(first):
        return False
    numbers = [cell for cell in first if numeral(cell.strip()) is not None]
    return len(first) > 0 and len(numbers) > NUMERIC_SHARE * len(first)


def _notations(cells: RowColumn) -> tuple[str, ...]:
    """How the cells of a column are written, where they are texts that are not plain."""
    if not isinstance(cells, Cells):
        return ()
    written = [str(cell) for cell in cells.distinct[:PROBED]]
    blanks = any(cell != " ".join(cell.split()) for cell in written)
    if not _holds_numerals(cells):
        return ("blanks around names",) if blanks else ()
    texts = [cell.strip() for cell in written]
    ends = {text[-1:] for text in texts if text} | {text[:1] for text in texts if text[:1] == "("}
    return tuple(word for sign, word in NOTATIONS.items() if sign in ends)


def _asked(relation: Relation, names: tuple[str, ...]) -> list[ColumnFacts]:
    """The columns of a table whose rows stay where they are: a few questions, no rows."""
    # The first rows tell the types, as they do for charts.
    sample = relation.sample_of(names)
    kinds = {name: kind_of(column_of(sample[name])) for name in names}
    numbers = [name for name in names if kinds[name] == "number"]
    counted = {name: _counted(relation, name) for name in names if name not in numbers}
    rows = _row_count(relation)
    facts = {**counted, **_summed(relation, numbers, rows)}
    return [replace(facts[name], rows=rows) for name in names]


def _row_count(relation: Relation) -> int:
    import sqlalchemy as sql  # noqa: PLC0415 - an extra

    counted = sql.select(sql.func.count().label("rows")).select_from(relation.selectable)
    return int(_cell(relation.fetch(counted)["rows"]))


def _counted(relation: Relation, name: str) -> ColumnFacts:
    """A column of words or dates: its values with the count of their rows."""
    import sqlalchemy as sql  # noqa: PLC0415 - an extra

    column, count = relation.columns[name], sql.func.count().label("times")
    asked = (
        sql.select(column.label("called"), count)
        .group_by(column)
        .order_by(sql.desc("times"))
        .limit(MOST_VALUES)
    )
    cells = relation.fetch(asked)
    values = column_of(cells["called"])
    if isinstance(values, np.ndarray) and values.dtype.kind != "M":
        values = column_of(Cells.of([None]))  # a column without a value has no type
    times = cast("Floats", column_of(cells["times"]))
    facts = facts_of_counted(name, values, times.tolist(), unit_written(cells["called"]))
    # Fewer values than were asked for are all that there are.
    if len(times) < MOST_VALUES:
        return facts
    different = sql.select(sql.func.count(sql.distinct(column)).label("different"))
    ends = sql.select(sql.func.min(column).label("least"), sql.func.max(column).label("most"))
    count_of = int(_cell(relation.fetch(different)["different"]))
    if facts.kind != "dates":
        return replace(facts, different=count_of)
    found = relation.fetch(ends)
    least, most = (cast("Any", column_of(found[end]))[0] for end in ("least", "most"))
    # Of the most frequent moments alone no gaps are known.
    return replace(
        facts, different=count_of, least=least, most=most, unit="day", missing_periods=()
    )


def _summed(relation: Relation, names: list[str], rows: int) -> Mapping[str, ColumnFacts]:
    """The columns of numbers, by one question."""
    import sqlalchemy as sql  # noqa: PLC0415 - an extra

    if not names:
        return {}
    asked: list[Any] = []
    for place, name in enumerate(names):
        column = relation.columns[name]
        asked += [
            sql.func.count(column).label(f"known{place}"),
            sql.func.count(sql.distinct(column)).label(f"different{place}"),
            sql.func.min(column).label(f"least{place}"),
            sql.func.max(column).label(f"most{place}"),
            sql.func.count(sql.case((column < 0, 1))).label(f"negative{place}"),
            sql.func.count(sql.case((column != sql.func.round(column), 1))).label(f"parts{place}"),
        ]
    cells = relation.fetch(sql.select(*asked))
    facts = {}
    for place, name in enumerate(names):
        known, different, least, most, negative, parts = (
            _cell(cells[f"{word}{place}"])
            for word in ("known", "different", "least", "most", "negative", "parts")
        )
        facts[name] = ColumnFacts(
            name,
            "numbers" if known else "nothing",
            rows,
            rows - int(known),
            int(different),
            least if known else None,
            most if known else None,
            int(negative),
            whole=not parts,
        )
    return facts


def _cell(column: RowColumn) -> float:
    """The one number of an answer; NaN where it is missing."""
    numbers = column_of(column)
    if isinstance(numbers, np.ndarray) and len(numbers) and numbers.dtype.kind == "f":
        return float(numbers[0])
    return float("nan")
