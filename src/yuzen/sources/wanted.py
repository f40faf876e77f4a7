"""Which columns of a source are asked for, and as what."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from yuzen.errors import make_error, suggestion

if TYPE_CHECKING:
    from collections.abc import Iterable, Sequence


@dataclass(frozen=True)
class Wanted:
    """The columns that are asked for; `numbers` only as numbers, `counted` only as being there or not.

    The others are names: how they are spelled is what they are. Of those that are `implied` it is
    only supposed that they hold numbers.
    """

    names: tuple[str, ...]
    numbers: frozenset[str] = frozenset()
    counted: frozenset[str] = frozenset()
    implied: frozenset[str] = frozenset()


def column_name(said: str, offered: Sequence[str], what: str) -> str:
    """The column that is meant: the same name, or the only one but for case."""
    near = [name for name in offered if name.casefold() == said.casefold()]
    if said in offered or len(near) == 1:
        if said in offered:
            return said
        return near[0]
    hint = suggestion(said, offered) or f" There are {', '.join(offered[:12])}."
    raise make_error(
        "data-column",
        f"There is no column '{said}' for {what}.{hint}",
        key=("chart", what.rsplit(maxsplit=1)[-1]),
    )


def by_fold(names: Iterable[str]) -> dict[str, str]:
    """Names by what they are without regard to case."""
    return {name.casefold(): name for name in names}
