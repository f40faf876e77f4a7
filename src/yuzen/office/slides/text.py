"""Words on slides: the title in its place, and lines of pieces in boxes."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final

from pptx.dml.color import RGBColor
from pptx.enum.text import MSO_ANCHOR, PP_ALIGN
from pptx.util import Pt

from yuzen.color.themes import Theme
from yuzen.office.editable.chart import TextRun
from yuzen.office.parts.looks import EMU_PER_POINT
from yuzen.office.parts.markup import Foreign
from yuzen.office.slides.layouts import SlidePlaces, SlideRoom
from yuzen.page.unprintable import replace_unprintable

LINE_HEIGHT: Final = 1.35  # of a text's size
LETTER_SHARE: Final = 0.56  # of its size: how wide a letter is, about
TITLE_PT: Final = 26.0
LEAST_TITLE_PT: Final = 16.0


def write_title(
    slide: Foreign,
    places: SlideRoom,
    title: str,
    theme: Theme,
    layout_pt: float,
) -> None:
    """Write the title of a slide into its place, in a size at which it fits.

    layout_pt: the size of titles of the layout, in points.
    """
    shape = slide.shapes.title
    frame = shape.text_frame
    frame.text = replace_unprintable(title)
    if places.title is None:
        _made_to_fit(shape, len(title), layout_pt)
        return
    place = places.title
    shape.left, shape.top, shape.width, shape.height = (
        place.left, place.top, place.width, place.height,
    )  # fmt: skip
    frame.word_wrap, frame.vertical_anchor = True, MSO_ANCHOR.MIDDLE
    frame.margin_left = frame.margin_right = frame.margin_top = frame.margin_bottom = 0
    for paragraph in frame.paragraphs:
        paragraph.alignment = PP_ALIGN.LEFT
        for run in paragraph.runs:
            size = _fitting(len(title), place)
            _style(run, TextRun(title, theme.color("ink"), bold=True), size, theme)
            run.font.size = Pt(size)


def _made_to_fit(shape: Foreign, letters: int, layout_pt: float) -> None:
    """The title of a template in a smaller size than it has, where it would not fit into its place.

    Programs make a title fit when somebody edits it, not when they open a file.
    """
    place = SlidePlaces(shape.left, shape.top, shape.width, shape.height)
    size = _fitting(letters, place, layout_pt)
    if size < layout_pt:
        for paragraph in shape.text_frame.paragraphs:
            for run in paragraph.runs:
                run.font.size = Pt(size)


def _fitting(letters: int, place: SlidePlaces, largest: float = TITLE_PT) -> float:
    """The largest size up to one at which so many letters stand in a place."""
    size = largest
    while size > LEAST_TITLE_PT:
        lines = letters * LETTER_SHARE * 1.1 * size * EMU_PER_POINT / place.width
        tall = (int(lines) + 1) * size * 1.2 * EMU_PER_POINT
        if tall <= place.height:
            break
        size -= 1
    return size


def write_lines(
    slide: Foreign,
    place: SlidePlaces,
    lines: Sequence[tuple[Sequence[TextRun], float]],
    theme: Theme,
) -> int:
    """Write lines of pieces into a box at the top of a place; returns how high they are."""
    if not lines:
        return 0
    height = sum(_height(runs, size, place) for runs, size in lines)
    box = slide.shapes.add_textbox(place.left, place.top, place.width, height)
    frame = box.text_frame
    frame.word_wrap, frame.vertical_anchor = True, MSO_ANCHOR.TOP
    frame.margin_left = frame.margin_right = frame.margin_top = frame.margin_bottom = 0
    for number, (runs, size) in enumerate(lines):
        paragraph = frame.paragraphs[0] if number == 0 else frame.add_paragraph()
        for piece in runs:
            run = paragraph.add_run()
            run.text = replace_unprintable(piece.text)
            _style(run, piece, size, theme)
    return height


def _height(runs: Sequence[TextRun], size: float, place: SlidePlaces) -> int:
    """How high a paragraph is, by the letters that a line holds."""
    letters = sum(len(run.text) for run in runs)
    wide = letters * LETTER_SHARE * size * EMU_PER_POINT
    return round((int(wide / place.width) + 1) * size * LINE_HEIGHT * EMU_PER_POINT)


def _style(run: Foreign, piece: TextRun, size: float, theme: Theme) -> None:
    """The ink, the weight, the size and the font of a piece."""
    run.font.size, run.font.bold = Pt(size), piece.bold
    color: Foreign = RGBColor  # without types
    run.font.color.rgb = color.from_string(piece.ink.lstrip("#"))
    if theme.fonts:
        run.font.name = theme.fonts[0]
