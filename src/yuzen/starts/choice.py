"""What a first chart shows: the rules by which category, value, kind and grain are chosen.

docs/explain/start.md states the rules in the order in which they are tried here.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from dataclasses import field
from typing import Final, TypeAlias

import numpy as np

from yuzen.brief.kinds import KINDS
from yuzen.errors import make_error, suggestion
from yuzen.formats.name_lists import listed
from yuzen.formats.periods import UNITS, Grain, Unit
from yuzen.rules.claims.text import quoted
from yuzen.rules.quantities.fields import Field
from yuzen.starts.dirt import free_name
from yuzen.starts.profile import ColumnFacts, Profile
from yuzen.value import Value

FEWEST_NAMES: Final = 3  # with which words come before dates
MOST_NAMES: Final = 40  # that a chart shows whole
SHOWN_NAMES: Final = 20  # of more than that
MOST_UPRIGHT: Final = 10  # names that stand side by side under columns
FEWEST_DATES: Final = 6  # with which dates come before two words
MOST_CODES: Final = 12  # different whole numbers that are names
LONGEST_NAME: Final = 150  # letters of a column's name
LONG_WORDS: Final = 40  # letters beyond which words are sentences
MOST_MISSING: Final = 0.5  # of a column that is used
MOST_PERIODS: Final = 60  # marks along dates
MOST_COLUMNS: Final = 24  # periods that are columns; more are a line
LATEST: Final = 12  # months that a chart of names shows
BINS: Final = 12
TABLE_COLUMNS: Final = 5

Reason: TypeAlias = tuple[str, str]


class Wish(Value):
    """What a call sets of a first chart; None: it is chosen."""

    category: str | None = None
    value: str | None = None
    kind: str | None = None


class Choice(Value):
    """What a first chart shows, and why.

    value:    as the chart names it: a column, or a measure of `measures`.
    of:       the column that the value is made of; None: rows are counted, or somebody said it.
    bins:     the width of the bins that numbers become; None: they are not cut.
    keep:     conditions on rows that all have to hold.
    reasons:  pairs of a key and why it is so.
    """

    kind: str
    category: ColumnFacts
    value: str
    of: ColumnFacts | None
    measures: dict[str, str] = field(default_factory=dict)
    grain: Unit | None = None
    bins: float | None = None
    keep: tuple[str, ...] = ()
    order: str | None = None
    limit: int | None = None
    rest: str | None = None
    across: str | None = None
    columns: tuple[str, ...] = ()
    reasons: tuple[Reason, ...] = ()

    @property
    def in_time(self) -> bool:
        """Whether the marks are periods, or years."""
        return self.category.kind == "dates" or self.category.is_year

    @property
    def adds_up(self) -> bool:
        """Whether the value has a total over marks."""
        return self.of is None or not (self.of.is_ratio or self.of.is_code)


def chosen(profile: Profile, wish: Wish) -> Choice:
    """The first chart of rows. Raises YuzenError for a wish that the rows cannot fulfil."""
    if wish.kind is not None and wish.kind not in KINDS:
        hint = suggestion(wish.kind, KINDS)
        message = f"'{wish.kind[:40]}' is no kind of chart.{hint} There are {', '.join(KINDS)}."
        raise make_error("call-kind", message)
    of, why_value = _value(profile, wish)
    category, why_category = _category(profile, wish, of)
    named = [name for name in (wish.value,) if name is not None and of is None]
    measures: dict[str, str] = {}
    value = named[0] if named else "count of rows"
    if of is not None:
        value, measures = measured(of, profile)
    base = Choice("bar", category, value, of, measures)
    return _shown(base, profile, wish, [("value", why_value), ("category", why_category)])


def measured(column: ColumnFacts, profile: Profile) -> tuple[str, dict[str, str]]:
    """The name of a column's number at a mark, and the measure that it needs: an average, or none.

    Without a measure a column is totalled.
    """
    if not column.is_ratio and not column.is_code:
        return column.name, {}
    plain = re.sub(r"\W+", "_", column.name).strip("_")
    name = free_name(f"average_{plain}", profile.columns)
    return name, {name: f"average of {Field(column.name)}"}


def _usable(columns: Iterable[ColumnFacts]) -> list[ColumnFacts]:
    """Columns that have values in most rows, and names that a brief can hold."""
    return [
        column
        for column in columns
        if column.missing <= MOST_MISSING * column.rows and len(column.name) <= LONGEST_NAME
    ]


def _value(profile: Profile, wish: Wish) -> tuple[ColumnFacts | None, str]:
    """The column of the value and why; None: rows are counted, or the wish is a formula."""
    if wish.value is not None:
        named = _named(profile, wish.value)
        if named is not None and named.kind != "numbers":
            message = f"{named.name} holds {named.kind}, and a value is a number."
            remedy = f"Count them: --value 'count of distinct {Field(named.name)}'."
            raise make_error("call-value", f"{message} {remedy}")
        return named, "as you set it"
    numbers = [
        column
        for column in _usable(profile.of_kind("numbers"))
        if not (column.is_code or column.is_year or column.is_flag) and column.name != wish.category
    ]
    if profile.beside is not None:
        # Every other number stands in several rows now, and would be counted several times.
        numbers = [column for column in numbers if column.name == profile.beside.numbers]
    # What is the same in all rows says less than what differs.
    numbers = [column for column in numbers if column.different > 1] or numbers
    amounts = [c for c in numbers if not c.is_ratio and not c.is_target]
    # A few whole numbers on many rows are grades or sizes of groups before they are amounts.
    several = [c for c in amounts if not (c.whole and c.different <= MOST_CODES < c.rows / 3)]
    if amounts:
        return (several or amounts)[0], "the first column of numbers that add up"
    others = [c for c in numbers if not c.is_target] or numbers
    if others:
        return others[0], "no column adds up, so it is the average of the first column of numbers"
    return None, "no column holds amounts, so rows are counted"


def _named(profile: Profile, name: str) -> ColumnFacts | None:
    """The column of a name, in any case; None for what is no column, such as a formula."""
    exact = profile.column(name)
    folded = [c for c in profile.columns if c.name.casefold() == name.casefold()]
    if exact is not None or not folded:
        return exact
    return folded[0]


def _category(  # noqa: PLR0911 - a rule each
    profile: Profile, wish: Wish, of: ColumnFacts | None
) -> tuple[ColumnFacts, str]:
    """The column whose values are the marks, and why."""
    if wish.category is not None:
        named = _named(profile, wish.category)
        if named is None:
            known = [column.name for column in profile.columns]
            hint = f"{suggestion(wish.category, known)} There are {listed(known, 12)}."
            raise make_error("call-category", f"There is no column '{wish.category}'.{hint}")
        return named, "as you set it"
    words = [
        column
        for column in _usable(profile.of_kind("words"))
        if _mean_length(column) <= LONG_WORDS and column.different > 1
    ]
    few = [column for column in words if column.different <= MOST_NAMES]
    names = [column for column in few if column.different >= FEWEST_NAMES]
    dates = [column for column in _usable(profile.of_kind("dates")) if column.different > 1]
    years = [column for column in profile.columns if column.is_year and column.different > 1]
    # A line along names would join what has no order.
    if wish.kind in {"line", "area"} and (dates or years):
        return (dates or years)[
            0
        ], f"{'an' if wish.kind == 'area' else 'a'} {wish.kind} runs along dates"
    # The finest division that can still be read says most.
    if names:
        most = max(names, key=lambda column: column.different)
        return most, f"the column of words with the most different values up to {MOST_NAMES}"
    several = [column for column in (*dates, *years) if column.different >= FEWEST_DATES]
    if several:
        return several[0], "no column of words names a few things, so it is the dates"
    if few:
        return few[0], "the column of words with a few different values"
    if words:
        return words[0], f"the first column of words; it has {words[0].different:,} values"
    return _numbers_as_names(profile, of)


def _numbers_as_names(profile: Profile, of: ColumnFacts | None) -> tuple[ColumnFacts, str]:
    """A column of numbers whose values, or bins of them, are the marks."""
    numbers = _usable(profile.of_kind("numbers"))
    codes = [
        column
        for column in numbers
        if column.whole and 2 < column.different <= MOST_CODES and column is not of
    ]
    if codes:
        return codes[0], "no column holds words or dates, so it is whole numbers with few values"
    if of is not None:
        return of, "no column names anything, so the marks are bins of the numbers"
    if dates := profile.of_kind("dates"):
        return dates[0], "the only dates"
    if not profile.columns or profile.columns[0].kind == "nothing":
        raise make_error("data-rows", "No column holds anything that a chart could show.")
    return profile.columns[0], "the first column"


def _mean_length(column: ColumnFacts) -> float:
    return float(np.mean([len(word) for word, _ in column.words])) if column.words else 0.0


def _shown(base: Choice, profile: Profile, wish: Wish, reasons: list[Reason]) -> Choice:
    """The choice with its kind, and what follows from it."""
    category, of = base.category, base.of
    # One column cannot be both the names and the numbers.
    cut = category is of or _is_many(category)
    binned = category.kind == "numbers" and not category.is_year and cut
    grain = _grain(category) if category.kind == "dates" else None
    kind, why_kind = _kind(base, grain, wish, binned=binned)
    reasons.append(("kind", why_kind))
    if grain is not None:
        count = periods_between(category, grain)
        reasons.append(("grain", f"{count:,} {grain}s from the first date to the last"))
    value, measures = base.value, base.measures
    if binned:
        value, measures = "count of rows", {}
        reasons = [pair for pair in reasons if pair[0] != "value"]
        reasons.append(("value", "how many rows are in each bin"))
    keep, why_keep = _keep(profile, category)
    reasons += why_keep
    # What is gathered is a total, which averages and losses do not have.
    whole = of is not None and (of.negative > 0 or not base.adds_up)
    upright = kind in {"column", "bridge"}  # whose names stand side by side
    most, shown = (MOST_UPRIGHT, MOST_UPRIGHT) if upright else (MOST_NAMES, SHOWN_NAMES)
    many = category.kind == "words" and category.different > most and kind != "scatter"
    if many:
        reasons.append(("limit", f"{category.different:,} names are too many for one chart"))
    names = category.kind == "words" and kind not in {"bridge", "scatter"}
    return Choice(
        kind,
        category,
        value,
        None if binned else of,
        measures,
        grain,
        bin_width(category) if binned else None,
        keep,
        "largest first" if names else None,
        shown if many else None,
        "All others" if many and not whole and kind != "table" else None,
        _across(profile, base) if kind == "scatter" else None,
        _columns(profile, base) if kind == "table" else (),
        tuple(reasons),
    )


def bin_width(column: ColumnFacts) -> float:
    """The width of about twelve bins, 1, 2 or 5 times a power of ten.

    >>> bin_width(ColumnFacts("fare", "numbers", 9, least=3.0, most=260.0))
    20.0
    """
    assert isinstance(column.least, float) and isinstance(column.most, float)  # noqa: S101, PT018 - of numbers
    rough = (column.most - column.least) / BINS or 1.0
    power = 10.0 ** np.floor(np.log10(rough))
    steps = [step for step in (1, 2, 5, 10) if step * power >= 0.75 * rough]
    width = float(steps[0] * power)
    return max(width, 1.0) if column.whole else float(f"{width:.12g}")


def _is_many(column: ColumnFacts) -> bool:
    return not column.whole or column.different > MOST_CODES


def _kind(  # noqa: PLR0911 - a rule each
    base: Choice, grain: Unit | None, wish: Wish, *, binned: bool
) -> tuple[str, str]:
    """How the marks are drawn, and why."""
    if wish.kind is not None:
        return wish.kind, "as you set it"
    if binned:
        return "column", "bins of numbers are columns side by side"
    if not base.in_time:
        if base.category.kind == "words":
            return "bar", "names are read best beside horizontal bars"
        return "column", "a column for each number, in their order"
    many = (
        periods_between(base.category, grain) > MOST_COLUMNS
        if grain is not None
        else base.category.different > MOST_COLUMNS
    )
    if many:
        return "line", f"more than {MOST_COLUMNS} periods are a line"
    if not base.adds_up:
        return "line", "an average along dates is a line, as its scale need not begin at zero"
    return "column", f"up to {MOST_COLUMNS} periods are columns"


def periods_between(column: ColumnFacts, unit: Unit) -> int:
    """How many periods of a unit lie from the first date of a column to the last."""
    ends = np.array([column.least, column.most], dtype="datetime64[s]")
    first, last = Grain(unit).numbers(ends)
    return int(last - first) + 1


def _grain(column: ColumnFacts) -> Unit:
    """The shortest period that the dates have and that makes no more than 60 marks."""
    # Shorter periods than the dates have would leave gaps between them.
    shortest = UNITS.index(column.unit or "day")
    for unit in UNITS[shortest:]:
        if periods_between(column, unit) <= MOST_PERIODS:
            return unit
    return "year"


def _keep(profile: Profile, category: ColumnFacts) -> tuple[tuple[str, ...], list[Reason]]:
    """The conditions on rows, and why: totals are left out, and of names the latest months used."""
    keep: list[str] = []
    reasons: list[Reason] = []
    for name, totals in profile.totals.items():
        if len(totals) == 1:
            keep.append(f"{Field(name)} != {quoted(totals[0])}")
        else:
            keep.append(f"not ({Field(name)} one of {', '.join(map(quoted, totals))})")
        reasons.append(("keep", f"{listed(list(totals))} in {name} would be counted twice"))
    if category.kind == "words":
        for column in profile.of_kind("dates"):
            if periods_between(column, "month") > LATEST:
                # Whole years, so that no season weighs more than another.
                keep.append(f"{Field(column.name)} in last {LATEST} months")
                reasons.append(("keep", f"the latest year of {column.name}"))
                break
        else:
            for column in [c for c in profile.columns if c.is_year and c.different > 1]:
                keep.append(f"{Field(column.name)} = {column.most:.0f}")
                reasons.append(("keep", f"the latest {column.name}"))
                break
    return tuple(keep), reasons


def _across(profile: Profile, base: Choice) -> str | None:
    """The measure of a scatter's other axis: the next column of numbers."""
    others = [
        column
        for column in _usable(profile.of_kind("numbers"))
        if column is not base.of and not column.is_code and not column.is_year
    ]
    if not others:
        message = "A scatter needs two columns of numbers, and there is one."
        raise make_error("call-kind", f"{message} Choose another kind.")
    return others[0].name


def _columns(profile: Profile, base: Choice) -> tuple[str, ...]:
    """The measures of a table: the value, and the next columns that add up."""
    others = [
        column.name
        for column in _usable(profile.of_kind("numbers"))
        if not (column.is_code or column.is_year or column.is_ratio or column.is_flag)
        and column is not base.of
    ]
    return (base.value, *others[: TABLE_COLUMNS - 1])


def other_columns(profile: Profile, kind: str, used: str) -> Sequence[str]:
    """The columns of a kind besides the one that is used."""
    return [c.name for c in profile.columns if c.kind == kind and c.name != used]
