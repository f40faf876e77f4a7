"""What cannot be read on a page, measured on it: boxes of texts, and the pixels under them.

The pixels are looked at on a picture without its texts, so that whatever lies under one is found,
whoever drew it: a bar, a line, a point, a badge.
"""

from __future__ import annotations

import re
from collections import Counter, defaultdict
from dataclasses import replace
from typing import TYPE_CHECKING, Any, Final

import numpy as np
from matplotlib.backends.backend_agg import FigureCanvasAgg

from tools.legibility.belonging import belonging_faults
from tools.legibility.fault import Fault
from tools.legibility.swatches import swatch_faults
from yuzen.color.named import luminance
from yuzen.draw.text.font_reader import quiet_fonts
from yuzen.draw.text.fonts import box_of
from yuzen.draw.text.measurer import ELLIPSIS
from yuzen.page.page import KeyRamp
from yuzen.render.figure import figure_of
from yuzen.scene.writing import Writing

if TYPE_CHECKING:
    from collections.abc import Iterator, Sequence

    from numpy.typing import NDArray

    from yuzen.page.page import Page
    from yuzen.page.plot import Plot
    from yuzen.scene.primitives import Primitive
    from yuzen.scene.scene import Scene
    from yuzen.scene.writing import WrittenLine

    Numbers = NDArray[np.float64]

TOUCH: Final = 1.5  # pixels that boxes may share
SHRUNK: Final = 1.0  # pixels of a box that are not looked at, on each side
UNLIKE: Final = 22  # of 255, by which a pixel is another one than most under a text
LEAST: Final = 0.04  # of the pixels under a text, from which on they are something
CONTRAST, LARGE_CONTRAST = 4.5, 3.0  # WCAG 2.2, criterion 1.4.3
LARGE: Final = 18.0  # points
TICKS: Final = 9.5  # points, of the letters that axes are written in
PALE: Final = frozenset({"area", "bands", "regions"})  # grounds, which texts may stand on
NUMBER: Final = re.compile(r"[−(+]*[^\d]{0,3}(\d[\d,]*)(?:\.(\d+))?(\D*)")


def faults_of(scene: Scene, page: Page) -> Iterator[Fault]:
    """All faults of a drawn page."""
    yield from written_faults(scene)
    yield from _left_out(scene, page)
    yield from belonging_faults(scene, page)
    yield from swatch_faults(scene, page)
    cut = [line.text for line in scene.texts if line.text.endswith(ELLIPSIS)]
    if cut and not any("cut" in note for note in scene.notes):
        yield Fault("cut, not told", cut[0])


def written_faults(scene: Scene) -> Iterator[Fault]:
    """The faults of the texts of a scene: their places, grounds, and doubles."""
    lines, width, height = scene.texts, scene.width, scene.height
    boxes = np.array([box_of(line).ends for line in lines], dtype=float).reshape(-1, 4)
    if not np.isfinite(boxes).all():
        yield Fault("position that is no number", "")
        return
    off = (boxes[:, :2] < 0).any(axis=1) | (boxes[:, 2] > width) | (boxes[:, 3] > height)
    yield from (Fault("text off the page", lines[at].text) for at in np.flatnonzero(off).tolist())
    yield from _on_one_another(lines, boxes)
    yield from _on_something(scene, lines, boxes)
    yield from _unlike_ticks(scene, lines)


def _on_one_another(lines: Sequence[WrittenLine], boxes: Numbers) -> Iterator[Fault]:
    apart = (boxes[:, None, 2:] <= boxes[None, :, :2] + TOUCH) | (
        boxes[None, :, 2:] <= boxes[:, None, :2] + TOUCH
    )
    touching = ~apart.any(axis=2)
    for one, other in zip(*np.nonzero(np.triu(touching, 1)), strict=True):
        yield Fault("text on text", f"{lines[one].text} / {lines[other].text}")


def _on_something(scene: Scene, lines: Sequence[WrittenLine], boxes: Numbers) -> Iterator[Fault]:
    """Texts on a ground that is not one colour, or that they do not stand out from."""
    whole = _pixels(_without(scene, frozenset()))
    plain = whole
    if any(shape.role in PALE for shape in scene.shapes):
        plain = _pixels(_without(scene, PALE))
    for line, box in zip(lines, boxes, strict=True):
        inner = _part(plain, box)
        if not inner.size:
            continue
        ground = _commonest(inner)
        if np.mean(np.abs(inner - ground).max(axis=1) > UNLIKE) > LEAST:
            yield Fault("something under a text", line.text)
        needed = LARGE_CONTRAST if line.font.size >= LARGE else CONTRAST
        if _contrast(np.array(line.ink[:3]), _commonest(_part(whole, box)) / 255) < needed - 0.05:
            yield Fault("too little contrast", line.text)


def _part(pixels: Numbers, box: Numbers) -> Numbers:
    """The pixels in a box, shape (n, 3)."""
    left, top = np.ceil(np.maximum(box[:2], 0) + SHRUNK).astype(int).tolist()
    right, bottom = np.floor(np.maximum(box[2:], 0) - SHRUNK).astype(int).tolist()
    return pixels[top:bottom, left:right].reshape(-1, 3)


