"""A scene as a whole SVG file."""

from collections.abc import Sequence
from dataclasses import replace
from typing import Final
from xml.etree.ElementTree import Element, SubElement, tostring

from yuzen.page.description import Description
from yuzen.page.unprintable import replace_unprintable
from yuzen.render.svg.elements import Ids, number
from yuzen.render.svg.shapes import SvgPlot, Titles, write_shape
from yuzen.render.svg.texts import TEXT_WRITERS
from yuzen.scene.box import PlotArea
from yuzen.scene.primitives import NO_MARKS, Primitive
from yuzen.scene.scene import Scene
from yuzen.scene.writing import Letters

DECLARATION: Final = '<?xml version="1.0" encoding="UTF-8"?>'


def svg_of(
    scene: Scene,
    record: str = "",
    description: Description | None = None,
    *,
    prefix: str = "",
    letters: Letters = "text",
    answering: type[Titles] = Titles,
) -> str:
    """A scene as SVG: text as text, and an element with an id and a title for every mark.

    record:   what the file holds of the chart.
    description: what it says to those who do not see it, and to whoever points at a mark.
    prefix:   what all ids begin with, so that several pictures can stand in one page.
    letters:  "outlines" for letters as shapes, the same for every reader.
    answering: how the elements of marks are made to answer.
    """
    width, height = number(scene.width), number(scene.height)
    size = {"width": width, "height": height, "viewBox": f"0 0 {width} {height}"}
    description = description or Description(_title(scene))
    root = Element("svg", {"xmlns": "http://www.w3.org/2000/svg", **size, "role": "img"})
    ids = Ids(prefix)
    _describe(root, description, ids)
    if record:
        SubElement(root, "metadata").text = record
    definitions = SubElement(root, "defs")
    SubElement(root, "rect", {"width": width, "height": height, "fill": scene.paper})
    for place, group in enumerate(scene.groups):
        into = SubElement(root, "g", {"class": "page" if group.area is None else "plot"})
        titles = answering(description, group.of_chart)
        plot = SvgPlot(into, place, definitions, ids, TEXT_WRITERS[letters], titles)
        clipped = _clip(definitions, ids, place, group.area)
        for shape in group.layered():
            there = len(into)
            write_shape(plot, shape)
            # A shape is one element, or two where a pattern lies over it.
            for made in into[there:] if shape.clipped and clipped else ():
                made.set("clip-path", clipped)
    if not len(definitions):
        root.remove(definitions)
    return f"{DECLARATION}\n{tostring(root, encoding='unicode')}\n"


def _title(scene: Scene) -> str:
    """The title as it is written in a picture."""
    return " ".join(line.text for line in scene.texts if line.role == "title")


def _describe(root: Element, description: Description, ids: Ids) -> None:
    """The name of a drawing and what it shows, by which readers of the screen call it.

    By SVG 2, section 5.7, and the SVG Accessibility API Mappings: both are found by their ids.
    """
    root.set("lang", description.language)
    for tag, attribute, text in (
        ("title", "aria-labelledby", description.title),
        ("desc", "aria-describedby", description.text),
    ):
        if text:
            where = ids.shared(tag)
            SubElement(root, tag, {"id": where}).text = replace_unprintable(text)
            root.set(attribute, where)


def small_svg(
    shapes: Sequence[Primitive], size: tuple[float, float], label: str, style: str = ""
) -> str:
    """Some shapes as a drawing inside a page of HTML, named for who reads it aloud."""
    width, height = map(number, size)
    root = Element("svg", {"role": "img", "aria-label": label, "width": width, "height": height})
    if style:
        root.set("style", style)
    plot = SvgPlot(root, 0, SubElement(root, "defs"), Ids(), TEXT_WRITERS["text"])
    for shape in shapes:
        write_shape(plot, replace(shape, marks=NO_MARKS))
    root.remove(plot.definitions)
    return tostring(root, encoding="unicode")


def _clip(definitions: Element, ids: Ids, place: int, area: PlotArea | None) -> str:
    """The box of a plot as its shapes are cut to it, '' where it has none."""
    if area is None:
        return ""
    where, box = ids.shared(f"plot-{place}"), area.box
    ends = {"x": number(box.left), "y": number(box.top)}
    ends |= {"width": number(box.width), "height": number(box.height)}
    SubElement(SubElement(definitions, "clipPath", {"id": where}), "rect", ends)
    return f"url(#{where})"
