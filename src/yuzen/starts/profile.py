"""What is in rows: a value for each column, and what is said of all of them."""

from __future__ import annotations

import re
from dataclasses import field
from typing import Final, Literal, TypeAlias

import numpy as np

from yuzen.formats.periods import Unit
from yuzen.value import Value

ColumnKind: TypeAlias = Literal["words", "numbers", "dates", "nothing"]

# The words in names of columns by which a first brief tells what numbers are: in English, German,
# French and Spanish. They are matched with the words of a name, in any case: "Fare_per_km" has
# fare, per, km.
RATIOS: Final = frozenset(
    """
    age average avg degree delay density depth gpa grade height humidity index late length level
    margin mean median mpg pct per percent percentage price quote rate rating ratio score share
    size speed temp temperature wait waiting weight width wind
    alter anteil durchschnitt länge mittel preis pro prozent quote temperatur verspätung
    moyenne part prix retard taux température edad media porcentaje precio promedio tasa
    """.split()  # noqa: SIM905 - words are read best as words
)
TARGETS: Final = frozenset(
    "budget forecast goal limit plan planned quota target soll ziel objectif objetivo".split()  # noqa: SIM905
)
CODES: Final = frozenset(
    """
    code date day fid group hour id identifier idx individual key month nr number obs observation
    period phone pk postcode quarter rank respondent row rowid rownames subject uid uuid week
    weekday year zip jahr monat nummer plz quartal tag woche code année annee mois numéro semaine
    año mes número semana
    """.split()  # noqa: SIM905
)
YEAR_WORDS: Final = frozenset("year yr jahr année annee anno año jaar rok".split())  # noqa: SIM905
PLACES: Final = frozenset(["lat", "latitude", "lng", "lon", "long", "longitude"])
CLOSE: Final = 5.0  # times the smallest number that the largest is at most where they lie close
MOST_CLOSE: Final = 200.0  # larger decimals that lie close together are amounts of money
FEWEST_COUNTED: Final = 20  # rows whose numbers from 1 on count them, and are no amounts by chance
YEARS: Final = (1500, 2300)  # between which whole numbers of a column called year are years


class ColumnFacts(Value):
    """What a column holds.

    different: how many different values it has, the missing ones apart.
    least, most: the smallest and the largest number, or the first and the last date.
    negative:  how many numbers are below zero; whole: whether all numbers are whole.
    words:     the most frequent words with the count of their rows, most frequent first.
    unit:      of dates the shortest period that tells them apart; missing_periods: of those the
               ones without rows, by name.
    typed:     how the cells are written where they are not plain: percent, brackets, blanks, ...
    """

    name: str
    kind: ColumnKind
    rows: int
    missing: int = 0
    different: int = 0
    least: float | np.datetime64 | None = None
    most: float | np.datetime64 | None = None
    negative: int = 0
    whole: bool = False
    words: tuple[tuple[str, int], ...] = field(default=(), repr=False)
    unit: Unit | None = None
    missing_periods: tuple[str, ...] = ()
    typed: tuple[str, ...] = ()

    @property
    def name_words(self) -> frozenset[str]:
        """The words of the column's name, in small letters.

        >>> sorted(ColumnFacts("farePerKm_2", "numbers", 3).name_words)
        ['2', 'fare', 'km', 'per']
        """
        parted = re.sub(r"([a-z])([A-Z])", r"\1 \2", self.name)
        return frozenset(word for word in re.split(r"[\W_]+", parted.casefold()) if word)

    @property
    def title(self) -> str:
        """The name as a text has it: with blanks for underscores."""
        return " ".join(self.name.replace("_", " ").split())

    @property
    def is_year(self) -> bool:
        """Whether its whole numbers are years."""
        low, high = YEARS
        numbers = self.kind == "numbers" and self.whole and self.different > 0
        return numbers and bool(self.name_words & YEAR_WORDS) and self._between(low, high)

    @property
    def is_code(self) -> bool:
        """Whether its numbers only tell rows apart or places, so that they have no total."""
        if self.kind != "numbers":
            return False
        if not self.whole:
            return bool(self.name_words & PLACES)
        # A number for each row, one after the other, counts the rows.
        counted = (
            self.different == self.rows >= FEWEST_COUNTED
            and self._span == self.rows - 1
            and not self.missing
            and self.least in {0.0, 1.0}
        )
        return not self.name_words or counted or bool(self.name_words & (CODES | PLACES))

    @property
    def is_ratio(self) -> bool:
        """Whether its numbers have an average and no total: shares, prices, temperatures."""
        if self.kind != "numbers":
            return False
        decimals = not self.whole and (self._between(-1.0, 1.0) or self._lie_close)
        return decimals or "percent" in self.typed or bool(self.name_words & RATIOS)

    @property
    def _lie_close(self) -> bool:
        """Whether all numbers are above zero, and the largest is not many times the smallest."""
        if not isinstance(self.least, float) or not isinstance(self.most, float):
            return False
        return self.least > 0 and self.most <= min(CLOSE * self.least, MOST_CLOSE)

    @property
    def is_target(self) -> bool:
        """Whether its name says that it is what another column should reach."""
        return self.kind == "numbers" and bool(self.name_words & TARGETS)

    @property
    def is_flag(self) -> bool:
        """Whether its numbers are nothing but 0 and 1."""
        return self.kind == "numbers" and self.whole and self._between(0, 1)

    @property
    def _span(self) -> float:
        if isinstance(self.least, float) and isinstance(self.most, float):
            return self.most - self.least
        return float("nan")

    def _between(self, low: float, high: float) -> bool:
        """Whether all numbers are between two ends."""
        if not isinstance(self.least, float) or not isinstance(self.most, float):
            return False
        return low <= self.least and self.most <= high


class SideBySide(Value):
    """Columns side by side that are one column: the first and the last, and what they name."""

    first: str
    last: str
    count: int
    names: str
    numbers: str


class Profile(Value):
    """What is in rows.

    called:    what the rows are called: a file's name, or ''.
    more:      how many further columns there are, which nobody has looked at.
    remarks:   how the rows were read, where it could be meant otherwise.
    totals:    for a column of words, those of its values that are totals of the others.
    spellings: for a column of words, other spellings and the name that each of them means.
    beside:    columns side by side that become rows; None: there are none.
    """

    called: str
    rows: int
    columns: tuple[ColumnFacts, ...]
    remarks: tuple[str, ...] = ()
    totals: dict[str, tuple[str, ...]] = field(default_factory=dict)
    spellings: dict[str, dict[str, str]] = field(default_factory=dict)
    beside: SideBySide | None = None
    more: int = 0

    def column(self, name: str) -> ColumnFacts | None:
        """The column of a name; None: there is none."""
        return next((column for column in self.columns if column.name == name), None)

    def of_kind(self, kind: ColumnKind) -> list[ColumnFacts]:
        """The columns that hold words, numbers or dates."""
        return [column for column in self.columns if column.kind == kind]
