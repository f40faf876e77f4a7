"""Files of rows, each read by its ending."""

from collections.abc import Callable, Iterator, Mapping, Sequence
from contextlib import contextmanager, suppress
from dataclasses import field, replace
from pathlib import Path
from stat import S_ISREG
from typing import Any, Final, Protocol

from yuzen.errors import YuzenError, make_error, reason_of, suggestion
from yuzen.formats.name_lists import listed
from yuzen.locks import cached_property
from yuzen.sources.bounds import (
    MAX_FILE_BYTES,
    MAX_ROWS,
    EmptyFileError,
    distinct_names,
    refuse_rows,
)
from yuzen.sources.cells import RowColumn, column_from, concatenated
from yuzen.sources.columns import dated_columns
from yuzen.sources.endings import UnpackedTooLargeError, ending_of
from yuzen.sources.file_format import Format
from yuzen.sources.rows import Rows
from yuzen.sources.text.delimited import Delimited, KeptText
from yuzen.sources.typed.date_cells import date_columns
from yuzen.sources.typed.one_type import typed_alike
from yuzen.sources.typed.read_columns import ReadFiles
from yuzen.sources.types.json_rows import read_json
from yuzen.sources.types.parquet import Parquet
from yuzen.sources.wanted import Wanted
from yuzen.stage_times import timed
from yuzen.value import Value


class Opened(Protocol):
    """A file of one type: its columns, and the rows of some of them with what was guessed."""

    @property
    def column_names(self) -> tuple[str, ...]:
        """The names of its columns."""

    @property
    def first(self) -> Mapping[str, RowColumn]:
        """All columns of its first rows that can be read."""

    def read(self, wanted: Wanted, others: Sequence[Any] = ()) -> ReadFiles:
        """Read some columns, with those of other files of this type below them."""


class File(Value, eq=False):
    """A file of rows, read by its ending; some types read only wanted columns."""

    path: Path
    format: Format = field(default_factory=Format)
    named: str = ""

    @property
    def called(self) -> str:
        """The file's name."""
        return self.named or self.path.name

    @cached_property
    def column_names(self) -> tuple[str, ...]:
        """The names of its columns. Raises YuzenError (data-…)."""
        with file_errors(self.path):
            return distinct_names(self.opened.column_names, str(self.path))

    @property
    def date_columns(self) -> tuple[str, ...]:
        """The names of columns that hold dates. Raises YuzenError (data-…)."""
        return dates_among([self.begun()], self.format)

    def begun(self) -> Mapping[str, RowColumn]:
        """All columns of its first rows that can be read. Raises YuzenError (data-…)."""
        with file_errors(self.path):
            return self.opened.first

    def rows(self, wanted: Wanted) -> Rows:
        """All rows with the wanted columns. Raises YuzenError (data-…)."""
        return rows_of([self], wanted, self.called)

    @cached_property
    def opened(self) -> Opened:
        """The file as its type is read. Raises YuzenError (data-…), and what file_errors tells."""
        reader = READERS.get(ending_of(self.path))
        if reader is None and not ending_of(self.path) and not self.path.exists():
            raise FileNotFoundError(2, "it is not there")
        if reader is None:
            known = ", ".join(sorted(READERS))
            message = f"I cannot read files of the type '{ending_of(self.path)}'. I read {known}."
            raise make_error("data-type", message, where=str(self.path))
        if self.path.is_dir():
            raise IsADirectoryError(21, "it is a folder")
        stat = self.path.stat()
        # Reading a pipe or a device would wait for ever, or never end.
        if not S_ISREG(stat.st_mode):
            raise ValueError("it is no file but a device or a pipe; pipe rows in with - instead")
        size = stat.st_size
        if size == 0:
            raise EmptyFileError
        # What is packed is bounded while it is read, as nobody knows what it unpacks to.
        if size > MAX_FILE_BYTES:
            message = (
                f"The file has {size / 1e9:.1f} GB, and I read files of up to "
                f"{MAX_FILE_BYTES / 1e9:.0f} GB by myself. "
                'Larger ones are grouped where they are: pip install "yuzen[engine]". Or put its '
                "rows into a "
                "database, or keep fewer of them."
            )
            raise make_error("data-size", message, where=str(self.path))
        return reader(self.path, self.format)


class KeptFile(File, eq=False):
    """A file of which what was read is kept, for several charts in turn."""

    @cached_property
    def opened(self) -> Opened:
        """The file, with what was read of it."""
        opened = super().opened
        if isinstance(opened, Delimited):
            return KeptText(self.path, self.format)
        return opened


MAX_LOGGED_FILES: Final = 4


