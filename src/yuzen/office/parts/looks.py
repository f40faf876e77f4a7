"""Fills, lines and texts of charts and slides, as elements in the order that the standard asks."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final

from yuzen.arrays import Floats
from yuzen.color.gradient import hex_color
from yuzen.color.named import rgba_of
from yuzen.office.editable.chart import LineLook, TextRun
from yuzen.office.parts.markup import node, text_node

EMU_PER_POINT: Final = 12_700
# The standard's patterns (20.1.10.51) that are nearest to those of our own name.
FILL_PATTERNS: Final = {
    "stripes": "wdUpDiag",
    "cross": "diagCross",
    "dots": "lgConfetti",
    "grid": "lgGrid",
}
DASHES: Final = {
    "": None,
    "stripes": "dash",
    "dots": "sysDot",
    "cross": "dashDot",
    "grid": "lgDash",
}
NO_FILL: Final = "a:noFill"


def color_node(rgba: Floats | Sequence[float]) -> str:
    """A colour with its opacity."""
    alpha = float(rgba[3]) if len(rgba) > 3 else 1.0
    opacity = node("a:alpha", val=round(alpha * 100_000)) if alpha < 1 else None
    return node("a:srgbClr", opacity, val=hex_color(rgba).lstrip("#"))


def fill_node(rgba: Floats | Sequence[float], pattern: str = "", paper: str = "#FFFFFF") -> str:
    """A fill; a pattern lies over it in the colour of the paper. An opacity of 0 is none."""
    if float(rgba[3]) == 0:
        return node(NO_FILL)
    if pattern in FILL_PATTERNS:
        return node(
            "a:pattFill",
            node("a:fgClr", color_node(rgba_of(paper))),
            node("a:bgClr", color_node(rgba)),
            prst=FILL_PATTERNS[pattern],
        )
    return node("a:solidFill", color_node(rgba))


def line_node(line: LineLook | None, tag: str = "a:ln") -> str:
    """A line, or that there is none; tag: of a table's cell that of the side."""
    if line is None or line.color[3] == 0:
        return node(tag, node(NO_FILL))
    dashes = DASHES[line.pattern]
    return node(
        tag,
        node("a:solidFill", color_node(line.color)),
        None if dashes is None else node("a:prstDash", val=dashes),
        node("a:round"),
        w=round(line.width * EMU_PER_POINT),
        cap="rnd" if dashes is None else "flat",
    )


def text_looks(ink: str, families: Sequence[str]) -> list[str | None]:
    """The colour and the font of a text, as children of its properties."""
    font = families[0] if families else None
    return [
        node("a:solidFill", color_node(rgba_of(ink))),
        None if font is None else node("a:latin", typeface=font),
    ]


def run_node(run: TextRun, size: float, families: Sequence[str]) -> str:
    """A piece of a text."""
    looks = text_looks(run.ink, families)
    properties = node("a:rPr", *looks, sz=round(size * 100), b=run.bold)
    return node("a:r", properties, text_node("a:t", run.text))


def rich_text(
    runs: Sequence[TextRun], size: float, families: Sequence[str], *, lines: bool = False
) -> str:
    """A text of several pieces, as labels and titles of charts hold it; or each in its line."""
    paragraphs = [[run] for run in runs] if lines else [list(runs)]
    written = []
    for pieces in paragraphs:
        looks = text_looks(pieces[0].ink, families)
        defaults = node("a:defRPr", *looks, sz=round(size * 100), b=pieces[0].bold)
        nodes = [run_node(run, size, families) for run in pieces]
        written.append(node("a:p", node("a:pPr", defaults), *nodes))
    return node("c:rich", node("a:bodyPr"), node("a:lstStyle"), *written)


def default_text(ink: str, size: float, families: Sequence[str], *, bold: bool = False) -> str:
    """How the texts of an axis or of labels look."""
    looks = text_looks(ink, families)
    properties = node("a:pPr", node("a:defRPr", *looks, sz=round(size * 100), b=bold))
    paragraph = node("a:p", properties, node("a:endParaRPr"))
    return node("c:txPr", node("a:bodyPr"), node("a:lstStyle"), paragraph)
