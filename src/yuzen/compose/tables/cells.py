"""What the cells of a table look like: their fills, their texts, and ink that can be read on them."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

import numpy as np

from yuzen.color.named import hex_of, inks_on, legible, rgb_of
from yuzen.color.themes import TEXT_CONTRAST
from yuzen.compose.looks.mark_styles import looks_of
from yuzen.compose.texts.labels import badges_of, filled, frame_of, replaced, weighted, written_at
from yuzen.errors import error_at
from yuzen.page.layer import MarkStyles
from yuzen.page.styled_texts import StyledTexts

if TYPE_CHECKING:
    from collections.abc import Sequence

    from yuzen.arrays import Bools, Codes, Floats
    from yuzen.brief.sections.chart import LabelSection
    from yuzen.compose.judged import Judged


@dataclass(frozen=True)
class Targets:
    """What rules act on in cells of a column: their ground; their texts, the last of which goes first."""

    ground: str
    texts: tuple[str, ...]


def ground_of(judged: Judged, target: str) -> MarkStyles:
    """The fill, outline and pattern of every mark's cell, shape (n,); opacity 0 where no rule colours it."""
    looks = looks_of(judged, target)
    looks.fill[judged.winner(target) < 0, 3] = 0.0
    return looks


def number_texts(judged: Judged, measure: str) -> list[str]:
    """A measure's number of every mark as text: in its format, or with the decimals that it needs."""
    values = np.asarray(judged.marks.columns[measure], dtype=float)
    form = judged.numbers(measure)
    return [form.write(value) for value in values.tolist()]


def lettering(
    judged: Judged, texts: Sequence[str], targets: Targets, section: LabelSection | None = None
) -> StyledTexts:
    """The texts of every mark with what rules make of them; ink is NaN where it is plain.

    section: the piece of the label that it is, of which the first one and its own carry what rules
             write.
    """
    everywhere = (
        np.ones(len(judged.marks), dtype=bool) if section is None else written_at(judged, section)
    )
    written = list(texts)
    for on in (targets.ground, *targets.texts):
        written = replaced(judged, written, on, everywhere, first=True)
    ink = np.full((len(written), 4), np.nan)
    ink[:, 3] = 1.0
    bold = np.zeros(len(written), dtype=bool)
    if section is not None and section.color is not None:
        with error_at("color", "color"):
            ink[:, :3] = rgb_of(hex_of(section.color, judged.theme.named))
    if section is not None and section.weight is not None:
        bold[:] = section.weight == "bold"
    marks = np.arange(len(written))
    for on in ("row", targets.ground):  # where there is no fill, what is written is all of the cell
        ink[:, 3] *= np.where(judged.winner(on) < 0, judged.opacity(on), 1.0)
    for on in targets.texts:
        winner = judged.winner(on)
        own = winner >= 0
        ink[own, :3] = judged.palette.colored(winner, marks, judged.verdict, on)[own]
        bold |= own
        faded = judged.winner(on, "opacity")
        ink[:, 3] = np.where(faded >= 0, judged.opacities[faded], ink[:, 3])
    badges, badge_ink = badges_of(judged, targets.ground, *targets.texts)
    heavy = weighted(judged, bold, *reversed(targets.texts), targets.ground, "row")
    return StyledTexts(
        tuple(written), ink, heavy, badges, badge_ink, frame_of(judged, *targets.texts)
    )


def label_pieces(judged: Judged, targets: Targets) -> tuple[StyledTexts, ...]:
    """The pieces of the label that a brief writes, in the cells of the chart's value."""
    pieces = []
    for place, section in enumerate(judged.spec.label):
        with error_at(f"label {place + 1}", "label", place):
            texts = filled(judged, section.text.tree, written_at(judged, section), section.within)
            named = (f"label.{section.name}",) if section.name else ()
            own = targets if place == 0 else Targets("", ("label",))
            pieces.append(
                lettering(judged, texts, Targets(own.ground, (*own.texts, *named)), section)
            )
    return tuple(pieces)


def spread(piece: StyledTexts, marks: Codes) -> StyledTexts:
    """The texts of the marks in the rows of a column; nothing where there is none (−1)."""
    own, there = piece.take(np.maximum(marks, 0)), (marks >= 0).tolist()
    frame = own.frame
    if frame is not None:
        frame = frame.copy()
        frame[marks < 0, 3] = 0.0
    return replace(
        own,
        texts=tuple(
            text if is_there else "" for text, is_there in zip(own.texts, there, strict=True)
        ),
        badges=tuple(
            name if is_there else "" for name, is_there in zip(own.badges, there, strict=False)
        ),
        bold=own.bold & (marks >= 0),
        frame=frame,
    )


def spread_looks(looks: MarkStyles, marks: Codes) -> MarkStyles:
    """The looks of the marks in the rows of a column; none where there is no mark."""
    own, empty = looks.take(np.maximum(marks, 0)), marks < 0
    fill, outline, patterns = own.fill.copy(), own.outline.copy(), own.patterns.copy()
    fill[empty, 3], outline[empty, 3], patterns[empty] = 0.0, 0.0, 0
    return MarkStyles(fill, outline, patterns)


def over(fill: Floats, ground: Floats) -> Floats:
    """What is seen of fills of some opacity, shape (r, 4), over grounds, shape (r, 3)."""
    alpha = fill[:, 3:]
    return fill[:, :3] * alpha + ground * (1 - alpha)


def readable(piece: StyledTexts, ground: Floats, judged: Judged) -> StyledTexts:
    """The texts in ink that can be read on their grounds, shape (r, 3): plain, or as near to a rule's."""
    theme = judged.theme
    plain = inks_on(ground, theme.color("ink"), theme.color("paper"), TEXT_CONTRAST)
    ink = piece.ink.copy()
    colored = ~np.isnan(ink[:, 0])
    ink[:, :3] = np.where(colored[:, None], ink[:, :3], plain)
    ink[:, :3] = legible(ink[:, :3], plain, ground, TEXT_CONTRAST)
    badge_ink = piece.badge_ink
    if badge_ink is not None:
        badge_ink = legible(badge_ink, plain, ground, TEXT_CONTRAST)
    return replace(piece, ink=ink, badge_ink=badge_ink)


def embolden(piece: StyledTexts, rows: Bools) -> StyledTexts:
    """The texts, those of some rows bold."""
    return replace(piece, bold=piece.bold | rows)
