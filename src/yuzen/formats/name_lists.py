"""Some names as a sentence lists them."""

from collections.abc import Sequence


def listed(names: Sequence[str], most: int = 4) -> str:
    """Some names as a sentence lists them.

    >>> listed(["a", "b"]), listed(list("abcdef"))
    ('a and b', 'a, b, c and 3 more')
    >>> listed(["a, 2025", "b, 2026", "c, 2026"])
    'a, 2025; b, 2026 and c, 2026'
    """
    if len(names) <= most:
        shown = list(names)
    else:
        shown = [*names[: most - 1], f"{len(names) - most + 1} more"]
    if len(shown) == 1:
        return shown[0]
    # Names of several parts have commas of their own.
    between = "; " if any(", " in name for name in shown) else ", "
    return f"{between.join(shown[:-1])} and {shown[-1]}"
