"""Scenes as the pages of a PDF, which Matplotlib writes."""

from __future__ import annotations

import io
from collections.abc import Sequence

from matplotlib.backends.backend_pdf import PdfPages

from yuzen.draw.text.fonts import quiet_fonts
from yuzen.errors import external_call
from yuzen.render.figure import figure_of
from yuzen.render.lock import DRAWING
from yuzen.scene.scene import Scene
from yuzen.scene.units import DPI


def pdf_of(scenes: Sequence[Scene], record: str) -> bytes:
    """A PDF of a page for each scene, with a packed record in its metadata."""
    buffer = io.BytesIO()
    # A date would make two drawings of one chart unlike files.
    metadata = {"Creator": "Yuzen", "Keywords": record, "CreationDate": None}
    failed = external_call("draw-failed", "No pdf can be made of this chart: {reason}.")
    with DRAWING, failed, quiet_fonts(), PdfPages(buffer, metadata=metadata) as pages:
        for scene in scenes:
            pages.savefig(figure_of(scene), dpi=DPI)
    return buffer.getvalue()
