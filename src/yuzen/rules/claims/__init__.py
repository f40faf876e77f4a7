"""Claims: what a test says of its subject. One small class each; the language lists them all."""

from __future__ import annotations

from typing import TypeAlias

from yuzen.rules.claims.compare import Between, Compare, Missing, Sign
from yuzen.rules.claims.place import Place, Position
from yuzen.rules.claims.rank import End, Extreme, Outlier, Rank
from yuzen.rules.claims.sequence import ChangesSign, Moves, Record, Turns
from yuzen.rules.claims.text import OneOf, TextTest

Claim: TypeAlias = (
    Compare
    | Between
    | Sign
    | Missing
    | Extreme
    | End
    | Rank
    | Outlier
    | Moves
    | Turns
    | ChangesSign
    | Record
    | Place
    | Position
    | TextTest
    | OneOf
)

__all__ = [
    "Between",
    "ChangesSign",
    "Claim",
    "Compare",
    "End",
    "Extreme",
    "Missing",
    "Moves",
    "OneOf",
    "Outlier",
    "Place",
    "Position",
    "Rank",
    "Record",
    "Sign",
    "TextTest",
    "Turns",
]
