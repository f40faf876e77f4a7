"""A scatter of a page: points of two measures, references and regions, as plain values."""

from yuzen.arrays import Bools, Codes, Floats
from yuzen.page.layer import PointStyles
from yuzen.page.plot import ReferenceLine, ValueAxis, ValueBand
from yuzen.page.styled_texts import StyledTexts
from yuzen.value import Value


class Region(Value):
    """A rectangle of both measures that a rule describes; its sides without an end are infinite.

    name:   what stands in its corner; '' for nothing.
    color:  the rule's; filled: whether its ground is drawn in it.
    """

    left: float
    right: float
    low: float
    high: float
    name: str
    color: str
    filled: bool


class Scatter(Value, eq=False):
    """Points of two measures; all arrays have one entry for each point, in the order of marks.

    places:   the measure across and that upright, shape (n, 2); without points that lack one of
              them.
    points:   what they look like; sizes in points.
    pieces:   what is written at them, piece after piece.
    flagged:  points that some rule colours: they lie over the rest and get their words first.
    names:    what each is called in a sentence.
    of_chart: which of the chart's marks each is.
    across, upright: the two axes.
    levels, uprights: lines at values of the measure upright and of that across.
    bands:    stretches of the measure upright.
    layout:  the file in `draw/kinds` that lays it out.
    name:     what stands over it, where there are several.
    note:     what is said in its middle if nothing can be drawn.
    annotations: texts beside single points, each with the point's place.
    """

    places: Floats
    points: PointStyles
    pieces: tuple[StyledTexts, ...]
    flagged: Bools
    names: tuple[str, ...]
    of_chart: Codes
    across: ValueAxis
    upright: ValueAxis
    levels: tuple[ReferenceLine, ...] = ()
    uprights: tuple[ReferenceLine, ...] = ()
    bands: tuple[ValueBand, ...] = ()
    regions: tuple[Region, ...] = ()
    layout: str = "scatter"
    name: str = ""
    note: str = ""
    annotations: tuple[tuple[int, str], ...] = ()

    @property
    def texts(self) -> list[str]:
        """Everything that is written in it."""
        written = [self.name, self.across.title, self.upright.title]
        written += [line.text for line in (*self.levels, *self.uprights)] + [
            band.text for band in self.bands
        ]
        written += [region.name for region in self.regions]
        written += [text for _, text in self.annotations]
        return [*written, *(text for piece in self.pieces for text in piece.texts)]
