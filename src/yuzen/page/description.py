"""What a picture says to those who do not see it, and to whoever points at one of its marks."""

from collections.abc import Mapping, Sequence
from dataclasses import field

from yuzen.value import Value


class Description(Value):
    """The words that a file carries besides what is drawn.

    title:    what stands over the picture; text: the alternative text; language: its code.
    marks:    what each mark of the chart answers when it is pointed at; '' for none.
    layers:   the same of the marks of further layers, by the layers' names.
    """

    title: str = ""
    text: str = ""
    language: str = "en"
    marks: Sequence[str] = ()
    layers: Mapping[str, Sequence[str]] = field(default_factory=dict)

    def of_mark(self, layer: str, mark: int) -> str:
        """What a mark of the chart says, '' for nothing."""
        texts = self.layers.get(layer, self.marks)
        if 0 <= mark < len(texts):
            return texts[mark]
        return ""
