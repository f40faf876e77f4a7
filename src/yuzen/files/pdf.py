"""Pages as PDF, which Matplotlib writes; a long table has several."""

import io
from typing import Any

from matplotlib.backends.backend_pdf import Name, PdfPages

from yuzen.compose.split_pages import sheets
from yuzen.draw.text.font_reader import quiet_fonts
from yuzen.errors import external_call
from yuzen.files.picture import Drawn, Picture
from yuzen.render.figure import figure_of
from yuzen.render.lock import DRAWING
from yuzen.render.scenes import scene_of
from yuzen.scene.units import DPI


def write(drawn: Drawn) -> Picture:
    """A PDF with a page for each sheet, and the chart's record in its metadata."""
    buffer = io.BytesIO()
    scenes = [scene_of(sheet) for sheet in sheets(drawn.page)]
    # A date would make two drawings of one chart unlike files.
    described = drawn.words()
    metadata = {
        "Title": described.title,
        "Subject": described.text,
        "Creator": "Yuzen",
        "Keywords": drawn.record(),
        "CreationDate": None,
    }
    failed = external_call("draw-failed", "No pdf can be made of this chart: {reason}.")
    with DRAWING, failed, quiet_fonts(), PdfPages(buffer, metadata=metadata) as pages:
        _say_language(pages, described.language)
        for scene in scenes:
            pages.savefig(figure_of(scene), dpi=DPI)
    notes = dict.fromkeys(note for scene in scenes for note in scene.notes)
    return Picture(buffer.getvalue(), tuple(notes))


def _say_language(pages: PdfPages, language: str) -> None:
    """Write the catalog of a document anew, with its language (ISO 32000-1, section 14.9.2).

    Matplotlib has no other way to it; of two objects of one number the later one counts.
    """
    file: Any = pages._ensure_file()  # type: ignore[no-untyped-call]  # noqa: SLF001
    kind: Any = Name("Catalog")  # type: ignore[no-untyped-call]
    catalog = {"Type": kind, "Pages": file.pagesObject, "Lang": language.encode()}
    file.writeObject(file.rootObject, catalog)
