"""A ring of a page: slices that share out a whole, with their names and texts. Plain values."""

from yuzen.arrays import Bools, Codes, Floats
from yuzen.page.layer import MarkStyles
from yuzen.page.styled_texts import Label, StyledTexts
from yuzen.value import Value


class Ring(Value, eq=False):
    """Slices from twelve o'clock on, clockwise; all arrays are as long as the ring has slices.

    shares:  each one's part of the whole, from 0 to 1.
    names:   what each is called; labels: what is written after its name.
    flagged: slices that some rule colours; they keep their words when room is short.
    middle:  what stands in the middle: the whole, and what it is of.
    shorter: the whole written shorter, for where it has no room; '' where it is short.
    layout:  the file in `draw/kinds` that lays it out.
    name:    what stands over it, where there are several.
    of_chart: which of the chart's marks each slice is; the whole ring's rest is −1.
    note:    what is said in its place if there is nothing to share out.
    """

    shares: Floats
    styles: MarkStyles
    names: StyledTexts
    labels: tuple[Label, ...]
    flagged: Bools
    middle: tuple[str, str]
    of_chart: Codes
    layout: str = "ring"
    name: str = ""
    note: str = ""
    shorter: str = ""

    @property
    def texts(self) -> list[str]:
        """Everything that is written in it."""
        written = [text for label in self.labels for piece in label.pieces for text in piece.texts]
        return [self.name, *self.names.texts, *written, *self.middle]
