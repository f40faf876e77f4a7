"""Regular expressions that are compiled when they are first used.

Most calls use a few of them, and compiling all would take a twentieth of the time of a short call.
"""

import re
from typing import Any, AnyStr, cast


class _Uncompiled:
    """Stands for a pattern, whose methods and attributes it takes over when they are asked for."""

    def __init__(self, text: Any, flags: int) -> None:  # noqa: ANN401 - str or bytes
        self._source = text, flags

    def __getattr__(self, name: str) -> Any:  # noqa: ANN401 - whatever a pattern has
        value = getattr(re.compile(*self._source), name)
        # Kept, so that the next time it is found without a call of this method.
        setattr(self, name, value)
        return value


def regex(text: AnyStr, flags: int = 0) -> re.Pattern[AnyStr]:
    """A pattern of text or of bytes that is compiled when it is first used.

    >>> regex("[a-z]+").fullmatch("ferry") is not None
    True
    """
    return cast("re.Pattern[AnyStr]", _Uncompiled(text, flags))
