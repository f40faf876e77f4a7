"""Verdict and theme to colours: what each mark, number and name looks like."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from yuzen.color.gradient import Gradient, hex_words, hexes
from yuzen.color.named import hex_of, legible, luminance, rgb_of
from yuzen.color.themes import TEXT_CONTRAST
from yuzen.errors import YuzenError, error_at
from yuzen.rules.judge import rule_title

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

    from numpy.typing import NDArray

    from yuzen.arrays import Bools, Codes, Floats
    from yuzen.brief.model import Brief
    from yuzen.brief.sections.chart import ColumnSection, LayerSection
    from yuzen.color.themes import Theme
    from yuzen.errors import Fault
    from yuzen.rules.judge import Verdict
    from yuzen.rules.marks import Marks


PILLAR = "ink"  # what says how far the steps of a bridge have come


def drawn(target: str) -> bool:
    """Whether a target is drawn; the others are words."""
    return target in {"mark", "line", "marker", "row"} or target.startswith(("layer ", "column "))


THIN = frozenset({"line", "area"})  # shapes that are too thin to be as pale as bars


@dataclass(frozen=True, eq=False)
class Palette:
    """The colours that rules give, in the order of the rules.

    named:     as they are named: a role, a CSS name or '#RRGGBB'; 'quiet' where a rule gives none.
    colors:    the same as '#RRGGBB'.
    outlines:  the outline of each rule as '#RRGGBB', '' where it gives none.
    gradients: the gradient of each rule with a shade, by the rule's index.
    plain:     the names of the colours of marks that no rule colours: one for each series, then
               that of the pillars of a bridge.
    series:    those of the series as '#RRGGBB'.
    lines:     which of the plain colours each mark has, shape (n,).
    further:   the color of whatever else is drawn, layers, columns and rows of tables, where no
               rule colours
               it: as named and as '#RRGGBB', by target.
    """

    theme: Theme
    named: tuple[str, ...]
    colors: tuple[str, ...]
    outlines: tuple[str, ...]
    gradients: dict[int, Gradient]
    plain: tuple[str, ...]
    series: tuple[str, ...]
    lines: Codes
    further: Mapping[str, tuple[str, str]]

    @classmethod
    def of(cls, brief: Brief, theme: Theme, verdict: Verdict, marks: Marks) -> Palette:
        """The brief's colours in this theme. Raises YuzenError for a colour nobody knows."""
        rules = brief.rules
        if brief.traits.shape in THIN:
            theme = theme.for_lines
        named = tuple(rule.color or "quiet" for rule in rules)
        gradients = {}
        for index, shaded in verdict.shaded.items():
            section = rules[index].shade
            diverges = bool(np.any(~np.isnan(shaded.scale.center)))
            default = ("adverse", "pale", "favorable") if diverges else ("pale", "favorable")
            said = (section.colors if section else ()) or default
            gradients[index] = Gradient(
                tuple(_found(brief, index, "colors", c, theme) for c in said)
            )
        return cls(
            theme,
            named,
            tuple(_found(brief, i, "color", color, theme) for i, color in enumerate(named)),
            tuple(
                _found(brief, i, "outline", rule.outline, theme) if rule.outline else ""
                for i, rule in enumerate(rules)
            ),
            gradients,
            *_plain(brief, theme, marks),
            _plain_of_marks(brief, marks),
            {**_of_layers(brief, theme), **_of_columns(brief, theme)},
        )

    @property
    def layers(self) -> dict[str, tuple[str, str]]:
        """The colors of further layers."""
        return {
            target: color for target, color in self.further.items() if target.startswith("layer ")
        }

    def role(self, rule: int) -> str:
        """The role that a rule gives, '' where it gives a plain colour or a shade."""
        if self.named[rule] in self.theme.roles and rule not in self.gradients:
            return self.named[rule]
        return ""

    def base(self, target: str) -> tuple[str, ...]:
        """The names of what a target has where no rule colours it: one, or one for each series."""
        if target in self.further:
            return (self.further[target][0],)
        if drawn(target):
            return self.plain
        return ("ink",)

    def fill(self, verdict: Verdict, target: str) -> Floats:
        """The winning rule's colour for each mark, shape (n, 3)."""
        winner = verdict.winner(target)
        return self.colored(winner, np.arange(len(winner)), verdict, target)

    def words(self, verdict: Verdict, target: str) -> NDArray[np.str_]:
        """The same as '#RRGGBB', shape (n,)."""
        winner, base = verdict.winner(target), self._base_colors(target)
        table = np.array([*self.colors, *base], dtype="<U7")
        # As bytes, as NumPy picks words one letter after the other.
        words = table.view("V28")[self._rows(winner, slice(None), len(base))].view("<U7")
        for index in self.gradients:
            own = np.flatnonzero(winner == index)
            words[own] = hex_words(self.colored(winner[own], own, verdict, target))
        return words

    def colored(self, winner: Codes, mark: Codes, verdict: Verdict, target: str = "mark") -> Floats:
        """The colour of pieces of marks where these rules win, shape (k, 3); else the target's own."""
        base = self._base_colors(target)
        colors = _table([*self.colors, *base])[self._rows(winner, mark, len(base))]
        for index, gradient in self.gradients.items():
            own = winner == index
            places = verdict.shaded[index].places[mark[own]]
            colors[own] = gradient.at(places, self.theme.color("missing"))
        return colors

    def _base_colors(self, target: str) -> tuple[str, ...]:
        """What a target has where no rule colours it, as '#RRGGBB': one, or one for each series."""
        if target in self.further:
            return (self.further[target][1],)
        if drawn(target):
            return (*self.series, *map(self.theme.color, self.plain[len(self.series) :]))
        return (self.theme.color("ink"),)

    def _rows(self, winner: Codes, mark: Codes | slice, several: int) -> Codes:
        """Where in a table of the rules' colours and so many plain ones that of each mark stands."""
        if several == 1:  # which is the last, as is −1
            return winner
        return np.where(winner >= 0, winner, len(self.colors) + self.lines[mark])

    def ink(self, winner: Codes, verdict: Verdict) -> Floats:
        """The colours of texts where these rules win, shape (n, 3); ink where none does.

        A colour with too little contrast on the paper gives way to ink, and that of a shade is
        mixed with ink as far as it has to be. A shade of marks leaves their texts in ink.
        """
        ink = self.theme.color("ink")
        plain = [self.theme.readable(color) for color in self.colors]
        for index in self.gradients:
            plain[index] = ink
        inks = _looked_up(_table([*plain, ink]), winner)
        for index, gradient in self.gradients.items():
            own = winner == index
            if drawn(verdict.rules[index].on) or not own.any():
                continue
            shaded = gradient.at(verdict.shaded[index].places[own], self.theme.color("missing"))
            inks = inks.copy()  # what is looked up may be one row for all marks
            paper = rgb_of(self.theme.color("paper"))
            inks[own] = legible(shaded, rgb_of(ink), paper, TEXT_CONTRAST)
        return inks

    def outline(self, winner: Codes) -> Floats:
        """Red, green, blue and opacity of each mark's outline, shape (n, 4); opacity 0: none."""
        drawn = [[*rgb_of(color), 1.0] if color else [0.0] * 4 for color in self.outlines]
        return _looked_up(np.array([*drawn, [0.0] * 4]), winner)

    def flagged(self, verdict: Verdict, target: str = "mark") -> Bools:
        """Which marks are exceptions: coloured by a rule that neither shades nor leaves them quiet."""
        winner = verdict.winner(target)
        return np.array([*(self.flags(index) for index in range(len(self.named))), False])[winner]

    def flags(self, rule: int) -> bool:
        """Whether a rule's colour makes exceptions: it neither shades nor leaves marks quiet."""
        return self.named[rule] != "quiet" and rule not in self.gradients


