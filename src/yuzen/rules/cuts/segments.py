"""What cutting gives: pieces of lines, areas and bars, each with the rules that win there."""

from collections.abc import Mapping
from typing import TypeAlias

from yuzen.arrays import Codes, Floats
from yuzen.value import Value

PieceWinners: TypeAlias = Mapping[str, "Codes"]


class CutSegments(Value, eq=False):
    """Segments cut into pieces, one after the other, so that one rule wins along each piece.

    of:        the segment, shape (k,).
    low, high: from where to where, as parts of the segment from 0 to 1.
    winners:   for each effect that cuts the index of the rule that decides it, −1 for none.
    """

    of: Codes
    low: Floats
    high: Floats
    winners: PieceWinners

    def __len__(self) -> int:
        return len(self.of)


class AreaPieces(Value, eq=False):
    """Areas between a floor and a line, cut across as well: pieces with the curves that bound them.

    of, low, high: segments cut into stretches, shape (k,) each.
    at:            the stretch that a piece belongs to, shape (q,).
    lower, upper:  its bounds along the whole segment, as factors of 1, t, t², t³, shape (q, 4).
    winners:       as of stretches, for each piece.
    """

    of: Codes
    low: Floats
    high: Floats
    at: Codes
    lower: Floats
    upper: Floats
    winners: PieceWinners


class BarSlices(Value, eq=False):
    """Bars cut at values: pieces of marks, shape (q,) each; winners as of stretches.

    low, high:   the values between which a piece lies.
    first, last: from where to where it goes across its bar, from 0 to 1, as bins are cut there too.
    """

    mark: Codes
    low: Floats
    high: Floats
    first: Floats
    last: Floats
    winners: PieceWinners
