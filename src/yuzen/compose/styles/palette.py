"""The colours of a chart: of each rule, and of what no rule colours."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Final

import numpy as np

from yuzen.arrays import Bools, Codes, Floats
from yuzen.brief.design import Design
from yuzen.brief.model import Brief
from yuzen.brief.sections.columns import ColumnSection
from yuzen.brief.sections.effects import EFFECT_TABLE, EFFECTS
from yuzen.brief.sections.layers import LayerSection
from yuzen.brief.sections.rule import RuleSection
from yuzen.color.gradient import Gradient, hexes
from yuzen.color.named import hex_of, luminance, rgb_of
from yuzen.color.themes import Theme
from yuzen.errors import Fault, YuzenError, error_at
from yuzen.page.shapes import MarkShape
from yuzen.rules.judge import Verdict, rule_title
from yuzen.rules.marks import Marks
from yuzen.rules.target import ROW, Target
from yuzen.value import Value

ANCHOR_ROLE: Final = "ink"  # of the bars that say how far the steps of a bridge have come
LAYER_ROLES: Final = {"line": "slate", "tick": "ink", "dots": "ink"}


class RuleStyles(Value, eq=False):
    """What each rule changes, in the order of the rules.

    roles:     colours as they are named: a role, a CSS name or '#RRGGBB'; 'quiet' for none.
    colors:    these colours as '#RRGGBB'.
    outlines:  '#RRGGBB', '' for none.
    strokes:   how the outlines are stroked: an effect that needs an outline; '' for a plain line.
    gradients: the gradient of each rule with a shade, by the rule's index.
    opacities: from 0 to 1; 1 where a rule sets none, and last for no rule: shape (rules + 1,).
    patterns:  hatches by name: a rule's own, or that of its role in the theme; '' for none.
    badges:    by name, '' for none.
    bold:      whether texts are bold; last, for no rule, False: shape (rules + 1,).
    sizes:     of markers, in points, NaN for none: shape (rules + 1,).
    exceptional: whether what a rule changes makes a mark an exception.
    """

    roles: tuple[str, ...]
    colors: tuple[str, ...]
    outlines: tuple[str, ...]
    strokes: tuple[str, ...]
    gradients: Mapping[int, Gradient]
    opacities: Floats
    patterns: tuple[str, ...]
    badges: tuple[str, ...]
    bold: Bools
    sizes: Floats
    exceptional: tuple[bool, ...]

    @classmethod
    def of(cls, design: Design, theme: Theme, verdict: Verdict) -> RuleStyles:
        """The styles of a brief's rules in a theme. Raises YuzenError for an unknown colour."""
        sections = [rule.section for rule in design.rules]
        roles = tuple(section.color or "quiet" for section in sections)
        opacities = [1.0 if s.opacity is None else s.opacity for s in sections]
        return cls(
            roles=roles,
            colors=tuple(_hex(design, i, "color", role, theme) for i, role in enumerate(roles)),
            outlines=tuple(
                _hex(design, i, "outline", section.outline, theme) if section.outline else ""
                for i, section in enumerate(sections)
            ),
            strokes=tuple(map(_stroke, sections)),
            gradients=_gradients(design, theme, verdict),
            opacities=np.array([*opacities, 1.0]),
            patterns=tuple(
                section.pattern or theme.patterns.get(role, "")
                for section, role in zip(sections, roles, strict=True)
            ),
            badges=tuple(section.badge or "" for section in sections),
            # One more entry than rules: index −1 is for marks that no rule wins.
            bold=np.array([*(section.weight == "bold" for section in sections), False]),
            sizes=np.array([*(section.size or np.nan for section in sections), np.nan]),
            exceptional=tuple(map(_is_exceptional, sections)),
        )

    def stands_out(self, rule: int) -> bool:
        """Whether a rule gives marks one colour that is not quiet."""
        return self.roles[rule] != "quiet" and rule not in self.gradients

    def flags(self, rule: int) -> bool:
        """Whether a rule makes exceptions: it does more than shade marks or leave them quiet."""
        return self.exceptional[rule]


