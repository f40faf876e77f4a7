"""Targets: what a rule acts on."""

from __future__ import annotations

from typing import Final

from yuzen.errors import require_type
from yuzen.value import Value

# Parts of a chart that have a name in the target: 'label.left', 'layer plan', 'column margin'.
HEADS: Final = {"label.": "label", "layer ": "layer", "column ": "column"}
DRAWN_PARTS: Final = frozenset({"mark", "line", "marker", "row", "layer", "column"})


class Target(Value):
    """What a rule acts on, read once from a brief's text.

    part: mark, line, marker, label, axis name, row, layer or column.
    name: of a layer, a column or a piece of the label; '' for none.

    >>> Target.parse("label.left"), str(Target.parse("layer on time")), str(Target("axis name"))
    (Target(part='label', name='left'), 'layer on time', 'axis name')
    """

    part: str
    name: str = ""

    @classmethod
    def parse(cls, text: str) -> Target:
        """The target that a text names; whether the chart has it is for others to say.

        Raises YuzenError (call-type) for what is no text.
        """
        require_type(text, str, 'Name a target by a text, such as "mark" or "label".')
        for head, part in HEADS.items():
            if text.startswith(head):
                return cls(part, text.removeprefix(head))
        return cls(text)

    def __str__(self) -> str:
        if not self.name:
            return self.part
        if self.part == "label":
            return f"label.{self.name}"
        return f"{self.part} {self.name}"

    @property
    def family(self) -> str:
        """The target with NAME in the place of a name, as the table of effects lists it.

        >>> Target("label", "left").family, Target("layer", "plan").family, Target("row").family
        ('label.NAME', 'layer NAME', 'row')
        """
        if self.name:
            return str(Target(self.part, "NAME"))
        return self.part

    @property
    def is_drawn(self) -> bool:
        """Whether it is something drawn; the other targets are texts."""
        return self.part in DRAWN_PARTS


MARK: Final = Target("mark")
LINE: Final = Target("line")
MARKER: Final = Target("marker")
LABEL: Final = Target("label")
AXIS_NAME: Final = Target("axis name")
ROW: Final = Target("row")
