"""Badges on a page: small shapes of our own in the text's colour and size."""

from collections.abc import Sequence
from typing import Final

import numpy as np

from yuzen.arrays import Codes, Floats
from yuzen.scene.primitives import NO_MARKS, Badges

BADGE_SIZE_PX: Final = 13.0  # pixels across
BADGE_ROOM_PX: Final = BADGE_SIZE_PX + 5  # with the blank after it


def badges_at(
    names: Sequence[str], centers: Floats, inks: Floats, layer: str = "", marks: Codes = NO_MARKS
) -> Badges:
    """Badges with their middles at places of the page, shape (m, 2), in colours of shape (m, 3)."""
    opaque = np.ones((len(names), 4))
    opaque[:, :3] = inks
    return Badges(
        role="badge",
        layer=layer,
        marks=marks,
        names=tuple(names),
        centers=centers,
        ink=opaque,
        size_px=BADGE_SIZE_PX,
    )