def rows_of(files: Sequence[File], wanted: Wanted, called: str) -> Rows:
    """All rows of one file, or of several, one below the other; types are told from all of them.

    called: what remarks on all of them begin with. Raises YuzenError (data-…).
    """
    wanted = wanted if wanted.names else Wanted(files[0].column_names[:1])
    opened = []
    for file in files:
        with file_errors(file.path):
            opened.append(file.opened)
    first, settings = files[0], files[0].format
    about = listed([str(file.path) for file in files], most=MAX_LOGGED_FILES)
    with timed("read", about) as stage:
        with file_errors(first.path):
            read = opened[0].read(wanted, opened[1:])
            dated = date_columns(read.columns, wanted.names, settings.dates)
        rows = Rows(dated.columns, first.column_names, units=dated.units)
        stage.result = f"{len(rows):,} rows, {len(rows.columns):,} columns"
    refuse_rows(len(rows), str(first.path))
    of_files = [
        replace(note, message=f"{file.called}: {note.message}")
        for file, notes in zip(files, read.notes, strict=False)
        for note in notes
    ]
    of_all = [
        replace(remark, message=f"{called}: {remark.message}")
        for remark in (*read.guesses, *settings.remarks(ending_of(first.path)), *dated.doubts)
    ]
    return replace(rows, remarks=(*of_files, *of_all))


def dates_among(begun: Sequence[Mapping[str, RowColumn]], settings: Format) -> tuple[str, ...]:
    """The names of columns that hold dates, by the first rows of each file."""
    columns = {
        name: concatenated([first[name] for first in begun if name in first], name)
        for name in begun[0]
    }
    return dated_columns(date_columns(columns, list(columns), settings.dates).columns)


class Whole(Value, eq=False):
    """A file that is read as a whole or not at all."""

    path: Path
    format: Format
    load: Callable[[Path, Format], Mapping[str, Sequence[Any]]]

    @cached_property
    def cells(self) -> Mapping[str, Sequence[Any]]:
        """The cells of each column."""
        return self.load(self.path, self.format)

    @property
    def column_names(self) -> tuple[str, ...]:
        """The names of its columns."""
        return tuple(name.strip() for name in self.cells)

    @property
    def first(self) -> Mapping[str, RowColumn]:
        """The rows."""
        columns: dict[str, RowColumn] = {}
        for name in self.column_names:
            with suppress(
                YuzenError
            ):  # of a column that cannot be read only who asks for it is told
                columns |= self.columns(Wanted((name,)))
        return columns

    def read(self, wanted: Wanted, others: Sequence["Whole"] = ()) -> ReadFiles:
        """Read some columns; such a file needs no settings."""
        return typed_alike({file.path: file.columns(wanted) for file in (self, *others)}, wanted)

    def columns(self, wanted: Wanted) -> Mapping[str, RowColumn]:
        """Its own cells of some columns."""
        columns_by_name = dict(zip(self.column_names, self.cells.values(), strict=True))
        return {name: column_from(columns_by_name[name], name) for name in wanted.names}


def _workbook(path: Path, format: Format) -> Opened:  # noqa: A002 - as above
    from yuzen.sources.types.workbooks import Workbook  # noqa: PLC0415 - loads pandas

    return Workbook(path, format)


READERS: dict[str, Callable[[Path, Format], Opened]] = {
    ".csv": Delimited,
    ".csv.gz": Delimited,
    ".json": lambda path, format: Whole(path, format, read_json),  # noqa: A006
    ".jsonl": lambda path, format: Whole(path, format, read_json),  # noqa: A006
    ".parquet": Parquet,
    ".tsv": Delimited,
    ".tsv.gz": Delimited,
    ".xlsx": _workbook,
}
PACKED: Final = {
    ".parquet": "Parquet file",
    ".xlsx": "workbook",
}  # whose readers speak of what is inside


@contextmanager
def file_errors(path: Path) -> Iterator[None]:
    """Tell whatever keeps a file from being read as an analyst's error."""
    try:
        yield
    except FileNotFoundError:
        raise make_error("data-file", _not_found(path)) from None
    except EmptyFileError:
        raise make_error("data-empty", "The file is empty.", where=str(path)) from None
    except UnpackedTooLargeError:
        message = (
            f"Unpacked, the file has more than {MAX_FILE_BYTES / 1e9:.0f} GB or {MAX_ROWS:,} "
            "lines, and I read no more of one. Keep fewer rows in it, or save it as Parquet."
        )
        raise make_error("data-size", message, where=str(path)) from None
    except Exception as error:
        if isinstance(error, YuzenError):
            raise
        if isinstance(error, LookupError) and str(error).startswith("unknown encoding"):
            raise make_error(
                "data-encoding", f"{str(error)[:80].capitalize()}.", where=str(path)
            ) from None
        # Their readers raise whatever their libraries do; an analyst needs to know only that the
        # file is damaged.
        if ending_of(path) in PACKED and not isinstance(error, OSError):
            what = PACKED[ending_of(path)]
            message = f"The file is no {what}, or it is damaged or cut short."
        else:
            message = f"The file cannot be read: {reason_of(error)}."
        raise make_error("data-file", message, where=str(path)) from None


def _not_found(path: Path) -> str:
    if not path.parent.is_dir():
        return f"There is no folder {path.parent}."
    files = [other.name for other in path.parent.iterdir() if ending_of(other) in READERS]
    return f"There is no file {path}.{suggestion(path.name, files)}"
