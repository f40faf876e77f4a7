"""The stages of a chart, each worked out when it is first asked for: marks, verdict, colours, page."""

from __future__ import annotations

from contextlib import contextmanager
from dataclasses import dataclass, field, replace
from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING, Any, Self

from yuzen.brief.data_source import shaped, shaped_lines, shareable, source_for
from yuzen.brief.default_formats import formats_of
from yuzen.brief.meaning import plan_of, rules_of
from yuzen.brief.parameters_in_brief import substitute_parameters
from yuzen.brief.trend import trend_brief
from yuzen.charts.builder import Builder, located
from yuzen.color.themes import theme_of
from yuzen.compose.judged import Judged
from yuzen.compose.looks.palette import Palette, color_faults, colors_named
from yuzen.errors import YuzenError, error_at
from yuzen.files.record import Record
from yuzen.rules.judge import EvaluationContext, Verdict, judge

if TYPE_CHECKING:
    from collections.abc import Hashable, Iterator, Mapping

    from yuzen.brief.model import Brief
    from yuzen.brief.sections.chart import ColumnSection
    from yuzen.brief.toml.source import BriefSource
    from yuzen.color.themes import Theme
    from yuzen.page.page import Page
    from yuzen.rules.judge import Rule
    from yuzen.rules.marks import Marks
    from yuzen.shape.plan.plan import Plan
    from yuzen.sources.inputs import RowsLike
    from yuzen.sources.rows import Source


@dataclass(frozen=True, eq=False, repr=False)
class Stages(Builder):
    """A brief and its rows, and what becomes of them on the way to a picture.

    `source` is whatever rows come from, or the record of a picture; None: the file that the brief
    names, found from `folder`. `written` is the text of the brief that was loaded, by which
    messages name
    the line.
    """

    spec: Brief
    source: RowsLike | Record | None = field(default=None, repr=False)
    folder: Path = field(default_factory=Path, repr=False)
    written: BriefSource | None = field(default=None, repr=False)

    @cached_property
    def _page(self) -> Page:
        from yuzen.compose.page import compose  # noqa: PLC0415 - only what is drawn needs a page

        with self.placing():
            return compose(self.judged, self._data_name, self.judged_trends)

    @cached_property
    def told(self) -> tuple[str, ...]:
        """What was guessed of the file, and what marks of this kind cannot show."""
        from yuzen.compose.notes import notes_of  # noqa: PLC0415 - only what is drawn has notes

        return notes_of(self.judged)

    @cached_property
    def marks(self) -> Marks:
        """One row for each drawn thing."""
        if isinstance(self.source, Record):
            return self.source.marks
        with self.placing():
            return shaped(self.data, self.plan, self.meant)

    @cached_property
    def trends(self) -> Mapping[str, Self]:
        """The small lines in the columns of a table, each a chart of its own, by the columns' names."""
        return {c.called: self._trend(c) for c in self.meant.columns if c.show == "trend"}

    @property
    def judged_trends(self) -> dict[str, Judged]:
        """The same, judged."""
        return {name: chart.judged for name, chart in self.trends.items()}

    def _trend(self, column: ColumnSection) -> Self:
        """The small lines of a column: those of the rows that the table has."""
        spec = trend_brief(self.meant, column)
        if isinstance(self.source, Record):
            marks = self.source.trends[column.called]
        else:
            place = self.meant.column.index(column)
            with self.placing(), error_at(f'column {place + 1} "{column.called}"', "column", place):
                marks = shaped_lines(self.data, plan_of(spec, rules_of(spec)), spec, self.marks)
        return replace(
            self, spec=spec, source=Record(self.brief(), marks, self.theme, self._data_name)
        )

    @cached_property
    def bench(self) -> EvaluationContext:
        """The facts that the rules are judged on."""
        with self.placing():
            return EvaluationContext(
                self.marks, self.meant.numbers, formats_of(self.meant, self.marks)
            )

    @cached_property
    def verdict(self) -> Verdict:
        """For every mark and target which rule won, and all that held."""
        with self.placing():
            if faults := [*self.bench.faults(self._rules), *color_faults(self.meant, self.theme)]:
                raise YuzenError(*faults)
            return judge(self._rules, self.bench)

    @cached_property
    def palette(self) -> Palette:
        """The colour that each rule gives."""
        with self.placing():
            return Palette.of(self.meant, self.theme, self.verdict, self.marks)

    @cached_property
    def judged(self) -> Judged:
        """The chart with its verdict and its colours, from which pages and checks are made."""
        return Judged(self.meant, self.bench, self.verdict, self.palette)

    @cached_property
    def theme(self) -> Theme:
        """The theme that the brief names; of a picture the one that it was drawn with."""
        if isinstance(self.source, Record):
            return self.source.theme
        with self.placing(), error_at("theme", "theme"):
            return theme_of(self.spec.theme, self.folder, colors_named(self.meant))

    @cached_property
    def record(self) -> Record:
        """What a picture of the chart holds, by which the picture alone can be asked."""
        trends = {name: chart.marks for name, chart in self.trends.items()}
        return Record(self.brief(), self.marks, self.theme, self._data_name, trends)

    def of_marks(self) -> Self:
        """The same of its marks alone, as a picture holds them: what another process draws it by.

        >>> import yuzen as yz
        >>> rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
        >>> yz.chart(rows, category="route", value="surplus").of_marks().marks.names()
        ['Kelpwick', 'Brinewick']
        """
        return replace(self, source=self.record)

    def sharing(self, sources: dict[Hashable, Source]) -> Self:
        """The same, its rows taken from the source of others that have the same; `sources` keeps each.

        >>> import yuzen as yz
        >>> charts = [yz.chart("routes.csv", category="route", value=value) for value in ("fares", "surplus")]
        >>> sources = {}
        >>> one, other = (chart.sharing(sources) for chart in charts)
        >>> one.source is other.source
        True
        """
        if isinstance(self.source, Record):
            return self
        kept, key = shareable(self.data)
        if key is None:
            return self
        return replace(self, source=sources.setdefault(key, kept))

    @cached_property
    def meant(self) -> Brief:
        """The brief with its parameters that are words in their places."""
        with self.placing():
            return substitute_parameters(self.spec)

    @cached_property
    def plan(self) -> Plan:
        """How the rows become marks."""
        return plan_of(self.meant, self._rules)

    @cached_property
    def data(self) -> Source:
        """Where the rows come from. Raises YuzenError where the brief names nothing."""
        given: Any = self.source  # a record, which has no rows, is never asked for them
        return source_for(self.spec, given, self.folder)

    @contextmanager
    def placing(self) -> Iterator[None]:
        """Whatever is wrong with the brief that was loaded is told with its file and line."""
        try:
            yield
        except YuzenError as error:
            raise YuzenError(
                *(located(fault, self.spec, self.written) for fault in error.faults)
            ) from None

    @cached_property
    def _rules(self) -> list[Rule]:
        return rules_of(self.meant)

    @property
    def _data_name(self) -> str:
        """What the footer calls the rows, which a table in memory has from its brief."""
        if isinstance(self.source, Record):
            return self.source.source
        return (
            self.data.called or Path(self.spec.data.file or "").name or self.spec.data.table or ""
        )
