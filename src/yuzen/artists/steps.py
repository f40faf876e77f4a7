"""Step lines: a level piece for each mark, and rises that are cut where rules begin."""

import numpy as np

from yuzen.arrays import Floats
from yuzen.artists.overrides import Stroke
from yuzen.draw.shapes.curves import by_look
from yuzen.page.lines import LineSegments

RISES = {"steps": 0.0, "steps-pre": 0.0, "steps-mid": 0.5, "steps-post": 1.0}


def step_strokes(
    way: str, lines: LineSegments, cut: Floats, marked: Floats, points: Floats
) -> list[Stroke]:
    """The pieces of a line in steps.

    way:    as Matplotlib calls it: where between two marks it rises.
    cut:    the colours of the stretches of its segments, shape (k, 4); marked: those of its marks,
            (n, 4).
    points: the places and the values of its marks, shape (2, n).
    """
    places, values = points
    stretches = lines.stretches
    rise = lines.left + RISES[way] * (lines.right - lines.left)
    begins, ends = places.copy(), places.copy()
    # A level piece reaches from the rise before its mark to the rise after it.
    begins[lines.ends], ends[lines.starts] = rise, rise
    level = np.stack([np.stack([begins, values], axis=1), np.stack([ends, values], axis=1)], axis=1)
    at = stretches.segment
    low, high = values[lines.starts[at]], values[lines.ends[at]]
    lowest, highest = low + stretches.low * (high - low), low + stretches.high * (high - low)
    upright = np.stack(
        [np.stack([rise[at], lowest], axis=1), np.stack([rise[at], highest], axis=1)], axis=1
    )
    pieces = np.concatenate([level, upright])
    color = np.concatenate([marked, cut])
    pattern = np.concatenate([np.zeros(len(marked), dtype=np.intp), stretches.pattern])
    there = ~np.isnan(pieces).any(axis=(1, 2))
    pieces, color, pattern = pieces[there], color[there], pattern[there]
    return [
        Stroke(_broken(pieces[pieces_of_look]), rgba, name)
        for pieces_of_look, rgba, name, _ in by_look(color, pattern, np.zeros(len(color)))
    ]


def _broken(pieces: Floats) -> Floats:
    """Pieces of two corners each as one run of corners with a break before each but the first."""
    corners = np.full((len(pieces), 3, 2), np.nan)
    corners[:, 1:] = pieces
    return corners.reshape(-1, 2)[1:]
