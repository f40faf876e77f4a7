"""[calendar]: where years and weeks begin."""

from typing import Annotated

from yuzen.brief.sections.base import Section, described
from yuzen.formats.periods import MONTH_NAMES, WEEKDAYS, Calendar, Month, Weekday


class CalendarSection(Section):
    """Where years and weeks begin."""

    year_starts: Annotated[
        Month, described("The month that a fiscal year begins with.", example="April")
    ] = "January"
    week_starts: Annotated[
        Weekday, described("The day that a week begins with.", example="Sunday")
    ] = "Monday"

    @property
    def calendar(self) -> Calendar:
        """The calendar of fiscal years and weeks."""
        return Calendar(MONTH_NAMES.index(self.year_starts), WEEKDAYS.index(self.week_starts))
