"""The chart: brief and rows to marks, verdict, figure and files. The only conductor."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from dataclasses import dataclass, field, replace
from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING, Any

from yuzen.brief.meaning import plan_of, rules_of
from yuzen.brief.model import ChartSection
from yuzen.brief.origin import files_of, moved, source_for
from yuzen.brief.places import Written
from yuzen.brief.toml import load_brief, make_brief, parse_brief, write_brief
from yuzen.color.themes import theme_of
from yuzen.errors import YuzenError, told_at, wrong
from yuzen.files.record import from_record, record_of
from yuzen.picture.judged import Judged
from yuzen.picture.palette import Palette, color_faults
from yuzen.report.why import Why, why
from yuzen.rules.judge import Bench, Verdict, judge
from yuzen.rules.language.grammar import parse
from yuzen.rules.language.wording import braced
from yuzen.rules.marks import Marks
from yuzen.shape.marks import shape
from yuzen.shape.plan import column_name, settled

if TYPE_CHECKING:
    from collections.abc import Iterator, Mapping

    import pandas as pd
    from matplotlib.figure import Figure

    from yuzen.brief.model import Brief
    from yuzen.checks.finding import Finding, Subject
    from yuzen.color.themes import Theme
    from yuzen.errors import Fault
    from yuzen.picture.page import Picture
    from yuzen.rules.conditions import Condition
    from yuzen.rules.judge import Rule
    from yuzen.rules.quantities import Quantity
    from yuzen.shape.plan import Plan
    from yuzen.shape.rows import Source
    from yuzen.shape.sources import RowsLike


@dataclass(frozen=True, eq=False)
class Chart:
    """One chart: a brief and its rows. It never changes; each method that says more gives a new one.

    `source` is whatever rows come from; None: the file that the brief names, found from `folder`.
    `written` is the text of the brief that was loaded, by which messages name the line.
    """

    spec: Brief
    source: RowsLike | Marks | None = field(default=None, repr=False)
    folder: Path = field(default_factory=Path, repr=False)
    written: Written | None = field(default=None, repr=False)

    def rule(self, when: str | Condition, **keys: Any) -> Chart:  # noqa: ANN401 - a brief's own keys
        """Add a rule: a condition in words or as an object, and the keys of a brief's [[rule]]."""
        return self._more("rule", {"when": str(when), **keys})

    def first_rule(self, when: str | Condition, **keys: Any) -> Chart:  # noqa: ANN401 - as above
        """The same, but the rule comes before all others, so that it decides."""
        plain = self.spec.plain()
        plain["rule"] = [{"when": str(when), **keys}, *plain.get("rule", [])]
        return replace(self, spec=make_brief(plain), written=None)

    def measure(self, **measures: str | Quantity) -> Chart:
        """Add measures by name: surplus="total of surplus"."""
        return self._merged("measures", {name: str(text) for name, text in measures.items()})

    def given(self, **parameters: float) -> Chart:
        """Set parameters: n=5."""
        return self._merged("parameters", parameters)

    def reference(self, at: str | Quantity | None = None, **keys: Any) -> Chart:  # noqa: ANN401
        """Add a line at a quantity, or what the keys of a brief's [[reference]] say."""
        return self._more("reference", keys if at is None else {"at": str(at), **keys})

    def label(self, text: str, **keys: Any) -> Chart:  # noqa: ANN401
        """Add a piece to the marks' numbers, with the keys of a brief's [[label]]."""
        return self._more("label", {"text": text, **keys})

    def keep(self, condition: str | Condition) -> Chart:
        """Keep only the rows for which a condition holds."""
        return self._merged("data", {"keep": str(condition)})

    def also_keep(self, condition: str | Condition) -> Chart:
        """Keep, of the rows that are kept already, only those for which a condition holds too."""
        held = self.spec.data.keep
        further = parse(str(condition))
        return self.keep(further if held is None else parse(held) & further)

    def with_rows(self, rows: RowsLike) -> Chart:
        """The same chart of other rows."""
        return replace(self, source=rows)

    def panelled(self, column: str) -> Chart:
        """The same in one small chart for each value of a column."""
        return self._merged("chart", {"panels": column})

    def each(self, column: str) -> list[tuple[str, Chart]]:
        """A chart for each value of a column of the kept rows, by what the value is called.

        The peers of each are its own marks, and its subtitle says which value it is of.
        """
        with self._placed():
            source = self.data
            own = column_name(column, source.offered, "each picture")
            parts = source.split(settled(self._plan(), source.offered), own)
        return [(name, self._of(own, name, part)) for name, part in parts]

    def _of(self, column: str, value: str, rows: RowsLike) -> Chart:
        plain = self.spec.plain()
        data = plain.get("data", {})
        plain["data"] = {**data, "only": {**data.get("only", {}), column: value}}
        plain["subtitle"] = " · ".join(filter(None, [braced(value), self.spec.subtitle]))
        return replace(self, spec=make_brief(plain), source=rows)

    def brief(self) -> str:
        """The chart as the TOML of a brief."""
        return write_brief(self.spec)

    def write(self, path: str | Path) -> Path:
        """Write the chart's brief into a .toml file, its data named from there; returns its path.

        Raises YuzenError (call-…) where the rows come from no file.
        """
        from yuzen.files.whole import write_whole  # noqa: PLC0415 - as above

        target = Path(path)
        if target.suffix.casefold() != ".toml":
            raise wrong("call-format", "A brief is a .toml file.", where=str(target))
        given: Any = self.source
        plain = moved(self.spec, given, self.folder, target.parent)
        write_whole(target, write_brief(make_brief(plain)).encode())
        return target

    def figure(self) -> Figure:
        """The Matplotlib figure, made anew."""
        return self._draw()[0]

    def image(self, kind: str = "png") -> bytes:
        """The picture as the bytes of a png, svg or pdf file."""
        from yuzen.files.pictures import packed, picture_bytes  # noqa: PLC0415 - as above

        with ThreadPoolExecutor(1) as beside:  # compressing needs no Python, so it goes on while we draw
            record = beside.submit(packed, record_of(self.brief(), self.marks))
            return picture_bytes(self._drawn[0], kind, record)

    def save(self, path: str | Path) -> Path:
        """Draw into a .png, .svg or .pdf file, whole or not at all; returns its path."""
        from yuzen.files.pictures import format_of  # noqa: PLC0415 - as above
        from yuzen.files.whole import write_whole  # noqa: PLC0415 - as above

        target = Path(path)
        write_whole(target, self.image(format_of(target)))
        return target

    def flags(self) -> pd.DataFrame:
        """One row for each mark and target: its numbers, the winning rule, its colour, and the rest."""
        from yuzen.report.flags import flags_table  # noqa: PLC0415 - as above, for pandas

        return flags_table(self.marks, self.verdict, self.palette)

    def why(self, *items: str) -> Why:
        """Why each flagged mark, or each named one, has its colour; `str()` of it is sentences."""
        return why(items, self.verdict, self.bench, self.palette, self.spec.chart.kind)

    def picture(self) -> Picture:
        """All that is drawn, decided to the last word and colour."""
        return self._composed

    @cached_property
    def _composed(self) -> Picture:
        from yuzen.picture.compose import compose  # noqa: PLC0415 - as above

        with self._placed():
            return compose(Judged(self.spec, self.bench, self.verdict, self.palette), self._data_name)

    def notes(self) -> list[str]:
        """What was guessed of the file, and what had no room on the picture: names, numbers."""
        return [*self.marks.guesses, *self._drawn[1]]

    def check(self) -> list[Finding]:
        """What is wrong or misleading, each with a code, a sentence, a remedy and its place."""
        from yuzen.checks import findings  # noqa: PLC0415 - loads Matplotlib, as above

        found = findings(self.checked())
        return found if self.written is None else [self._lined(finding, self.written) for finding in found]

    def checked(self) -> Subject:
        """What checks look at: the chart judged, and as it is drawn."""
        from yuzen.checks.finding import Subject  # noqa: PLC0415 - as above

        judged = Judged(self.spec, self.bench, self.verdict, self.palette)
        return Subject(judged, self.picture(), self._drawn[1])

    def _lined(self, finding: Finding, written: Written) -> Finding:
        line = written.line(finding.key)
        told = finding.at(written.called if line is None else f"{written.called}, line {line}")
        return replace(told, line=line)

    @property
    def files(self) -> list[Path]:
        """The files that it is made of besides its brief: a theme's, and that of its rows."""
        given: Any = self.source
        return files_of(self.spec, given, self.folder)

    def _draw(self) -> tuple[Figure, list[str]]:
        from yuzen.draw.page import draw  # noqa: PLC0415 - loads Matplotlib, which flags do not need

        return draw(self.picture())

    @cached_property
    def _drawn(self) -> tuple[Figure, list[str]]:
        return self._draw()

    def _repr_png_(self) -> bytes:
        return self.image("png")

    @cached_property
    def marks(self) -> Marks:
        """One row for each drawn thing."""
        if isinstance(self.source, Marks):
            return self.source
        with self._placed():
            return shape(self.data, self._plan())

    @cached_property
    def bench(self) -> Bench:
        """The facts that the rules are judged on."""
        return Bench(self.marks, self.spec.parameters)

    @cached_property
    def verdict(self) -> Verdict:
        """For every mark and target which rule won, and all that held."""
        with self._placed():
            faults = [*self.bench.faults(self._rules), *color_faults(self.spec, self.theme)]
            if faults:
                raise YuzenError(*faults)
            return judge(self._rules, self.bench)

    @cached_property
    def palette(self) -> Palette:
        """The colour that each rule gives."""
        with self._placed():
            return Palette.of(self.spec, self.theme, self.verdict, self.marks)

    @cached_property
    def theme(self) -> Theme:
        """The theme that the brief names."""
        with self._placed(), told_at("theme", "theme"):
            return theme_of(self.spec.theme, self.folder)

    @contextmanager
    def _placed(self) -> Iterator[None]:
        """Whatever is wrong with the brief that was loaded is told with its file and line."""
        try:
            yield
        except YuzenError as error:
            raise YuzenError(*map(self._with_line, error.faults)) from None

    def _with_line(self, fault: Fault) -> Fault:
        if self.written is None or not fault.key:
            return fault
        rule = fault.key[0] == "rules"  # by its place among all rules, of which bands make several
        key = (*self.spec.key_of(int(fault.key[1])), *fault.key[2:]) if rule else fault.key
        return self.written.placed(replace(fault, key=key))

    @cached_property
    def _rules(self) -> list[Rule]:
        return rules_of(self.spec)

    @cached_property
    def data(self) -> Source:
        """Where the rows come from. Raises YuzenError where the brief names nothing."""
        given: Any = self.source  # marks, which a picture has, are no rows and are never asked for them
        return source_for(self.spec, given, self.folder)

    @property
    def _data_name(self) -> str:
        """What the footer calls the rows, which a table in memory has from its brief."""
        own = "" if isinstance(self.source, Marks) else self.data.called
        return own or Path(self.spec.data.file or "").name or self.spec.data.table or ""

    def _plan(self) -> Plan:
        return plan_of(self.spec, self._rules)

    def _more(self, section: str, entry: Mapping[str, Any]) -> Chart:
        plain = self.spec.plain()
        plain[section] = [*plain.get(section, []), dict(entry)]
        return replace(self, spec=make_brief(plain))

    def _merged(self, section: str, entries: Mapping[str, Any]) -> Chart:
        plain = self.spec.plain()
        plain[section] = {**plain.get(section, {}), **entries}
        return replace(self, spec=make_brief(plain))


