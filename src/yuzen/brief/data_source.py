"""Where the rows of a brief come from, and how their files are named from elsewhere."""

from __future__ import annotations

from collections.abc import Hashable
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Any, Protocol, runtime_checkable

import numpy as np

from yuzen.brief.model import Brief
from yuzen.brief.sections.data import DataSection
from yuzen.errors import YuzenError, make_error
from yuzen.formats.display import shown
from yuzen.rules.marks import Marks
from yuzen.shape.in_place.subsets import SourceSubset
from yuzen.shape.marks import shape
from yuzen.shape.plan.choices import Order
from yuzen.shape.plan.plan import Plan
from yuzen.sources.file_format import Format
from yuzen.sources.files import File, KeptFile
from yuzen.sources.inputs import RowsLike, source_of
from yuzen.sources.joined_tables import JoinedTables
from yuzen.sources.pipes import piped
from yuzen.sources.prepared import Prepared, Wide
from yuzen.sources.rows import Source
from yuzen.sources.sets.distributed import DistributedFiles

if TYPE_CHECKING:
    from concurrent.futures import Executor


@runtime_checkable
class DatabaseLike(Protocol):
    """A source that has other tables besides."""

    def with_table(self, table: str) -> Source:
        """Another table of it."""


def source_for(spec: Brief, given: RowsLike | None, folder: Path) -> Source:
    """The source of given rows, else of the brief's [data], found from its folder.

    Raises YuzenError (brief-data) where there is neither.
    """
    source = _one_table(spec, given, folder)
    if isinstance(source, SourceSubset) or spec.data.also is None:
        return source
    return JoinedTables(source, _second_table(spec, source, folder), spec.data.also.by)


def _second_table(spec: Brief, first: Source, folder: Path) -> Source:
    """The table that is joined. Raises YuzenError (brief-data) where it is in no database."""
    also = spec.data.also
    assert also is not None  # noqa: S101 - who calls has asked
    if also.file is not None:
        return source_of(folder / also.file, _format(spec.data))
    if not isinstance(first, DatabaseLike):
        message = "table is for rows of a database; name the file of the second table."
        raise make_error("brief-data", message, key=("data", "also", "table"))
    return first.with_table(str(also.table))


def _one_table(spec: Brief, given: RowsLike | None, folder: Path) -> Source:
    """The source of the rows, without what is joined to them."""
    source, wide = _bare_source(spec, given, folder), spec.data.wide
    if isinstance(source, SourceSubset) or (wide is None and not spec.aliases):
        return source
    # A database would have to send all its rows for that, which is what its own query saves.
    if hasattr(source, "url"):
        message = (
            "wide and aliases are for files and tables in memory; put them into the database's "
            "query."
        )
        raise make_error("brief-data", message)
    wide_section = None if wide is None else Wide(wide.columns, wide.name, wide.value)
    return Prepared(source, wide_section, spec.aliases)


def _bare_source(spec: Brief, given: RowsLike | None, folder: Path) -> Source:
    """The source as it stands."""
    data_section = spec.data
    place = given if given is not None else data_section.url or data_section.file
    if place is None:
        raise make_error("brief-data", "There are no rows: name a file under [data], or give rows.")
    if isinstance(place, str) and place == "-":
        return source_of(piped(), _format(data_section))
    if isinstance(place, str) and "://" in place:
        from yuzen.sources.sql.database import Database  # noqa: PLC0415 - few charts come from one

        return Database(place, data_section.table, data_section.query, folder, data_section.seconds)
    source = source_of(folder / str(place) if given is None else place, _format(data_section))
    if data_section.query is None:
        return source
    if not hasattr(source, "asked"):
        message = (
            "A query is asked of Parquet files (extra: engine) or of a database; of other rows "
            "say keep."
        )
        raise make_error("brief-data", message, key=("data", "query"))
    return source.asked(data_section.query, data_section.seconds)  # type: ignore[no-any-return]  # what can be asked gives a source


def spread_on(source: Source, executor: Executor) -> Source:
    """Several files as the workers of an executor group them; any other source as it is."""
    if not hasattr(source, "apart") or len(source.apart()) < 2:
        return source
    return DistributedFiles(source, executor)  # type: ignore[arg-type]  # files that can be taken apart


def shareable(source: Source) -> tuple[Source, Hashable]:
    """A source that several charts can share, with its key; None where charts cannot share it."""
    if isinstance(source, File):
        # The key holds how the file is read: two briefs may read one file differently.
        return KeptFile(source.path, source.format, source.named), (source.path, source.format)
    if hasattr(source, "asked"):  # files that are grouped where they are
        return source, source  # type: ignore[return-value]  # it is told from others by its files
    return source, None


def same_rows(one: object, other: object) -> bool:
    """Whether two things that rows come from give the same rows, as is seen without reading any."""
    if one is other:
        return True
    if one is None or other is None or isinstance(one, str | Path) or isinstance(other, str | Path):
        return (
            isinstance(one, str | Path) and isinstance(other, str | Path) and str(one) == str(other)
        )
    if hasattr(one, "packed") and hasattr(other, "packed"):  # what pictures hold
        return bool(one.packed() == other.packed())
    if hasattr(one, "packed") or hasattr(other, "packed"):
        return False
    return source_of(one) == source_of(other)  # type: ignore[arg-type]  # it has been taken as rows


