"""Limits of a caller: how many rows, marks, pixels and seconds the calls inside may take."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from time import monotonic
from typing import Final

from yuzen.errors import make_error
from yuzen.value import Value


class _Limits(Value):
    """The largest counts by what is counted, and the time after which nothing more is begun."""

    counts: dict[str, float]
    deadline: float | None
    seconds: float | None


_CODES: Final = {"rows": "limit-rows", "marks": "limit-marks", "pixels": "limit-pixels"}
_NONE: Final = _Limits({}, None, None)
# Of the context, so that one request of a service does not limit another one.
_limits: Final[ContextVar[_Limits]] = ContextVar("yuzen_limits", default=_NONE)


@contextmanager
def limits(
    *,
    rows: int | None = None,
    marks: int | None = None,
    pixels: int | None = None,
    seconds: float | None = None,
) -> Iterator[None]:
    """Limit all calls inside, in this thread or task; None: no limit besides those of Yuzen.

    rows:    of the table that a chart is made of, after it is read or grouped where it is.
    marks:   of a chart.
    pixels:  of a picture, its width times its height.
    seconds: of all calls inside together. It is looked at before each stage of the work begins and
             after it ends; a stage is as long as rows, marks and pixels let it be.
    Raises YuzenError (limit-…) inside, where a limit is reached.

    >>> import yuzen as yz
    >>> rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
    >>> with yz.limits(rows=1):
    ...     yz.chart(rows, category="route", value="surplus").flags()
    Traceback (most recent call last):
    ...
    yuzen.errors.YuzenError: There are 2 rows, and 1 is the limit here. Keep fewer of them.
    """
    counts = {"rows": rows, "marks": marks, "pixels": pixels}
    for name, limit in {**counts, "seconds": seconds}.items():
        if limit is not None and not (isinstance(limit, int | float) and limit > 0):
            raise make_error("call-limits", f"{name} takes a number above zero, or None.")
    given = {name: float(limit) for name, limit in counts.items() if limit is not None}
    # The clock that nobody sets back.
    deadline = None if seconds is None else monotonic() + seconds
    token = _limits.set(_Limits(given, deadline, seconds))
    try:
        yield
    finally:
        _limits.reset(token)


def refuse_beyond(what: str, count: int) -> None:
    """Raise YuzenError (limit-…) for more rows, marks or pixels than the caller allows."""
    limit = _limits.get().counts.get(what)
    if limit is not None and count > limit:
        message = f"There are {count:,} {what}, and {limit:,.0f} is the limit here."
        remedy = "Make the picture smaller." if what == "pixels" else "Keep fewer of them."
        raise make_error(_CODES[what], f"{message} {remedy}")


def refuse_late() -> None:
    """Raise YuzenError (limit-seconds) where the time that the caller allows is over."""
    current = _limits.get()
    if current.deadline is not None and monotonic() > current.deadline:
        message = f"The work takes longer than the {current.seconds:g} seconds that are the limit."
        raise make_error("limit-seconds", f"{message} Keep fewer rows, or draw fewer marks.")
