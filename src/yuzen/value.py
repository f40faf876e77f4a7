"""Values: frozen dataclasses that cost nothing until the first of their kind is made.

`dataclass` writes and compiles six methods for a class, which takes a millisecond. A call of the
command line loads some three hundred such classes, and makes objects of fifty of them.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from threading import RLock
from typing import Any, Final, Self, dataclass_transform

_UNUSED: Final[dict[type[Value], dict[str, bool]]] = {}  # classes without an object, their options
_COMPLETING: Final = RLock()  # one thread completes a class, and others wait for it


class _Fields:
    """The fields of a class as long as it is unused: asking for them completes it."""

    def __get__(self, instance: object, cls: type[Value]) -> Any:  # noqa: ANN401 - of dataclasses
        _complete(cls)
        return cls.__dict__["__dataclass_fields__"]


@dataclass_transform(frozen_default=True, field_specifiers=(field,))
class Value:
    """A base of frozen dataclasses; the keywords of a class are those of `dataclass`.

    >>> class Place(Value):
    ...     row: int
    ...     column: int = 0
    >>> Place(3)
    Place(row=3, column=0)
    """

    def __init_subclass__(cls, **options: bool) -> None:
        super().__init_subclass__()
        _UNUSED[cls] = options
        cls.__dataclass_fields__ = _Fields()  # type: ignore[attr-defined]  # what marks a dataclass

    def __new__(cls, *_: Any, **__: Any) -> Self:  # noqa: ANN401 - what `__init__` takes
        """An object, of a class that is complete; those out of a pickle begin here too."""
        if cls in _UNUSED:
            _complete(cls)
        return object.__new__(cls)


def _complete(cls: type[Value]) -> None:
    """Write the methods of a class, unless it has them."""
    with _COMPLETING:
        if cls in _UNUSED:
            dataclass(frozen=True, **_UNUSED[cls])(cls)
            del _UNUSED[cls]
