"""The chart, as an analyst calls it."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Any, Final

from yuzen.brief.data_source import moved, same_rows, spread_on, without_place
from yuzen.brief.design import Design
from yuzen.brief.toml.document import make_brief, of_value, write_brief
from yuzen.charts.last_time import last_stages
from yuzen.charts.outputs import DrawnChart
from yuzen.errors import external_call, make_error, require_executor
from yuzen.explain.flags import flag_columns
from yuzen.files.records.record import Record
from yuzen.files.whole import write_whole
from yuzen.paths import path_of
from yuzen.render.loading import loading_matplotlib
from yuzen.shape.in_place.gathered import split
from yuzen.shape.plan.resolved import resolved
from yuzen.sources.extras import needed_for
from yuzen.sources.inputs import RowsLike, lasting
from yuzen.sources.wanted import column_name
from yuzen.stages.stages import Stages

if TYPE_CHECKING:
    from concurrent.futures import Executor

    import pandas as pd

    from yuzen.checks.finding import Finding
    from yuzen.desk.frame import DeskFrame
    from yuzen.explain.summary import ChartSummary
    from yuzen.explain.why import Why


class Chart(DrawnChart, eq=False, repr=False):
    """One chart: a brief and its rows. It never changes; each method returns a new chart.

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
        this, others = self.stages, other.stages
        same = this.brief.plain() == others.brief.plain() and this.folder == others.folder
        return same and same_rows(this.source, others.source)

    def __hash__(self) -> int:
        return hash((self.brief(), self.stages.folder))

    def __repr__(self) -> str:
        drawn, rules = self.stages.brief.chart, len(Design(self.stages.brief).rules)
        return f"<Chart {drawn.kind}: {drawn.value} by {drawn.category}, rules: {rules}>"

    def with_rows(self, rows: RowsLike) -> Chart:
        """A copy with other rows; rows in memory replace the file that the brief names.

        >>> import yuzen as yz
        >>> rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
        >>> chart = yz.chart(rows, category="route", value="surplus")
        >>> chart.with_rows({"route": ["Larkholm"], "surplus": [50]}).flags()["route"].tolist()
        ['Larkholm']
        """
        if isinstance(rows, str | Path):
            # A path is a place like the brief's own, so the rest of [data] (delimiter, keep) stays.
            return self._with(source=rows)
        brief = without_place(self.stages.brief)
        return self._with(source=lasting(rows), brief=brief)

    def on(self, executor: Executor) -> Chart:
        """A copy that groups its data files on the executor's workers, one task per file.

        executor: any of concurrent.futures, such as a Dask client gives by get_executor().

        >>> import yuzen as yz
        >>> from concurrent.futures import ThreadPoolExecutor
        >>> rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
        >>> with ThreadPoolExecutor(2) as executor:
        ...     yz.chart(rows, category="route",
        ...     value="surplus").on(executor).flags()["route"].tolist()
        ['Kelpwick', 'Brinewick']
        """
        require_executor(executor)
        if isinstance(self.stages.source, Record):
            return self
        with self.stages.with_line():
            return self._with(source=spread_on(self.stages.data, executor))

    def each(self, column: str) -> list[tuple[str, Chart]]:
        """A chart for each value of a column of the kept rows, by what the value is called.

        The peers of each are its own marks, and its subtitle says which value it is of.

        >>> import yuzen as yz
        >>> rows = {"route": list("abc"), "waters": list("xxy"), "passengers": [7, 3, 5]}
        >>> charts = yz.chart(rows, category="route", value="passengers").each("waters")
        >>> [(name, chart.flags()["route"].tolist()) for name, chart in charts]
        [('x', ['a', 'b']), ('y', ['c'])]
        """
        stages = self.stages
        stages.needs_rows("a picture for each value (each)")
        with stages.with_line():
            source = stages.data
            with external_call(
                "data-column", "A column is called by a text, and this is none ({reason})."
            ):
                called = str(column)
            plan = resolved(stages.plan, source.column_names, lambda: source.date_columns, called)
            each_column = column_name(
                called, (*source.column_names, *plan.periods.bases), "each picture"
            )
            parts = split(source, plan, each_column)
        return [
            (name, self._with(brief=of_value(stages.brief, each_column, name), source=part))
            for name, part in parts
        ]

    def _with(self, **parts: Any) -> Chart:  # noqa: ANN401 - fields of the stages
        """A copy with other parts."""
        return replace(self, stages=replace(self.stages, **parts))

    def write(self, path: str | Path) -> Path:
        r"""Write the chart's brief into a .toml file, its data named from there; returns its path.

        Raises YuzenError (call-…) where the rows come from no file.

        >>> import yuzen as yz, pathlib, tempfile
        >>> folder = pathlib.Path(tempfile.mkdtemp())
        >>> _ = (folder / "routes.csv").write_text("route,surplus\nBrinewick,-300\n")
        >>> chart = yz.chart(folder / "routes.csv", category="route", value="surplus")
        >>> yz.load(chart.write(folder / "routes.toml")).flags()["route"].tolist()
        ['Brinewick']
        """
        target = path_of(path)
        if target.suffix.casefold() != ".toml":
            raise make_error("call-format", "A brief is a .toml file.", where=str(target))
        stages = self.stages
        given: Any = stages.source
        plain = moved(stages.fitted_brief, given, stages.folder, target.parent)
        with external_call(
            "brief-text", "The brief holds letters that no file can hold: {reason}."
        ):
            text = write_brief(make_brief(plain)).encode()
        write_whole(target, text)
        return target

    def edit(self) -> DeskFrame:
        """The page of `yuzen edit` for this chart, in a frame of the notebook (extra: page).

        Returns what the notebook shows; its `text` is the brief as it is on the page now, for
        `yz.loads(frame.text, rows)`. Where the notebook is on another machine, it says how to start
        the page there. Raises YuzenError (data-extra) without the packages.

        >>> import yuzen as yz
        >>> rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
        >>> frame = yz.chart(rows, category="route", value="surplus").edit()
        >>> frame.address[:17]
        'http://127.0.0.1:'
        >>> frame.stop()
        """
        with needed_for("page", "the page"):
            from yuzen.desk.frame import DeskFrame  # noqa: PLC0415 - it loads a server

        from yuzen.desk.edited_brief import edited_chart  # noqa: PLC0415 - few calls edit

        return DeskFrame(edited_chart(self.stages))

    def flags(self) -> pd.DataFrame:
        """One row for each mark and target: numbers, winning rule, colour and more.

        >>> import yuzen as yz
        >>> rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
        >>> chart = yz.chart(rows, category="route", value="surplus")
        >>> flags = chart.rule("negative", name="loss", color="adverse").flags()
        >>> flags[["route", "rule", "color"]].to_numpy().tolist()
        [['Kelpwick', '', '#C9CCD0'], ['Brinewick', 'loss', '#C63E2F']]
        """
        from yuzen.sources.frames import frame_from  # noqa: PLC0415 - loads pandas

        return frame_from(flag_columns(self.stages.judged, self.stages.judged_trends))

    def why(self, *items: object) -> Why:
        """Why each flagged mark, or each named one, has its colour; `str()` of it is sentences.

        >>> import yuzen as yz
        >>> rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
        >>> chart = yz.chart(rows, category="route", value="surplus")
        >>> print(chart.rule("negative", color="adverse").why("Brinewick"))
        Brinewick  −300 surplus  (1 row)
          bar  adverse (#C63E2F)  rule 1 "negative": surplus −300 is negative
        """
        from yuzen.explain.points import with_reasons  # noqa: PLC0415 - only answers need reasons
        from yuzen.explain.why import why  # noqa: PLC0415 - as above

        stages = self.stages
        answer = why(items, stages.context, stages.verdict, stages.design.noun)
        if not stages.trends:
            return answer
        return with_reasons(answer, items, stages.judged_trends, len(stages.rules))

    def summary(self, since: Chart | RowsLike | None = None) -> ChartSummary:
        """What stands out, in sentences: how many marks, which, by how much; adverse things first.

        since: last time's rows, their file, a folder with a file of the same name, or a chart of
               them: then also what is new, gone or changed.
        Returns a ChartSummary; `str()` of it is a line for each sentence, `data()` is for programs.

        >>> import yuzen as yz
        >>> rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
        >>> chart = yz.chart(rows, category="route", value="surplus").rule("negative", color="ink")
        >>> chart.summary()
        Negative: 1 of 2, Brinewick (−300).
        Surplus: highest Kelpwick (120), lowest Brinewick (−300).
        >>> may = {"route": ["Brinewick", "Kelpwick"], "surplus": [40, 110]}
        >>> [sentence.text for sentence in chart.summary(since=may) if sentence.about == "new"]
        ['Negative, new since last time: Brinewick (−300, was 40).']
        """
        from yuzen.explain.summary import summary_of  # noqa: PLC0415 - few calls tell

        stages = self.stages
        if since is None:
            return summary_of(stages.judged, stages.judged_trends)
        last = last_stages(stages, since.stages if isinstance(since, Chart) else since)
        return summary_of(stages.judged, stages.judged_trends, last.judged)

    def notes(self) -> list[str]:
        """What was guessed of the file, what marks of this kind cannot show, and what had no room.

        >>> import yuzen as yz
        >>> rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
        >>> chart = yz.chart(rows, category="route", value="surplus")
        >>> chart.rule("negative", size=12, color="adverse").notes()
        ['rule 1 "negative": bars show no size on mark; areas, dots, lines and points do']
        """
        return [*self.stages.notes, *self.stages.scene.notes]

    def check(self) -> list[Finding]:
        """What is wrong or misleading, each with a code, a sentence, a remedy and its place.

        Findings whose codes the brief ignores (`ignore`) are left out.

        >>> import yuzen as yz
        >>> rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
        >>> chart = yz.chart(rows, category="route", value="surplus")
        >>> for finding in chart.rule("above 1000", color="adverse").check():
        ...     print(finding.code)
        rule-never
        """
        with loading_matplotlib():
            from yuzen.stages.checking import checked  # noqa: PLC0415

        return list(checked(self.stages).findings)

    if not TYPE_CHECKING:

        def __getattr__(self, name: str) -> object:
            """Members that were public once, for scripts that use them."""
            if name not in FORMER_MEMBERS:
                message = f"'{type(self).__name__}' object has no attribute '{name}'"
                raise AttributeError(message)
            return FORMER_MEMBERS[name](self.stages)


FORMER_MEMBERS: Final[Mapping[str, Callable[[Stages], object]]] = {
    "files": lambda stages: stages.files,
    "marks": lambda stages: stages.marks,
    "page": lambda stages: lambda: stages.page,
    "render": lambda stages: stages.picture,
    "spec": lambda stages: stages.brief,
    "theme": lambda stages: stages.theme,
}
