"""Cells of a workbook by the references of charts, for series that hold no values themselves."""

from __future__ import annotations

import io
from collections.abc import Callable
from functools import cache
from typing import Any, Final

from yuzen.errors import external_call
from yuzen.office.parts.package import Package, checked
from yuzen.regex import regex
from yuzen.sources.extras import extra

REFERENCE: Final = regex(
    r"^\(?(?:'((?:[^']|'')+)'|([^'!\[\]]+))!"  # the sheet, quoted or not
    r"\$?([A-Z]{1,3})\$?(\d{1,7})(?::\$?([A-Z]{1,3})\$?(\d{1,7}))?\)?$"  # the cells
)
MAX_CELLS: Final = 100_000  # of one reference


def cells_of(package: Package, part: str | None) -> Callable[[str], list[Any]]:
    """A reader of cells: those of the file itself, or of the workbook in a part of it; None: none.

    What a reference names in another file is never followed.
    """
    if part is None:
        return lambda _: []
    data = package.data if not part else package.part(part)

    # Most charts hold their values, so the workbook is opened only when one does not.
    @cache
    def book() -> Any:  # noqa: ANN401 - of openpyxl, which has no types here
        with extra("xlsx", "the cells of workbooks"):
            from openpyxl import load_workbook  # noqa: PLC0415 - an extra
        # A workbook inside a slide is bounded as the file itself is.
        checked(data, package.where)
        return load_workbook(io.BytesIO(data), read_only=True, data_only=True, keep_links=False)

    def cells(reference: str) -> list[Any]:
        match = REFERENCE.match(reference.strip())
        # Names, formulas and other files are no cells, and are not worked out.
        if match is None:
            return []
        name = (match[1] or match[2]).replace("''", "'")
        last = f"{match[5] or match[3]}{match[6] or match[4]}"
        if abs(int(match[6] or match[4]) - int(match[4])) >= MAX_CELLS:
            return []
        with external_call("paint-file", "Its cells cannot be read: {reason}.", package.where):
            if name not in book().sheetnames:
                return []
            rows = book()[name][f"{match[3]}{match[4]}:{last}"]
            return [cell.value for row in rows for cell in row]

    return cells
