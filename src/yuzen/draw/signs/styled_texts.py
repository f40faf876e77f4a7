"""Texts at marks as they are written: piece after piece, with badges and frames."""

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
from matplotlib.collections import PolyCollection
from matplotlib.colors import to_hex

from yuzen.arrays import Floats
from yuzen.color.named import contrast, rgb_of
from yuzen.color.themes import TEXT_CONTRAST
from yuzen.draw.canvas import Canvas
from yuzen.draw.signs.badges import BADGE_ROOM_PX, BADGE_SIZE_PX, draw_badges
from yuzen.draw.text.measurer import TextMeasurer
from yuzen.page.styled_texts import StyledTexts

TEXT_PLATE_OPACITY = (
    0.82  # of the paper's colour, behind texts that would not stand out from what is there
)
FRAME_GAP_PX = 3  # pixels between a text and its frame


@dataclass(frozen=True)
class Signs:
    """The badges and frames of texts, which are drawn together when all texts are written."""

    badges: list[str] = field(default_factory=list)
    centers: list[tuple[float, float]] = field(default_factory=list)
    inks: list[Floats] = field(default_factory=list)
    frames: list[tuple[Floats, tuple[float, float, float, float]]] = field(default_factory=list)

    def draw(self, canvas: Canvas) -> None:
        """Draw them all."""
        centers, inks = np.array(self.centers).reshape(-1, 2), np.array(self.inks).reshape(-1, 3)
        draw_badges(canvas, self.badges, centers, inks)
        if not self.frames:
            return
        corners = np.array([box for _, box in self.frames])
        frames = PolyCollection(
            canvas.rings(corners),
            facecolors="none",
            edgecolors=np.array([color for color, _ in self.frames]),
            linewidths=0.9,
            transform=canvas.unit,
        )
        frames.set_gid("frames")
        canvas.add(frames)


def width_of(
    pieces: Sequence[StyledTexts], measurer: TextMeasurer, mark: int, use: str = "number"
) -> float:
    """Pixels of a mark's text, all its pieces and their badges together."""
    return sum(
        measurer.width(piece.texts[mark], use, bold=bool(piece.bold[mark]))
        + BADGE_ROOM_PX * bool(piece.badge(mark))
        for piece in pieces
    )


def stands_out(pieces: Sequence[StyledTexts], mark: int, grounds: Sequence[str]) -> bool:
    """Whether all pieces of a mark's text can be read on each of some colours."""
    inks = [to_hex(piece.ink[mark]) for piece in pieces if piece.texts[mark]]
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
            signs.badges.append(badge)
            signs.centers.append((left + BADGE_SIZE_PX / 2, middle))
            signs.inks.append(rgb_of(over) if over else piece.badge_ink[mark])
            left += BADGE_ROOM_PX
        if text:
            ink = over or piece.ink[mark]
            width = measurer.width(text, "number", bold=bold)
            # Capitals reach 0.72 of a line's height over their foot, so that this is their middle.
            foot = middle + tall * 0.36
            canvas.write(text, left, foot, use="number", color=ink, bold=bold, measurer=measurer)
            if piece.frame is not None and piece.frame[mark, 3] > 0:
                top, bottom = middle - tall / 2 - 1, middle + tall / 2 + 1
                box = left - FRAME_GAP_PX, top, left + width + FRAME_GAP_PX, bottom
                signs.frames.append((piece.frame[mark], box))
            left += width