class BaseColors(Value, eq=False):
    """The colours of what no rule colours.

    roles:   the names of the marks' colours: one for each series, then that of a bridge's anchors.
    series:  the colours of the series as '#RRGGBB'.
    of_mark: which of the roles each mark has, shape (n,).
    further: the colours of further layers, and of columns and rows of tables: by target as named
             and as '#RRGGBB'.
    """

    roles: tuple[str, ...]
    series: tuple[str, ...]
    of_mark: Codes
    further: Mapping[Target, tuple[str, str]]

    @classmethod
    def of(cls, design: Design, theme: Theme, marks: Marks) -> BaseColors:
        """The base colours of a chart's marks in a theme."""
        roles, series = _mark_colors(design, theme, marks)
        count = len(marks.lines[1])
        further = {**_layer_colors(design, theme, count), **_column_colors(design, theme)}
        return cls(roles, series, _role_of_mark(design, marks), further)

    @property
    def layers(self) -> dict[str, str]:
        """The colour of each further layer as '#RRGGBB', by its name."""
        return {t.name: color for t, (_, color) in self.further.items() if t.part == "layer"}

    def names(self, target: Target) -> tuple[str, ...]:
        """The names of a target's colours: one, or one for each series."""
        if target in self.further:
            return (self.further[target][0],)
        if target.is_drawn:
            return self.roles
        return ("ink",)

    def colors(self, target: Target, theme: Theme) -> tuple[str, ...]:
        """A target's colours as '#RRGGBB': one, or one for each series."""
        if target in self.further:
            return (self.further[target][1],)
        if target.is_drawn:
            return (*self.series, *map(theme.color, self.roles[len(self.series) :]))
        return (theme.color("ink"),)


class Palette(Value, eq=False):
    """All colours of a chart in one theme."""

    theme: Theme
    rules: RuleStyles
    base: BaseColors

    @classmethod
    def of(cls, design: Design, theme: Theme, verdict: Verdict, marks: Marks) -> Palette:
        """The colours of a brief in a theme. Raises YuzenError for an unknown colour."""
        if design.traits.shape.lined:
            theme = theme.for_lines
        styles = RuleStyles.of(design, theme, verdict)
        return cls(theme, styles, BaseColors.of(design, theme, marks))

    def role(self, rule: int) -> str:
        """The role that a rule gives, '' where it gives a plain colour or a shade."""
        if self.rules.roles[rule] in self.theme.roles and rule not in self.rules.gradients:
            return self.rules.roles[rule]
        return ""


def colors_named(brief: Brief) -> frozenset[str]:
    """The names of all colours that a brief uses."""
    named = [layer.color for layer in brief.layer] + [piece.color for piece in brief.label]
    return colors_of_rules(brief.rule) | {name for name in named if name}


def colors_of_rules(rules: Iterable[RuleSection]) -> frozenset[str]:
    """The names of all colours that rules use."""
    sections = [section for rule in rules for section in rule.spread()]
    named = [section.color for section in sections] + [section.outline for section in sections]
    named += [color for section in sections if section.shade for color in section.shade.colors]
    return frozenset(name for name in named if name)


def color_faults(design: Design, theme: Theme) -> list[Fault]:
    """Every unknown colour of the brief's rules, with its place."""
    faults: list[Fault] = []
    for index, rule in enumerate(design.rules):
        section = rule.section
        shade = section.shade.colors if section.shade else ()
        named = [("color", section.color), ("outline", section.outline)]
        named += [("colors", color) for color in shade]
        for key, color in named:
            try:
                _hex(design, index, key, color or "quiet", theme)
            except YuzenError as error:
                faults += error.faults
    return faults


def series_colors(theme: Theme, count: int) -> tuple[str, ...]:
    """A colour for each series: quiet for a single one, else the theme's, with steps between."""
    if count < 2:
        return (theme.color("quiet"),)
    if count <= len(theme.series):
        return theme.series[:count]
    # Between colours that are sorted by lightness, steps stay apart for every kind of colour
    # vision.
    by_light = sorted(theme.series, key=lambda color: float(luminance(rgb_of(color))))
    ramp = Gradient(tuple(by_light))
    return tuple(hexes(ramp.at(np.linspace(0, 1, count), theme.color("quiet"))))


def _gradients(design: Design, theme: Theme, verdict: Verdict) -> dict[int, Gradient]:
    """The gradient of each rule with a shade."""
    gradients = {}
    for index, shaded in verdict.shaded.items():
        section = design.rules[index].section.shade
        diverges = bool(np.any(~np.isnan(shaded.scale.center)))
        default = ("adverse", "pale", "favorable") if diverges else ("pale", "favorable")
        names = (section.colors if section else ()) or default
        colors = tuple(_hex(design, index, "colors", name, theme) for name in names)
        gradients[index] = Gradient(colors)
    return gradients


