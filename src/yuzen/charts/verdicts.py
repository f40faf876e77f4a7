"""What rules say of marks that Yuzen does not draw: flags, reasons, colours and arrays."""

from __future__ import annotations

from dataclasses import field
from typing import TYPE_CHECKING

from numpy.typing import NDArray

from yuzen.arrays import Codes, Floats, Truth
from yuzen.compose.judged_chart import JudgedChart
from yuzen.explain.flags import flag_columns
from yuzen.explain.why import Why, why
from yuzen.rules.target import Target
from yuzen.value import Value

if TYPE_CHECKING:
    import numpy as np
    import pandas as pd


class Verdicts(Value, eq=False):
    """The verdict of rules on marks, as tables, sentences and arrays in the order of the marks.

    >>> import yuzen as yz
    >>> rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
    >>> loss = yz.rule("negative", color="adverse")
    >>> told = yz.judge(rows, loss, category="route", value="surplus")
    >>> told.colors().tolist()
    ['#C63E2F', '#C9CCD0']
    """

    judged: JudgedChart = field(repr=False)

    def __len__(self) -> int:
        """How many marks there are."""
        return len(self.judged.marks)

    def __repr__(self) -> str:
        marks, rules = len(self), len(self.rules)
        return f"<{type(self).__name__} of {marks:,} marks, rules: {rules}>"

    def flags(self) -> pd.DataFrame:
        """One row for each mark and target: numbers, winning rule, colour and more.

        >>> import yuzen as yz
        >>> rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
        >>> loss = yz.rule("negative", color="adverse")
        >>> yz.judge(rows, loss, category="route", value="surplus").flags()["role"].tolist()
        ['adverse', 'quiet']
        """
        from yuzen.sources.frames import frame_from  # noqa: PLC0415 - loads pandas

        return frame_from(flag_columns(self.judged, {}))

    def why(self, *items: object) -> Why:
        """Why each flagged mark, or each named one, has its colour; `str()` of it is sentences.

        Raises YuzenError (call-item) for a name that no mark has.

        >>> import yuzen as yz
        >>> rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
        >>> loss = yz.rule("negative", color="adverse")
        >>> print(yz.judge(rows, loss, category="route", value="surplus").why())
        Brinewick  −300 surplus  (1 row)
          bar  adverse (#C63E2F)  rule 1 "negative": surplus −300 is negative
        <BLANKLINE>
        1 more: no rule holds.
        """
        judged = self.judged
        return why(items, judged.context, judged.verdict, judged.design.noun)

    @property
    def rules(self) -> tuple[str, ...]:
        """The rules' names in the order that decides."""
        return tuple(rule.name for rule in self.judged.verdict.rules)

    @property
    def names(self) -> list[str]:
        """What each mark is called, shape (n,)."""
        return self.judged.marks.names()

    @property
    def numbers(self) -> Floats:
        """Each mark's number, shape (n,), NaN where it is missing."""
        return self.judged.context.values  # noqa: PD011 - no frame of pandas

    @property
    def truths(self) -> Truth:
        """What each rule says of each mark: 1 true, 0 unknown, −1 false; int8, shape (rules, n)."""
        return self.judged.verdict.whole.truths

    def winners(self, target: str = "mark", effect: str = "color") -> Codes:
        """Index of the rule that decides an effect on a target, −1 for none, shape (n,).

        >>> import yuzen as yz
        >>> rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
        >>> loss = yz.rule("negative", color="adverse")
        >>> yz.judge(rows, loss, category="route", value="surplus").winners().tolist()
        [0, -1]
        """
        return self.judged.verdict.whole.winner(Target.parse(target), effect)

    def colors(self, target: str = "mark") -> NDArray[np.str_]:
        """The colour of each mark as '#RRGGBB', shape (n,); the quiet one where no rule holds.

        >>> import yuzen as yz
        >>> rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
        >>> loss = yz.rule("negative", color="adverse")
        >>> yz.judge(rows, loss, category="route", value="surplus").colors().tolist()
        ['#C63E2F', '#C9CCD0']
        """
        return self.judged.verdict.hex_words(Target.parse(target))
