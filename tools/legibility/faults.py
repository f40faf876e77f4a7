"""What cannot be read on a page, measured on the page itself: boxes of texts, and the pixels under them.

The pixels are looked at on a picture without its texts, so that whatever lies under one is found,
whoever drew it: a bar, a line, a point, a badge.
"""

from __future__ import annotations

import re
from collections import Counter, defaultdict
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, Final

import numpy as np
from matplotlib.backends.backend_agg import FigureCanvasAgg

from yuzen.color.named import luminance
from yuzen.draw.pen import quiet_fonts
from yuzen.draw.writing import Writing, lines_of

if TYPE_CHECKING:
    from collections.abc import Iterator, Sequence

    from matplotlib.artist import Artist
    from matplotlib.figure import Figure
    from numpy.typing import NDArray

    from yuzen.draw.page import Drawing
    from yuzen.draw.writing import Line
    from yuzen.picture.page import Page

    Numbers = NDArray[np.float64]

TOUCH: Final = 1.5  # pixels that boxes may share
SHRUNK: Final = 1.0  # pixels of a box that are not looked at, on each side
UNLIKE: Final = 22  # of 255, by which a pixel is another one than most under a text
LEAST: Final = 0.04  # of the pixels under a text, from which on they are something
CONTRAST, LARGE_CONTRAST = 4.5, 3.0  # WCAG 2.2, criterion 1.4.3
LARGE: Final = 18.0  # points
PALE: Final = re.compile("area|bands|region|pattern")  # grounds, which texts may stand on
NUMBER: Final = re.compile(r"[−(+]*[^\d]{0,3}(\d[\d,]*)(?:\.(\d+))?(\D*)")


@dataclass(frozen=True)
class Fault:
    """A class of what cannot be read, and one text that shows it."""

    what: str
    text: str


def faults_of(drawing: Drawing, page: Page) -> Iterator[Fault]:
    """All faults of a drawn page."""
    yield from written_faults(drawing.figure)
    yield from _left_out(drawing, page)


def written_faults(figure: Figure) -> Iterator[Fault]:
    """The faults of the texts on a figure: where they stand, what is under them, how they are alike."""
    lines = lines_of(figure)
    boxes = np.array([line.box for line in lines], dtype=float).reshape(-1, 4)
    width, height = figure.get_size_inches() * figure.dpi
    if not np.isfinite(boxes).all():
        yield Fault("position that is no number", "")
        return
    off = (boxes[:, :2] < 0).any(axis=1) | (boxes[:, 2] > width) | (boxes[:, 3] > height)
    yield from (Fault("text off the page", lines[at].text) for at in np.flatnonzero(off).tolist())
    yield from _on_one_another(lines, boxes)
    yield from _on_something(figure, lines, boxes)
    yield from _unlike_ticks(lines)


def _on_one_another(lines: Sequence[Line], boxes: Numbers) -> Iterator[Fault]:
    apart = (boxes[:, None, 2:] <= boxes[None, :, :2] + TOUCH) | (
        boxes[None, :, 2:] <= boxes[:, None, :2] + TOUCH
    )
    touching = ~apart.any(axis=2)
    for one, other in zip(*np.nonzero(np.triu(touching, 1)), strict=True):
        yield Fault("text on text", f"{lines[one].text} / {lines[other].text}")


def _on_something(figure: Figure, lines: Sequence[Line], boxes: Numbers) -> Iterator[Fault]:
    """Texts on a ground that is not one colour, or that they do not stand out from."""
    whole = _pixels(figure, pale=True)
    pale = [artist for artist in figure.findobj(_is_pale) if artist.get_visible()]
    plain = _pixels(figure, pale=False) if pale else whole
    for line, box in zip(lines, boxes, strict=True):
        inner = _part(plain, box)
        if not inner.size:
            continue
        ground = _commonest(inner)
        if np.mean(np.abs(inner - ground).max(axis=1) > UNLIKE) > LEAST:
            yield Fault("something under a text", line.text)
        needed = LARGE_CONTRAST if line.face.font.get_size_in_points() >= LARGE else CONTRAST
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


