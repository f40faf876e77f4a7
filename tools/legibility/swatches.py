"""Swatches of the key against what is drawn: every look of the key is a look of some mark.

The scene alone is looked at: the colours, outlines, patterns and badges of its shapes and texts.
"""

from __future__ import annotations

from itertools import combinations
from typing import TYPE_CHECKING, Final

import numpy as np

from tools.legibility.fault import Fault
from yuzen.color.gradient import hexes
from yuzen.page.page import KeyEntry
from yuzen.scene.primitives import Badges, Dots, Filled, Polyline, Segments

if TYPE_CHECKING:
    from collections.abc import Iterator

    from numpy.typing import NDArray

    from yuzen.page.page import Page
    from yuzen.scene.primitives import Primitive
    from yuzen.scene.scene import Scene


# Lines and grounds of many marks, and what marks are compared with.
WITHOUT_MARKS: Final = frozenset({"line", "area", "parts", "joins", "reference", "curve", "ticks"})


def swatch_faults(scene: Scene, page: Page) -> Iterator[Fault]:
    """Looks of the key that no mark has, and looks that two lines share."""
    drawn = [shape for shape in scene.shapes if shape.role != "swatches" and len(shape.marks)]
    drawn += [shape for shape in scene.shapes if shape.role in WITHOUT_MARKS]
    colors = {color for shape in drawn for color in _colors(shape)}
    colors |= {hexes(np.array([line.ink[:3]]))[0] for line in scene.texts if line.role != "key"}
    patterns = {name for shape in drawn for name in _patterns(shape)}
    entries = [entry for entry in page.key.entries if isinstance(entry, KeyEntry)]
    unseen = page.table is not None and bool(page.table.missing)
    if unseen or any("rows left out" in note for note in scene.notes):
        return  # what a rule looks like may be on rows that are not shown
    left_out = any("left out" in note for note in scene.notes)
    ruled = [entry for entry, apart in zip(entries, _apart(entries), strict=True) if not apart]
    for entry in ruled:
        wanted = [entry.color] if entry.seen in {"fill", "line", "point"} else []
        for color in [*wanted, entry.outline]:
            if color and color.upper() not in colors:
                yield Fault("a colour of the key on no mark", f"{entry.text}: {color}")
        if entry.pattern and entry.pattern not in patterns:
            yield Fault("a pattern of the key on no mark", f"{entry.text}: {entry.pattern}")
        if entry.badge and not left_out and entry.badge not in _badges(scene):
            yield Fault("a badge of the key at no mark", f"{entry.text}: {entry.badge}")
    for one, other in combinations(entries, 2):
        if _look(one) == _look(other) and one.text == other.text:
            yield Fault("a line of the key twice", one.text)


def _apart(entries: list[KeyEntry]) -> list[bool]:
    """Which lines are of series and layers, all whose marks rules may have coloured."""
    first = next((place for place, entry in enumerate(entries) if entry.apart), len(entries))
    return [place >= first for place in range(len(entries))]


def _look(entry: KeyEntry) -> tuple[object, ...]:
    return (
        entry.color, entry.seen, entry.outline, entry.stroke, entry.pattern, entry.badge,
        entry.bold, entry.size, entry.form,
    )  # fmt: skip


def _colors(shape: Primitive) -> set[str]:
    """The colours of a shape's fills, outlines and lines as '#RRGGBB'."""
    found: list[NDArray[np.float64]] = []
    if isinstance(shape, Filled | Dots):
        found += [shape.fill, shape.edge]
    if isinstance(shape, Segments | Polyline):
        found.append(shape.ink)
    return {name for colors in found if len(colors) for name in hexes(colors[:, :3])}


def _patterns(shape: Primitive) -> tuple[str, ...]:
    if isinstance(shape, Filled):
        return shape.patterns
    if isinstance(shape, Segments):
        return shape.strokes
    return (shape.stroke,) if isinstance(shape, Polyline) else ()


def _badges(scene: Scene) -> set[str]:
    """The badges at marks and names; those of the key itself belong to none."""
    return {
        name
        for shape in scene.shapes
        if isinstance(shape, Badges) and (len(shape.marks) or len(shape) > 1)
        for name in shape.names
    }
