"""Several files as one table, read one after the other."""

from yuzen.errors import make_error
from yuzen.sources.bounds import MAX_FILE_BYTES, refuse_unlike
from yuzen.sources.files import File, dates_among, rows_of
from yuzen.sources.rows import Rows
from yuzen.sources.wanted import Wanted
from yuzen.value import Value


class ConcatenatedFiles(Value, eq=False):
    """Files of the same columns, their rows below one another.

    Groups of rows stand in the order of what they are called, as when DuckDB groups them, which
    reads several places at once.
    """

    files: tuple[File, ...]
    called: str

    @property
    def column_names(self) -> tuple[str, ...]:
        """The names of the columns, the same in every file. Raises YuzenError (data-columns)."""
        first = self.files[0]
        for file in self.files[1:]:
            refuse_unlike(file.column_names, first.column_names, file.path, first.path)
        return first.column_names

    @property
    def date_columns(self) -> tuple[str, ...]:
        """The names of columns that hold dates, by the first rows of every file."""
        return dates_among([file.begun() for file in self.files], self.files[0].format)

    def rows(self, wanted: Wanted) -> Rows:
        """All their rows, with these columns. Raises YuzenError (data-size)."""
        size = sum(file.path.stat().st_size for file in self.files)
        if size > MAX_FILE_BYTES:
            message = (
                f"The files have {size / 1e9:.1f} GB, and I read {MAX_FILE_BYTES / 1e9:.0f} GB by "
                f"myself. "
                'More is grouped where it is: pip install "yuzen[engine]".'
            )
            raise make_error("data-size", message, where=self.called)
        self.column_names  # noqa: B018 - files of other columns are refused before any is read
        return rows_of(self.files, wanted, self.called)
