"""The rule language on one screen: what one can say, with an example of each."""

from __future__ import annotations

from typing import Final

# What is said, and an example that can be judged on the ferry data; a test reads each of them.
SAYINGS: Final[dict[str, tuple[tuple[str, str], ...]]] = {
    "a number by itself": (
        ("positive, negative, zero, missing", "surplus negative"),
        ("below, at most, =, !=, at least, above", "cost above 30k"),
        ("between A and B", "on_time between 85% and 90%"),
    ),
    "among its peers": (
        ("highest, lowest", "passengers highest within waters"),
        ("top 3, bottom 10%, rank 2 to 4 from bottom", "top 3"),
        ("above average, at least 110% of median", "above average within waters"),
        ("outlier, outlier above", "cost outlier"),
        ("share of, running share of", "share of complaints at least 20%"),
    ),
    "from mark to mark": (
        ("rises, falls by 10%, falls 3 times", "passengers falls by 10%"),
        ("turns negative, changes sign", "surplus turns negative"),
        ("new high, new low", "passengers new high"),
        ("previous, change of", "change of surplus below -1000"),
    ),
    "where it stands, what it is called": (
        ("first, last 3, position 2 to 4", "last 3"),
        ("=, one of, starts with, contains", 'route one of "Brinewick", "Kelpwick"'),
        ("before, after, = a date", 'month after "2025-06"'),
    ),
    "together": (
        ("and, or, not, brackets, always", "not (missing or surplus zero) and in top 5"),
        ("+ - * / and average, median, total, ...", "cost above average + 2 * deviation"),
    ),
}


def screen() -> str:
    """All sayings with their examples, in columns."""
    wide = max(len(said) for sayings in SAYINGS.values() for said, _ in sayings)
    lines = []
    for title, sayings in SAYINGS.items():
        lines += [title, *(f"  {said:<{wide}}  {example}" for said, example in sayings), ""]
    lines.append("within COLUMN at a test's end compares only marks that share its value.")
    return "\n".join(lines)
