"""Settings of how a file is written."""

from collections.abc import Mapping
from collections.abc import Set as AbstractSet
from dataclasses import fields
from typing import Final, Literal, TypeAlias

from yuzen.formats.name_lists import listed
from yuzen.rules.lineage import Remark
from yuzen.value import Value

# What each type of file leaves open, so that it has to be told or found out.
LEFT_OPEN: Final[Mapping[str, AbstractSet[str]]] = {
    ".csv": {"delimiter", "decimal", "thousands", "encoding", "dates", "heading", "text"},
    ".csv.gz": {"delimiter", "decimal", "thousands", "encoding", "dates", "heading", "text"},
    ".json": {"encoding", "dates"},
    ".jsonl": {"encoding", "dates"},
    ".parquet": {"dates"},
    ".tsv": {"delimiter", "decimal", "thousands", "encoding", "dates", "heading", "text"},
    ".tsv.gz": {"delimiter", "decimal", "thousands", "encoding", "dates", "heading", "text"},
    ".xlsx": {"decimal", "thousands", "dates", "sheet", "heading", "text"},
}


DayOrder: TypeAlias = Literal["day first", "month first"]


class Format(Value):
    """How a file is written, as far as it is set; None is detected.

    delimiter, decimal, thousands: one character each; encoding: as Python names it.
    dates:  whether 3/4/2026 begins with the day or with the month.
    sheet:  of a workbook; None: the first.
    heading: the line with the names of columns, from 1.
    text:   columns that are words although they look like numbers.
    """

    delimiter: str | None = None
    decimal: str | None = None
    thousands: str | None = None
    encoding: str | None = None
    dates: DayOrder | None = None
    sheet: str | None = None
    heading: int | None = None
    text: tuple[str, ...] = ()

    def remarks(self, suffix: str) -> list[Remark]:
        """Remarks on settings that such a file does not need."""
        needless = self.needless(suffix)
        if not needless:
            return []
        message = f"{listed(needless)} under [data] has no effect for this type of file."
        remedy = "Leave it out, or check whether it is the right file."
        return [Remark("key-needless", message, remedy)]

    def needless(self, suffix: str) -> list[str]:
        """The settings that a file of this ending does not need or have.

        >>> Format(delimiter=";", dates="day first").needless(".parquet")
        ['delimiter']
        """
        settings_given = [
            field.name for field in fields(self) if getattr(self, field.name) != field.default
        ]
        return [
            name
            for name in settings_given
            if name not in LEFT_OPEN.get(suffix, set(settings_given))
        ]
