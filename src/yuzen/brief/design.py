"""A brief resolved for drawing: its kind, shapes, layers, columns, and what each rule acts on."""

from dataclasses import replace

from yuzen.brief.default_columns import implied_columns
from yuzen.brief.kinds import KINDS, ChartKind
from yuzen.brief.model import Brief
from yuzen.brief.sections.chart import ChartSection
from yuzen.brief.sections.columns import ColumnSection
from yuzen.brief.sections.effects import EFFECTS
from yuzen.brief.sections.layers import LayerSection
from yuzen.brief.sections.rule import RuleSection
from yuzen.locks import cached_property
from yuzen.page.shapes import CELL, LAYER_SHAPES, LINE, NOTHING, TREND, MarkShape
from yuzen.rules.conditions import Condition
from yuzen.rules.names import in_conditions
from yuzen.rules.target import LABEL, MARK, Target
from yuzen.value import Value


class DesignRule(Value, eq=False):
    """A rule of a brief; each of its bands and each of its columns makes one.

    section: what it says.
    written: what it acts on, as the brief names it.
    seen_on: what that is: on the chart's own layer or column it is the mark. Shape and target say
             which of its effects are drawn.
    on:      what it is judged on: of the points of small lines the mark, else as `seen_on`.
    value:   the measure that it is about where it names none; None: the chart's own.
    place:   the index of its section in the brief.
    """

    section: RuleSection
    written: Target
    seen_on: Target
    on: Target
    shape: MarkShape
    value: str | None
    place: int

    @property
    def key(self) -> tuple[str | int, ...]:
        """Where it stands in the brief."""
        return ("rule", self.place)

    def shows(self, effect: str) -> bool:
        """Whether one of its effects is drawn."""
        return EFFECTS[effect].seen(self.seen_on, self.shape)


