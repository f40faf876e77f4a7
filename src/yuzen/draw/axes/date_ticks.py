"""The axis of dates or numbers: few texts, unrotated, each telling only what is new."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import replace
from typing import Final

import numpy as np

from yuzen.arrays import Codes, Dates, Floats
from yuzen.draw.text.measurer import TextMeasurer
from yuzen.formats.locales import Locale
from yuzen.formats.periods import CIVIL, Calendar, Grain, days, grouped, minutes, months
from yuzen.page.plot import CategoryAxis
from yuzen.value import Value

DATE_TEXT_GAP_PX = 14  # pixels between texts
LEAST_DATE_WIDTH_PX = 12  # pixels for each text; with less there is no use in trying
SEEN_DATES = 1_000  # of an axis, which show what is too short a period for it
YEAR_STEPS: Final = (2, 5, 10, 20, 50, 100, 200, 500, 1000)


class Ticks(Value, eq=False):
    """The slots that have a text, the text, and the unit below it, '' where it repeats."""

    slots: Codes
    upper: tuple[str, ...]
    lower: tuple[str, ...]


class Step(Value):
    """One way to choose texts: at the first slot of each period.

    period: a whole number for each date.  text: what the slot is called.  above: what its period is
    part of, '' for nothing.
    """

    period: Callable[[Dates], Codes]
    text: Callable[[Dates], list[str]]
    above: Callable[[Dates], list[str]]


def ticks_of(axis: CategoryAxis, centers: Floats, measurer: TextMeasurer, width: float) -> Ticks:
    """As many texts as have room in a width in pixels, with some blank between them.

    axis: one of growing dates or numbers.  centers: the places of its slots in pixels.
    """
    values = axis.values
    ticks = Ticks(np.empty(0, dtype=np.intp), (), ())
    if values is None:
        return ticks
    choices: Iterator[tuple[Codes, Step | None]] = _numbered(len(values))
    if axis.unit:
        texts, most = DateTexts(axis.calendar, axis.locale), width / LEAST_DATE_WIDTH_PX
        choices = _dated(values, axis.unit, texts, most)  # type: ignore[arg-type]
    for slots, step in choices:
        # Measuring ten thousand texts that cannot fit would take seconds.
        if len(slots) * LEAST_DATE_WIDTH_PX < width:
            if step is None:
                upper, lower = (
                    [axis.names.texts[slot] for slot in slots.tolist()],
                    [""] * len(slots),
                )
            else:
                upper, lower = step.text(values[slots]), step.above(values[slots])  # type: ignore[arg-type]
            ticks = _ticks(slots, upper, lower)
            if _fit(ticks, centers, measurer):
                break
    return ticks


def _fit(ticks: Ticks, centers: Floats, measurer: TextMeasurer) -> bool:
    kept = np.array([bool(text) for text in ticks.lower], dtype=bool)
    rows = (ticks.upper, ticks.slots), ([text for text in ticks.lower if text], ticks.slots[kept])
    for texts, slots in rows:
        widths = np.array([measurer.width(text, "name", bold=True) for text in texts])
        if np.any(np.diff(centers[slots]) < (widths[1:] + widths[:-1]) / 2 + DATE_TEXT_GAP_PX):
            return False
    return True


def _numbered(count: int) -> Iterator[tuple[Codes, None]]:
    """Yield slot indices with step 1, 2, 5, 10, …; the slot names are the labels."""
    for every in (s * 10**power for power in range(7) for s in (1, 2, 5)):
        yield np.arange(0, count, every), None


def _dated(
    axis: Dates, natural: str, texts: DateTexts, most: float
) -> Iterator[tuple[Codes, Step]]:
    """Every date, then the first of each longer and longer period.

    most: a number of slots that would be too many; periods of more are left out.
    """
    steps = texts.steps()
    if natural == "quarter":  # whose texts are quarters, not months
        steps |= {name: replace(steps[name], text=texts.quarter) for name in ("quarter", "half")}
    yield np.arange(len(axis)), steps[natural]
    order = list(steps)
    before = axis[:1] - np.timedelta64(1, "s")
    some = axis[:: max(1, len(axis) // SEEN_DATES)]
    for name in order[order.index(natural) + 1 :]:
        # Some dates show that there are too many periods; only all show that there are few.
        if np.count_nonzero(np.diff(steps[name].period(some))) >= most:
            continue
        period = steps[name].period(axis)
        # The first slot counts only where its period begins there: no "Jul" at the middle of July.
        fresh = np.append(steps[name].period(before) != period[0], period[1:] != period[:-1])
        slots = np.flatnonzero(fresh)
        yield (slots if len(slots) else np.arange(1)), steps[name]


def _ticks(slots: Codes, upper: list[str], lower: list[str]) -> Ticks:
    fresh = ["" if i and text == lower[i - 1] else text for i, text in enumerate(lower)]
    return Ticks(slots, tuple(upper), tuple(fresh))


class DateTexts(Value):
    """What dates are called on an axis, by a calendar and in a language."""

    calendar: Calendar
    locale: Locale

    def year(self, dates: Dates) -> list[str]:
        """2026, or 2026/27."""
        return [self.calendar.year_name(year) for year in self.calendar.years(dates).tolist()]

    def month(self, dates: Dates) -> list[str]:
        """Jun."""
        return [self.locale.short_months[month % 12] for month in months(dates).tolist()]

    def quarter(self, dates: Dates) -> list[str]:
        """Q2."""
        return [f"Q{q % 4 + 1}" for q in Grain("quarter", self.calendar).numbers(dates).tolist()]

    def month_and_year(self, dates: Dates) -> list[str]:
        """Jun 2026: of the calendar that everybody has."""
        years = CIVIL.years(dates).tolist()
        return [f"{month} {year}" for month, year in zip(self.month(dates), years, strict=True)]

    def whole_day(self, dates: Dates) -> list[str]:
        """30 Jun 2026."""
        return [f"{d} {m}" for d, m in zip(_day(dates), self.month_and_year(dates), strict=True)]

    def steps(self) -> dict[str, Step]:
        """The ways to choose texts, from short periods to long ones."""
        year = self.calendar.years
        week, quarter = Grain("week", self.calendar), Grain("quarter", self.calendar)
        hours = {f"{n} hours": grouped(60 * n, minutes) for n in (1, 3, 6, 12)}
        many = {f"{count} years": grouped(count, year) for count in YEAR_STEPS}
        return {
            "minute": Step(minutes, _time, self.whole_day),
            **{name: Step(period, _time, self.whole_day) for name, period in hours.items()},
            "day": Step(days, _day, self.month_and_year),
            "week": Step(week.numbers, _day, self.month_and_year),
            "month": Step(months, self.month, self.year),
            "quarter": Step(quarter.numbers, self.month, self.year),
            "half": Step(grouped(2, quarter.numbers), self.month, self.year),
            "year": Step(year, self.year, _nothing),
            **{name: Step(period, self.year, _nothing) for name, period in many.items()},
        }


def _day(dates: Dates) -> list[str]:
    day, month = (
        dates.astype("datetime64[D]"),
        dates.astype("datetime64[M]").astype("datetime64[D]"),
    )
    return [str(number) for number in ((day - month).astype(int) + 1).tolist()]


def _time(dates: Dates) -> list[str]:
    return [f"{m // 60 % 24:02d}:{m % 60:02d}" for m in minutes(dates).tolist()]


def _nothing(dates: Dates) -> list[str]:
    return [""] * len(dates)
