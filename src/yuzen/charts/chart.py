"""The chart, as an analyst calls it: what is asked of a brief and its rows, and what comes back."""

from __future__ import annotations

from dataclasses import dataclass, fields, replace
from pathlib import Path
from typing import TYPE_CHECKING, Any

from yuzen.brief.data_source import files_of, moved, same_rows, spread_on, without_place
from yuzen.brief.toml.document import make_brief, write_brief
from yuzen.charts.builder import of_value
from yuzen.charts.outputs import Outputs
from yuzen.charts.stages import Stages
from yuzen.draw.loading import loading_matplotlib
from yuzen.errors import YuzenError, external_call, make_error
from yuzen.files.record import Record
from yuzen.files.whole import write_whole
from yuzen.paths import path_of
from yuzen.report.alternative import alternative_text
from yuzen.report.flags import flag_columns
from yuzen.report.points import with_reasons
from yuzen.report.why import Why, why
from yuzen.shape.in_place.gathered import split
from yuzen.shape.plan.resolved import resolved
from yuzen.sources.inputs import lasting
from yuzen.sources.wanted import column_name

if TYPE_CHECKING:
    from concurrent.futures import Executor

    import pandas as pd

    from yuzen.brief.model import Brief
    from yuzen.checks.finding import Finding
    from yuzen.page.page import Page
    from yuzen.sources.inputs import RowsLike


