"""Judging the charts of a file by the rules that are for them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Any

import pandas as pd

from yuzen.brief.sections.rule import RuleSection
from yuzen.color.themes import Theme
from yuzen.errors import YuzenError
from yuzen.recolor.chart_numbers import OfficeChart
from yuzen.recolor.found import FoundChart
from yuzen.recolor.judged import ChartRuling, JudgedOffice, judged_chart
from yuzen.recolor.rules_file import ChartRules, PaintRules
from yuzen.sources.inputs import RowsLike, frame_of


class Painter:
    """Judges charts by the rules of a file, whose data is read once.

    errors: of rules for all charts that could not be judged on some.
    """

    def __init__(self, rules: PaintRules, data: RowsLike | None, theme: Theme) -> None:
        self.rules, self.theme = rules, theme
        self.errors: list[YuzenError] = []
        self._data = data
        self._frames: dict[str, Any] = {}

    def judged(self, found: FoundChart, name: str) -> JudgedOffice | str:
        """The verdict of a chart, or why no rule is for it. Raises YuzenError.

        A rule for all charts that cannot be judged on this one is left out here, as it may be meant
        for others; one for this chart is an error.
        """
        assert found.chart is not None  # noqa: S101 - only what was read is judged
        sections = self.rules.of_chart(found.place, found.title)
        own = [rule for section in sections for rule in section.rule]
        shared = list(self.rules.file.rule)
        if not own and not shared:
            return "no rule is for it."
        ruling = ChartRuling(
            own, shared, self.rules.parameters(sections), self.theme, name, self.rules.written
        )
        rows = self._rows(sections)
        try:
            return _if_ruled(judged_chart(found.chart, ruling, rows))
        except YuzenError as error:
            if not shared:
                raise error.at(name) from None
            self.errors.append(error.at(name))
        fitting, notes = _fitting(found.chart, ruling, rows)
        if not own and not fitting:
            return f"no rule applies to it. {notes[0]}"
        try:
            office = judged_chart(found.chart, replace(ruling, shared=fitting), rows)
        except YuzenError as error:
            raise error.at(name) from None
        return _if_ruled(replace(office, notes=(*notes, *office.notes)))

    def _rows(self, sections: Sequence[ChartRules]) -> Any:  # noqa: ANN401 - a DataFrame, or none
        """The rows with further columns."""
        if self._data is not None:
            return self._frame("", self._data)
        own = next((section.data for section in sections if section.data), None)
        named = own or self.rules.file.data
        if named is None:
            return None
        return self._frame(named, self.rules.folder / named)

    def _frame(self, key: str, rows: RowsLike) -> Any:  # noqa: ANN401 - a DataFrame
        if key not in self._frames:
            self._frames[key] = frame_of(rows)
        return self._frames[key]


def _if_ruled(office: JudgedOffice) -> JudgedOffice | str:
    """A verdict, or why there is none: every rule was left out."""
    if office.judged.verdict.rules:
        return office
    return f"no rule applies to it. {' '.join(office.notes)}".strip()


def _fitting(
    chart: OfficeChart, ruling: ChartRuling, rows: pd.DataFrame | None
) -> tuple[list[RuleSection], list[str]]:
    """The rules for all charts that can be judged on one, and what to say of the others."""
    fitting, notes = [], []
    for place, rule in enumerate(ruling.shared, start=1):
        try:
            judged_chart(chart, replace(ruling, own=(), shared=(rule,)), rows)
        except YuzenError as error:
            message = error.faults[0].message
            notes.append(f'rule {place} "{rule.called}" does not apply here: {message}')
        else:
            fitting.append(rule)
    return fitting, notes
