"""The stages of a chart, each computed when first needed: marks, verdict, page, picture."""

from __future__ import annotations

from collections.abc import Hashable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from dataclasses import field, fields, replace
from datetime import datetime
from pathlib import Path
from typing import TYPE_CHECKING, Any, Final

from yuzen.brief.data_source import files_of, shaped, shaped_lines, shareable, source_for
from yuzen.brief.default_formats import formats_of
from yuzen.brief.design import Design
from yuzen.brief.house_defaults import HouseDefaults, fitted
from yuzen.brief.house_rules import HousedBrief, load_house_rules, with_house_rules
from yuzen.brief.judge_rules import judge_rules
from yuzen.brief.model import Brief
from yuzen.brief.parameters_in_brief import substitute_parameters
from yuzen.brief.row_plan import names_used, plan_of
from yuzen.brief.sections.columns import ColumnSection
from yuzen.brief.today import named_texts, with_today
from yuzen.brief.toml.document import write_brief
from yuzen.brief.toml.source import BriefSource
from yuzen.brief.trend import trend_design
from yuzen.call_limits import refuse_beyond
from yuzen.color.themes import Theme, theme_of
from yuzen.compose.judged_chart import JudgedChart
from yuzen.compose.styles.colored_verdict import ColoredVerdict
from yuzen.compose.styles.palette import Palette, color_faults, colors_named
from yuzen.errors import Fault, YuzenError, error_at, make_error
from yuzen.files.picture_types import refuse_template
from yuzen.files.records.record import Record
from yuzen.formats.name_lists import listed
from yuzen.locks import cached_property
from yuzen.page.description import Description
from yuzen.rules.judge import EvaluationContext, Rule, judge
from yuzen.rules.language.period_names import PeriodName
from yuzen.rules.marks import Marks
from yuzen.shape.plan.plan import Plan
from yuzen.sources.inputs import RowsLike
from yuzen.sources.rows import Source
from yuzen.stage_times import timed
from yuzen.value import Value

if TYPE_CHECKING:
    from yuzen.compose.thinning import Thinned
    from yuzen.files.picture import Picture
    from yuzen.office.facts import ChartFacts
    from yuzen.page.page import Page
    from yuzen.scene.scene import Scene

# What of a plan makes other marks, and the keys of a brief that say it.
PLAN_KEYS: Final[Mapping[str, Sequence[str]]] = {
    "category": ["category"],
    "value": ["value"],
    "measures": ["measure"],
    "keep": ["keep"],
    "series": ["series"],
    "panel": ["panels"],
    "further": ["layer", "column"],
    "grain": ["grain"],
    "bins": ["bins"],
    "listing": ["order", "limit", "kind"],
}
MAX_TITLED_MARKS: Final = 20_000  # marks beyond which none answers when it is pointed at


