"""Setting text on paper: runs of several looks are broken into lines that fit a width."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace
from typing import Final

from yuzen.color.named import rgb_of
from yuzen.color.themes import Theme
from yuzen.documents.markdown import Block, Run
from yuzen.draw.text.measurer import TextMeasurer
from yuzen.page.unprintable import replace_unprintable
from yuzen.scene.writing import WrittenLine
from yuzen.value import Value

# Sizes on paper in points, by the uses that a measurer knows.
PAPER_SIZES_PT: Final = {
    "title": 22.0,
    "subtitle": 15.0,
    "key": 12.0,
    "name": 9.5,
    "number": 9.5,
    "reference": 8.0,
    "footer": 8.0,
}
LINE_SPACING: Final = 1.4  # of the height of letters
# Letters on paper are as wide as their font says; on a screen their widths are rounded to pixels.
# Measured many times as large, the rounding is next to nothing.
ENLARGED: Final = 32.0
INDENT_PX: Final = 22.0


class Piece(Value):
    """Letters of one look on a line; left: pixels from where the line begins."""

    text: str
    left: float
    width: float
    bold: bool
    link: str


class SetLine(Value):
    """A line of text, and how far it is from the top of the next one."""

    pieces: tuple[Piece, ...]
    height: float
    use: str
    role: str = "ink"
    indent: float = 0.0


class Typesetter(Value, eq=False):
    """Sets text in the fonts of a theme, in sizes for paper.

    measurer: of the letters as they are; enlarged: of letters many times as large.
    """

    theme: Theme
    measurer: TextMeasurer
    enlarged: TextMeasurer

    @classmethod
    def of(cls, theme: Theme) -> Typesetter:
        """A typesetter for documents of a theme."""
        measurer = TextMeasurer(replace(theme, sizes=PAPER_SIZES_PT))
        return cls(theme, measurer, measurer.scaled(ENLARGED))

    def line_px(self, use: str) -> float:
        """From one line to the next."""
        return LINE_SPACING * self.measurer.height(use)

    def plain(
        self, text: str, use: str, width: float, *, bold: bool = False, role: str = "ink"
    ) -> list[SetLine]:
        """A text of one look."""
        return self.runs((Run(text, bold=bold),), use, width, role=role)

    def runs(
        self, runs: Sequence[Run], use: str, width: float, *, role: str = "ink", indent: float = 0.0
    ) -> list[SetLine]:
        """Runs of several looks, broken where a line is full; a word that is too long is cut up."""
        lines: list[list[Piece]] = [[]]
        x = 0.0
        for word in _words(runs):
            for part in self._parts(word, use, width - indent):
                bold = part.bold or part.italic
                text = replace_unprintable(part.text)
                if x + self._advance(text.rstrip(), use, bold=bold) > width - indent and x:
                    lines.append([])
                    x = 0.0
                    text = text.lstrip()
                if text:
                    advance = self._advance(text, use, bold=bold)
                    lines[-1].append(Piece(text, x, advance, bold, part.link))
                    x += advance
        height = self.line_px(use)
        return [
            SetLine(self._ended(line, use), height, use, role, indent) for line in lines if line
        ]

    def _ended(self, line: Sequence[Piece], use: str) -> tuple[Piece, ...]:
        """The pieces of a line, those of one look as one; no blank stands at its end."""
        *pieces, last = _joined(line)
        text = last.text.rstrip(" ")
        width = self._advance(text, use, bold=last.bold)
        return (*pieces, replace(last, text=text, width=width))

    def _advance(self, text: str, use: str, *, bold: bool) -> float:
        """How far the next letter is from the first one, blanks and all."""
        return self.enlarged.advance(text, use, bold=bold) / ENLARGED

    def _parts(self, word: Run, use: str, width: float) -> Iterator[Run]:
        """A word in parts that each fit a line."""
        text, bold = word.text, word.bold or word.italic
        while self._advance(text, use, bold=bold) > width and len(text) > 1:
            # By the average width of its letters, and then letter by letter.
            fits = max(1, int(len(text) * width / self._advance(text, use, bold=bold)))
            while fits > 1 and self._advance(text[:fits], use, bold=bold) > width:
                fits -= 1
            yield replace(word, text=text[:fits])
            text = text[fits:]
        yield replace(word, text=text)

    def block(self, block: Block, width: float) -> list[SetLine]:
        """A block of a text in Markdown."""
        if block.kind == "heading":
            bold = [replace(run, bold=True) for run in block.runs]
            return self.runs(bold, "key", width)
        if block.kind == "item":
            mark = Run(f"{block.mark} ") if block.mark else Run("")
            return self.runs([mark, *block.runs], "name", width, indent=INDENT_PX * block.level)
        if block.kind == "quote":
            return self.runs(block.runs, "name", width, role="slate", indent=INDENT_PX)
        if block.kind == "code":
            lines = block.runs[0].text.splitlines() or [""]
            return [
                one for line in lines for one in self.plain(line, "reference", width, role="slate")
            ]
        return self.runs(block.runs, "name", width)

    def written(self, line: SetLine, left: float, top: float) -> list[WrittenLine]:
        """A line as a scene has it, at its place on a page."""
        foot = top + self.measurer.face(line.use).reach("Á")[0]
        ink = (*rgb_of(self.theme.color(line.role)), 1.0)
        return [
            WrittenLine(
                piece.text,
                left + line.indent + piece.left,
                foot,
                piece.width,
                ink,
                self.measurer.font(line.use, bold=piece.bold),
                "text",
            )
            for piece in line.pieces
        ]


def _words(runs: Sequence[Run]) -> Iterator[Run]:
    """The runs word by word, each with the blank after it."""
    for run in runs:
        start = 0
        text = run.text.replace("\n", " ")
        for place, letter in enumerate(text):
            if letter == " " and place + 1 > start:
                yield replace(run, text=text[start : place + 1])
                start = place + 1
        if start < len(text):
            yield replace(run, text=text[start:])


def _joined(pieces: Sequence[Piece]) -> Iterator[Piece]:
    """Pieces of one look that follow one another as one."""
    current: Piece | None = None
    for piece in pieces:
        if current is not None and (current.bold, current.link) == (piece.bold, piece.link):
            current = replace(
                current, text=current.text + piece.text, width=current.width + piece.width
            )
            continue
        if current is not None:
            yield current
        current = piece
    if current is not None:
        yield current
