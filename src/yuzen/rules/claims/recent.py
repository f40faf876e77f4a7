"""Claims about dates by the latest or the earliest of them: in last 12 months, latest month."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from yuzen.arrays import Dates, Text, Truth, kind_of
from yuzen.formats.display import shown
from yuzen.formats.periods import Calendar, Grain, Unit
from yuzen.rules import truth
from yuzen.rules.claims.base import About, BaseClaim, Explainer, Needs, negation
from yuzen.rules.evaluation_data import TestView
from yuzen.rules.language.period_names import PERIOD_WORDS
from yuzen.rules.language.reader import Reader
from yuzen.rules.marks import Marks
from yuzen.rules.phrases import count, is_count, period_word
from yuzen.rules.quantities.fields import Field, Number


class Recent(BaseClaim):
    """The subject, a date, lies in the last or first periods that there are dates of."""

    words: ClassVar = ("latest",)
    about: ClassVar[About] = "its place, its name, its date"
    listing: ClassVar = "in last 12 months, latest month"
    forms: ClassVar = ("in last {period}", "in last {count} {period}s")
    holds_for: ClassVar = (
        "whole periods, counted back from the latest date; first counts from the earliest"
    )
    example: ClassVar = "month in last 12 months"
    needs: ClassVar[Needs] = "words"
    counted: ClassVar = ("count",)
    looks_back: ClassVar[bool] = True  # the latest date is that of all rows that are kept

    end: Literal["first", "last", "latest"]
    unit: Unit
    count: Number | Field | None = None

    @classmethod
    def read(cls, reader: Reader, word: str) -> Recent:
        """How many of which period."""
        counted = None
        # "last month" has no count; a column named month would be one otherwise.
        if reader.next.word not in PERIOD_WORDS and is_count(reader):
            counted = count(
                reader, f"{word} is followed by a number of periods, such as {word} 3 months"
            )
        unit = period_word(
            reader, f"{word} is followed by a period, such as {word} month or {word} 3 months"
        )
        return cls(word, unit, counted)  # type: ignore[arg-type]  # one of its words

    def __str__(self) -> str:
        if self.count is None:
            return f"in {self.end} {self.unit}"
        return f"in {self.end} {self.count} {self.unit}{'' if str(self.count) == '1' else 's'}"

    @classmethod
    def meant(cls, marks: Marks) -> str:
        """The chart's dates."""
        return marks.along

    def units(self) -> tuple[Unit, ...]:
        """Its period."""
        return (self.unit,)

    def unfit(self, kind: str, name: str, calendar: Calendar) -> str:
        """Only dates lie in periods."""
        del calendar
        if kind == "date":
            return ""
        return f"{name} holds no dates, and '{self}' is for dates."

    def holds(self, view: TestView) -> Truth:
        """By whole periods of the calendar, counted from the latest date, or the earliest."""
        dates = self._dates(view)
        missing = np.isnat(dates)
        # NaT has no period; any date serves in its place, as the mark is unknown in the end.
        there = np.where(missing, np.datetime64(0, "s"), dates)
        periods = Grain(self.unit, view.facts.marks.calendar).numbers(there)
        if missing.all():
            return truth.known(missing, missing)
        # The calendar's numbers fit into an integer of 64 bits only with a count that is bounded.
        number = 1 if self.count is None else int(np.clip(self.count.values(view), 0, 1e9))
        if self.end == "first":
            inside = periods < periods[~missing].min() + number
        else:
            inside = periods > periods[~missing].max() - number
        return truth.known(inside, missing)

    def explain(self, view: TestView) -> Explainer:
        """'month 2026-03 is in last 12 months, which end with 2026-06'."""
        dates, held, grain = (
            self._dates(view),
            self.holds(view),
            Grain(self.unit, view.facts.marks.calendar),
        )
        names = shown(dates, view.facts.marks.grains.get(view.facts.name(str(view.subject)) or ""))
        known = dates[~np.isnat(dates)]
        if self.end == "first":
            edge, verb = known.min() if len(known) else None, "begin"
        else:
            edge, verb = known.max() if len(known) else None, "end"
        end = "" if edge is None else shown(np.array([edge], dtype="datetime64[s]"), grain)[0]

        def because(mark: int) -> str:
            if held[mark] == truth.UNKNOWN:
                return f"{view.subject} is missing"
            which = (
                f", which {verb} with {end}" if str(self.count or 1) != "1" else f", which is {end}"
            )
            return f"{view.subject} {names[mark]} is {negation(held, mark)}{self}{which}"

        return because

    def _dates(self, view: TestView) -> Dates:
        column = view.facts.column(str(getattr(view.subject, "name", view.subject)))
        assert not isinstance(column, Text)  # noqa: S101 - unfit() has asked
        assert kind_of(column) == "date"  # noqa: S101 - as above
        return column  # type: ignore[return-value]  # by its kind
