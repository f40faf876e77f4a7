"""The rules of a first chart: candidates, of which those are kept that say something about it."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import field, replace
from typing import Final

import numpy as np

from yuzen.arrays import Floats
from yuzen.rules.quantities.fields import Field
from yuzen.starts.choice import Choice, measured, periods_between
from yuzen.starts.dirt import free_name
from yuzen.starts.profile import TARGETS, ColumnFacts, Profile
from yuzen.value import Value

BALANCES: Final = frozenset(  # words of columns that are good above zero and bad below
    """
    balance change contribution difference gain income loss margin net profit result return
    returns surplus variance ergebnis gewinn saldo überschuss bénéfice résultat solde beneficio
    """.split()  # noqa: SIM905 - words are read best as words
)
MOST_FLAGGED: Final = 0.4  # of the marks: what more of them are is no exception
MOST_ON_LINE: Final = 0.2  # of the points of a line, each of which has its number
MOST_BELOW: Final = 0.6  # of the marks that are below zero or below a target
MOST_FEW: Final = 1 / 3  # of the marks are the few that make up most
FEWEST_FOR_FEW: Final = 6  # marks among which there are few
MOST_OF_ALL: Final = 0.5
FEW_ROWS: Final = 0.1  # of all, that lie beyond a limit
FALLS: Final = (0, 2, 5, 10, 20)  # percents on a year before, the first that few enough fall by
MOST_RULES: Final = 3
PLAIN_COLORS: Final = ("notice", "slate", "ink")  # of rules that are neither good nor bad
YEARLY: Final = {"day": 366, "week": 53, "month": 12, "quarter": 4}  # periods in a year


class FirstRule(Value):
    """A rule that may say something about a first chart.

    clause:     what the title says of it, with numbers in braces.
    measures:   the measures that it needs; parameters: the numbers.
    about:      the measure that it is about, whose column of a table it colours; '': the value.
    most:       the share of the marks that it may flag.
    why:        what a reader is told of the choice.
    group:      of several rules of one group the first that fits is taken.
    """

    name: str
    when: str
    key: str
    color: str
    clause: str
    why: str
    group: str
    measures: Mapping[str, str] = field(default_factory=dict)
    parameters: Mapping[str, float] = field(default_factory=dict)
    part: bool = False
    about: str = ""
    most: float = MOST_FLAGGED


def candidates(profile: Profile, choice: Choice) -> Iterator[FirstRule]:
    """Rules that may say something, the most telling first."""
    if choice.bins is not None:
        return
    yield from _below_zero(profile, choice)
    yield from _below_target(profile, choice)
    if choice.in_time:
        yield from _falls(choice)


def _below_zero(profile: Profile, choice: Choice) -> Iterator[FirstRule]:
    """The value below zero, else the first column of amounts that is called a balance."""
    numbers = [c for c in profile.of_kind("numbers") if c.negative and not c.is_code]
    balances = [c for c in numbers if c.name_words & BALANCES]
    # What is drawn comes before what is not.
    ordered = [c for c in numbers if c is choice.of] + balances
    for column in ordered[:1]:
        name, measures = measured(column, profile)
        yield FirstRule(
            "below zero",
            f"{Field(name)} negative",
            f"{sentence(in_text(column))} below zero",
            "adverse" if column.name_words & BALANCES else "notice",
            in_text(column) + ' is below zero in {count "below zero":.0f} of {count:.0f}',
            f"{column.name} has numbers below zero",
            "zero",
            measures,
            about=name,
            most=_most_below(choice, column),
        )


def _below_target(profile: Profile, choice: Choice) -> Iterator[FirstRule]:
    """A column of numbers below the column that its name says is its target."""
    numbers = [c for c in profile.of_kind("numbers") if not c.is_code]
    plain = [c for c in numbers if not c.is_target]
    for target in [c for c in numbers if c.is_target]:
        about = target.name_words - TARGETS
        # target_passengers is the target of passengers, and target alone is that of the value.
        meant = [c for c in plain if about and c.name_words == about]
        if not about and choice.of is not None:
            meant = [choice.of]
        for column in meant:
            name, measures = measured(column, profile)
            goal, further = measured(target, profile)
            called = f"{column.title} below target"
            # A total is compared with a total, an average with an average.
            if bool(measures) != bool(further):
                continue
            yield FirstRule(
                called,
                f"{Field(name)} below {Field(goal)}",
                f"{sentence(in_text(column))} below {in_text(target)}",
                "adverse",
                f"{in_text(column)} is below {in_text(target)} in"
                f' {{count "{_name_in_text(called)}":.0f}} of {{count:.0f}}',
                f"{target.name} is what {column.name} should reach",
                "target",
                {**measures, **further},
                about=name,
                most=_most_below(choice, column),
            )


def _falls(choice: Choice) -> Iterator[FirstRule]:
    """A fall on a year before, or where the marks are years, on the year before."""
    category = choice.category
    yearly = choice.grain == "year" or category.is_year
    if not yearly and (
        choice.grain is None or periods_between(category, choice.grain) <= YEARLY[choice.grain]
    ):
        return
    title = in_text(choice.of) if choice.of is not None else "the count of rows"
    periods = f"{choice.grain or 'year'}s"
    since = "the year before" if yearly else "a year before"
    # The weakest condition that few enough marks fulfil; `telling` takes the first that fits.
    for percent in FALLS:
        by = f" by {percent}%" if percent else ""
        more = " or more" if percent else ""
        called = f"down{by}"
        yield FirstRule(
            called,
            f"falls{by}" if yearly else f"falls{by} on a year before",
            f"Down{by}{more} on {since}",
            "notice",
            f"{title} fell{by}{more} on {since}"
            f' in {{count "{called}":.0f}} of {{count:.0f}} {periods}',
            f"the dates reach back further, so that the {periods} can be compared with {since}",
            "year",
            most=MOST_ON_LINE if choice.kind == "line" else MOST_FLAGGED,
        )


def _most_below(choice: Choice, column: ColumnFacts) -> float:
    """The share of the marks that may be below something.

    A line is cut where its own value is below, and has one number for each stretch.
    """
    if choice.kind == "line" and column is not choice.of:
        return MOST_ON_LINE
    return MOST_BELOW


def few_that_make_up_most(values: Floats, choice: Choice, profile: Profile) -> FirstRule | None:
    """The largest marks that together make up half of all; None where they are not few.

    values: the numbers of the marks that are items, shape (n,).
    """
    # From the largest on, so that the running total grows fastest.
    known = np.sort(values[np.isfinite(values)])[::-1]
    whole = not choice.in_time and choice.adds_up and choice.category.kind == "words"
    if not whole or len(known) < FEWEST_FOR_FEW or known[-1] < 0 or known.sum() <= 0:
        return None
    count = int(np.searchsorted(np.cumsum(known), MOST_OF_ALL * known.sum())) + 1
    if not 1 < count <= MOST_FEW * len(known):
        return None
    title = in_text(choice.of) if choice.of is not None else "the rows"
    called = free_name("n", profile.columns)
    return FirstRule(
        "largest",
        f"top {called}",
        f"Top {{{called}}} by {title}",
        "notice",
        f'the top {{{called}}} make up {{share "largest":.0%}} of {title}',
        f"{count} of {len(known)} make up half of {title}",
        "few",
        parameters={called: count},
        most=1.0,
    )


def ends(choice: Choice, count: int) -> list[FirstRule]:
    """The highest and the lowest mark, where nothing else says more."""
    if choice.bins is not None:
        return []
    title = measured_in_text(choice)
    rules = [
        FirstRule(
            "highest",
            "highest",
            "Highest",
            "notice",
            f'{title} is highest in {{names "highest"}}',
            "the highest is what a reader looks for first",
            "highest",
            most=1 / 2,
        ),
        FirstRule(
            "lowest",
            "lowest",
            "Lowest",
            "slate",
            'lowest in {names "lowest"}',
            "and the lowest is the other end",
            "lowest",
            most=1 / 2,
        ),
    ]
    return rules if count > 2 else rules[:1]


def beyond(profile: Profile, column: ColumnFacts, edges: Floats, counts: Floats) -> FirstRule:
    """Of bins, the part from the first edge on beyond which a tenth of the rows lie, or fewer.

    edges: the lower edges of the bins, counts: how many rows lie in each, both of shape (n,).
    """
    order = np.argsort(edges)
    # Rows from each edge on, the last edge first.
    further = np.cumsum(np.nan_to_num(counts[order])[::-1])
    few = np.flatnonzero(further <= FEW_ROWS * further[-1])
    limit = float(edges[order][::-1][few[-1] if len(few) else 0])
    name, called = Field(column.name), free_name("limit", profile.columns)
    return FirstRule(
        "beyond",
        f"{name} at least {called}",
        f"{sentence(in_text(column))} at least {{{called}}}",
        "notice",
        f'{{share "beyond":.0%}} of rows have {in_text(column)} of at least {{{called}}}',
        "a tenth of the rows or less lie beyond",
        "beyond",
        parameters={called: limit},
        part=True,
        most=1.0,
    )


def telling(
    rules: Sequence[FirstRule], flagged: Sequence[frozenset[int]], count: int
) -> list[FirstRule]:
    """The rules that flag some of the marks and not too many, one of each group.

    flagged: for each rule the places of the marks that it holds for; count: how many marks there
    are.
    """
    kept: list[FirstRule] = []
    covered: frozenset[int] = frozenset()
    for rule, places in zip(rules, flagged, strict=True):
        known = any(other.group == rule.group for other in kept)
        # One of whose marks all are flagged already would never be seen.
        if known or not places or places <= covered or len(places) > max(1, rule.most * count):
            continue
        kept.append(rule)
        covered |= places
    return kept[:MOST_RULES]


def with_distinct_colors(rules: Sequence[FirstRule]) -> list[FirstRule]:
    """The rules with colours that differ: those that are neither good nor bad take others each."""
    plain = iter(PLAIN_COLORS)
    return [rule if rule.color == "adverse" else replace(rule, color=next(plain)) for rule in rules]


def measured_in_text(choice: Choice) -> str:
    """What the numbers of a chart are, in a text."""
    if choice.of is None:
        return _without_slots(choice.value)
    return f"{'' if choice.adds_up else 'average '}{in_text(choice.of)}"


def in_text(column: ColumnFacts) -> str:
    """The name of a column as a text with numbers has it, whose braces are numbers."""
    return _without_slots(column.title)


def _without_slots(text: str) -> str:
    """A text whose braces are plain ones."""
    return text.replace("{", "{{").replace("}", "}}")


def _name_in_text(name: str) -> str:
    """The name of a rule inside the braces of a text."""
    return name.replace('"', '""')


def sentence(text: str) -> str:
    """A text that begins with a capital letter.

    >>> sentence("on time"), sentence('{names "loss"} lose')
    ('On time', '{names "loss"} lose')
    """
    return text[:1].upper() + text[1:]