def colors_named(brief: Brief) -> frozenset[str]:
    """The names of all colors that a brief uses."""
    named = [rule.color for rule in brief.rules] + [rule.outline for rule in brief.rules]
    named += [color for rule in brief.rules if rule.shade for color in rule.shade.colors]
    named += [layer.color for layer in brief.layer] + [piece.color for piece in brief.label]
    return frozenset(name for name in named if name)


def color_faults(brief: Brief, theme: Theme) -> list[Fault]:
    """Every color of the brief's rules that nobody knows, with its place."""
    faults: list[Fault] = []
    for index, rule in enumerate(brief.rules):
        if rule.shade:
            shaded = rule.shade.colors
        else:
            shaded = ()
        for key, color in (
            ("color", rule.color),
            ("outline", rule.outline),
            *(("colors", c) for c in shaded),
        ):
            try:
                _found(brief, index, key, color or "quiet", theme)
            except YuzenError as error:
                faults += error.faults
    return faults


def _plain(brief: Brief, theme: Theme, marks: Marks) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """The names and the colours of marks that no rule colours: of the series, or of the chart's own layer.

    A cell that no rule colours is as plain as the paper; a bar in one is quiet.
    """
    if brief.tabular:
        named = _of_cells(brief.value_column)
        return (named,), (theme.color(named),)
    count = len(marks.lines[1])
    if count < 2 and brief.main is not None and brief.main.color is not None:
        named, color = _layer_color(brief, brief.main, theme)
        return (named,), (color,)
    if count > 1:
        names = tuple(f"series {i}" for i in range(1, count + 1))
    elif brief.traits.steps:
        names = ("quiet", PILLAR)
    else:
        names = ("quiet",)
    return names, series_colors(theme, count)


