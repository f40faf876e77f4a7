"""The axis of dates or numbers: few texts, unrotated, each telling only what is new."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

import numpy as np

from yuzen.rules.marks import shown, unit_of

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator

    from yuzen.draw.pen import Pen
    from yuzen.rules.arrays import Codes, Dates, Floats

MONTHS: Final = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")
APART = 14  # pixels between texts
LEAST_ROOM = 12  # pixels for each text; with less there is no use in trying
YEARS: Final = (2, 5, 10, 20, 50, 100, 200, 500, 1000)


@dataclass(frozen=True, eq=False)
class Ticks:
    """Which slots have a text, the text, and below it what it belongs to, '' where nothing is new."""

    slots: Codes
    upper: tuple[str, ...]
    lower: tuple[str, ...]


@dataclass(frozen=True)
class Step:
    """One way to choose texts: at the first slot of each period.

    period: a whole number for each date.  text: what the slot is called.  above: what its period is
    part of, '' for nothing.
    """

    period: Callable[[Dates], Codes]
    text: Callable[[Dates], list[str]]
    above: Callable[[Dates], list[str]]


def steps_of(axis: Dates | Floats, grain: str | None) -> Codes:
    """Each slot's place in the sequence; with a grain, a period that no row has is left out of it."""
    if grain is None or axis.dtype.kind != "M":
        return np.arange(len(axis))
    found = PERIODS[grain](axis)  # type: ignore[arg-type]  # dates, by their kind
    return np.asarray(found - found[0])


def ticks_of(axis: Dates | Floats, grain: str | None, centers: Floats, pen: Pen, width: float) -> Ticks:
    """As many texts as have room in a width in pixels, with some blank between them.

    axis: growing dates or numbers, shape (k,).  centers: their places in pixels.
    """
    dated = axis.dtype.kind == "M"
    choices = _dated(axis, grain) if dated else _numbered(axis)  # type: ignore[arg-type]  # by its kind
    ticks = Ticks(np.empty(0, dtype=np.intp), (), ())
    for slots, step in choices:
        if len(slots) * LEAST_ROOM < width:
            ticks = _ticks(slots, step.text(axis[slots]), step.above(axis[slots]))  # type: ignore[arg-type]
            if _fit(ticks, centers, pen):
                break
    return ticks


def _fit(ticks: Ticks, centers: Floats, pen: Pen) -> bool:
    kept = np.array([bool(text) for text in ticks.lower], dtype=bool)
    rows = (ticks.upper, ticks.slots), ([text for text in ticks.lower if text], ticks.slots[kept])
    for texts, slots in rows:
        widths = np.array([pen.width(text, "name", bold=True) for text in texts])
        if np.any(np.diff(centers[slots]) < (widths[1:] + widths[:-1]) / 2 + APART):
            return False
    return True


def _numbered(axis: Floats) -> Iterator[tuple[Codes, Step]]:
    """Every one, every second, fifth, tenth, ... number."""
    for every in (s * 10**power for power in range(7) for s in (1, 2, 5)):
        yield np.arange(0, len(axis), every), NUMBERS


def _dated(axis: Dates, grain: str | None) -> Iterator[tuple[Codes, Step]]:
    """Every date, then the first of each longer and longer period."""
    natural = grain or _unit(axis)
    quarters = natural == "quarter"
    yield np.arange(len(axis)), QUARTERS if quarters else STEPS[natural]
    order = list(STEPS)
    before = axis[:1] - np.timedelta64(1, "s")
    for name in order[order.index(natural) + 1 :]:
        step = STEPS[name]
        period = step.period(axis)
        # The first slot counts only where its period begins there: no "Jul" at the middle of July.
        fresh = np.append(step.period(before) != period[0], period[1:] != period[:-1])
        slots = np.flatnonzero(fresh)
        yield (slots if len(slots) else np.arange(1)), QUARTERS if quarters and name == "half" else step


def _unit(axis: Dates) -> str:
    """What the dates themselves tell apart."""
    unit = unit_of(axis)
    return "year" if unit == "month" and not np.any(_months(axis) % 12) else unit


def _ticks(slots: Codes, upper: list[str], lower: list[str]) -> Ticks:
    fresh = ["" if i and text == lower[i - 1] else text for i, text in enumerate(lower)]
    return Ticks(slots, tuple(upper), tuple(fresh))


def _years(dates: Dates) -> Codes:
    return dates.astype("datetime64[Y]").astype(np.intp) + 1970


def _months(dates: Dates) -> Codes:
    return dates.astype("datetime64[M]").astype(np.intp)


def _days(dates: Dates) -> Codes:
    return dates.astype("datetime64[D]").astype(np.intp)


def _minutes(dates: Dates) -> Codes:
    return dates.astype("datetime64[m]").astype(np.intp)


def _year_text(dates: Dates) -> list[str]:
    return [str(year) for year in _years(dates).tolist()]


def _month_text(dates: Dates) -> list[str]:
    return [MONTHS[month % 12] for month in _months(dates).tolist()]


def _quarter_text(dates: Dates) -> list[str]:
    return [f"Q{month % 12 // 3 + 1}" for month in _months(dates).tolist()]


def _day_text(dates: Dates) -> list[str]:
    return [str((day - month).astype(int) + 1) for day, month in _day_and_month(dates)]


def _day_and_month(dates: Dates) -> list[tuple[np.datetime64, np.datetime64]]:
    days = dates.astype("datetime64[D]")
    return list(zip(days, days.astype("datetime64[M]").astype("datetime64[D]"), strict=True))


def _time_text(dates: Dates) -> list[str]:
    return [f"{m // 60 % 24:02d}:{m % 60:02d}" for m in _minutes(dates).tolist()]


def _month_and_year(dates: Dates) -> list[str]:
    return [f"{m} {y}" for m, y in zip(_month_text(dates), _year_text(dates), strict=True)]


def _whole_day(dates: Dates) -> list[str]:
    return [f"{d} {m}" for d, m in zip(_day_text(dates), _month_and_year(dates), strict=True)]


def _nothing(dates: Dates) -> list[str]:
    return [""] * len(dates)


def _number_text(numbers: Dates) -> list[str]:
    return shown(numbers)


def _every(count: int, period: Callable[[Dates], Codes]) -> Callable[[Dates], Codes]:
    """Periods of so many others."""
    return lambda dates: period(dates) // count


PERIODS: Final[dict[str, Callable[[Dates], Codes]]] = {
    "day": _days,
    "week": lambda dates: (_days(dates) + 3) // 7,  # day 0, 1 January 1970, was a Thursday
    "month": _months,
    "quarter": _every(3, _months),
    "year": _years,
}
STEPS: Final[dict[str, Step]] = {
    "minute": Step(_minutes, _time_text, _whole_day),
    **{
        f"{hours} hours": Step(_every(60 * hours, _minutes), _time_text, _whole_day)
        for hours in (1, 3, 6, 12)
    },
    "day": Step(_days, _day_text, _month_and_year),
    "week": Step(PERIODS["week"], _day_text, _month_and_year),
    "month": Step(_months, _month_text, _year_text),
    "quarter": Step(PERIODS["quarter"], _month_text, _year_text),
    "half": Step(_every(6, _months), _month_text, _year_text),
    "year": Step(_years, _year_text, _nothing),
    **{f"{years} years": Step(_every(years, _years), _year_text, _nothing) for years in YEARS},
}
QUARTERS: Final = Step(PERIODS["quarter"], _quarter_text, _year_text)
NUMBERS: Final = Step(_days, _number_text, _nothing)
