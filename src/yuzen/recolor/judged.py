"""A chart that was read, judged by rules: its marks as a table, and what rules decide of them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any, Final

import numpy as np
import pandas as pd

from yuzen.brief.house_rules import HouseFile, HouseRules, with_house_rules
from yuzen.brief.sections.base import Parameter
from yuzen.brief.sections.effects import EFFECT_TABLE
from yuzen.brief.sections.rule import RuleSection
from yuzen.brief.toml.document import write_brief
from yuzen.brief.toml.source import BriefSource
from yuzen.charts.judging import free_name, given_plan, spec_of
from yuzen.charts.mark_table import MarkTable, joint_column, with_rows
from yuzen.color.themes import Theme
from yuzen.compose.judged_chart import JudgedChart
from yuzen.errors import make_error
from yuzen.files.records.record import Record
from yuzen.formats.name_lists import listed
from yuzen.page.shapes import BAR, LINE, POINT, SLICE
from yuzen.recolor.chart_numbers import OfficeChart
from yuzen.rules.target import MARK, Target
from yuzen.shape.given import given_marks
from yuzen.stages.stages import Stages
from yuzen.value import Value

KINDS: Final = {"bars": "column", "lines": "line", "points": "scatter", "slices": "ring"}
SHAPES: Final = {"bars": BAR, "lines": LINE, "points": POINT, "slices": SLICE}
# What can be written into a file that is there: looks of points and of the labels that it has.
POINT_EFFECTS: Final = frozenset({"color", "shade", "bands", "outline", "pattern", "opacity"})
LABEL_EFFECTS: Final = frozenset({"color", "shade", "bands", "weight"})


class JudgedOffice(Value, eq=False):
    """A chart with its verdict.

    judged: its marks, series after series, missing points left out.
    places: of each mark its series and its point, shape (n, 2).
    notes:  what is not shown, and which rules do not apply.
    record: what a file holds of it, so that it can be asked why.
    """

    chart: OfficeChart
    judged: JudgedChart
    places: np.ndarray[Any, np.dtype[np.intp]]
    record: Record
    notes: tuple[str, ...] = ()


class ChartRuling(Value):
    """The rules for one chart, and what they are judged and shown with.

    own:    rules for this chart; shared: those for all charts, which come first.
    name:   what the record calls the chart; written: the text of the rules, by which messages say
            where they stand.
    """

    own: Sequence[RuleSection]
    shared: Sequence[RuleSection]
    parameters: Mapping[str, Parameter]
    theme: Theme
    name: str
    written: BriefSource | None = None


def judged_chart(
    chart: OfficeChart, ruling: ChartRuling, rows: pd.DataFrame | None
) -> JudgedOffice:
    """A chart judged by its own rules, and by those of all charts that apply to it.

    rows: further columns, joined by the categories.
    Raises YuzenError for rules that cannot be judged or shown, and data that does not fit.
    """
    table, places = _table(chart)
    if rows is not None:
        table = _joined(table, rows, [*ruling.own, *ruling.shared])
    kind = "bar" if chart.horizontal else KINDS[chart.marks]
    spec = spec_of({"kind": kind, "order": "as given", **table.settings}, ruling.own, None,
                   parameters=dict(ruling.parameters))  # fmt: skip
    text = ruling.written or BriefSource("the rules", "")
    # Rules of all charts are like those of a house: what does not fit a chart is left out there.
    house = HouseRules(HouseFile.model_construct(rule=tuple(ruling.shared), parameters={}), text)
    housed = with_house_rules(spec, house, [*table.frame.columns, *table.column_names], None)
    brief = housed.brief
    _refuse_unshown(brief.rule, chart)
    marks = given_marks(table.frame, given_plan(brief), column_names=table.column_names)
    record = Record(write_brief(brief), marks, ruling.theme, "", name=ruling.name)
    judged = Stages(brief, record).judged
    notes = (*housed.left_out, *table.remarks, *_unshown(brief.rule, chart))
    return JudgedOffice(chart, judged, places, record, notes)


def _table(chart: OfficeChart) -> tuple[MarkTable, np.ndarray[Any, np.dtype[np.intp]]]:
    """The points of a chart as rows; those without a number are no marks."""
    columns: dict[str, list[Any]] = {"category": [], "value": [], "series": [], "across": []}
    places = []
    called: list[str] = []
    for series in chart.series:
        # Two series may have one name, and are told apart all the same.
        called.append(free_name(series.name, called))
    for place, series in enumerate(chart.series):
        assert series.categories is not None  # noqa: S101 - filled when the chart was read
        for point, value in enumerate(series.numbers.tolist()):
            across = np.nan if series.across is None else float(series.across[point])
            # A point that is not drawn is no mark, and is never flagged.
            if np.isnan(value) or (chart.marks == "points" and np.isnan(across)):
                continue
            columns["category"].append(series.categories[point])
            columns["value"].append(value)
            columns["series"].append(called[place])
            columns["across"].append(across)
            places.append((place, point))
    if not places:
        message = "The chart has no point with a number."
        raise make_error("paint-chart", message)
    # Points have no names of their own.
    if chart.marks == "points":
        columns["category"] = [f"point {number}" for number in range(1, len(places) + 1)]
    several = len({place for place, _ in places}) > 1
    value = _value_name(chart, several=several)
    names = {"value": value, "category": free_name(chart.category_title or "category", [value])}
    if chart.marks == "points":
        names["category"] = free_name("point", [value])
        names["across"] = free_name(chart.category_title or "across", names.values())
    if several:
        names["series"] = free_name("series", names.values())
    frame = pd.DataFrame({name: columns[key] for key, name in names.items()})
    return MarkTable(frame, names), np.array(places, dtype=np.intp)


def _value_name(chart: OfficeChart, *, several: bool) -> str:
    """What the numbers are called: as the only series, else as their axis."""
    if not several and not chart.series[0].name.startswith("series "):
        return chart.series[0].name
    return chart.value_title or "value"


def _joined(table: MarkTable, rows: pd.DataFrame, rules: Sequence[RuleSection]) -> MarkTable:
    """The marks with the columns of their rows."""
    category = table.settings["category"]
    # The category is what rows are joined by, so it is not looked for among the others.
    taken = [name for name in table.frame.columns if name != category]
    joint = joint_column(rows, table.frame[category], taken, category)
    return with_rows(table, rows, joint, rules)


def _shown_effects(chart: OfficeChart, target: Target) -> frozenset[str]:
    """The effects that painting writes into a file, of a target."""
    shape = SHAPES[chart.marks]
    if target == MARK:
        able = POINT_EFFECTS - ({"pattern"} if chart.marks in {"lines", "points"} else set())
        return frozenset(e.name for e in EFFECT_TABLE if e.name in able and e.seen(target, shape))
    if target == Target("label"):
        return LABEL_EFFECTS
    return frozenset()


def _refuse_unshown(rules: Sequence[RuleSection], chart: OfficeChart) -> None:
    """Raise YuzenError (paint-effect) for a rule of which nothing would be seen."""
    for place, rule in enumerate(rules, start=1):
        able = _shown_effects(chart, Target.parse(rule.on))
        if able.isdisjoint(rule.effects):
            effects = listed(list(rule.effects)) or "nothing"
            message = (
                f"painting a file changes {listed(sorted(POINT_EFFECTS))} of marks and "
                f"{listed(sorted(LABEL_EFFECTS))} of labels, and this rule sets {effects} on "
                f"'{rule.on}'."
            )
            raise make_error("paint-effect", message, where=f'rule {place} "{rule.called}"')


def _unshown(rules: Sequence[RuleSection], chart: OfficeChart) -> list[str]:
    """What rules say besides what is seen."""
    notes = []
    for place, rule in enumerate(rules, start=1):
        able = _shown_effects(chart, Target.parse(rule.on))
        # A rule of which something is seen is kept, and the rest of it reported.
        left = [effect for effect in rule.effects if effect not in able]
        if left:
            what = f'rule {place} "{rule.called}" has {listed(left)}'
            notes.append(f"{what}, which painting a file does not show.")
    return notes