def without_place(spec: Brief) -> Brief:
    """The brief without the place of its rows; how they are written and counted stays."""
    places = {"file", "url", "table", "query"}
    settings = spec.data.model_dump(exclude_unset=True, exclude=places)
    if len(settings) == len(spec.data.model_fields_set):
        return spec
    return spec.having(data=spec.data.model_copy(update=dict.fromkeys(places)))


def shaped(source: Source, plan: Plan, spec: Brief) -> Marks:
    """The marks of a plan. Raises YuzenError (data-…), also where no rows are left."""
    marks = shape(source, plan)
    _refuse_twins(spec, marks)
    if len(marks):
        return marks
    if spec.data.keep is None:
        message = "There is a heading, and there are no rows under it."
        raise make_error("data-rows", message, where=source.called, key=("data",))
    # The likeliest reason is a value that is written otherwise in the rows, so that is told.
    near = [
        f" {remark.message}" for remark in marks.origin.remarks if remark.code == "value-unknown"
    ]
    message = f"No rows are left: '{spec.data.keep}' holds for none of them.{''.join(near)}"
    raise make_error("data-rows", message, where=source.called, key=("data", "keep"))


def _refuse_twins(spec: Brief, marks: Marks) -> None:
    """Raise YuzenError (brief-name) for a parameter's text that is also the name of a column."""
    columns = {name.casefold(): name for name in (*marks.column_names, *spec.measures)}
    for name in spec.text_parameters:
        if name.casefold() in columns:
            message = f"{name} is a parameter, and {columns[name.casefold()]} is a column"
            raise make_error(
                "brief-name",
                f"{message}; give the parameter another name.",
                key=("parameters", name),
            )


def shaped_lines(source: Source, plan: Plan, spec: Brief, table: Marks) -> Marks:
    """The marks of the small lines in a table: those of the rows that the table has.

    They run in the order of time or of numbers; along words as the rows first name these.
    """
    try:
        marks = shaped(source, plan, spec)
    except YuzenError as error:
        if error.code != "brief-order":
            raise
        given = replace(plan.listing, order=Order("as given"))
        marks = shaped(source, replace(plan, listing=given), spec)
    drawn = set(shown(table.columns[table.category][~table.totals]))
    is_drawn = [name in drawn for name in shown(marks.columns[marks.panel])]
    return marks.taken(np.flatnonzero(is_drawn))


def files_of(spec: Brief, given: RowsLike | None, folder: Path) -> list[Path]:
    """The files that a chart is made of besides its brief: its theme's, and that of its rows."""
    files = [folder / spec.theme] if spec.theme.casefold().endswith(".toml") else []
    if spec.data.also is not None and spec.data.also.file is not None:
        files.append(folder / spec.data.also.file)
    if isinstance(given, str | Path) and "://" not in str(given):
        return [*files, Path(given)]
    if given is None and spec.data.file is not None:
        return [*files, folder / spec.data.file]
    database = spec.data.url if given is None else given
    if isinstance(database, str) and ":///" in database:
        return [*files, folder / database.partition(":///")[2]]
    return files


def moved(spec: Brief, given: RowsLike | None, folder: Path, to: Path) -> dict[str, Any]:
    """The brief's plain values, with its files as they are named from another folder.

    Raises YuzenError (call-data) where the rows come from no file.
    """
    plain = spec.plain()
    settings = plain.setdefault("data", {})
    if isinstance(given, str | Path) and "://" not in str(given):
        settings["file"] = path_from(to, Path(given))
    elif "file" in settings:
        settings["file"] = path_from(to, folder / settings["file"])
    elif ":///" in settings.get("url", ""):
        kind, _, file = settings["url"].partition(":///")
        settings["url"] = f"{kind}:///{path_from(to, folder / file)}"
    if "file" in settings.get("also", {}):
        settings["also"]["file"] = path_from(to, folder / settings["also"]["file"])
    if spec.rules is not None:
        plain["rules"] = path_from(to, folder / spec.rules)
    if spec.theme.casefold().endswith(".toml"):
        plain["theme"] = path_from(to, folder / spec.theme)
    if settings.get("file", "-") == "-" and "url" not in settings:
        message = (
            "A brief names a file of rows, and these come from none. Save them into one first."
        )
        raise make_error("call-data", message)
    return plain


def path_from(folder: Path, file: Path) -> str:
    """A file as it is named from a folder: relative below or beside it, else absolute."""
    if str(file) == "-":
        return "-"
    try:
        # Relative where possible, so that a folder can be moved as a whole.
        return file.resolve().relative_to(folder.resolve()).as_posix()
    except ValueError:
        return file.resolve().as_posix()


def _format(section: DataSection) -> Format:
    """What a brief tells of how its file is written."""
    return Format(
        section.delimiter,
        section.decimal,
        section.thousands,
        section.encoding,
        section.dates,
        section.sheet,
        section.heading,
        section.text,
    )