class Design(Value, eq=False):
    """The decisions that a brief leads to before there are rows.

    brief: the sections as they are said.
    trend: of the small lines in a column of a table, that column; None for a chart of its own.
    """

    brief: Brief
    trend: ColumnSection | None = None

    @property
    def chart(self) -> ChartSection:
        """What is drawn of which columns."""
        return self.brief.chart

    @property
    def tabular(self) -> bool:
        """Whether the chart is a table."""
        return KINDS[self.chart.kind].shape.tabular

    @cached_property
    def main(self) -> LayerSection | None:
        """The layer that draws the chart's own value; None where there are no layers."""
        main_layers = [layer for layer in self.brief.layer if layer.value == self.chart.value]
        return next(iter(main_layers), None)

    @property
    def further_layers(self) -> tuple[LayerSection, ...]:
        """The layers besides the main one."""
        return tuple(layer for layer in self.brief.layer if layer is not self.main)

    @cached_property
    def kind(self) -> str:
        """The kind that is drawn: as the main layer says, in the chart's direction."""
        layer_kind = None if self.main is None or self.tabular else self.main.kind
        if layer_kind == "line":
            return "line"
        # A chart of lines whose own layer is bars stays upright, as its dates run across.
        if layer_kind == "bar" and not KINDS[self.chart.kind].shape.is_bar:
            return "column"
        return self.chart.kind

    @cached_property
    def traits(self) -> ChartKind:
        """The traits of that kind."""
        traits = KINDS[self.kind]
        if self.main is not None and self.main.kind == "dots" and not self.tabular:
            dots = KINDS["dots"]
            return replace(traits, shape=dots.shape, noun=dots.noun, plural=dots.plural)
        return traits

    @property
    def layout(self) -> str:
        """The file in `draw/kinds/` that lays the chart out."""
        return KINDS[self.kind].layout or self.kind

    @property
    def noun(self) -> str:
        """What one of the marks is called."""
        if self.chart.binned:
            return "bin"
        return KINDS[self.chart.kind].noun

    @cached_property
    def shown(self) -> Condition | None:
        """Which marks are drawn; None: all, or the condition is about the small lines."""
        if self.chart.show is None or self.shows_lines:
            return None
        return self.chart.show.tree

    @property
    def shows_lines(self) -> bool:
        """Whether `show` is about what the small lines of a table run along."""
        if self.chart.show is None:
            return False
        along = {str(c.over).casefold() for c in self.brief.column if c.show == "trend"}
        names = {name.casefold() for name in in_conditions([self.chart.show.tree]).all}
        return bool(along & names)

    @cached_property
    def columns(self) -> tuple[ColumnSection, ...]:
        """The columns of a table without series: those of the brief, else what it refers to."""
        brief, chart = self.brief, self.chart
        if not self.tabular or chart.series is not None:
            return ()
        pieces = [piece.name for piece in brief.label if piece.name]
        others = (chart.category, *chart.totals, *brief.parameters, *pieces)
        return brief.column or implied_columns(chart.value, brief.layer, brief.rule, others)

    @cached_property
    def value_column(self) -> ColumnSection | None:
        """The column that shows the chart's own value, which rules without a target refer to."""
        value_columns = [
            c for c in self.columns if c.value == self.chart.value and c.show != "trend"
        ]
        return next(iter(value_columns), None)

    @cached_property
    def all_rules(self) -> tuple[DesignRule, ...]:
        """Every rule, each band and each column as one."""
        return tuple(
            self._rule(section, place)
            for place, whole in enumerate(self.brief.rule)
            for section in whole.spread()
        )

    @cached_property
    def rules(self) -> tuple[DesignRule, ...]:
        """The rules on the chart's marks, in the order that decides."""
        if self.trend is None:
            # Rules on small lines are judged on those lines' marks, not on the table's.
            return tuple(rule for rule in self.all_rules if not rule.shape.small)
        column = Target("column", self.trend.called)
        trend_rules = [rule for rule in self.all_rules if rule.seen_on == column]
        return tuple(replace(rule, on=MARK, shape=TREND, value=None) for rule in trend_rules)

    def layer_of(self, target: Target) -> LayerSection | None:
        """The further layer that a target names."""
        if target.part != "layer":
            return None
        named_layers = [layer for layer in self.further_layers if layer.name == target.name]
        return next(iter(named_layers), None)

    def column_of(self, target: Target) -> ColumnSection | None:
        """The column that a target names; of a table without columns, that of a layer."""
        # A table without columns of its own makes one of each layer.
        parts = {"column", "label"} if self.brief.column else {"column", "label", "layer"}
        if target.part not in parts:
            return None
        columns = self.columns or self.brief.column
        return next((column for column in columns if column.called == target.name), None)

    def resolved(self, target: Target) -> Target:
        """The target that a rule acts on: the main layer and the value's column are the mark."""
        if self.main is not None and target == Target("layer", self.main.name):
            return MARK
        column = None if target.part == "label" else self.column_of(target)
        if column is None:
            return target
        if column is self.value_column:
            return MARK
        layers = [] if self.brief.column else [layer.name for layer in self.brief.layer]
        return Target("layer" if column.called in layers else "column", column.called)

    def value_of(self, target: Target) -> str | None:
        """The measure that a rule is about where it names none; None: the chart's own."""
        layer, column = self.layer_of(target), self.column_of(target)
        if layer is not None:
            return layer.value
        if column is None or target in self._pieces:
            return None
        return column.value

    def shape_of(self, target: Target) -> MarkShape:
        """How the marks are drawn that a target belongs to; 'none' where nothing is drawn of it."""
        if self.tabular:
            return self._shape_in_table(target)
        if target.part == "line" and self.traits.shape.shares_row and self.chart.series is None:
            return NOTHING  # nothing joins the dots of one series
        if target.part == "label" and target.name and target not in self._pieces:
            return NOTHING  # of a column
        layer = self.layer_of(target)
        if layer is None:
            return self.traits.shape
        return self.layer_shape(layer)

    def visible(self, target: Target, effect: str) -> bool:
        """Whether an effect on a target is drawn."""
        return EFFECTS[effect].seen(target, self.shape_of(target))

    def layer_shape(self, layer: LayerSection) -> MarkShape:
        """How a further layer is drawn: as it says, else bars over bars, and lines over others."""
        if layer.kind is not None:
            return LAYER_SHAPES[layer.kind]
        if self.traits.shape.shares_row:
            return self.traits.shape
        chart_shape = KINDS[self.chart.kind].shape
        return chart_shape if chart_shape.is_bar else LINE

    @cached_property
    def _pieces(self) -> frozenset[Target]:
        """The pieces of the label, as targets."""
        return frozenset(Target("label", piece.name) for piece in self.brief.label if piece.name)

    def _rule(self, section: RuleSection, place: int) -> DesignRule:
        """A rule with what it acts on."""
        written = Target.parse(section.on)
        column, target = self.column_of(written), self.resolved(written)
        shape = self.shape_of(target)
        if column is not None and column.show == "trend":
            shape = TREND
        value = self.value_of(written)
        about = section.about(value or self.chart.value)
        return DesignRule(about, written, target, target, shape, value, place)

    def _shape_in_table(self, target: Target) -> MarkShape:
        """Cells, unless no column shows what a target is of."""
        if target in {MARK, LABEL, *self._pieces}:
            shown = self.chart.series is not None or self.value_column is not None
        elif target.name:
            shown = self.column_of(target) is not None
        else:
            shown = True
        return CELL if shown else NOTHING
