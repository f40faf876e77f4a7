"""Many files that the workers of an executor group, each file by whichever worker is free."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING, Any, ClassVar

from yuzen.sources.rows import Rows
from yuzen.sources.wanted import Wanted
from yuzen.value import Value

if TYPE_CHECKING:
    from concurrent.futures import Executor

    from yuzen.sources.sets.file_set import FileSet


class DistributedFiles(Value, eq=False):
    """Files, and the executor whose workers group them."""

    groups_in_place: ClassVar = True

    files: FileSet
    executor: Executor

    def __reduce__(self) -> tuple[Any, ...]:
        """What goes to another process: the files, which it groups by itself."""
        return _itself, (self.files,)

    @property
    def called(self) -> str:
        """What the files are called."""
        return self.files.called

    @property
    def column_names(self) -> tuple[str, ...]:
        """The names of the columns."""
        return self.files.column_names

    @property
    def date_columns(self) -> tuple[str, ...]:
        """The names of columns that hold dates."""
        return self.files.date_columns

    def asked(self, query: str, seconds: float) -> DistributedFiles:
        """What a query makes of each of the files. Raises YuzenError (data-query)."""
        return replace(self, files=self.files.asked(query, seconds))

    @property
    def read_instead(self) -> FileSet:
        """The files as one table, which an engine groups here."""
        return self.files

    def rows(self, wanted: Wanted) -> Rows:
        """All their rows, with these columns."""
        return self.files.rows(wanted)


def _itself(files: FileSet) -> FileSet:
    """The files by themselves, as another process groups them."""
    return files
