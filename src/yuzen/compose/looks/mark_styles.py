"""What marks look like by the rules on a target."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from yuzen.page.layer import MarkStyles

if TYPE_CHECKING:
    from yuzen.compose.judged import Judged


def looks_of(judged: Judged, target: str) -> MarkStyles:
    """The fill with its opacity, the outline and the pattern of every mark, shape (n,)."""
    fill = np.column_stack([judged.palette.fill(judged.verdict, target), judged.opacity(target)])
    return MarkStyles(
        fill, judged.palette.outline(judged.winner(target, "outline")), judged.patterns(target)
    )
