"""Delimited text: encoding, delimiter, heading and notation, set or detected."""

import codecs
import csv
from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from collections.abc import Set as AbstractSet
from contextlib import suppress
from pathlib import Path
from typing import Final

from yuzen.errors import YuzenError, make_error
from yuzen.locks import cached_property
from yuzen.rules.lineage import Remark
from yuzen.sources.bounds import EmptyFileError
from yuzen.sources.cells import Cells, RowColumn
from yuzen.sources.endings import ending_of, open_bytes, open_text, unpacked_size
from yuzen.sources.file_format import Format
from yuzen.sources.text import short_text
from yuzen.sources.text.dialect import ReadText, TextDialect, TornError
from yuzen.sources.text.headings import (
    PROBED_LINES,
    TextLine,
    found_below,
    heading_of,
    lines_of,
    names_of,
    uneven,
)
from yuzen.sources.typed.number_detection import (
    FilePart,
    NumberDetection,
    RowPlaces,
    detect_numbers,
)
from yuzen.sources.typed.numerals import numeral, roles
from yuzen.sources.typed.read_columns import ReadFiles, TextColumns, stacked_columns
from yuzen.sources.wanted import Wanted
from yuzen.value import Value

SAMPLE_BYTES: Final = 200_000  # bytes that are looked at before a file is read
DELIMITERS: Final = (",", ";", "\t", "|")
MARKS: Final = (  # of byte order
    (codecs.BOM_UTF8, "utf-8-sig"),
    (codecs.BOM_UTF16_LE, "utf-16"),
    (codecs.BOM_UTF16_BE, "utf-16"),
)
NO_UTF8: Final = Remark(
    "guess",
    "It is no UTF-8, so I read it as Windows text (cp1252).",
    "If accents look wrong, say its encoding under [data].",
)


