"""The words of the language: a column with such a name is written in backticks.

Claims bring words of their own when they are defined; these are the ones that the grammar itself
has.
"""

import re
from collections.abc import Mapping
from typing import Final

# what can be a name without backticks; Python's own identifiers hold other signs too
NAME: Final = r"[^\W\d]\w*"

SUMMARIES: Final = (
    "average",
    "median",
    "total",
    "highest",
    "lowest",
    "deviation",
    "count",
    "overall",
)
DERIVED: Final = ("share", "running", "rank", "change", "previous", "distinct")
JOINTS: Final = ("or", "and", "not", "always", "is", "in", "within", "of", "to", "from", "by")

_RESERVED: Final = {*SUMMARIES, *DERIVED, *JOINTS}


def reserve(*words: str) -> None:
    """Take words into the language; signs are no words."""
    _RESERVED.update(word for word in words if re.fullmatch(NAME, word))


def reserved() -> frozenset[str]:
    """Every word that a bare name cannot be."""
    return frozenset(_RESERVED)


def is_reserved(word: str) -> bool:
    """Whether a word, in small letters, is one of the language."""
    return word in _RESERVED


def written(name: str) -> str:
    """A name as the language writes it: in backticks where it could be read as something else."""
    if is_bare(name):
        return name
    return "`" + name.replace("`", "``") + "`"


def is_bare(name: str) -> bool:
    """Whether a name can be written without backticks."""
    return re.fullmatch(NAME, name) is not None and name.casefold() not in _RESERVED


# Numbers as people say them, for corrections.
NUMBER_WORDS: Final[Mapping[str, int]] = {
    **{
        word: number
        for number, word in enumerate(
            ("one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten"), start=1
        )
    },
    **{
        word: number
        for number, word in enumerate(("second", "third", "fourth", "fifth", "sixth"), start=2)
    },
}
