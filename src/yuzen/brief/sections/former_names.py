"""Names that keys of a brief had once: they work, and check and Python report the new ones."""

import warnings
from collections.abc import Mapping
from typing import Any, Final

# By the section that a key is in, '' for the brief itself. A name is kept for a year at least.
FORMER_KEYS: Final[Mapping[str, Mapping[str, str]]] = {
    "": {"key": "key_place"},
    "chart": {"size": "point_size"},
}


def with_present_names(values: object, section: str) -> object:
    """The values of a section, former names of its keys exchanged for the present ones.

    A key that is there under both names keeps both, so that the former one is refused as unknown.
    """
    if not isinstance(values, Mapping):
        return values
    former = {
        old: new for old, new in FORMER_KEYS[section].items() if old in values and new not in values
    }
    return {former.get(name, name): value for name, value in values.items()} if former else values


def with_present_keywords(keywords: Mapping[str, Any]) -> dict[str, Any]:
    """The keywords of a call under their present names; a former one is warned of."""
    present = dict(keywords)
    for section, names in FORMER_KEYS.items():
        for old, new in names.items():
            # size is the picture's, as a table of width and height, and was the points' measure.
            if old in present and not (section == "chart" and isinstance(present[old], Mapping)):
                message = f"{old}= of yz.chart is called {new}= now."
                warnings.warn(message, DeprecationWarning, stacklevel=4)
                present[new] = present.pop(old)
    return present
