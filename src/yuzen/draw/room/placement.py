"""Who gets room when there is not enough for all: flagged first, then the others evenly."""

import numpy as np

from yuzen.arrays import Bools, Codes, Floats

CANDIDATES_PER_PLACE = 3  # how many times as many as could fit are tried


def thinned(centers: Floats, sizes: Floats, wanted: Bools, first: Bools) -> Bools:
    """Which of the stretches on a line may be kept so that none overlaps another.

    centers, sizes: pixels, shape (n,).  Those in `first` are placed before the others; each of the
    two in an even sample when there are far more than could fit. Only `wanted` ones are kept.
    """
    kept = np.zeros(len(centers), dtype=bool)
    if not wanted.any():
        return kept
    order = np.argsort(centers, kind="stable")
    gaps = np.diff(centers[order])
    if wanted.all() and np.all(gaps >= (sizes[order][1:] + sizes[order][:-1]) / 2):
        return wanted.copy()
    start = float(np.min(centers - sizes))
    taken = np.zeros(int(np.ceil(np.max(centers + sizes) - start)) + 2, dtype=bool)
    fit = max(1, int(len(taken) / max(1.0, float(np.min(sizes[wanted])))))
    for group in (np.flatnonzero(wanted & first), np.flatnonzero(wanted & ~first)):
        for mark in _sample(group, fit):
            low = int(centers[mark] - sizes[mark] / 2 - start)
            high = int(np.ceil(centers[mark] + sizes[mark] / 2 - start))
            if not taken[low:high].any():
                taken[low:high] = True
                kept[mark] = True
    return kept


def spread_out(centers: list[float], sizes: list[float], low: float, high: float) -> list[float]:
    """The centres, moved as little as keeps the stretches apart and between low and high.

    What is moved is least in the sum of squares: with the room that others take subtracted, places
    have to grow, which is isotonic regression, by pooling neighbours that do not (Ayer et al.
    1955).

    >>> spread_out([10.0, 11.0, 90.0], [20, 20, 20], 0, 100)
    [10.0, 30.0, 90.0]
    >>> spread_out([50.0, 50.0], [20, 20], 0, 100)
    [40.0, 60.0]
    """
    if not centers:
        return []
    order = np.argsort(centers, kind="stable")
    size = np.array(sizes, dtype=float)[order]
    taken = np.append(0.0, np.cumsum((size[1:] + size[:-1]) / 2))
    pools: list[tuple[float, int]] = []  # the mean of each pool, and how many are in it
    for wish in (np.array(centers)[order] - taken).tolist():
        mean, count = wish, 1
        # Pool adjacent violators (Ayer and others 1955): neighbours that would overlap move
        # together, to their mean.
        while pools and pools[-1][0] > mean:
            other, more = pools.pop()
            mean, count = (mean * count + other * more) / (count + more), count + more
        pools.append((mean, count))
    grown = np.repeat([mean for mean, _ in pools], [count for _, count in pools])
    bounded = np.minimum(np.maximum(grown, low + size[0] / 2), high - size[-1] / 2 - taken[-1])
    places = np.empty(len(order))
    places[order] = bounded + taken
    return [float(place) for place in places]


def cut_line(start: float, end: float, gaps: Floats) -> list[tuple[float, float]]:
    """What is left of a line from start to end when stretches, shape (m, 2), are taken out of it.

    >>> cut_line(0, 10, np.array([[2.0, 3.0], [2.5, 4.0], [9.0, 12.0], [20.0, 21.0], [30.0, 31.0]]))
    [(0, 2.0), (4.0, 9.0)]
    """
    gaps = gaps[(gaps[:, 0] < end) & (gaps[:, 1] > start)]
    left, place = [], start
    for low, high in gaps[np.argsort(gaps[:, 0])].tolist() if len(gaps) else ():
        if low > place:
            left.append((place, min(low, end)))
        place = max(place, high)
    if place < end:
        left.append((place, end))
    return left


def sampled(count: int, most: int, first: Bools) -> Codes:
    """Indices of about `most` of `count` marks, evenly; those in `first` get half the room."""
    if count <= most:
        return np.arange(count)
    marked = np.flatnonzero(first)
    picked = [
        np.arange(count)[:: -(-count // (most // 2))],
        marked[:: max(1, -(-len(marked) // (most // 2)))],
    ]
    return np.unique(np.concatenate(picked))


def _sample(marks: Codes, fit: int) -> Codes:
    """All marks, or every k-th so that a few times as many are left as could fit."""
    return marks[:: max(1, len(marks) // (fit * CANDIDATES_PER_PLACE))]