def _commonest(pixels: Numbers) -> Numbers:
    """The colour that most of some pixels have, about."""
    coarse = (pixels // 8) @ np.array([1.0, 256.0, 65536.0])
    values, counts = np.unique(coarse, return_counts=True)
    return np.asarray(np.median(pixels[coarse == values[np.argmax(counts)]], axis=0))


def _without(scene: Scene, roles: frozenset[str]) -> Scene:
    """A scene without its texts, and without shapes of some roles."""

    def kept(shape: Primitive) -> bool:
        return not isinstance(shape, Writing) and shape.role not in roles

    groups = (replace(group, shapes=tuple(filter(kept, group.shapes))) for group in scene.groups)
    return replace(scene, groups=tuple(groups))


def _pixels(scene: Scene) -> Numbers:
    """A scene as pixels, shape (h, w, 3)."""
    canvas: Any = FigureCanvasAgg(figure_of(scene))
    with quiet_fonts():
        canvas.draw()
    return np.asarray(canvas.buffer_rgba())[:, :, :3].astype(float)


def _contrast(ink: Numbers, ground: Numbers) -> float:
    light, dark = sorted((float(luminance(ink)), float(luminance(ground))), reverse=True)
    return (light + 0.05) / (dark + 0.05)


def _unlike_ticks(scene: Scene, lines: Sequence[WrittenLine]) -> Iterator[Fault]:
    """Numbers of one axis of which some have other decimals or another unit."""
    groups = defaultdict(list)
    for line in lines:
        if NUMBER.fullmatch(line.text) and _is_small(line):
            plot = _plot_of(scene, line)
            groups[plot, "beside", round(line.left + line.width)].append(line)
            groups[plot, "below", round(line.foot)].append(line)
    for group in groups.values():
        if len(group) > 2:
            forms = {_form(line.text) for line in group if line.text.strip("0.")}
            if len(forms) > 1:
                yield Fault("ticks in unlike formats", " ".join(line.text for line in group))


def _is_small(line: WrittenLine) -> bool:
    """Whether a line is written as the numbers of axes are."""
    return line.font.size == TICKS and not line.font.bold


def _plot_of(scene: Scene, line: WrittenLine) -> int:
    """Which of a scene's plots a line of text stands nearest to."""
    boxes = [group.area.box for group in scene.groups if group.area is not None]
    far = [
        max(box.left - line.left, line.left - box.right, 0.0)
        + max(box.top - line.foot, line.foot - box.bottom, 0.0)
        for box in boxes
    ]
    return int(np.argmin(far)) if far else -1


def _form(text: str) -> tuple[int, str]:
    """How many decimals a number has, and what follows it."""
    found = NUMBER.fullmatch(text)
    assert found is not None  # noqa: S101 - only numbers are asked for
    return len(found[2] or ""), found[3]


def _left_out(scene: Scene, page: Page) -> Iterator[Fault]:
    """Missing numbers of flagged bars while others are there, and silent omissions."""
    seen = Counter(line.text for line in scene.texts if not _is_small(line))
    ends = {
        text
        for entry in page.key.entries
        if isinstance(entry, KeyRamp)
        for text in (entry.low, entry.high)
    }
    gone = []
    for plot in (plot for plot in page.charts if not plot.note):
        flagged, others = _numbers(plot)
        missing = [text for text in flagged if not _there(text, seen) and text not in others]
        alike = ends | {part for text in flagged for part in text.split("\n")}
        standing = [
            text for text in others if _there(text, seen) and not alike & {*text.split("\n")}
        ]
        if missing and standing and not any(layer.marks.stacked for layer in plot.layers):
            yield Fault("flagged left out, others there", f"{missing[0]!r}, not {standing[0]!r}")
        gone += missing or [text for text in others if not _there(text, seen)]
    if gone and not any("left out" in note for note in scene.notes):
        yield Fault("left out, not told", repr(gone[0]))


def _there(text: str, seen: Counter[str]) -> bool:
    """Whether a number is written, as it is or shorter."""
    return any(seen[one] for one in text.split("\n"))


def _numbers(plot: Plot) -> tuple[Counter[str], Counter[str]]:
    """The first pieces at flagged bars and dots of a plot, and at others, with shorter ones."""
    flagged, others = Counter[str](), Counter[str]()
    for layer in (layer for layer in plot.layers if layer.segments is None):
        for label in (label for label in layer.labels[:1] if label.where != "near"):
            place = next((i for i, piece in enumerate(label.pieces) if any(piece.texts)), None)
            if place is None:
                continue
            shorter = label.short[place].texts if label.short else label.pieces[place].texts
            for mark, text in enumerate(label.pieces[place].texts):
                if text:
                    (flagged if layer.marks.flagged[mark] else others)[
                        f"{text}\n{shorter[mark]}"
                    ] += 1
    return flagged, others
