"""The chart: brief and rows to marks, verdict, page, figure and files. The only conductor."""

from __future__ import annotations

from contextlib import contextmanager
from dataclasses import dataclass, field, fields, replace
from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING, Any

from yuzen.brief.builder import Builder, of_value, placed
from yuzen.brief.formats import formats_of
from yuzen.brief.meaning import plan_of, rules_of
from yuzen.brief.origin import files_of, moved, same_rows, shaped, shaped_lines, source_for, without_place
from yuzen.brief.settled import settled
from yuzen.brief.toml import make_brief, write_brief
from yuzen.brief.trend import trend_brief
from yuzen.color.themes import theme_of
from yuzen.draw.loading import loading_matplotlib
from yuzen.errors import YuzenError, outside, told_at, wrong
from yuzen.files.record import Record
from yuzen.files.whole import write_whole
from yuzen.outputs import Outputs
from yuzen.paths import path_of
from yuzen.picture.judged import Judged
from yuzen.picture.palette import Palette, color_faults, colors_named
from yuzen.report.alternative import alternative_text
from yuzen.report.why import Why, why
from yuzen.rules.judge import Bench, Verdict, judge
from yuzen.shape.plan import column_name
from yuzen.shape.resolved import resolved
from yuzen.shape.sources import lasting

if TYPE_CHECKING:
    from collections.abc import Iterator, Mapping

    import pandas as pd

    from yuzen.brief.model import Brief
    from yuzen.brief.places import Written
    from yuzen.brief.sections import ColumnSection
    from yuzen.checks.finding import Finding
    from yuzen.color.themes import Theme
    from yuzen.picture.page import Page
    from yuzen.rules.judge import Rule
    from yuzen.rules.marks import Marks
    from yuzen.shape.plan import Plan
    from yuzen.shape.rows import Source
    from yuzen.shape.sources import RowsLike


