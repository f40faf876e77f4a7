"""Whose a text is taken to be: numbers, names and notes that stand nearer to another mark.

All places are those of the scene's shapes and texts, as they are drawn; nothing is asked of what
gave the texts their places. The page says which marks are of one line.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Final

import numpy as np

from tools.legibility.fault import Fault
from yuzen.draw.text.fonts import box_of
from yuzen.page.plot import Plot
from yuzen.scene.box import Box
from yuzen.scene.forms import FORMS
from yuzen.scene.primitives import Badges, Dots, Rectangles, Segments, Spots

if TYPE_CHECKING:
    from collections.abc import Iterator, Mapping, Sequence

    from numpy.typing import NDArray

    from yuzen.page.page import Page
    from yuzen.scene.primitives import Primitive
    from yuzen.scene.scene import Scene

    Numbers = NDArray[np.float64]
    Key = tuple[str, int]
    Row = tuple[list[float], list[float], str, int, int, bool]

NEARER: Final = 1.0  # pixels by which a text is nearer to its own mark
UNSEEN: Final = 0.01  # pixels of a bar that nobody sees
COURSE_STEPS: Final = 40  # places that are looked at between two marks of a line
LEAD_END: Final = 11.0  # pixels from a text or a mark within which a line to it ends
BARS: Final = frozenset({"bars", "outlines", "parts"})
BELONGING: Final = frozenset({"number", "note", "name"})


@dataclass(frozen=True)
class Words:
    """The texts and badges at one mark of a plot, as one box."""

    plot: int
    layer: str
    mark: int
    text: str
    box: Box


@dataclass(frozen=True, eq=False)
class Ends:
    """Where marks end on one plot, and whose each place is.

    boxes: left, top, right and bottom of each end, shape (n, 4); whole: of each mark.
    lines: which line each is a point of, -1 for marks of no line; seen: whether it has a shape.
    courses: places along each line, shape (p, 2).
    side:  0 for marks that stand from left to right, 1 from top to bottom; None: anywhere.
    """

    boxes: Numbers
    whole: Numbers
    layers: NDArray[np.str_]
    marks: NDArray[np.intp]
    lines: NDArray[np.intp]
    seen: NDArray[np.bool_]
    side: int | None
    courses: Mapping[int, Numbers] = field(default_factory=dict)


def belonging_faults(scene: Scene, page: Page) -> Iterator[Fault]:
    """Texts that are nearer to another mark than to their own, and no line leads to them."""
    boxes = list(dict.fromkeys(g.area.box for g in scene.groups if g.area is not None))
    plots = [plot for plot in page.plots if not plot.note]
    if len(boxes) != len(plots):
        return
    ends = [_ends(scene, box, plot) for box, plot in zip(boxes, plots, strict=True)]
    leads = [shape for shape in scene.shapes if shape.role == "leads"]
    for words in _words(scene, boxes):
        at = ends[words.plot]
        own = _own(words, at, plots[words.plot])
        if not _led(words, at, own, leads) and (other := _nearer(words, at, own)):
            yield Fault("nearer to another mark", f"{words.text} / {other}")


def _words(scene: Scene, plots: Sequence[Box]) -> list[Words]:
    """What is written at each mark, its pieces and badges together."""
    parts: dict[tuple[int, str, str, int], list[tuple[str, Box]]] = {}

    def keep(role: str, layer: str, mark: int, text: str, box: Box) -> None:
        # The number of a line's end and the line's name stand as one.
        role = "note" if role == "note" else "number"
        parts.setdefault((_nearest(plots, box), role, layer, mark), []).append((text, box))

    for line in scene.texts:
        if line.role in BELONGING and line.mark >= 0:
            keep(line.role, line.layer, line.mark, line.text, box_of(line))
    for shape in scene.shapes:
        if isinstance(shape, Badges):
            half = shape.size_px / 2
            for mark, (x, y) in zip(shape.marks.tolist(), shape.centers.tolist(), strict=False):
                keep("number", shape.layer, mark, "", Box(x - half, y - half, x + half, y + half))
    return [
        Words(plot, layer, mark, " ".join(text for text, _ in of), _joined(of))
        for (plot, _, layer, mark), of in parts.items()
    ]


def _joined(parts: Sequence[tuple[str, Box]]) -> Box:
    """The box around several."""
    ends = np.array([box.ends for _, box in parts])
    return Box(*ends[:, :2].min(axis=0).tolist(), *ends[:, 2:].max(axis=0).tolist())


def _nearest(boxes: Sequence[Box], box: Box) -> int:
    """Which plot a box stands in or next to."""
    ends = np.array([one.ends for one in boxes])
    return int(np.argmin(_apart(ends, box)))


def _ends(scene: Scene, box: Box, plot: object) -> Ends:
    """The ends of all marks of a plot."""
    upright = isinstance(plot, Plot) and plot.layout != "bar"
    rows: list[Row] = []
    for group in scene.groups:
        if group.area is None or group.area.box != box:
            continue
        for shape in (one for one in group.shapes if not _is_mute(one, plot)):
            for mark, whole, ends in _places(shape, upright=upright):
                line = _line_of(plot, shape.layer, mark)
                rows += [(end, whole, shape.layer, mark, line, not isinstance(shape, Spots))
                         for end in ends]  # fmt: skip
    rows = _whole_stacks(rows, plot)
    if not rows:
        none = np.empty((0, 4))
        no_marks = np.empty(0, dtype=np.intp)
        return Ends(none, none, no_marks.astype("U1"), no_marks, no_marks, no_marks > 0, None)
    boxes, wholes, layers, marks, lines, seen = zip(*rows, strict=True)
    return Ends(
        np.array(boxes), np.array(wholes), np.array(layers), np.array(marks), np.array(lines),
        np.array(seen), _side(plot), _courses(rows, plot),
    )  # fmt: skip


def _is_mute(shape: Primitive, plot: object) -> bool:
    """Whether a shape is of ticks at which nothing is written, which claim no text."""
    layers = plot.layers if isinstance(plot, Plot) else ()
    return shape.role == "ticks" and not any(
        layer.labels for layer in layers if layer.name == shape.layer
    )


def _courses(rows: list[Row], plot: object) -> dict[int, Numbers]:
    """Places along each line of a plot, between the marks that it joins."""
    middles = {(r[2], r[3]): ((r[0][0] + r[0][2]) / 2, (r[0][1] + r[0][3]) / 2) for r in rows}
    courses: dict[int, list[Numbers]] = {}
    for layer in plot.layers if isinstance(plot, Plot) else ():
        segments = layer.segments
        if segments is None:
            continue
        for pair in zip(segments.starts.tolist(), segments.ends.tolist(), strict=True):
            ends = [middles.get((layer.name, mark)) for mark in pair]
            if ends[0] is not None and ends[1] is not None:
                steps = np.linspace(np.array(ends[0]), np.array(ends[1]), COURSE_STEPS)
                courses.setdefault(_line_of(plot, layer.name, pair[0]), []).append(steps)
    return {line: np.concatenate(parts) for line, parts in courses.items()}


def _whole_stacks(rows: list[Row], plot: object) -> list[Row]:
    """The ends of marks, those of bars in a stack at both ends of the stack alone."""
    slots = {
        (layer.name, mark): (layer.name, slot)
        for layer in (plot.layers if isinstance(plot, Plot) else ())
        if layer.marks.stacked
        for mark, slot in enumerate(layer.marks.slots.tolist())
    }
    stacks: dict[Key, list[list[float]]] = {}
    for row in rows:
        if (slot := slots.get((row[2], row[3]))) is not None:
            stacks.setdefault(slot, []).append(row[1])
    ends = {}
    for slot, boxes in stacks.items():
        sides = np.array(boxes)
        ends[slot] = [*sides[:, :2].min(axis=0).tolist(), *sides[:, 2:].max(axis=0).tolist()]
    side = _side(plot)
    whole = []
    for end, box, layer, mark, line, seen in rows:
        stack = ends.get(slots.get((layer, mark), ("", -1)))
        on_rim = stack is None or any(
            abs(end[place] - stack[place]) < UNSEEN for place in ((0, 2) if side else (1, 3))
        )
        if on_rim:
            whole.append((end, box, layer, mark, line, seen))
    return whole


def _side(plot: object) -> int | None:
    """The direction in which the marks of a plot stand beside one another."""
    if not isinstance(plot, Plot) or not any(layer.shape.is_bar for layer in plot.layers):
        return None
    return int(plot.layout == "bar")


def _places(
    shape: Primitive, *, upright: bool
) -> Iterator[tuple[int, list[float], list[list[float]]]]:
    """Each mark of a shape, the box of all of it, and those of its ends."""
    marks = shape.marks.tolist()
    if isinstance(shape, Rectangles) and shape.role in BARS:
        for mark, (left, top, right, bottom) in zip(marks, shape.corners.tolist(), strict=False):
            x, y = sorted((left, right)), sorted((top, bottom))
            whole = [x[0], y[0], x[1], y[1]]
            sides = [[end, y[0], end, y[1]] for end in x]
            if upright:
                sides = [[x[0], end, x[1], end] for end in y]
            # A bar of nothing is seen by nobody.
            if np.isfinite(whole).all() and min(x[1] - x[0], y[1] - y[0]) > UNSEEN:
                yield mark, whole, sides
    elif isinstance(shape, Dots | Spots):
        radii = np.zeros(len(marks))
        if isinstance(shape, Dots):
            reach = [np.abs(FORMS[form]).max(initial=0.0) or 1.0 for form in shape.forms if form]
            radii = shape.radii * (reach or 1.0)
        boxes = np.hstack([shape.centers - radii[:, None], shape.centers + radii[:, None]])
        yield from ((m, box, [box]) for m, box in zip(marks, boxes.tolist(), strict=True))
    elif isinstance(shape, Segments) and shape.role == "ticks":
        for mark, line in zip(marks, shape.lines(), strict=True):
            box = [*line.min(axis=0).tolist(), *line.max(axis=0).tolist()]
            yield mark, box, [box]


def _line_of(plot: object, layer: str, mark: int) -> int:
    """Which line a mark is a point of, by its number among all lines of a plot; -1 for none."""
    if not isinstance(plot, Plot):
        return -1
    for place, one in enumerate(plot.layers):
        if one.name == layer and one.segments is not None and mark < len(one.marks):
            return 1000 * place + int(one.marks.series[mark])
    return -1


def _apart(boxes: Numbers, box: Box) -> Numbers:
    """Pixels between a box and others, shape (n,)."""
    x = np.maximum(np.maximum(boxes[:, 0] - box.right, box.left - boxes[:, 2]), 0.0)
    y = np.maximum(np.maximum(boxes[:, 1] - box.bottom, box.top - boxes[:, 3]), 0.0)
    return np.asarray(np.hypot(x, y))


def _own(words: Words, ends: Ends, plot: object) -> NDArray[np.bool_]:
    """The ends of a text's own mark; of a stack's total, of all bars of its stack."""
    marks: NDArray[np.intp] = np.array([words.mark])
    layers = plot.layers if isinstance(plot, Plot) else ()
    for layer in (one for one in layers if one.name == words.layer and one.marks.stacked):
        if layer.marks.totals[words.mark]:
            marks = np.flatnonzero(layer.marks.slots == layer.marks.slots[words.mark])
    return np.asarray((ends.layers == words.layer) & np.isin(ends.marks, marks))


def _nearer(words: Words, ends: Ends, own: NDArray[np.bool_]) -> str:
    """What a text is nearer to than to its own mark, or as near; '' for nothing."""
    if not own.any():
        return ""
    x, y = (words.box.left + words.box.right) / 2, (words.box.top + words.box.bottom) / 2
    left, top, right, bottom = ends.whole[own].T
    if bool(((left <= x) & (x <= right) & (top <= y) & (y <= bottom)).any()):
        return ""
    far = _apart(ends.boxes, words.box)
    least = float(far[own].min())
    line = ends.lines[own][0]
    rivals = ~own & ends.seen & (far < least + NEARER)
    if ends.side is not None:
        rivals &= (far < least - NEARER) | _under(words.box, ends, own)
    if rivals.any():
        at = int(np.flatnonzero(rivals)[0])
        return f"{ends.layers[at]} mark {ends.marks[at]} at {far[at]:.1f}, own at {least:.1f}"
    for other, places in ends.courses.items():
        gap = float(_apart(np.hstack([places, places]), words.box).min(initial=np.inf))
        if line >= 0 and other != line and gap < least + NEARER:
            return f"line {other} at {gap:.1f}, own at {least:.1f}"
    return ""


def _under(box: Box, ends: Ends, own: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """Which ends beside its own a text covers with their middle, or stands nearer to with its."""
    low, high = (box.left, box.right) if ends.side == 0 else (box.top, box.bottom)
    middles = ends.boxes[:, [ends.side or 0, (ends.side or 0) + 2]].mean(axis=1)
    middle, mine = (low + high) / 2, float(middles[own].mean())
    nearer = np.abs(middle - middles) < abs(middle - mine) - NEARER
    beside = np.abs(middles - mine) > NEARER
    return np.asarray(~beside | nearer | ((low < middles) & (middles < high)))


def _led(words: Words, ends: Ends, own: NDArray[np.bool_], leads: Sequence[Primitive]) -> bool:
    """Whether a line begins at a text and ends at its mark."""
    for shape in leads:
        if not isinstance(shape, Segments):
            continue
        for line in shape.lines():
            for first, last in ((line[0], line[-1]), (line[-1], line[0])):
                there = _apart(np.array([words.box.ends]), Box(*first, *first))[0] <= LEAD_END
                if there and own.any():
                    mark = _apart(ends.boxes[own], Box(*last, *last)).min()
                    if mark <= LEAD_END:
                        return True
    return False
