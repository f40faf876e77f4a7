"""The axis of dates or numbers: few texts, unrotated, each telling only what is new."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

import numpy as np

from yuzen.periods import MONTHS, PERIODS, days, grouped, minutes, months, years

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator

    from yuzen.draw.pen import Pen
    from yuzen.picture.plot import CategoryAxis
    from yuzen.rules.arrays import Codes, Dates, Floats

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


def ticks_of(axis: CategoryAxis, centers: Floats, pen: Pen, width: float) -> Ticks:
    """As many texts as have room in a width in pixels, with some blank between them.

    axis: one of growing dates or numbers.  centers: the places of its slots in pixels.
    """
    values = axis.values
    ticks = Ticks(np.empty(0, dtype=np.intp), (), ())
    if values is None:
        return ticks
    choices = _dated(values, axis.unit) if axis.unit else _numbered(len(values))  # type: ignore[arg-type]
    for slots, step in choices:
        if len(slots) * LEAST_ROOM < width:
            if step is None:
                upper, lower = [axis.names.texts[slot] for slot in slots.tolist()], [""] * len(slots)
            else:
                upper, lower = step.text(values[slots]), step.above(values[slots])  # type: ignore[arg-type]
            ticks = _ticks(slots, upper, lower)
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


def _numbered(count: int) -> Iterator[tuple[Codes, None]]:
    """Every one, every second, fifth, tenth, ... of so many, which are called as their slots are."""
    for every in (s * 10**power for power in range(7) for s in (1, 2, 5)):
        yield np.arange(0, count, every), None


def _dated(axis: Dates, natural: str) -> Iterator[tuple[Codes, Step]]:
    """Every date, then the first of each longer and longer period."""
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


def _ticks(slots: Codes, upper: list[str], lower: list[str]) -> Ticks:
    fresh = ["" if i and text == lower[i - 1] else text for i, text in enumerate(lower)]
    return Ticks(slots, tuple(upper), tuple(fresh))


def _year_text(dates: Dates) -> list[str]:
    return [str(year) for year in years(dates).tolist()]


def _month_text(dates: Dates) -> list[str]:
    return [MONTHS[month % 12] for month in months(dates).tolist()]


def _quarter_text(dates: Dates) -> list[str]:
    return [f"Q{month % 12 // 3 + 1}" for month in months(dates).tolist()]


def _day_text(dates: Dates) -> list[str]:
    return [str((day - month).astype(int) + 1) for day, month in _day_and_month(dates)]


def _day_and_month(dates: Dates) -> list[tuple[np.datetime64, np.datetime64]]:
    days = dates.astype("datetime64[D]")
    return list(zip(days, days.astype("datetime64[M]").astype("datetime64[D]"), strict=True))


def _time_text(dates: Dates) -> list[str]:
    return [f"{m // 60 % 24:02d}:{m % 60:02d}" for m in minutes(dates).tolist()]


def _month_and_year(dates: Dates) -> list[str]:
    return [f"{m} {y}" for m, y in zip(_month_text(dates), _year_text(dates), strict=True)]


def _whole_day(dates: Dates) -> list[str]:
    return [f"{d} {m}" for d, m in zip(_day_text(dates), _month_and_year(dates), strict=True)]


def _nothing(dates: Dates) -> list[str]:
    return [""] * len(dates)


STEPS: Final[dict[str, Step]] = {
    "minute": Step(minutes, _time_text, _whole_day),
    **{
        f"{hours} hours": Step(grouped(60 * hours, minutes), _time_text, _whole_day)
        for hours in (1, 3, 6, 12)
    },
    "day": Step(days, _day_text, _month_and_year),
    "week": Step(PERIODS["week"], _day_text, _month_and_year),
    "month": Step(months, _month_text, _year_text),
    "quarter": Step(PERIODS["quarter"], _month_text, _year_text),
    "half": Step(grouped(6, months), _month_text, _year_text),
    "year": Step(years, _year_text, _nothing),
    **{f"{count} years": Step(grouped(count, years), _year_text, _nothing) for count in YEARS},
}
QUARTERS: Final = Step(PERIODS["quarter"], _quarter_text, _year_text)