def _plain_of_marks(brief: Brief, marks: Marks) -> Codes:
    """Which of the plain colours each mark has, shape (n,)."""
    if brief.tabular:
        return np.zeros(len(marks), dtype=np.intp)
    if brief.traits.steps:
        return np.where(marks.sums, 1, 0)
    return marks.lines[0]


def _of_layers(brief: Brief, theme: Theme) -> dict[str, tuple[str, str]]:
    """The colors of further layers, by target."""
    further = [layer for layer in brief.layer if layer is not brief.main]
    if brief.tabular:
        return {f"layer {layer.name}": ("paper", theme.color("paper")) for layer in further}
    return {f"layer {layer.name}": _layer_color(brief, layer, theme) for layer in further}


def _of_columns(brief: Brief, theme: Theme) -> dict[str, tuple[str, str]]:
    """The colors of the columns and rows of a table, by target."""
    named = {
        f"column {column.called}": _of_cells(column) for column in (*brief.column, *brief.columns)
    }
    return {target: (role, theme.color(role)) for target, role in {**named, "row": "paper"}.items()}


def _of_cells(column: ColumnSection | None) -> str:
    """The role of what no rule colours in a column."""
    if column is None or column.show == "text":
        return "paper"
    return "quiet"


def _layer_color(brief: Brief, layer: LayerSection, theme: Theme) -> tuple[str, str]:
    """A layer's colour as it is named and as '#RRGGBB'."""
    named = layer.color or {"line": "slate", "tick": "ink", "dots": "ink"}.get(
        layer.kind or "", f"series {len(theme.series)}"
    )
    where = f'layer "{layer.name}", color'
    with error_at(where, "layer", brief.layer.index(layer), "color"):
        return named, hex_of(named, theme.named)


def series_colors(theme: Theme, count: int) -> tuple[str, ...]:
    """A colour for each series: quiet for one alone, else the theme's own, with steps between them."""
    if count < 2:
        return (theme.color("quiet"),)
    if count <= len(theme.series):
        return theme.series[:count]
    by_light = sorted(theme.series, key=lambda color: float(luminance(rgb_of(color))))
    return tuple(
        hexes(Gradient(tuple(by_light)).at(np.linspace(0, 1, count), theme.color("quiet")))
    )


def _found(brief: Brief, index: int, key: str, color: str, theme: Theme) -> str:
    where = f"{rule_title(index + 1, brief.rules[index].called)}, {key}"
    with error_at(where, *brief.key_of(index), *(["shade"] if key == "colors" else []), key):
        return hex_of(color, theme.named)


def _table(colors: Sequence[str]) -> Floats:
    """Colours to be indexed by a rule's number; the last stands for −1, no rule."""
    return np.array([rgb_of(color) for color in colors])


def _looked_up(table: Floats, winner: Codes) -> Floats:
    """The table's row for each winner; where no rule wins at all, its last row once for all."""
    if (winner < 0).all():
        return np.broadcast_to(table[-1], (len(winner), table.shape[1]))
    return table[winner]