@dataclass(frozen=True, eq=False, repr=False)
class Chart(Stages, Outputs):
    """One chart: a brief and its rows. It never changes; each method that says more gives a new one.

    It is made by `yz.chart`, `yz.load` or `yz.load_picture`; can be compared, copied, sent to
    another process and drawn in several threads; and shows itself in a notebook.

    >>> import yuzen as yz
    >>> rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
    >>> chart = yz.chart(rows, category="route", value="surplus").rule("negative", color="adverse")
    >>> chart, chart == chart.rule("highest", color="favorable")
    (<Chart bar: surplus by route, rules: 1>, False)
    """

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
        """The same chart of other rows; those in memory come from no file that the brief names.

        >>> import yuzen as yz
        >>> rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
        >>> chart = yz.chart(rows, category="route", value="surplus")
        >>> chart.with_rows({"route": ["Larkholm"], "surplus": [50]}).marks.names()
        ['Larkholm']
        """
        if isinstance(rows, str | Path):
            return replace(self, source=rows)
        return replace(self, source=lasting(rows), spec=without_place(self.spec))

    def on(self, executor: Executor) -> Chart:
        """The same chart, whose files, where its rows are in several, are grouped by an executor's workers.

        executor: any of concurrent.futures, such as a Dask client gives by get_executor().

        >>> import yuzen as yz
        >>> from concurrent.futures import ThreadPoolExecutor
        >>> rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
        >>> with ThreadPoolExecutor(2) as executor:
        ...     yz.chart(rows, category="route", value="surplus").on(executor).marks.names()
        ['Kelpwick', 'Brinewick']
        """
        if isinstance(self.source, Record):
            return self
        with self.placing():
            return replace(self, source=spread_on(self.data, executor))

    def each(self, column: str) -> list[tuple[str, Chart]]:
        """A chart for each value of a column of the kept rows, by what the value is called.

        The peers of each are its own marks, and its subtitle says which value it is of.

        >>> import yuzen as yz
        >>> rows = {"route": list("abc"), "waters": list("xxy"), "passengers": [7, 3, 5]}
        >>> charts = yz.chart(rows, category="route", value="passengers").each("waters")
        >>> [(name, chart.marks.names()) for name, chart in charts]
        [('x', ['a', 'b']), ('y', ['c'])]
        """
        self.needs_rows("a picture for each value (each)")
        with self.placing():
            source = self.data
            with external_call(
                "data-column", "A column is called by a text, and this is none ({reason})."
            ):
                called = str(column)
            plan = resolved(self.plan, source.offered, lambda: source.dated, called)
            own = column_name(called, (*source.offered, *plan.periods.bases), "each picture")
            parts = split(source, plan, own)
        return [
            (name, replace(self, spec=of_value(self.spec, own, name), source=part))
            for name, part in parts
        ]

    def needs_rows(self, what: str, *names: str) -> None:
        """Raise YuzenError (call-picture) where the chart comes from a picture, which has no rows.

        names: parameters that are meant only if rows were kept or measured by one of them.
        """
        asked = not names or bool(
            {name.casefold() for name in names} & self.plan.parameters_of_rows
        )
        if isinstance(self.source, Record) and asked:
            message = (
                f"A picture has marks and no rows, so {what} cannot be asked of it. Take its brief."
            )
            raise make_error("call-picture", message)

    def write(self, path: str | Path) -> Path:
        r"""Write the chart's brief into a .toml file, its data named from there; returns its path.

        Raises YuzenError (call-…) where the rows come from no file.

        >>> import yuzen as yz, pathlib, tempfile
        >>> folder = pathlib.Path(tempfile.mkdtemp())
        >>> _ = (folder / "routes.csv").write_text("route,surplus\nBrinewick,-300\n")
        >>> chart = yz.chart(folder / "routes.csv", category="route", value="surplus")
        >>> yz.load(chart.write(folder / "routes.toml")).marks.names()
        ['Brinewick']
        """
        target = path_of(path)
        if target.suffix.casefold() != ".toml":
            raise make_error("call-format", "A brief is a .toml file.", where=str(target))
        given: Any = self.source
        plain = moved(self.spec, given, self.folder, target.parent)
        with external_call(
            "brief-text", "The brief holds letters that no file can hold: {reason}."
        ):
            text = write_brief(make_brief(plain)).encode()
        write_whole(target, text)
        return target

    def flags(self) -> pd.DataFrame:
        """One row for each mark and target: its numbers, the winning rule, its colour, and the rest.

        >>> import yuzen as yz
        >>> rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
        >>> chart = yz.chart(rows, category="route", value="surplus")
        >>> flags = chart.rule("negative", name="loss", color="adverse").flags()
        >>> flags[["route", "rule", "color"]].to_numpy().tolist()
        [['Kelpwick', '', '#C9CCD0'], ['Brinewick', 'loss', '#C63E2F']]
        """
        from yuzen.sources.frames import frame_from  # noqa: PLC0415 - loads pandas

        return frame_from(flag_columns(self.judged, self.judged_trends))

    def why(self, *items: object) -> Why:
        """Why each flagged mark, or each named one, has its colour; `str()` of it is sentences.

        >>> import yuzen as yz
        >>> rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
        >>> chart = yz.chart(rows, category="route", value="surplus")
        >>> print(chart.rule("negative", color="adverse").why("Brinewick"))
        Brinewick  −300 surplus  (1 row)
          bar  adverse (#C63E2F)  rule 1 "negative": surplus −300 is negative
        """
        told = why(items, self.verdict, self.bench, self.palette, self.spec.noun)
        if not self.trends:
            return told
        return with_reasons(told, items, self.judged_trends, len(self._rules))

    def alt(self) -> str:
        """The alternative text, of at most 60 words: what is drawn, and what stands out by how much.

        >>> import yuzen as yz
        >>> rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
        >>> chart = yz.chart(rows, category="route", value="surplus").rule("negative", color="adverse")
        >>> print(chart.alt())
        Bar chart: Surplus by route. Surplus by route, 2 bars from −300 (Brinewick) to 120 (Kelpwick). Negative: 1, \
Brinewick −300.
        """
        return alternative_text(self.judged, self.page().words.title)

    def page(self) -> Page:
        """All that is drawn, decided to the last word and colour.

        >>> import yuzen as yz
        >>> rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
        >>> chart = yz.chart(rows, category="route", value="surplus")
        >>> page = chart.page()
        >>> page.words.title, page.theme.name, len(page.plots)
        ('Surplus by route', 'linen', 1)
        """
        return self._page

    def notes(self) -> list[str]:
        """What was guessed of the file, what marks of this kind cannot show, and what had no room.

        >>> import yuzen as yz
        >>> rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
        >>> chart = yz.chart(rows, category="route", value="surplus")
        >>> chart.rule("negative", size=12, color="adverse").notes()
        ['rule 1 "negative": bars show no size on mark; areas, dots, lines and points do']
        """
        return [*self.told, *self._draw().notes]

    def check(self) -> list[Finding]:
        """What is wrong or misleading, each with a code, a sentence, a remedy and its place.

        >>> import yuzen as yz
        >>> rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
        >>> chart = yz.chart(rows, category="route", value="surplus")
        >>> for finding in chart.rule("above 1000", color="adverse").check():
        ...     print(finding.code)
        rule-never
        """
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
        """The files that it is made of besides its brief: a theme's, and that of its rows.

        >>> import yuzen as yz
        >>> rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
        >>> chart = yz.chart("routes.csv", category="route", value="surplus")
        >>> [path.name for path in chart.files]
        ['routes.csv']
        """
        given: Any = self.source
        return files_of(self.spec, given, self.folder)
