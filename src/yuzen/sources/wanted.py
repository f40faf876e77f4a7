"""Which columns of a source are wanted, and as what."""

from collections.abc import Iterable, Sequence

from yuzen.errors import make_error, suggestion
from yuzen.value import Value


class Wanted(Value):
    """The wanted columns; `numbers` only as numbers, `counted` only as present or missing.

    The others are names: how they are spelled is what they are. Of those that are `implied` it is
    only supposed that they hold numbers.
    """

    names: tuple[str, ...]
    numbers: frozenset[str] = frozenset()
    counted: frozenset[str] = frozenset()
    auto_totals: frozenset[str] = frozenset()


def column_name(written: str, column_names: Sequence[str], what: str) -> str:
    """The column that is meant: the same name, or the only one but for case."""
    near = [name for name in column_names if name.casefold() == written.casefold()]
    if written in column_names or len(near) == 1:
        if written in column_names:
            return written
        return near[0]
    hint = f"{suggestion(written, column_names)} There are {', '.join(column_names[:12])}."
    raise make_error(
        "brief-column",
        f"There is no column '{written}' for {what}.{hint}",
        key=("chart", what.rsplit(maxsplit=1)[-1]),
    )


def by_fold(names: Iterable[str]) -> dict[str, str]:
    """Names by what they are without regard to case."""
    return {name.casefold(): name for name in names}