class Stages(Value, eq=False, repr=False):
    """A brief and its rows, and what becomes of them on the way to a picture.

    brief:        what is said of the chart.
    source:       whatever rows come from, or the record of a picture; None: the file that the brief
                  names, found from `folder`.
    brief_source: the text of the brief that was loaded, by which messages name the line.
    defaults:     what the house of the brief's file sets for all briefs.
    trend:        of the small lines in a column of a table, that column.
    periods:      those whose first and last date texts outside of the brief refer to.
    template:     of slides, the deck whose layouts they have; None: one of ours.
    """

    brief: Brief
    source: RowsLike | Record | None = field(default=None, repr=False)
    folder: Path = field(default_factory=Path, repr=False)
    brief_source: BriefSource | None = field(default=None, repr=False)
    defaults: HouseDefaults | None = field(default=None, repr=False)
    trend: ColumnSection | None = field(default=None, repr=False)
    periods: tuple[PeriodName, ...] = field(default=(), repr=False)
    template: Path | None = field(default=None, repr=False)

    def __getstate__(self) -> dict[str, Any]:
        """What the stages are made of, without what has been worked out since."""
        # Verdicts and pages are cheaper made anew than sent to another process.
        return {part.name: getattr(self, part.name) for part in fields(self)}

    def with_brief(self, brief: Brief) -> Stages:
        """The stages of another brief, which is in no file."""
        return replace(self, brief=brief, brief_source=None)

    # From the brief to the marks.

    @cached_property
    def resolved_brief(self) -> Brief:
        """The brief with its parameters that are words in their places."""
        with self.with_line():
            return substitute_parameters(self.dated_brief)

    @cached_property
    def fitted_brief(self) -> Brief:
        """The brief with those defaults of its house that are about something in it."""
        if self.defaults is None or isinstance(self.source, Record):
            return self.brief
        return fitted(self.brief, self.defaults, self.data.column_names)

    @cached_property
    def housed(self) -> HousedBrief:
        """The brief with the rules of its house before its own."""
        if self.brief.rules is None:
            return HousedBrief(self.fitted_brief, written=self.brief_source)
        with error_at("rules", "rules"):
            house = load_house_rules(self.folder / self.brief.rules)
        # Rules of the house may use parameters of the house, so that the brief is fitted after.
        housed = with_house_rules(self.brief, house, self.data.column_names, self.brief_source)
        return replace(housed, brief=fitted(housed.brief, self.defaults, self.data.column_names))

    @cached_property
    def dated_brief(self) -> Brief:
        """The whole brief with the day of today in it, which then stays."""
        return with_today(self.housed.brief, datetime.now().astimezone().date())

    @cached_property
    def design(self) -> Design:
        """The brief, resolved for drawing."""
        return Design(self.resolved_brief, self.trend)

    @cached_property
    def rules(self) -> list[Rule]:
        """The rules as the judge takes them."""
        return judge_rules(self.design)

    @cached_property
    def plan(self) -> Plan:
        """How the rows become marks."""
        plan = plan_of(self.design, self.rules)
        asked = tuple(dict.fromkeys((*plan.periods.asked, *self.periods)))
        return replace(plan, periods=replace(plan.periods, asked=asked))

    @cached_property
    def data(self) -> Source:
        """Where the rows come from. Raises YuzenError where the brief names nothing."""
        given: Any = self.source  # a record, which has no rows, is never asked for them
        return source_for(self.brief, given, self.folder)

    @cached_property
    def marks(self) -> Marks:
        """One row for each drawn thing."""
        if isinstance(self.source, Record):
            return self.source.marks
        with self.with_line(), timed("shape", self.data_name) as stage:
            marks = shaped(self.data, self.plan, self.resolved_brief)
            stage.result = f"{len(marks):,} marks"
        refuse_beyond("marks", len(marks))
        return marks

    # From the marks to the page.

    @cached_property
    def theme(self) -> Theme:
        """The theme that the brief names; of a picture the one that it was drawn with."""
        if isinstance(self.source, Record):
            return self.source.theme
        with self.with_line(), error_at("theme", "theme"):
            return theme_of(self.brief.theme, self.folder, colors_named(self.resolved_brief))

    @cached_property
    def context(self) -> EvaluationContext:
        """The marks, and the scopes that rules, texts and references are worked out in."""
        with self.with_line():
            formats = formats_of(self.resolved_brief, self.marks)
            return EvaluationContext(self.marks, self.resolved_brief.numbers, formats)

    @cached_property
    def verdict(self) -> ColoredVerdict:
        """For every mark and target which rule won, and all that held, with the rules' colours."""
        with self.with_line():
            # All faults of rules and colours come in one report.
            faults = [*self.context.faults(self.rules), *color_faults(self.design, self.theme)]
            if faults:
                raise YuzenError(*faults)
            with timed("judge", f"{len(self.rules):,} rules"):
                verdict = judge(self.rules, self.context)
            palette = Palette.of(self.design, self.theme, verdict, self.marks)
            return ColoredVerdict.of(self.design, verdict, palette)

    @cached_property
    def judged(self) -> JudgedChart:
        """The chart with its verdict and its colours, from which pages and checks are made."""
        return JudgedChart(self.design, self.context, self.verdict)

    @cached_property
    def trends(self) -> Mapping[str, Stages]:
        """The small lines in the columns of a table, each by the column's name."""
        return {c.called: self._trend(c) for c in self.design.columns if c.show == "trend"}

    @property
    def judged_trends(self) -> dict[str, JudgedChart]:
        """The small lines in the columns of a table, judged, by the columns' names."""
        return {name: trend.judged for name, trend in self.trends.items()}

    @cached_property
    def page(self) -> Page:
        """All that is drawn, decided to the last word and colour."""
        from yuzen.compose.page import compose  # noqa: PLC0415 - only what is drawn needs a page

        judged, trends = self.judged, self.judged_trends
        with self.with_line(), timed("compose", self.data_name):
            return compose(judged, self._drawn, self.data_name, trends)

    @cached_property
    def _drawn(self) -> Thinned:
        """The marks that are drawn, of very many those that a picture can tell apart."""
        from yuzen.compose.thinning import thinned  # noqa: PLC0415 - as pages

        return thinned(self.judged)

    @cached_property
    def notes(self) -> tuple[str, ...]:
        """What was guessed of the file, what misleads, and what such marks cannot show."""
        from yuzen.checks.misleading import misleading_notes  # noqa: PLC0415 - as below
        from yuzen.compose.notes import chart_notes  # noqa: PLC0415 - only what is drawn has notes
        from yuzen.compose.thinning import thinning_note  # noqa: PLC0415 - as above

        of_kind = chart_notes(self.design, self.context, self.verdict)
        misleading = misleading_notes(self.judged, self.brief.ignore)
        return (
            *self.housed.left_out,
            *of_kind,
            *misleading,
            *thinning_note(self.judged, self._drawn),
        )

    # From the page to pictures.

    @cached_property
    def scene(self) -> Scene:
        """The page as one picture: every shape and text in its place, and what had no room."""
        from yuzen.compose.split_pages import first_sheet  # noqa: PLC0415 - as pages
        from yuzen.render.scenes import scene_of  # noqa: PLC0415 - only pictures have a scene

        return scene_of(first_sheet(self.page))

    def picture(self, kind: str = "png", *, ids: str = "") -> Picture:
        """The picture as bytes, and notes about what it does not show.

        ids: what the ids inside an SVG begin with. Raises YuzenError.
        """
        from yuzen.files.picture import Drawn  # noqa: PLC0415 - as scenes
        from yuzen.files.pictures import picture_of  # noqa: PLC0415 - as scenes

        if self.template is not None:
            refuse_template(kind)
        drawn = Drawn(
            self.page, kind, self.record.packed, lambda: self.description, self.answering,
            ids=ids, facts=lambda: self.facts, template=self.template,
        )  # fmt: skip
        with timed("draw", kind) as stage:
            picture = picture_of(drawn)
            stage.result = f"{len(picture.data):,} bytes"
        return replace(picture, notes=(*self.notes, *picture.notes))

    @cached_property
    def record(self) -> Record:
        """The record that a picture holds, from which the picture alone can answer."""
        trends = {name: trend.marks for name, trend in self.trends.items()}
        return Record(write_brief(self.dated_brief), self.marks, self.theme, self.data_name, trends)

    @cached_property
    def alternative(self) -> str:
        """The alternative text: what the picture shows, in words."""
        from yuzen.explain.alternative import alternative_text  # noqa: PLC0415 - as pages

        with self.with_line():
            return alternative_text(self.judged, self.page.words.title, self.judged_trends)

    @cached_property
    def description(self) -> Description:
        """What a file says to those who do not see it."""
        language = self.context.formats.locale.words.language
        return Description(self.page.words.title, self.alternative, language)

    @cached_property
    def facts(self) -> ChartFacts:
        """The marks as rows and the rules with their reasons, as workbooks hold them."""
        from yuzen.compose.thinning import refuse_rows  # noqa: PLC0415 - as pages
        from yuzen.explain.chart_facts import chart_facts  # noqa: PLC0415 - as pages

        refuse_rows(self.marks)
        return chart_facts(self.judged, self.judged_trends, self.page.table)

    def answering(self) -> Description:
        """The description, with what each mark answers when it is pointed at."""
        from yuzen.explain.mark_titles import layer_titles, mark_titles  # noqa: PLC0415 - as pages

        if len(self.marks) > MAX_TITLED_MARKS:
            return self.description
        titles, of_layers = mark_titles(self.judged), layer_titles(self.judged)
        return replace(self.description, marks=titles, layers=of_layers)

    # What jobs and commands ask.

    @property
    def data_name(self) -> str:
        """What the footer calls the rows, which a table in memory has from its brief."""
        if isinstance(self.source, Record):
            return self.source.source
        data = self.brief.data
        return self.data.called or Path(data.file or "").name or data.table or ""

    @property
    def files(self) -> list[Path]:
        """The files that the chart needs besides its brief: the theme's, and those of its rows."""
        given: Any = self.source
        rules = [] if self.brief.rules is None else [self.folder / self.brief.rules]
        defaults = [] if self.defaults is None else [self.defaults.path]
        return [*defaults, *rules, *files_of(self.brief, given, self.folder)]

    @property
    def names_used(self) -> dict[str, str]:
        """The parameters and every other name that the brief refers to, by their small letters."""
        brief = self.housed.brief
        names = (*names_used(Design(brief)), *brief.parameters, *named_texts(brief))
        return {name.casefold(): name for name in names}

    def needs_rows(self, what: str, *names: str) -> None:
        """Raise YuzenError (call-picture) where the chart comes from a picture, which has no rows.

        names: parameters that are meant only if rows were kept or measured by one of them.
        """
        asked = not names or bool(
            {name.casefold() for name in names} & self.plan.parameters_of_rows
        )
        if isinstance(self.source, Record) and asked:
            message = f"A picture has marks and no rows, so {what} cannot be asked of it."
            raise make_error("call-picture", f"{message} Take its brief.")

    def without_rows(self) -> Stages:
        """A copy with marks instead of rows, as pictures hold them, for another process."""
        return replace(self, source=self.record)

    def with_shared_source(self, sources: dict[Hashable, Source]) -> Stages:
        """A copy that reuses the source of an earlier chart with equal data, and adds new ones."""
        if isinstance(self.source, Record):
            return self
        kept, key = shareable(self.data)
        if key is None:
            return self
        return replace(self, source=sources.setdefault(key, kept))

    def following(self, earlier: Stages) -> Stages:
        """A copy that takes from earlier stages the rows and marks that have not changed since.

        Rows are opened anew only where the brief names others, and grouped anew only where the
        plan is another; a parameter of a rule changes neither.
        Raises YuzenError (call-picture) for a picture whose rows would have to be grouped anew.
        """
        copy = replace(self)
        if isinstance(copy.source, Record):
            copy.refuse_regrouping(earlier.plan)
        elif copy.row_places == earlier.row_places:
            # What is worked out once is kept under its name, so it is handed on under its name.
            copy.__dict__["data"] = earlier.data
            if copy.shaping == earlier.shaping and "marks" in earlier.__dict__:
                copy.__dict__["marks"] = earlier.marks
        return copy

    @property
    def row_places(self) -> tuple[object, ...]:
        """What says which rows there are, before any is left out."""
        data = self.brief.data.model_copy(update={"keep": None, "only": {}})
        return id(self.source), self.folder, data, self.brief.aliases

    @property
    def shaping(self) -> tuple[object, ...]:
        """What says how the rows become marks."""
        names = tuple(self.resolved_brief.text_parameters)  # which must be no columns
        return self.plan.of_rows, names, self.brief.data.keep is None

    def refuse_regrouping(self, first: Plan) -> None:
        """Raise YuzenError (call-picture) where the marks of a picture are not those of the plan.

        first: the plan that they are of.
        """
        for key, sections in PLAN_KEYS.items():
            if getattr(self.plan, key) != getattr(first, key):
                self.needs_rows(f"a change of {listed(sections)}")

    @contextmanager
    def with_line(self) -> Iterator[None]:
        """Add file and line of the brief to every YuzenError raised inside."""
        try:
            yield
        except YuzenError as error:
            raise YuzenError(*(self._located(fault) for fault in error.faults)) from None

    def _located(self, fault: Fault) -> Fault:
        """A fault with the file and the line of the brief that was loaded; as it is without one."""
        if self.defaults is not None and self.defaults.gives(fault.key):
            return self.defaults.written.located(fault)
        return self.housed.located(fault) if fault.key else fault

    def _trend(self, column: ColumnSection) -> Stages:
        """The small lines of a column: those of the rows that the table has."""
        design = trend_design(self.design, column)
        if isinstance(self.source, Record):
            marks = self.source.trends[column.called]
        else:
            place = self.resolved_brief.column.index(column)
            where = f'column {place + 1} "{column.called}"'
            plan = plan_of(design, judge_rules(design))
            with self.with_line(), error_at(where, "column", place):
                marks = shaped_lines(self.data, plan, design.brief, self.marks)
        record = Record(write_brief(self.dated_brief), marks, self.theme, self.data_name)
        return replace(self, brief=design.brief, source=record, trend=column)
