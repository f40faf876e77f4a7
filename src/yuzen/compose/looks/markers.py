"""What markers look like: as rules on them say, else as their marks look."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

if TYPE_CHECKING:
    from collections.abc import Sequence

    from yuzen.arrays import Floats
    from yuzen.compose.judged import Judged
    from yuzen.page.layer import MarkStyles


@dataclass(frozen=True, eq=False)
class Markers:
    """Fill and outline, shape (n, 4) each, and sizes in points; NaN: as the theme has them."""

    fill: Floats
    outline: Floats
    sizes: Floats


def markers_of(judged: Judged, looks: MarkStyles, sizes: Floats, targets: Sequence[str]) -> Markers:
    """The markers of marks with these looks and sizes; of the targets the last one's rules go first."""
    fill = looks.fill
    outline = np.full(len(fill), -1, dtype=np.intp)
    said = np.array([*(rule.size or np.nan for rule in judged.rules), np.nan])
    for place, target in enumerate(targets):
        if place > 0:  # the first one's colours are those of the looks
            fill = _colored(judged, fill, target)
        outlined, sized = judged.winner(target, "outline"), judged.winner(target, "size")
        outline = np.where(outlined >= 0, outlined, outline)
        sizes = np.where(sized >= 0, said[sized], sizes)
    return Markers(fill, judged.palette.outline(outline), sizes)


def _colored(judged: Judged, fill: Floats, target: str) -> Floats:
    """The fills with the colours and opacities that rules on a target give."""
    colored, faint = judged.winner(target) >= 0, judged.winner(target, "opacity")
    if not colored.any() and not (faint >= 0).any():
        return fill
    own = judged.palette.fill(judged.verdict, target)
    color = np.where(colored[:, None], own, fill[:, :3])
    return np.column_stack([color, np.where(faint >= 0, judged.opacities[faint], fill[:, 3])])
