"""What of a table is not on its page: told in the page itself, and in notes."""

from yuzen.draw.canvas import Canvas
from yuzen.draw.plots.table_columns import CELL_PADDING_PX, Fitted
from yuzen.page.table import Table, Unshown
from yuzen.scene.box import Box

MORE_LINE_PX = 22  # pixels of the line that tells of rows on no page


def tell_unshown(
    canvas: Canvas, table: Table, fit: Fitted, unpaged: Unshown, box: Box, foot: float
) -> None:
    """Write what is not on a page whose rows end at some height, and note it.

    unpaged: the rows that no picture of one page holds.
    """
    if fit.dropped:
        hint = "columns left out for want of room; widen the page ([size] width)"
        canvas.note(list(fit.dropped), hint)
    if fit.numberless:
        canvas.note(
            [column.column.called for column in fit.columns],
            "columns are filled without their numbers, for which there is no room",
        )
    note = "rows left out; one picture has 300 at most, a PDF has them all on its pages"
    canvas.note(unpaged.names, note)
    words, missing = canvas.words, []
    if table.missing:
        missing.append(words.say("more rows", count=f"{len(table.missing):,}"))
    if fit.dropped:
        missing.append(words.say("more columns", count=f"{len(fit.dropped):,}"))
    if not missing:
        return
    y = foot + MORE_LINE_PX - 5 if table.missing else box.top - 6
    room, text = box.width - 2 * CELL_PADDING_PX, words.say("not shown", what=words.listed(missing))
    canvas.write(
        canvas.measurer.cut(text, "footer", room),
        box.left + CELL_PADDING_PX,
        y,
        use="footer",
        color=canvas.theme.color("slate"),
    )
