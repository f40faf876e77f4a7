"""The picture on a desk: an SVG in which every mark has its number among the chart's marks."""

from __future__ import annotations

from typing import Final
from xml.etree.ElementTree import Element

from yuzen.page.description import Description
from yuzen.render.svg.document import svg_of
from yuzen.render.svg.shapes import Titles
from yuzen.stages.stages import Stages

MAX_TITLED_MARKS: Final = 1_000  # marks beyond which a mark answers by a question to this machine
IDS: Final = "picture-"  # what ids in the picture begin with, apart from those of the page


class NumberedMarks(Titles, eq=False):
    """Marks that carry their titles, and their numbers among the marks of the chart."""

    def name(self, made: Element, layer: str, mark: int) -> None:
        """Give an element of a mark its title and its number."""
        super().name(made, layer, mark)
        numbers = self.of_chart.get(layer)
        if numbers is not None and 0 <= mark < len(numbers):
            made.set("data-mark", str(int(numbers[mark])))


def desk_picture(stages: Stages) -> str:
    """The chart as an SVG without a record. Raises YuzenError."""
    description: Description = stages.description
    if len(stages.marks) <= MAX_TITLED_MARKS:
        description = stages.answering()
    letters = stages.page.size.letters
    svg = svg_of(
        stages.scene, "", description, prefix=IDS, letters=letters, answering=NumberedMarks
    )
    # A page takes the drawing without the line that begins a file of XML.
    return svg.partition("\n")[2]