def chart(
    rows: RowsLike | None = None,
    *,
    category: str,
    value: str,
    **said: Any,  # noqa: ANN401 - a brief's own keys
) -> Chart:
    """A chart of rows: a DataFrame, an Arrow table, a mapping of columns, or a file's path.

    `said` are the other keys of a brief's [chart] (kind, series, grain, order, limit, rest, totals, base,
    smooth, arrange, panels, ...) and its sections: title, subtitle, footer, theme, measures, parameters,
    layer, scale, size.
    Raises YuzenError with every fault of what is said.
    """
    own = {key: value for key, value in said.items() if key in ChartSection.model_fields}
    sections = {key: value for key, value in said.items() if key not in own}
    return Chart(make_brief({"chart": {"category": category, "value": value, **own}, **sections}), rows)


def load(path: str | Path) -> Chart:
    """The chart of a brief in a TOML file; its data file is found from the brief's folder."""
    place = Path(path)
    spec, written = load_brief(place)
    return Chart(spec, folder=place.parent, written=written)


def load_picture(path: str | Path) -> Chart:
    """The chart inside a picture that Yuzen drew: its brief and its marks, without the rows."""
    from yuzen.files.pictures import record_in  # noqa: PLC0415 - as above

    text, marks = from_record(record_in(Path(path)))
    return Chart(parse_brief(Written(str(path), text)), marks)
