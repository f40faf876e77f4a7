"""Where a table begins below lines of prose, and lines with too few or too many cells."""

import csv
from collections import Counter
from collections.abc import Iterable, Iterator, Sequence
from typing import Final

from yuzen.regex import regex
from yuzen.rules.lineage import Remark
from yuzen.value import Value

PROBED_LINES: Final = 120  # that show where the heading is
_NUMBER: Final = regex(r"[-+−(]?[$€£]?\s?\d[\d.,' ]*%?\)?")


class TextLine(Value):
    """The cells that begin on a line of a file, counted from 1."""

    number: int
    cells: Sequence[str]


class Uneven(Value):
    """A line whose count of cells is another than the heading's, and how many there are in all."""

    line: int
    cells: int
    count: int = 1


def lines_of(text: Iterable[str], delimiter: str) -> Iterator[TextLine]:
    """The lines of delimited text that are not blank; quoted line ends do not count."""
    reader = csv.reader(text, delimiter=delimiter)
    before = 0
    try:
        for cells in reader:
            if not is_blank(cells):
                yield TextLine(before + 1, cells)
            before = reader.line_num
    except csv.Error:
        return


def is_blank(cells: Sequence[str]) -> bool:
    """Whether a line holds nothing, or blanks alone."""
    return not cells or (len(cells) == 1 and cells[0].isspace())


def heading_of(lines: Sequence[TextLine]) -> TextLine | None:
    """The line of column names: the first, unless it is narrow and one of names follows.

    >>> table = ["Sales", "June 2026", "", "route,fares", "Ash,3", "Elm,4"]
    >>> heading_of(list(lines_of(table, ","))).number
    4
    """
    if not lines:
        return None
    widths = Counter(len(line.cells) for line in lines)
    # The most common width is the table's; of two equally common ones the wider.
    width = max(widths, key=lambda count: (widths[count], count))
    if len(lines[0].cells) >= width:
        return lines[0]
    first = next(line for line in lines if len(line.cells) == width)
    names = [cell.strip() for cell in first.cells]
    # Names are there, differ, and are no numbers: otherwise it is a row of data.
    if all(names) and len(set(names)) == width and not any(map(_NUMBER.fullmatch, names)):
        return first
    return lines[0]


def names_of(heading: TextLine) -> tuple[str, ...]:
    """What the columns are called; one without a name by its place."""
    return tuple(
        name.strip() or f"column {place}" for place, name in enumerate(heading.cells, start=1)
    )


def found_below(heading: TextLine) -> Remark:
    """A remark on a heading that was found below other lines."""
    message = f"The names of columns are on line {heading.number}; the lines above are left out."
    return Remark(
        "guess", message, "If they are not, say on which line, as heading = 1 under [data]."
    )


def uneven(lines: Iterable[TextLine], heading: TextLine) -> tuple[Uneven | None, Uneven | None]:
    """The first line below the heading with fewer cells than it, and the first with more."""
    width = len(heading.cells)
    short: Uneven | None = None
    count = 0
    for line in lines:
        if line.number <= heading.number or len(line.cells) == width:
            continue
        if len(line.cells) > width:
            return short, Uneven(line.number, len(line.cells))
        count += 1
        short = Uneven(
            short.line if short else line.number, short.cells if short else len(line.cells), count
        )
    return short, None
