"""Texts at marks as they are written: piece after piece, with badges and frames."""

from collections.abc import Sequence
from dataclasses import field
from typing import TypeAlias

import numpy as np

from yuzen.arrays import Codes, Floats
from yuzen.color.gradient import hexes
from yuzen.color.named import contrast, rgb_of
from yuzen.color.themes import TEXT_CONTRAST
from yuzen.draw.canvas import Canvas, Of
from yuzen.draw.signs.badges import BADGE_ROOM_PX, BADGE_SIZE_PX, badges_at
from yuzen.draw.text.measurer import TextMeasurer
from yuzen.page.styled_texts import StyledTexts
from yuzen.scene.primitives import Rectangles
from yuzen.scene.units import pixels
from yuzen.value import Value

TEXT_PLATE_OPACITY = (
    0.82  # of the paper's colour, behind texts that would not stand out from what is there
)
# Capitals reach 0.72 of a line's height over their foot, so that this is from their middle to it.
FOOT_SHARE = 0.36
FRAME_PX = pixels(0.9)
FRAME_GAP_PX = 3  # pixels between a text and its frame


Corners: TypeAlias = "tuple[float, float, float, float]"  # left, top, right, bottom


class Signs(Value):
    """The badges and frames of texts, which are drawn together when all texts are written.

    layer: the layer of the marks that they belong to.
    """

    layer: str = ""
    badges: list[str] = field(default_factory=list)
    centers: list[tuple[float, float]] = field(default_factory=list)
    inks: list[Floats] = field(default_factory=list)
    marks: list[int] = field(default_factory=list)
    frames: list[tuple[int, Floats, Corners]] = field(default_factory=list)

    def badge(self, name: str, left: float, middle: float, ink: Floats, mark: int = -1) -> None:
        """Keep a badge that begins at a place across, around the middle of its text."""
        self.badges.append(name)
        self.centers.append((left + BADGE_SIZE_PX / 2, middle))
        self.inks.append(ink)
        self.marks.append(mark)

    def draw(self, canvas: Canvas) -> None:
        """Draw them all."""
        if self.badges:
            centers, inks = np.array(self.centers), np.array(self.inks)[:, :3]
            marks = np.array(self.marks, dtype=np.intp)
            canvas.page.add(badges_at(self.badges, centers, inks, self.layer, marks))
        if self.frames:
            framed, edges, corners = zip(*self.frames, strict=True)
            canvas.page.add(
                Rectangles(
                    role="frames",
                    layer=self.layer,
                    marks=np.array(framed, dtype=np.intp),
                    corners=np.array(corners),
                    edge=np.array(edges),
                    edge_px=np.array([FRAME_PX]),
                )
            )


def width_of(
    pieces: Sequence[StyledTexts], measurer: TextMeasurer, mark: int, use: str = "number"
) -> float:
    """Pixels of a mark's text, all its pieces and their badges together."""
    return sum(
        measurer.width(piece.texts[mark], use, bold=bool(piece.bold[mark]))
        + BADGE_ROOM_PX * bool(piece.badge(mark))
        for piece in pieces
    )


def reaches_of(pieces: Sequence[StyledTexts], measurer: TextMeasurer, marks: Codes) -> Floats:
    """Pixels that the letters and badges at some marks reach above their middle and below it.

    Returns shape (m, 2).
    """
    reaches = np.zeros((len(marks), 2))
    foot = measurer.height("number") * FOOT_SHARE
    for place, mark in enumerate(marks.tolist()):
        for piece in pieces:
            if text := piece.texts[mark]:
                rise, drop = measurer.face("number", bold=bool(piece.bold[mark])).reach(text)
                reaches[place] = np.maximum(reaches[place], [rise - foot, drop + foot])
            if piece.badge(mark):
                reaches[place] = np.maximum(reaches[place], BADGE_SIZE_PX / 2)
    return reaches


def first_inks(pieces: Sequence[StyledTexts], marks: Codes) -> Floats:
    """The colour of the first text at each of some marks, shape (m, 4)."""
    inks = np.zeros((len(marks), 4))
    for place, mark in enumerate(marks.tolist()):
        said = next((piece for piece in pieces if piece.texts[mark]), pieces[0])
        inks[place] = said.ink[mark]
    return inks


def stands_out(pieces: Sequence[StyledTexts], mark: int, grounds: Sequence[str]) -> bool:
    """Whether all pieces of a mark's text can be read on each of some colours."""
    inks = [hexes(piece.ink[mark, None, :3])[0] for piece in pieces if piece.texts[mark]]
    return all(contrast(ink, ground) >= TEXT_CONTRAST for ink in inks for ground in grounds)


def write_pieces(
    canvas: Canvas,
    measurer: TextMeasurer,
    pieces: Sequence[StyledTexts],
    mark: int,
    place: tuple[float, float],
    signs: Signs,
    *,
    over: str = "",
) -> None:
    """Write a mark's text from a place on: the left end, and the middle of its height.

    over: the ink of texts on something that is filled, '' for their own.
    """
    left, middle = place
    tall = measurer.height("number")
    for piece in pieces:
        text, bold = piece.texts[mark], bool(piece.bold[mark])
        if badge := piece.badge(mark):
            assert piece.badge_ink is not None  # noqa: S101 - badges have a colour each
            signs.badge(badge, left, middle, rgb_of(over) if over else piece.badge_ink[mark], mark)
            left += BADGE_ROOM_PX
        if text:
            ink = over or piece.ink[mark]
            width = measurer.width(text, "number", bold=bold)
            foot = middle + tall * FOOT_SHARE
            canvas.write(
                text, left, foot, use="number", color=ink, bold=bold, measurer=measurer,
                of=Of("number", signs.layer, mark),
            )  # fmt: skip
            if piece.frame is not None and piece.frame[mark, 3] > 0:
                top, bottom = middle - tall / 2 - 1, middle + tall / 2 + 1
                box = left - FRAME_GAP_PX, top, left + width + FRAME_GAP_PX, bottom
                signs.frames.append((mark, piece.frame[mark], box))
            left += width
