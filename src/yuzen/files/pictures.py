"""Pages as the bytes of PNG, SVG, PDF and HTML files, with the chart's own record inside."""

from __future__ import annotations

import io
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Any

from matplotlib import rc_context
from matplotlib.axes import Axes
from matplotlib.backends.backend_agg import FigureCanvasAgg
from matplotlib.figure import Figure, SubFigure
from PIL import Image
from PIL.PngImagePlugin import PngInfo

from yuzen.compose.split_pages import first_sheet, sheets
from yuzen.draw.text.fonts import quiet_fonts
from yuzen.draw.text.measurer import DPI
from yuzen.errors import external_call, make_error
from yuzen.files.picture_types import CHART_ENDINGS, TYPES
from yuzen.files.web import document
from yuzen.page.page import Page
from yuzen.render.figure import Drawing, Inset, draw, draw_on
from yuzen.render.lock import DRAWING

if TYPE_CHECKING:
    from concurrent.futures import Future


@dataclass(frozen=True)
class Picture:
    """A picture as the bytes of its file, and what had no room on it."""

    data: bytes = field(repr=False)
    notes: tuple[str, ...]


def picture_of(page: Page, kind: str, record: Callable[[], str], dpi: float = DPI) -> Picture:
    """The page as a file of that type; `record` packs what the file holds of the chart.

    dpi: how many pixels of a png are an inch; a page is laid out in hundredths of one.
    Raises YuzenError (call-format) for HTML of anything but a table.
    """
    if TYPES[kind].writer == "web":
        if page.table is None:
            message = f"{kind} is for tables; draw this chart into {CHART_ENDINGS}."
            raise make_error("call-format", message)
        return Picture(document(page, record()).encode(), ())
    pages = sheets(page)
    with ThreadPoolExecutor(
        1
    ) as beside:  # compressing needs no Python, so it goes on while we draw
        packed = beside.submit(record)
        with DRAWING:
            if kind == "pdf" and len(pages) > 1:
                drawings = [draw(one) for one in pages]
                data = _document_bytes([drawing.figure for drawing in drawings], packed)
            else:
                drawings = [one_picture(page)]
                data = _picture_bytes(drawings[0].figure, kind, packed, dpi)
    return Picture(
        data, tuple(dict.fromkeys(note for drawing in drawings for note in drawing.notes))
    )


def one_picture(page: Page) -> Drawing:
    """The page drawn as one picture."""
    with DRAWING:
        return draw(first_sheet(page))


def inset_picture(page: Page, target: Axes | Figure | SubFigure) -> Inset:
    """The page drawn inside somebody else's axes or figure."""
    with DRAWING, quiet_fonts():
        return draw_on(first_sheet(page), target)


def _picture_bytes(figure: Figure, kind: str, record: Future[str], dpi: float) -> bytes:
    """The figure as a file of that type, with a packed record in its metadata."""
    buffer = io.BytesIO()
    failed = f"Matplotlib cannot make a {kind} of this chart: {{reason}}."
    # The names inside an SVG follow from what they name, so that equal charts are equal files.
    with external_call("draw-failed", failed), quiet_fonts(), rc_context({"svg.hashsalt": "yuzen"}):
        if TYPES[kind].writer == "pixels":
            _write_pixels(figure, buffer, kind, record, dpi)
        else:
            figure.savefig(buffer, format=kind, dpi=dpi, metadata=_metadata(kind, record.result()))
    return buffer.getvalue()


def _write_pixels(
    figure: Figure, buffer: io.BytesIO, kind: str, record: Future[str], dpi: float
) -> None:
    """Write three bytes a pixel: paper has no holes, and a fourth takes a third longer."""
    figure.set_dpi(dpi)
    canvas = FigureCanvasAgg(figure)
    canvas.draw()  # type: ignore[no-untyped-call]
    drawn = canvas.buffer_rgba()  # type: ignore[no-untyped-call]
    pixels = Image.frombytes("RGB", canvas.get_width_height(), drawn, "raw", "RGBX")
    comment = {TYPES[kind].comment: _comment(kind, record.result())}
    pixels.save(buffer, kind, dpi=(dpi, dpi), **comment, **TYPES[kind].options)


def _comment(kind: str, kept: str) -> PngInfo | bytes:
    """The record as Pillow wants the texts of a file."""
    if TYPES[kind].comment != "pnginfo":
        return kept.encode()
    texts = PngInfo()
    texts.add_text("Software", "Yuzen")
    texts.add_text("Comment", kept)
    return texts


def _document_bytes(figures: Sequence[Figure], record: Future[str]) -> bytes:
    """Several figures as the pages of one PDF, with a packed record in its metadata."""
    from matplotlib.backends.backend_pdf import PdfPages  # noqa: PLC0415 - few charts need it

    buffer = io.BytesIO()
    failed = external_call("draw-failed", "Matplotlib cannot make a pdf of this chart: {reason}.")
    metadata = _metadata("pdf", record.result())
    with failed, quiet_fonts(), PdfPages(buffer, metadata=metadata) as pages:
        for figure in figures:
            pages.savefig(figure, dpi=DPI)
    return buffer.getvalue()


def _metadata(kind: str, kept: str) -> dict[str, Any]:
    """What Matplotlib writes besides the drawing, without a date."""
    dated = "Date" if kind == "svg" else "CreationDate"
    # A date would make two drawings of one chart unlike files.
    return {"Creator": "Yuzen", TYPES[kind].comment: kept, dated: None}
