"""Texts in SVG: as text held to its measured width, or as the shapes of its letters."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Mapping
from functools import lru_cache
from typing import Final
from xml.etree.ElementTree import Element, SubElement

import numpy as np

from yuzen.arrays import Floats
from yuzen.render.loading import loading_matplotlib
from yuzen.render.svg.elements import number, numbers, opaque_colors
from yuzen.scene.units import pixels
from yuzen.scene.writing import Font, Letters, Writing, WrittenLine

SPACE: Final = "{http://www.w3.org/XML/1998/namespace}space"
# What leads to a point of an outline, and how many points it takes.
MOVE, LINE, BEND, CURVE = 1, 2, 3, 4
STEPS: Final = {MOVE: ("M", 1), LINE: ("L", 1), BEND: ("Q", 2), CURVE: ("C", 3)}


def write_text(parent: Element, writing: Writing) -> None:
    """All lines as text of the theme's families; other letters are stretched to the same width."""
    if not writing.lines:
        return
    families = Counter(family_list(line.font) for line in writing.lines).most_common(1)[0][0]
    group = SubElement(parent, "g", {"class": "writing", "font-family": families})
    group.set(SPACE, "preserve")
    for line in writing.lines:
        made = SubElement(group, "text", _text_look(line))
        if (own := family_list(line.font)) != families:
            made.set("font-family", own)
        made.text = line.text


def _text_look(line: WrittenLine) -> dict[str, str]:
    look = {
        "class": line.role,
        "x": number(line.left),
        "y": number(line.foot),
        "textLength": number(line.width),
        "lengthAdjust": "spacingAndGlyphs",
        "font-size": number(pixels(line.font.size)),
        **_fill(line.ink),
    }
    if line.font.bold:
        look["font-weight"] = "bold"
    return look


def write_outlines(parent: Element, writing: Writing) -> None:
    """All lines as the shapes of their letters, each named by its text for who reads it aloud."""
    group = SubElement(parent, "g", {"class": "writing"})
    for line in writing.lines:
        look = {"class": line.role, "role": "img", "aria-label": line.text, **_fill(line.ink)}
        SubElement(group, "path", {"d": _outline(line), **look})


def _outline(line: WrittenLine) -> str:
    """The letters of a line on the page."""
    with loading_matplotlib():
        from yuzen.draw.text.font_reader import outlines_of  # noqa: PLC0415 - it loads Matplotlib

    points, codes = outlines_of(line.text, line.font)
    return _steps(np.array([line.left, line.foot]) + points * [1, -1], codes.tolist())


def _steps(points: Floats, codes: list[int]) -> str:
    """An outline as the steps of a path."""
    corners = list(map(" ".join, numbers(points)))
    steps, place = [], 0
    while place < len(codes):
        letter, count = STEPS.get(codes[place], ("Z", 1))
        steps.append(letter if letter == "Z" else letter + " ".join(corners[place : place + count]))
        place += count
    return "".join(steps)


@lru_cache(maxsize=256)
def _fill(ink: tuple[float, float, float, float]) -> Mapping[str, str]:
    """The ink of a line."""
    color, opacity = opaque_colors(np.array([ink]))[0]
    if opacity == "1":
        return {"fill": color}
    return {"fill": color, "fill-opacity": opacity}


TEXT_WRITERS: Final[Mapping[Letters, Callable[[Element, Writing], None]]] = {
    "text": write_text,
    "outlines": write_outlines,
}


@lru_cache(maxsize=64)
def family_list(font: Font) -> str:
    """The families of a font as a list for browsers, which end with any that has no serifs."""
    names = (family.replace("'", "").replace("\\", "") for family in font.families)
    return ", ".join([*(f"'{name}'" for name in names), "sans-serif"])
