"""Files of rows, each read by its ending."""

from collections.abc import Callable, Iterator, Mapping, Sequence
from contextlib import contextmanager, suppress
from dataclasses import dataclass, field, replace
from functools import cached_property
from pathlib import Path
from stat import S_ISREG
from typing import Any, Final, Protocol

from yuzen.errors import YuzenError, make_error, reason_of, suggestion
from yuzen.rules.lineage import Remark
from yuzen.sources.bounds import MAX_FILE_BYTES, EmptyFileError, distinct_names, refuse_rows
from yuzen.sources.cells import RowColumn, column_from
from yuzen.sources.columns import dated_columns
from yuzen.sources.endings import PACKED_TIMES, ending_of, is_packed
from yuzen.sources.file_format import Format
from yuzen.sources.rows import Rows
from yuzen.sources.text.delimited import Delimited, KeptText
from yuzen.sources.typed.date_cells import date_columns
from yuzen.sources.types.json_rows import read_json
from yuzen.sources.types.parquet import Parquet
from yuzen.sources.wanted import Wanted


class Opened(Protocol):
    """A file of one type: its columns, and the rows of some of them with what was guessed."""

    @property
    def column_names(self) -> tuple[str, ...]:
        """The names of its columns."""

    @property
    def first(self) -> Mapping[str, RowColumn]:
        """All columns of its first rows that can be read."""

    def read(self, wanted: Wanted) -> tuple[Mapping[str, RowColumn], list[Remark]]:
        """Read some columns."""


@dataclass(frozen=True, eq=False)
class File:
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
            return distinct_names(self._opened.column_names, str(self.path))

    @property
    def date_columns(self) -> tuple[str, ...]:
        """The names of columns that hold dates. Raises YuzenError (data-…)."""
        with file_errors(self.path):
            begun = self._opened.first
            first, _ = date_columns(begun, list(begun), self.format.dates)
            return dated_columns(first)

    def rows(self, wanted: Wanted) -> Rows:
        """All rows with the wanted columns. Raises YuzenError (data-…)."""
        with file_errors(self.path):
            columns, remarks = self._opened.read(
                wanted if wanted.names else Wanted(self.column_names[:1])
            )
            columns, doubts = date_columns(columns, wanted.names, self.format.dates)
        rows = Rows(columns, self.column_names)
        refuse_rows(len(rows), str(self.path))
        remarks += self.format.remarks(ending_of(self.path))
        remarks_there = [
            replace(r, message=f"{self.called}: {r.message}") for r in (*remarks, *doubts)
        ]
        return replace(rows, remarks=tuple(remarks_there))

    @cached_property
    def _opened(self) -> Opened:
        reader = READERS.get(ending_of(self.path))
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
        # Packed files are judged by what they may unpack to, before they are.
        most = MAX_FILE_BYTES // (PACKED_TIMES if is_packed(self.path) else 1)
        if size > most:
            message = (
                f"The file has {size / 1e9:.1f} GB, and I read files of up to {most / 1e9:.1f} GB "
                f"by myself. "
                'Larger ones are grouped where they are: pip install "yuzen[engine]". Or put its '
                "rows into a "
                "database, or keep fewer of them."
            )
            raise make_error("data-size", message, where=str(self.path))
        return reader(self.path, self.format)


class KeptFile(File):
    """A file of which what was read is kept, for several charts in turn."""

    @cached_property
    def _opened(self) -> Opened:
        opened = super()._opened
        if isinstance(opened, Delimited):
            return KeptText(self.path, self.format)
        return opened


@dataclass(frozen=True, eq=False)
class Whole:
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
                columns |= self.read(Wanted((name,)))[0]
        return columns

    def read(self, wanted: Wanted) -> tuple[Mapping[str, RowColumn], list[Remark]]:
        """Read some columns; such a file needs no settings."""
        columns_by_name = dict(zip(self.column_names, self.cells.values(), strict=True))
        return {name: column_from(columns_by_name[name], name) for name in wanted.names}, []


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
