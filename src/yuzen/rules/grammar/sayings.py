"""The rule language: what one can say, with an example of each."""

from collections.abc import Mapping
from typing import Final

from yuzen.rules.claims import CLAIMS

Saying = tuple[str, str]  # what is said, and an example that can be judged on the ferry data

# Quantities and joints, which are the grammar's own; what claims say, they say themselves.
QUANTITIES: Final[Mapping[str, tuple[Saying, ...]]] = {
    "among its peers": (
        ("above average, at least 110% of median", "above average within waters"),
        ("share of, running share of", "share of complaints at least 20%"),
    ),
    "from mark to mark": (
        ("previous, change of, on 3 months before", "change of surplus below -1000"),
        ("moving average over 3", "passengers below 90% of moving average over 3"),
    ),
    "together": (
        ("and, or, not, brackets, always", "not (missing or surplus zero) and in top 5"),
        ("+ - * / and average, median, total, ...", "cost above average + 2 * deviation"),
    ),
}


def sayings() -> dict[str, tuple[Saying, ...]]:
    """The phrases of the language with examples, by what they are about."""
    groups_of_sayings: dict[str, list[Saying]] = {}
    for claim in CLAIMS:
        groups_of_sayings.setdefault(claim.about, []).append((claim.listing, claim.example))
    for about, pairs in QUANTITIES.items():
        groups_of_sayings.setdefault(about, []).extend(pairs)
    order = ("a number by itself", "among its peers", "from mark to mark")
    return {
        about: tuple(groups_of_sayings[about])
        for about in dict.fromkeys([*order, *groups_of_sayings])
    }