@dataclass(frozen=True, eq=False, repr=False)
class Chart(Builder, Outputs):
    """One chart: a brief and its rows. It never changes; each method that says more gives a new one.

    `source` is whatever rows come from, or the record of a picture; None: the file that the brief names,
    found from `folder`. `written` is the text of the brief that was loaded, by which messages name the line.
    """

    spec: Brief
    source: RowsLike | Record | None = field(default=None, repr=False)
    folder: Path = field(default_factory=Path, repr=False)
    written: Written | None = field(default=None, repr=False)

    def __eq__(self, other: object) -> bool:
        """Whether another chart says the same of the same rows."""
        if not isinstance(other, Chart):
            return NotImplemented
        same = self.spec.plain() == other.spec.plain() and self.folder == other.folder
        return same and same_rows(self.source, other.source)

    def __hash__(self) -> int:
        return hash((self.brief(), self.folder))

    def __getstate__(self) -> dict[str, Any]:
        """What it was made of, without what has been worked out of it since."""
        return {part.name: getattr(self, part.name) for part in fields(self)}

    def saying(self, spec: Brief) -> Chart:
        """The chart with another brief, which stands in no file."""
        return replace(self, spec=spec, written=None)

    def __repr__(self) -> str:
        said, rules = self.spec.chart, len(self.spec.rules)
        return f"<Chart {said.kind}: {said.value} by {said.category}, rules: {rules}>"

    def with_rows(self, rows: RowsLike) -> Chart:
        """The same chart of other rows; those in memory come from no file that the brief names."""
        if isinstance(rows, str | Path):
            return replace(self, source=rows)
        return replace(self, source=lasting(rows), spec=without_place(self.spec))

    def each(self, column: str) -> list[tuple[str, Chart]]:
        """A chart for each value of a column of the kept rows, by what the value is called.

        The peers of each are its own marks, and its subtitle says which value it is of.
        """
        self.needs_rows("a picture for each value (each)")
        with self._placed():
            source = self.data
            with outside("data-column", "A column is called by a text, and this is none ({reason})."):
                called = str(column)
            plan = resolved(self.plan, source.offered, lambda: source.dated, called)
            own = column_name(called, (*source.offered, *plan.periods.bases), "each picture")
            parts = source.split(plan, own)
        return [
            (name, replace(self, spec=of_value(self.spec, own, name), source=part)) for name, part in parts
        ]

    def needs_rows(self, what: str, *names: str) -> None:
        """Raise YuzenError (call-picture) where the chart comes from a picture, which has no rows.

        names: parameters that are meant only if rows were kept or measured by one of them.
        """
        asked = not names or bool({name.casefold() for name in names} & self.plan.parameters_of_rows)
        if isinstance(self.source, Record) and asked:
            message = f"A picture has marks and no rows, so {what} cannot be asked of it. Take its brief."
            raise wrong("call-picture", message)

    def write(self, path: str | Path) -> Path:
        """Write the chart's brief into a .toml file, its data named from there; returns its path.

        Raises YuzenError (call-…) where the rows come from no file.
        """
        target = path_of(path)
        if target.suffix.casefold() != ".toml":
            raise wrong("call-format", "A brief is a .toml file.", where=str(target))
        given: Any = self.source
        plain = moved(self.spec, given, self.folder, target.parent)
        with outside("brief-text", "The brief holds letters that no file can hold: {reason}."):
            text = write_brief(make_brief(plain)).encode()
        write_whole(target, text)
        return target

    def flags(self) -> pd.DataFrame:
        """One row for each mark and target: its numbers, the winning rule, its colour, and the rest."""
        from yuzen.report.flags import flags_table  # noqa: PLC0415 - loads pandas

        table = flags_table(self.marks, self.verdict, self.palette)
        if not self.trends:
            return table
        from yuzen.report.points import with_points  # noqa: PLC0415 - as above

        return with_points(table, self.judged_trends)

    def why(self, *items: object) -> Why:
        """Why each flagged mark, or each named one, has its colour; `str()` of it is sentences."""
        told = why(items, self.verdict, self.bench, self.palette, self.spec.noun)
        if not self.trends:
            return told
        from yuzen.report.points import with_reasons  # noqa: PLC0415 - loads pandas

        return with_reasons(told, items, self.judged_trends, len(self._rules))

    def alt(self) -> str:
        """The alternative text, of at most 60 words: what is drawn, and what stands out by how much.

        >>> import yuzen as yz
        >>> rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
        >>> chart = yz.chart(rows, category="route", value="surplus").rule("negative", color="adverse")
        >>> print(chart.alt())
        Bar chart: Surplus by route. Surplus by route, 2 bars from −300 (Brinewick) to 120 (Kelpwick). \
Negative: 1, Brinewick −300.
        """
        return alternative_text(self.judged, self.page().words.title)

    def page(self) -> Page:
        """All that is drawn, decided to the last word and colour."""
        return self._page

    def notes(self) -> list[str]:
        """What was guessed of the file, what marks of this kind cannot show, and what had no room."""
        return [*self.told, *self._draw().notes]

    def check(self) -> list[Finding]:
        """What is wrong or misleading, each with a code, a sentence, a remedy and its place."""
        with loading_matplotlib():
            from yuzen.checks import findings, without_rows  # noqa: PLC0415

        try:
            found = findings(self.judged, self.page(), self._draw().notes)
        except YuzenError as error:
            found = without_rows(error)
        if self.written is None:
            return found
        return [finding.on_line(self.written) for finding in found]

    @property
    def files(self) -> list[Path]:
        """The files that it is made of besides its brief: a theme's, and that of its rows."""
        given: Any = self.source
        return files_of(self.spec, given, self.folder)

    @cached_property
    def _page(self) -> Page:
        from yuzen.picture.compose import compose  # noqa: PLC0415 - only what is drawn needs a page

        with self._placed():
            return compose(self.judged, self._data_name, self.judged_trends)

    @cached_property
    def told(self) -> tuple[str, ...]:
        """What was guessed of the file, and what marks of this kind cannot show."""
        from yuzen.picture.notes import notes_of  # noqa: PLC0415 - only what is drawn has notes

        return notes_of(self.judged)

    @cached_property
    def marks(self) -> Marks:
        """One row for each drawn thing."""
        if isinstance(self.source, Record):
            return self.source.marks
        with self._placed():
            return shaped(self.data, self.plan, self.meant)

    @cached_property
    def trends(self) -> Mapping[str, Chart]:
        """The small lines in the columns of a table, each a chart of its own, by the columns' names."""
        return {c.called: self._trend(c) for c in self.meant.columns if c.show == "trend"}

    @property
    def judged_trends(self) -> dict[str, Judged]:
        """The same, judged."""
        return {name: chart.judged for name, chart in self.trends.items()}

    def _trend(self, column: ColumnSection) -> Chart:
        """The small lines of a column: those of the rows that the table has."""
        spec = trend_brief(self.meant, column)
        if isinstance(self.source, Record):
            marks = self.source.trends[column.called]
        else:
            place = self.meant.column.index(column)
            with self._placed(), told_at(f'column {place + 1} "{column.called}"', "column", place):
                marks = shaped_lines(self.data, plan_of(spec, rules_of(spec)), spec, self.marks)
        return replace(self, spec=spec, source=Record(self.brief(), marks, self.theme, self._data_name))

    @cached_property
    def bench(self) -> Bench:
        """The facts that the rules are judged on."""
        with self._placed():
            return Bench(self.marks, self.meant.numbers, formats_of(self.meant, self.marks))

    @cached_property
    def verdict(self) -> Verdict:
        """For every mark and target which rule won, and all that held."""
        with self._placed():
            if faults := [*self.bench.faults(self._rules), *color_faults(self.meant, self.theme)]:
                raise YuzenError(*faults)
            return judge(self._rules, self.bench)

    @cached_property
    def palette(self) -> Palette:
        """The colour that each rule gives."""
        with self._placed():
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
        with self._placed(), told_at("theme", "theme"):
            return theme_of(self.spec.theme, self.folder, colors_named(self.meant))

    @cached_property
    def record(self) -> Record:
        """What a picture of the chart holds, by which the picture alone can be asked."""
        trends = {name: chart.marks for name, chart in self.trends.items()}
        return Record(self.brief(), self.marks, self.theme, self._data_name, trends)

    @cached_property
    def meant(self) -> Brief:
        """The brief with its parameters that are words in their places."""
        with self._placed():
            return settled(self.spec)

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
    def _placed(self) -> Iterator[None]:
        """Whatever is wrong with the brief that was loaded is told with its file and line."""
        try:
            yield
        except YuzenError as error:
            raise YuzenError(*(placed(fault, self.spec, self.written) for fault in error.faults)) from None

    @cached_property
    def _rules(self) -> list[Rule]:
        return rules_of(self.meant)

    @property
    def _data_name(self) -> str:
        """What the footer calls the rows, which a table in memory has from its brief."""
        if isinstance(self.source, Record):
            return self.source.source
        return self.data.called or Path(self.spec.data.file or "").name or self.spec.data.table or ""