def _pixels(figure: Figure, *, pale: bool) -> Numbers:
    """A figure without its texts, and without pale grounds unless they are wanted, shape (h, w, 3)."""
    hidden: list[Artist] = [artist for artist in figure.artists if isinstance(artist, Writing)]
    hidden += [] if pale else [artist for artist in figure.findobj(_is_pale) if artist.get_visible()]
    for artist in hidden:
        artist.set_visible(False)
    canvas: Any = FigureCanvasAgg(figure)
    with quiet_fonts():
        canvas.draw()
    for artist in hidden:
        artist.set_visible(True)
    return np.asarray(canvas.buffer_rgba())[:, :, :3].astype(float)


def _is_pale(artist: Any) -> bool:  # noqa: ANN401 - any artist of Matplotlib
    behind: bool = artist.get_zorder() < 1
    return behind and PALE.match(str(artist.get_gid())) is not None


def _contrast(ink: Numbers, ground: Numbers) -> float:
    light, dark = sorted((float(luminance(ink)), float(luminance(ground))), reverse=True)
    return (light + 0.05) / (dark + 0.05)


def _unlike_ticks(lines: Sequence[Line]) -> Iterator[Fault]:
    """Numbers of one axis of which some have other decimals or another unit."""
    small = [line for line in lines if NUMBER.fullmatch(line.text) and line.face is _footer_face(lines)]
    groups = defaultdict(list)
    for line in small:
        groups["beside", round(line.box[2])].append(line)
        groups["below", round(line.foot)].append(line)
    for group in groups.values():
        if len(group) > 2:
            forms = {_form(line.text) for line in group if line.text.strip("0.")}
            if len(forms) > 1:
                yield Fault("ticks in unlike formats", " ".join(line.text for line in group))


def _footer_face(lines: Sequence[Line]) -> Any:  # noqa: ANN401 - a face, or none
    """The smallest letters, which axes are written in."""
    return min((line.face for line in lines), key=lambda face: face.font.get_size_in_points(), default=None)


def _form(text: str) -> tuple[int, str]:
    """How many decimals a number has, and what follows it."""
    found = NUMBER.fullmatch(text)
    assert found is not None  # noqa: S101 - only numbers are asked for
    return len(found[2] or ""), found[3]


def _left_out(drawing: Drawing, page: Page) -> Iterator[Fault]:
    """Numbers of flagged bars that are not there while others are, and what is left out without a word."""
    flagged, others, any_stacked = Counter[str](), Counter[str](), False
    for layer in (x for plot in page.charts if not plot.note for x in plot.layers if x.segments is None):
        any_stacked |= layer.marks.stacked
        for label in layer.labels[:1]:
            pieces = [piece for piece in label.pieces if any(piece.texts)]
            for mark, text in enumerate(pieces[0].texts if pieces and label.where != "near" else ()):
                wanted = flagged if layer.marks.flagged[mark] else others
                short = label.short[label.pieces.index(pieces[0])].texts[mark] if label.short else text
                if text:
                    wanted[f"{text}\n{short}"] += 1
    seen = Counter(line.text for line in lines_of(drawing.figure))

    def there(text: str) -> bool:
        return any(seen[one] for one in text.split("\n"))

    missing = [text for text in flagged if not there(text) and text not in others]
    standing = [text for text in others if there(text) and text not in flagged]
    if missing and standing and not any_stacked:
        yield Fault("flagged left out, others there", f"{missing[0]!r}, not {standing[0]!r}")
    if not missing:
        missing = [text for text in others if not there(text)]
    if missing and not any("left out" in note for note in drawing.notes):
        yield Fault("left out, not told", repr(missing[0]))