class Delimited(Value, eq=False):
    """A file of delimited text. `format` holds what is set; the rest is detected."""

    path: Path
    format: Format

    @cached_property
    def column_names(self) -> tuple[str, ...]:
        """The names of its columns."""
        return names_of(self.heading)

    @property
    def first(self) -> Mapping[str, RowColumn]:
        """Its first rows as they are written."""
        return {
            name: Cells.of(cell or None for cell in cells)
            for name, cells in self.first_cells.items()
        }

    def read(self, wanted: Wanted, others: Sequence["Delimited"] = ()) -> ReadFiles:
        """The wanted columns by their kinds, which all files show together."""
        files = [self, *others]
        numbers = self._plain_numbers(wanted, files)
        read = [file.text_and_notes(wanted.names, numbers) for file in files]
        text = stacked_columns([part for part, _ in read])
        places = RowPlaces(
            tuple(
                FilePart(file.path.name, file.heading.number + 1, len(part))
                for file, (part, _) in zip(files, read, strict=True)
            )
        )
        semicolons = all(file.delimiter == ";" for file in files)
        detection = NumberDetection(self.format, text, places, semicolons)
        given = _columns(text, wanted.names, numbers)
        columns, guesses = detect_numbers(given, wanted, detection)
        return ReadFiles(columns, guesses, [notes for _, notes in read])

    def _plain_numbers(self, wanted: Wanted, files: Sequence["Delimited"]) -> AbstractSet[str]:
        """The columns of numbers whose cells mean what Python's numbers mean.

        Of some only the whole column tells: "1.234" may be a thousand or a bit more than one.
        """
        if self.format.decimal == "," or self.format.thousands == ".":
            return frozenset()  # which would be read with a point before decimals
        return wanted.numbers.difference(*(file.pointed(wanted.numbers) for file in files))

    def text_and_notes(
        self, names: Sequence[str], numbers: AbstractSet[str]
    ) -> tuple[ReadText, list[Remark]]:
        """Its columns as they are written, and remarks on how the file is laid out.

        names: the columns that are asked for.   numbers: those that are as numbers.
        """
        encoding, remarks = self.encoding, []
        try:
            text = self._read(encoding, names, numbers)
        except UnicodeDecodeError:
            if self.format.encoding is not None:
                raise
            encoding = "cp1252"
            text = self._read(encoding, names, numbers)
        if self.format.encoding is None and encoding == "cp1252":
            remarks = [NO_UTF8]
        remarks += self._heading_found()
        if text.may_be_short:
            remarks += self._short_lines(encoding)
        return text, remarks

    def _read(self, encoding: str, names: Sequence[str], numbers: AbstractSet[str]) -> ReadText:
        """Its columns, by the fastest reader for a file of this size."""
        layout = TextDialect(self.path, encoding, self.delimiter, self.heading, self.column_names)
        try:
            self._refuse_long()
            most = short_text.MAX_SHORT_BYTES
            if unpacked_size(self.path, most) <= most:
                with suppress(csv.Error):  # a cell that is too long for it
                    return short_text.ShortText.read(layout)
            from yuzen.sources.text.arrow_text import ArrowText, type_of  # noqa: PLC0415 - loads pandas
            from yuzen.sources.text.long_text import LongText  # noqa: PLC0415 - as above

            types = {
                name: type_of(self.first_cells[name], is_number=name in numbers) for name in names
            }
            by_arrow = ArrowText.read(layout, types)
            return LongText.read(layout) if by_arrow is None else by_arrow
        except TornError:
            raise self._torn(encoding) from None

    def _refuse_long(self) -> None:
        """Raise TornError for a too long first line: pandas would make its first cell an index."""
        first = next(
            (line for line in self._lines if line.number > self.heading.number), self.heading
        )
        if len(first.cells) > len(self.column_names):
            raise TornError

    @cached_property
    def encoding(self) -> str:
        """The set encoding, else by byte order mark, else UTF-8 if the beginning is."""
        if self.format.encoding is not None:
            return codecs.lookup(self.format.encoding).name
        for mark, name in MARKS:
            if self._begins.startswith(mark):
                return name
        try:
            # An incremental decoder allows for a letter that is cut in two at the end of the
            # sample.
            codecs.getincrementaldecoder("utf-8")().decode(self._begins)
        except UnicodeDecodeError:
            return "cp1252"
        return "utf-8"

    @cached_property
    def delimiter(self) -> str:
        """The set delimiter, else the one that splits the first lines into equally many columns."""
        if self.format.delimiter is not None:
            return self.format.delimiter
        if ending_of(self.path).startswith(".tsv"):
            return "\t"

        def regular(delimiter: str) -> tuple[int, int]:
            widths = Counter(len(line.cells) for line in lines_of(self._text, delimiter))
            if widths:
                width, often = widths.most_common(1)[0]
            else:
                width, often = (1, 0)
            # A sign that splits nothing is none, however regularly it does so.
            return (often if width > 1 else 0), width

        return max(DELIMITERS, key=regular)

    @cached_property
    def _begins(self) -> bytes:
        with open_bytes(self.path) as file:
            return file.read(SAMPLE_BYTES)

    @cached_property
    def _text(self) -> list[str]:
        """The first lines."""
        text = self._begins.decode(self.encoding, errors="replace")
        if "\0" in text:
            raise ValueError("it is no text")
        # The last line of the sample may be cut off.
        lines = text.splitlines(keepends=True)
        return lines[: -1 if len(self._begins) == SAMPLE_BYTES and len(lines) > 1 else None][
            :PROBED_LINES
        ]

    @cached_property
    def _lines(self) -> list[TextLine]:
        """The first lines in cells."""
        return list(lines_of(self._text, self.delimiter))

    @cached_property
    def heading(self) -> TextLine:
        """The line with the names of columns: the set one, else the detected one."""
        lines = self._lines
        line_set = self.format.heading
        if line_set is None:
            line_found = heading_of(lines)
        else:
            line_found = next((line for line in lines if line.number == line_set), None)
        if line_found is None and line_set is not None and lines:
            message = (
                f"heading = {line_set} names a line that holds nothing "
                f"among the first {PROBED_LINES}."
            )
            raise make_error("data-heading", message, where=str(self.path), key=("data", "heading"))
        if line_found is None:
            raise EmptyFileError
        return line_found

    @cached_property
    def first_cells(self) -> dict[str, list[str]]:
        """The first cells of every column."""
        below = [line.cells for line in self._lines if line.number > self.heading.number]
        rows = [cells for cells in below if len(cells) == len(self.column_names)]
        return {name: [row[i].strip() for row in rows] for i, name in enumerate(self.column_names)}

    def pointed(self, names: Iterable[str]) -> set[str]:
        """The columns whose points may be decimal signs or separate thousands."""
        pointed_names = set()
        for name in self.first_cells.keys() & names:
            cells = self.first_cells[name]
            read = [
                one for one in (numeral(cell) for cell in cells if "." in cell) if one is not None
            ]
            meant = {role for one in read for sign, role in roles(one.body) if sign == "."}
            # One number with two decimals ("12.50") settles it for the column.
            if "either" in meant and "decimal" not in meant:
                pointed_names.add(name)
        return pointed_names

    def _heading_found(self) -> list[Remark]:
        """A remark on a heading that is not on the first line and was not set."""
        if self.format.heading is not None or self.heading.number == self._lines[0].number:
            return []
        return [found_below(self.heading)]

    def _short_lines(self, encoding: str) -> list[Remark]:
        """A remark on lines with too few cells, which are read as if empty ones followed."""
        with open_text(self.path, encoding) as file:
            short, _ = uneven(lines_of(file, self.delimiter), self.heading)
        if short is None:
            return []
        if short.count > 1:
            others = f", and {short.count - 1:,} more lines have too few"
        else:
            others = ""
        message = f"Line {short.line} has {short.cells} of {len(self.column_names)} cells{others}."
        remedy = "What is not there is read as empty; mend the file if that is not meant."
        return [Remark("rows-uneven", message, remedy)]

    def _torn(self, encoding: str) -> YuzenError:
        """What is wrong with a file whose lines do not fit its heading."""
        with open_text(self.path, encoding) as file:
            lines = list(lines_of(file, self.delimiter))
        _, long = uneven(lines, self.heading)
        if long is not None:
            message = (
                f"Line {long.line} has {long.cells} cells, and the heading on line "
                f"{self.heading.number} has {len(self.column_names)} names. Put quotes around a "
                f"cell that holds the delimiter ({self.delimiter!r}), or say which line is the "
                "heading (heading = 1 under [data])."
            )
        else:
            if lines:
                last = lines[-1].number
            else:
                last = 1
            if self._quotes(encoding) % 2:
                message = f"A quote opens on line {last} or after it, and nothing closes it."
            else:
                message = (
                    f"Line {last} or one after it cannot be read: a cell there is too long, or "
                    "damaged."
                )
        return make_error("data-row", message, where=str(self.path))

    def _quotes(self, encoding: str) -> int:
        """How many quotes the file has, a few lines at a time."""
        with open_text(self.path, encoding) as file:
            return sum(line.count('"') for line in file)


class KeptText(Delimited, eq=False):
    """A file of delimited text whose cells are kept when they have been read."""

    @cached_property
    def _kept(self) -> dict[str, ReadText]:
        return {}

    def _read(self, encoding: str, *_: object) -> ReadText:
        if encoding not in self._kept:
            # No names, as the next call may ask for others: then all columns are read.
            self._kept[encoding] = super()._read(encoding, (), frozenset())
        return self._kept[encoding]


def _columns(
    text: TextColumns, names: Sequence[str], numbers: AbstractSet[str]
) -> dict[str, RowColumn]:
    """Columns as numbers; all else, and mixed columns, as written."""
    plain = {name: text.plain(name) for name in names if name in numbers}
    mixed = {name for name, column in plain.items() if isinstance(column, Cells)}
    spelled = text.spelled([name for name in names if name not in numbers or name in mixed])
    read = {**plain, **spelled}
    return {name: read[name] for name in names}
