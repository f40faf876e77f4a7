"""What markers look like: as rules on them say, else as their marks look."""

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from yuzen.arrays import Floats
from yuzen.compose.styles.colored_verdict import ColoredVerdict
from yuzen.page.layer import MarkStyles
from yuzen.rules.target import MARK, MARKER, Target
from yuzen.value import Value

CHART_MARKER_TARGETS = (MARK, MARKER)  # the targets of markers on the chart's own marks


class Markers(Value, eq=False):
    """Fill and outline, shape (n, 4) each, and sizes in points; NaN: as the theme has them."""

    fill: Floats
    outline: Floats
    strokes: NDArray[np.str_]
    sizes: Floats


def markers(
    verdict: ColoredVerdict,
    styles: MarkStyles,
    sizes: Floats,
    targets: Sequence[Target] = CHART_MARKER_TARGETS,
) -> Markers:
    """The markers of marks with these styles and sizes.

    targets: of their rules the last target's come first; the first target's colours are those of
             the styles already.
    """
    fill = styles.fill
    outline = np.full(len(fill), -1, dtype=np.intp)
    for place, target in enumerate(targets):
        # The first target is the mark, whose colours the fill has already.
        if place > 0:
            fill = _colored(verdict, fill, target)
        outlined, sized = verdict.winner(target, "outline"), verdict.winner(target, "size")
        outline = np.where(outlined >= 0, outlined, outline)
        sizes = np.where(sized >= 0, verdict.styles.sizes[sized], sizes)
    return Markers(fill, verdict.outline(outline), verdict.strokes(outline), sizes)


def _colored(verdict: ColoredVerdict, fill: Floats, target: Target) -> Floats:
    """The fills with the colours and opacities that rules on a target give."""
    colored, faded = verdict.winner(target) >= 0, verdict.winner(target, "opacity")
    if not colored.any() and not (faded >= 0).any():
        return fill
    color = np.where(colored[:, None], verdict.fill(target), fill[:, :3])
    opacity = np.where(faded >= 0, verdict.styles.opacities[faded], fill[:, 3])
    return np.column_stack([color, opacity])
