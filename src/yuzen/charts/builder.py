"""What a chart says of itself, call by call: each call gives a new chart with a longer brief."""

from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import date
from typing import Any, Self, Unpack

from yuzen.brief.keys.signatures import with_keys_in_signature
from yuzen.brief.keywords import (
    ColumnKeys,
    ConditionLike,
    LabelKeys,
    LayerKeys,
    NoteKeys,
    QuantityLike,
    ReferenceKeys,
    RuleKeys,
)
from yuzen.brief.model import Brief
from yuzen.brief.rule_objects import in_words
from yuzen.brief.sections.base import Section
from yuzen.brief.sections.columns import ColumnSection
from yuzen.brief.sections.labels import LabelSection, NoteSection
from yuzen.brief.sections.layers import LayerSection
from yuzen.brief.sections.references import ReferenceSection
from yuzen.brief.sections.rule import RuleSection
from yuzen.brief.toml.document import make_brief, with_entry, write_brief
from yuzen.errors import make_error, suggestion
from yuzen.rules.grammar.parser import parse
from yuzen.stages.stages import Stages
from yuzen.value import Value


class ChartBuilder(Value, eq=False, repr=False):
    """A chart that is built call by call: each call returns a new chart with a longer brief."""

    stages: Stages

    @with_keys_in_signature(RuleKeys, RuleSection)
    def rule(
        self, when: ConditionLike | RuleSection | None = None, **keys: Unpack[RuleKeys]
    ) -> Self:
        """Add a rule: a condition in words or as an object, and the keys of a brief's [[rule]].

        when: the condition, or a whole rule that `yz.rule` has made.
        Raises YuzenError (brief-…) with every fault of what is said.

        >>> import yuzen as yz
        >>> rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
        >>> chart = yz.chart(rows, category="route", value="surplus")
        >>> loss = chart.rule("negative", color="adverse", key="Runs at a loss")
        >>> loss.flags()["role"].tolist()
        ['quiet', 'adverse']
        >>> chart.rule(yz.top(1), color="favorable").flags()["rule"].tolist()
        ['top 1', '']
        """
        return self._more("rule", _entry("when", when, keys))

    @with_keys_in_signature(RuleKeys, RuleSection)
    def first_rule(
        self, when: ConditionLike | RuleSection | None = None, **keys: Unpack[RuleKeys]
    ) -> Self:
        """Add a rule before all others, so that it decides.

        >>> import yuzen as yz
        >>> rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
        >>> chart = yz.chart(rows, category="route", value="surplus")
        >>> chart.rule("always", color="ink").first_rule("negative",
        ...     color="adverse").flags()["role"].tolist()
        ['ink', 'adverse']
        """
        plain, entry = self.stages.brief.plain(), _entry("when", when, keys)
        return self._with_brief(make_brief({**plain, "rule": [entry, *plain.get("rule", [])]}))

    def measure(self, **measures: QuantityLike) -> Self:
        """Add measures by name: surplus="total of surplus".

        >>> import yuzen as yz
        >>> rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-30, 12], "fares": [100, 120]}
        >>> chart = yz.chart(rows, category="route", value="margin")
        >>> chart.measure(margin="total of surplus / total of fares").flags()["margin"].tolist()
        [0.1, -0.3]
        """
        self.stages.needs_rows("measures")
        return self._merged("measures", {name: in_words(text) for name, text in measures.items()})

    def given(self, **parameters: float | str | date | Sequence[str]) -> Self:
        """Set parameters: n=5, pier="Kelpwick", piers=["Kelpwick", "Brinewick"].

        A text for a parameter that is a list of words is cut at its commas.

        Raises YuzenError (call-set) for one that nothing in the brief refers to.

        >>> import yuzen as yz
        >>> rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
        >>> chart = yz.chart(rows, category="route", value="surplus")
        >>> chart.rule("top n", color="favorable").given(n=1).flags()["rule"].tolist()
        ['top n', '']
        """
        self.stages.needs_rows("a parameter of rows or measures", *parameters)
        names_by_fold = {name.casefold(): name for name in self.stages.brief.parameters}
        known_names = self.stages.names_used
        for name in parameters:
            if name.casefold() not in known_names:
                known = f" It has {', '.join(names_by_fold.values())}." if names_by_fold else ""
                hint = suggestion(name, known_names.values()) or known
                message = (
                    f"The brief has no parameter '{name[:60]}', and nothing uses it yet.{hint}"
                )
                raise make_error("call-set", message)
        called: dict[str, object] = {}
        for name, value in parameters.items():
            name_there = names_by_fold.get(name.casefold(), name)
            is_list = isinstance(self.stages.brief.parameters.get(name_there), tuple)
            if is_list and isinstance(value, str):
                called[name_there] = [word.strip() for word in value.split(",") if word.strip()]
            else:
                called[name_there] = value
        return self._merged("parameters", called)

    @with_keys_in_signature(ReferenceKeys, ReferenceSection)
    def reference(
        self, at: QuantityLike | ReferenceSection | None = None, **keys: Unpack[ReferenceKeys]
    ) -> Self:
        """Add a line at a quantity, or what the keys of a brief's [[reference]] say.

        >>> import yuzen as yz
        >>> rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
        >>> chart = yz.chart(rows, category="route", value="surplus")
        >>> lines = chart.reference("average",
        ...     label="mean {average:.0f}").stages.page.charts[0].references.lines
        >>> lines[0].value, lines[0].text
        (-90.0, 'mean −90')
        """
        return self._more("reference", _entry("at", at, keys))

    @with_keys_in_signature(LabelKeys, LabelSection)
    def label(self, text: str, **keys: Unpack[LabelKeys]) -> Self:
        """Add a piece to the marks' numbers, with the keys of a brief's [[label]].

        >>> import yuzen as yz
        >>> rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
        >>> chart = yz.chart(rows, category="route", value="surplus")
        >>> (label,) = chart.label("{surplus:sign ,.0f}").stages.page.charts[0].layers[0].labels
        >>> label.pieces[0].texts
        ('+120', '−300')
        """
        return self._more("label", _entry("text", text, keys))

    @with_keys_in_signature(LayerKeys, LayerSection)
    def layer(self, name: str, **keys: Unpack[LayerKeys]) -> Self:
        """Add a further measure to the chart, with the keys of a brief's [[layer]].

        The chart's own value becomes the first layer by itself, unless this one draws it.

        >>> import yuzen as yz
        >>> rows = {"route": ["Brinewick", "Kelpwick"], "passengers": [700, 300], "plan": [650,
        ...     400]}
        >>> chart = yz.chart(rows, category="route", value="passengers")
        >>> chart = chart.layer("plan", value="plan", kind="tick")
        >>> [layer.name for layer in chart.stages.page.charts[0].layers]
        ['passengers', 'plan']
        """
        entry, value = _entry("name", name, keys), self.stages.brief.chart.value
        if self.stages.brief.layer or entry.get("value") in (None, value):
            return self._more("layer", entry)
        # The first further layer makes the chart's own one too, as a brief needs both.
        spec = with_entry(self.stages.brief, "layer", {"name": value, "value": value})
        return self._with_brief(with_entry(spec, "layer", entry))

    @with_keys_in_signature(ColumnKeys, ColumnSection)
    def column(self, value: str | int, **keys: Unpack[ColumnKeys]) -> Self:
        """Add a column to a table: a measure, with the keys of a brief's [[column]].

        >>> import yuzen as yz
        >>> rows = {"route": ["Brinewick", "Kelpwick"], "passengers": [700, 300], "fares": [9, 4]}
        >>> table = yz.chart(rows, kind="table", category="route", value="passengers")
        >>> table = table.column("passengers").column("fares", show="both")
        >>> [column.title for column in table.stages.page.table.columns]
        ['Passengers', 'Fares']
        """
        return self._more("column", _entry("value", value, keys))

    @with_keys_in_signature(NoteKeys, NoteSection)
    def note(self, text: str, **keys: Unpack[NoteKeys]) -> Self:
        """Add a text beside a mark: at="2026-03", or when="highest".

        >>> import yuzen as yz
        >>> rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
        >>> chart = yz.chart(rows, category="route", value="surplus")
        >>> page = chart.note("works since spring", when="lowest").stages.page
        >>> [note.text for note in page.charts[0].annotations]
        ['works since spring']
        """
        return self._more("note", _entry("text", text, keys))

    def keep(self, condition: ConditionLike) -> Self:
        """Keep only the rows for which a condition holds.

        >>> import yuzen as yz
        >>> rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
        >>> chart = yz.chart(rows, category="route", value="surplus")
        >>> chart.keep("surplus above 0").flags()["route"].tolist()
        ['Kelpwick']
        """
        self.stages.needs_rows("a condition on rows (keep)")
        return self._merged("data", {"keep": in_words(condition)})

    def showing(self, condition: ConditionLike) -> Self:
        """Draw only the marks for which a condition holds; what looks back knows the others too.

        >>> import yuzen as yz
        >>> rows = {"month": ["2026-01", "2026-02", "2026-03"], "fares": [3, 5, 4]}
        >>> chart = yz.chart(rows, kind="column", category="month", value="fares")
        >>> chart.rule("falls", name="falls", color="adverse").showing("latest month").flags()[
        ...     "rule"].tolist()
        ['falls']
        """
        self.stages.needs_rows("a window of marks (show)")
        return self._merged("chart", {"show": in_words(condition)})

    def also_keep(self, condition: ConditionLike) -> Self:
        """Keep, of the rows that are kept already, only those for which a condition holds too.

        >>> import yuzen as yz
        >>> rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
        >>> chart = yz.chart(rows, category="route", value="surplus")
        >>> chart.keep("surplus above -500").also_keep("surplus above 0").flags()["route"].tolist()
        ['Kelpwick']
        """
        held = self.stages.brief.data.keep
        if held is None:
            return self.keep(condition)
        further = in_words(condition)
        if not isinstance(further, str):
            return self.keep(condition)
        return self.keep(held.tree & parse(further))

    def themed(self, theme: str) -> Self:
        """The chart in another theme: a built-in one by its name, or a file's path.

        >>> import yuzen as yz
        >>> rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
        >>> chart = yz.chart(rows, category="route", value="surplus")
        >>> chart.themed("dusk").flags()["color"].tolist()
        ['#54595E', '#54595E']
        """
        return self._with_brief(make_brief({**self.stages.brief.plain(), "theme": theme}))

    def panelled(self, column: str) -> Self:
        """One small chart for each value of a column, all in one picture.

        >>> import yuzen as yz
        >>> rows = {"route": list("abc"), "waters": list("xxy"), "passengers": [7, 3, 5]}
        >>> chart = yz.chart(rows, category="route", value="passengers").panelled("waters")
        >>> [plot.name for plot in chart.stages.page.plots]
        ['x', 'y']
        """
        self.stages.needs_rows("panels")
        return self._merged("chart", {"panels": column})

    def brief(self) -> str:
        """The chart as the TOML of a brief.

        >>> import yuzen as yz
        >>> rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
        >>> chart = yz.chart(rows, category="route", value="surplus")
        >>> print(chart.rule("negative", color="adverse").brief())
        [chart]
        category = "route"
        value = "surplus"
        <BLANKLINE>
        [[rule]]
        when = "negative"
        color = "adverse"
        <BLANKLINE>
        """
        return write_brief(self.stages.fitted_brief)

    def _with_brief(self, brief: Brief) -> Self:
        """A copy with another brief."""
        return replace(self, stages=self.stages.with_brief(brief))

    def _more(self, section: str, entry: Mapping[str, Any]) -> Self:
        return self._with_brief(with_entry(self.stages.brief, section, entry))

    def _merged(self, section: str, entries: Mapping[str, Any]) -> Self:
        plain = self.stages.brief.plain()
        return self._with_brief(
            make_brief({**plain, section: {**plain.get(section, {}), **entries}})
        )


def _entry(head: str, entry: object, keys: Mapping[str, Any]) -> dict[str, Any]:
    """An entry of a section: the first argument under its key, or a whole entry, and more keys.

    A key that is None is left out, as it is where nobody gives it.
    """
    given = {key: value for key, value in keys.items() if value is not None}
    if isinstance(entry, Section):
        return {**entry.plain(), **in_words(given)}
    if entry is None:
        return dict(in_words(given))
    return dict(in_words({head: entry, **given}))