def _mark_colors(
    design: Design, theme: Theme, marks: Marks
) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """The roles and the colours of marks that no rule colours: of the series, or of the main layer.

    A cell that no rule colours is as plain as the paper; a bar in one is quiet.
    """
    if design.tabular:
        role = _cell_role(design.value_column)
        return (role,), (theme.color(role),)
    count = len(marks.lines[1])
    if count < 2 and design.main is not None:
        front = _bar_roles(design, theme, count).get(design.main.name)
        if design.main.color is not None or front is not None:
            role, color = _layer_color(design, design.main, theme, front)
            return (role,), (color,)
    if count > 1:
        roles = tuple(f"series {i}" for i in range(1, count + 1))
    elif design.traits.steps:
        roles = ("quiet", ANCHOR_ROLE)
    else:
        roles = ("quiet",)
    return roles, series_colors(theme, count)


def _role_of_mark(design: Design, marks: Marks) -> Codes:
    """Which of the roles each mark has, shape (n,)."""
    if design.tabular:
        return np.zeros(len(marks), dtype=np.intp)
    if design.traits.steps:
        return np.where(marks.sums, 1, 0)
    return marks.lines[0]


def _layer_colors(design: Design, theme: Theme, count: int) -> dict[Target, tuple[str, str]]:
    """The colours of further layers, by target."""
    layers = design.further_layers
    if design.tabular:
        return {Target("layer", layer.name): ("paper", theme.color("paper")) for layer in layers}
    roles = _bar_roles(design, theme, count)
    return {
        Target("layer", x.name): _layer_color(design, x, theme, roles.get(x.name)) for x in layers
    }


def _bar_roles(design: Design, theme: Theme, count: int) -> dict[str, str]:
    """The roles of layers of bars without a colour: what is behind is the lightest.

    count: how many series the chart's own marks have; several have colours of their own.
    """
    bars = [
        layer.name
        for layer in design.brief.layer
        if layer.color is None
        and (count < 2 or layer is not design.main)
        and _shape_of(design, layer).is_bar
    ]
    if len(bars) < 2:
        return {}
    light = {
        f"series {place}": float(luminance(rgb_of(color)))
        for place, color in enumerate(theme.series, start=1)
    }
    quiet, paper = (float(luminance(rgb_of(theme.color(role)))) for role in ("quiet", "paper"))
    # Farther from the paper than the quiet colour, the nearest to it first.
    darker = [role for role, own in light.items() if abs(own - paper) > abs(quiet - paper)]
    shades = ["quiet", *sorted(darker, key=lambda role: abs(light[role] - paper))]
    return {name: shades[min(place, len(shades) - 1)] for place, name in enumerate(bars)}


def _shape_of(design: Design, layer: LayerSection) -> MarkShape:
    """How a layer is drawn, the chart's own or a further one."""
    if layer is design.main:
        return design.traits.shape
    return design.layer_shape(layer)


def _column_colors(design: Design, theme: Theme) -> dict[Target, tuple[str, str]]:
    """The colours of the columns and rows of a table, by target."""
    columns = (*design.brief.column, *design.columns)
    roles = {Target("column", column.called): _cell_role(column) for column in columns}
    return {target: (role, theme.color(role)) for target, role in {**roles, ROW: "paper"}.items()}


def _cell_role(column: ColumnSection | None) -> str:
    """The role of what no rule colours in a column."""
    if column is None or column.show == "text":
        return "paper"
    return "quiet"


def _layer_color(
    design: Design, layer: LayerSection, theme: Theme, role: str | None = None
) -> tuple[str, str]:
    """A layer's colour as it is named and as '#RRGGBB'; `role` is that of one without a colour."""
    plain = LAYER_ROLES.get(layer.kind or "", f"series {len(theme.series)}")
    named = layer.color or role or plain
    place = design.brief.layer.index(layer)
    with error_at(f'layer "{layer.name}", color', "layer", place, "color"):
        return named, hex_of(named, theme.named)


def _hex(design: Design, index: int, key: str, color: str, theme: Theme) -> str:
    """A rule's colour as '#RRGGBB'. Raises YuzenError with the place of an unknown one."""
    rule = design.rules[index]
    inside = ["shade"] if key == "colors" else []
    title = rule_title(index + 1, rule.section.called)
    with error_at(f"{title}, {key}", *rule.key, *inside, key):
        return hex_of(color, theme.named)


def _is_exceptional(section: RuleSection) -> bool:
    """Whether a rule changes more than to shade marks, or to leave them quiet and plain."""
    plain = {"color": section.color == "quiet", "weight": section.weight == "normal"}
    return any(EFFECTS[name].flags and not plain.get(name) for name in section.effects)


def _stroke(section: RuleSection) -> str:
    """The effect of a rule that changes how its outline is stroked; '' for none."""
    strokes = (effect.name for effect in EFFECT_TABLE if effect.needs == "outline")
    return next((name for name in strokes if getattr(section, name)), "")
