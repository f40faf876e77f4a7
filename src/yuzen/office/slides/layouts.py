"""Where things stand on a slide: on that of a template in its places, else on a layout of ours."""

from __future__ import annotations

import io
from dataclasses import replace
from pathlib import Path
from typing import Final

from pptx import Presentation
from pptx.dml.color import RGBColor

from yuzen.color.themes import Theme
from yuzen.errors import external_call, make_error
from yuzen.office.parts.looks import EMU_PER_POINT
from yuzen.office.parts.markup import Foreign
from yuzen.office.parts.package import Package, checked
from yuzen.office.parts.records import RECORD_PART
from yuzen.paths import read_file
from yuzen.value import Value

EMU: Final = 914_400  # of an inch
SLIDE_INCHES: Final = (13.333, 7.5)
MARGIN_INCHES: Final = 0.6
MOST_TEMPLATE: Final = 100_000_000  # bytes
USUAL_TITLE_PT: Final = 44.0
CONTENT_TYPES: Final = "[Content_Types].xml"
TEMPLATE_TYPE: Final = b"presentationml.template.main+xml"  # of .potx files
DECK_TYPE: Final = b"presentationml.presentation.main+xml"
OWN_LAYOUT: Final = "Title Only"
TITLE_KINDS: Final = ("TITLE", "VERTICAL_TITLE")  # the large one of a cover is none
BODY_KINDS: Final = ("OBJECT", "CHART", "BODY", "TABLE", "PICTURE")


class SlidePlaces(Value):
    """A rectangle of a slide, in English metric units."""

    left: int
    top: int
    width: int
    height: int

    def below(self, used: int) -> SlidePlaces:
        """What is left under some of its height."""
        return replace(self, top=self.top + used, height=max(self.height - used, EMU))

    def above(self, other: SlidePlaces) -> SlidePlaces:
        """What is left of it above another rectangle."""
        return replace(self, height=max(min(self.height, other.top - self.top), EMU))


class SlideRoom(Value):
    """Where the title and the rest of a slide stand; title: None in the template's own place."""

    title: SlidePlaces | None
    body: SlidePlaces
    foot: SlidePlaces


class SlideLayout(Value):
    """The layout that slides of charts are made on."""

    layout: Foreign
    room: SlideRoom
    own: bool

    @property
    def title_pt(self) -> float:
        """The size of titles in points, as the layout or its master sets it."""
        path = ".//p:ph[@type='title']/ancestor::p:sp//a:lvl1pPr/a:defRPr/@sz"
        master = "./p:txStyles/p:titleStyle/a:lvl1pPr/a:defRPr/@sz"
        sizes = self.layout._element.xpath(path)  # noqa: SLF001 - python-pptx has no door to it
        sizes += self.layout.slide_master._element.xpath(master)  # noqa: SLF001
        return float(sizes[0]) / 100 if sizes else USUAL_TITLE_PT

    def add(self, output: Foreign, theme: Theme) -> tuple[Foreign, SlideRoom]:
        """A new slide without empty places, and where things stand on it."""
        slide = output.slides.add_slide(self.layout)
        # Empty places would show "click to add text" in the program.
        for place in list(slide.placeholders):
            if place.placeholder_format.idx != 0:
                place._element.getparent().remove(place._element)  # noqa: SLF001 - it has no door
        if self.own:
            color: Foreign = RGBColor  # without types
            ground = slide.background.fill
            ground.solid()
            ground.fore_color.rgb = color.from_string(theme.color("paper").lstrip("#"))
        return slide, self.room


def deck_of(template: Path | None) -> Foreign:
    """An empty deck, of a template with its slides taken out. Raises YuzenError (call-template)."""
    if template is None:
        output: Foreign = Presentation()
        output.slide_width, output.slide_height = (round(inch * EMU) for inch in SLIDE_INCHES)
        return output
    data = read_file(template, MOST_TEMPLATE, "call-template", "template")
    data = _as_deck(checked(data, str(template), "call-template"))
    with external_call("call-template", "The template is no .pptx file: {reason}.", str(template)):
        output = Presentation(io.BytesIO(data))
        for entry in list(output.slides._sldIdLst):  # noqa: SLF001 - python-pptx cannot remove slides
            output.part.drop_rel(entry.rId)
            output.slides._sldIdLst.remove(entry)  # noqa: SLF001
        for relation in list(output.part.rels.values()):
            # A deck that Yuzen has written holds records of charts that are no more in it.
            if not relation.is_external and str(relation.target_part.partname) == f"/{RECORD_PART}":
                output.part.rels.pop(relation.rId)
    return output


def _as_deck(package: Package) -> bytes:
    """A template file as a deck, which is the same but for how it calls itself.

    Raises YuzenError (call-template) for one with macros, which each deck made of it would have.
    """
    if package.has_macros:
        message = "The template holds macros. Save it without them first."
        raise make_error("call-template", message, where=package.where)
    types = package.part(CONTENT_TYPES)
    if TEMPLATE_TYPE not in types:
        return package.data
    return package.having({CONTENT_TYPES: types.replace(TEMPLATE_TYPE, DECK_TYPE)})


def layout_of(output: Foreign, *, own: bool) -> SlideLayout:
    """The layout for charts: ours, or the first of a template with a title and one large place."""
    wide, high = output.slide_width, output.slide_height
    margin = round(MARGIN_INCHES * EMU)
    foot = SlidePlaces(margin, high - round(0.5 * EMU), wide - 2 * margin, round(0.35 * EMU))
    if own:
        layout = next(one for one in output.slide_layouts if one.name == OWN_LAYOUT)
        title = SlidePlaces(margin, round(0.35 * EMU), wide - 2 * margin, round(0.8 * EMU))
        top = title.top + title.height
        body = SlidePlaces(margin, top, wide - 2 * margin, high - top - round(0.3 * EMU))
        return SlideLayout(layout, SlideRoom(title, body, foot), own=True)
    # Names of layouts are in the language of the program that made them.
    candidates = [(_bodies(layout), layout) for layout in output.slide_layouts]
    titled = [(bodies, layout) for bodies, layout in candidates if _title(layout) is not None]
    if not titled:
        message = "No layout of the template has a place for a title."
        raise make_error("call-template", message)
    # One place is for one chart; two are for something else.
    bodies, layout = min(titled, key=lambda pair: (len(pair[0]) != 1, len(pair[0]) == 0))
    place = _title(layout)
    below = place.top + place.height
    body = SlidePlaces(margin, below, wide - 2 * margin, high - below - margin)
    if bodies:
        largest = max(bodies, key=lambda body: body.width * body.height)
        body = SlidePlaces(largest.left, largest.top, largest.width, largest.height)
    tall = round(14 * EMU_PER_POINT * 1.4)
    foot = SlidePlaces(body.left, body.top + body.height - tall, body.width, tall)
    return SlideLayout(layout, SlideRoom(None, body, foot), own=False)


def _title(layout: Foreign) -> Foreign:
    """The place of a title; None where there is none."""
    titles = (p for p in layout.placeholders if p.placeholder_format.type.name in TITLE_KINDS)
    return next(titles, None)


def _bodies(layout: Foreign) -> list[Foreign]:
    """The places for content."""
    return [p for p in layout.placeholders if p.placeholder_format.type.name in BODY_KINDS]
