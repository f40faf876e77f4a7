"""Tables of slides, written."""

from __future__ import annotations

from typing import Final

from yuzen.color.named import rgba_of
from yuzen.color.themes import Theme
from yuzen.office.editable.chart import LineLook
from yuzen.office.parts.looks import EMU_PER_POINT, fill_node, line_node, run_node
from yuzen.office.parts.markup import Foreign, element, node
from yuzen.office.slides.layouts import SlidePlaces
from yuzen.office.slides.table import SlideTable, TableCell

CELL_PT: Final = 11.0
LEAST_PT: Final = 5.0
ROW_SHARE: Final = 1.9  # times the size of its text: how high a row is
CELL_MARGIN_PT: Final = 4.0
MOST_AIR: Final = 1.7  # times as wide as its texts: how wide a column may be


def add_table(slide: Foreign, table: SlideTable, room: SlidePlaces, theme: Theme) -> Foreign:
    """Add a table to a slide, in letters that let all rows fit; returns its frame."""
    count = len(table.rows) + 1
    size = max(min(CELL_PT, room.height / count / EMU_PER_POINT / ROW_SHARE), LEAST_PT)
    # Rows never run over the room, however small the letters are.
    high = min(round(size * ROW_SHARE * EMU_PER_POINT), room.height // count)
    widths = _widths(table, size, room.width)
    frame = slide.shapes.add_table(
        count, len(table.heads), room.left, room.top, sum(widths), high * count
    )
    made = frame.table
    # The program's own bands and heads would lie over the fills.
    for name in ("first_row", "horz_banding"):
        setattr(made, name, False)
    _without_style(made)
    for column, width in zip(made.columns, widths, strict=True):
        column.width = width
    lines = [table.heads, *table.rows]
    hairline = theme.color("hairline")
    for row, (cells, line) in enumerate(zip(lines, made._tbl.tr_lst, strict=True)):  # noqa: SLF001
        line.set("h", str(high))
        ruled = row == 1 or row - 1 in table.ruled
        for cell, box in zip(cells, line.tc_lst, strict=True):
            _fill_cell(box, cell, size, theme, hairline if ruled else "")
    return frame


def _without_style(made: Foreign) -> None:
    """The style of a table without borders and fills of its own."""
    plain = "{2D5ABB26-0587-4C30-8999-92F81FD0307C}"
    for style in made._tbl.tblPr.findall(  # noqa: SLF001 - python-pptx has no door to it
        "{http://schemas.openxmlformats.org/drawingml/2006/main}tableStyleId"
    ):
        style.text = plain


def _fill_cell(
    box: Foreign,
    cell: TableCell,
    size: float,
    theme: Theme,
    above: str,
) -> None:
    """The text and the fill of a cell; the children in the order of CT_TableCell."""
    # What the library has put there has no ink and no font.
    for child in list(box):
        box.remove(child)
    pieces = [run_node(run, size, theme.fonts) for run in cell.runs]
    end = node("a:endParaRPr", sz=round(size * 100))
    paragraph = node("a:p", node("a:pPr", algn=cell.align), *pieces, end)
    box.append(element(node("a:txBody", node("a:bodyPr"), node("a:lstStyle"), paragraph)))
    margin = round(CELL_MARGIN_PT * EMU_PER_POINT)
    line = None
    if above:
        line = line_node(LineLook(rgba_of(above), 1.0), "a:lnT")
    looks = node("a:tcPr", line, fill_node(cell.fill), marL=margin, marR=margin, marT=0, marB=0,
                 anchor="ctr")  # fmt: skip
    box.append(element(looks))


def _widths(table: SlideTable, size: float, most: int) -> list[int]:
    """How wide the columns are, by their longest texts; narrower where that is too much."""
    letters = []
    for place, head in enumerate(table.heads):
        texts = [_length(head), *(_length(row[place]) for row in table.rows)]
        letters.append(max(texts) + 2)
    wide = [round(count * size * 0.62 * EMU_PER_POINT) for count in letters]
    # A narrow table gets some air, and a wide one is made to fit.
    share = min(MOST_AIR, most / sum(wide))
    return [round(one * share) for one in wide]


def _length(cell: TableCell) -> int:
    return sum(len(run.text) for run in cell.runs)
