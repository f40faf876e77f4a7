"""How lines, areas and bars are cut, and what each piece looks like."""

from collections.abc import Iterator, Mapping
from dataclasses import replace
from typing import Final

import numpy as np
from numpy.typing import NDArray

from yuzen.arrays import Bools, Codes, Floats
from yuzen.brief.design import Design
from yuzen.color.named import rgb_of, same_color
from yuzen.compose.baselines import bar_floors
from yuzen.compose.judged_chart import JudgedChart
from yuzen.compose.styles.colored_verdict import ColoredVerdict
from yuzen.compose.styles.markers import CHART_MARKER_TARGETS, markers
from yuzen.compose.texts.filled import fill_each
from yuzen.errors import error_at
from yuzen.locks import cached_property
from yuzen.page.layer import BarParts, Joins, MarkStyles, PointStyles
from yuzen.page.lines import Areas, LineSegments, StyledSegments
from yuzen.page.shapes import MarkShape, series_forms
from yuzen.rules.cuts.bar_cuts import sliced
from yuzen.rules.cuts.cutter import CUTTING, Cutter
from yuzen.rules.cuts.paths import Paths
from yuzen.rules.cuts.placement import PLAIN, Placement
from yuzen.rules.cuts.segments import BarSlices
from yuzen.rules.judge import EvaluationContext, Rule, rule_title
from yuzen.rules.target import LINE, MARK, Target

LINE_WIDTH_PX: Final = 2.0
FLAGGED_LINE_WIDTH_PX: Final = 3.0


class MarkCutter(JudgedChart, eq=False):
    """Positions and values of a layer, and methods that cut it where rules begin.

    across:  where marks stand along the category, in rows, shape (n,).
    lines:   which marks can be joined by one line, shape (n,).
    steps:   their places in sequence, shape (n,).
    values:  the layer's numbers, shape (n,); heights: as they are drawn.
    target:  what rules on the layer act on.
    placement: where numbers stand on an axis with a scale of its own; `heights` are such places.
    """

    across: Floats
    lines: Codes
    steps: Codes
    values: Floats
    heights: Floats
    target: Target = MARK
    placement: Placement = PLAIN

    @property
    def shape(self) -> MarkShape:
        """How the layer is drawn."""
        return self.design.shape_of(self.target)

    @property
    def lined(self) -> bool:
        """Whether it is of lines, with areas under them or not."""
        return self.shape.lined

    @property
    def has_points(self) -> bool:
        """Whether it has points of its own: lines have, and dots."""
        return self.lined or self.shape.shares_row

    @property
    def of_chart(self) -> bool:
        """Whether these are the chart's own marks."""
        return self.target == MARK

    @cached_property
    def paths(self) -> Paths:
        """The segments that join marks."""
        smooth = self.of_chart and self.design.chart.smooth
        known = ~np.isnan(self.heights)
        return Paths.joining(known, self.lines, self.steps, self.across, smooth=smooth)

    @cached_property
    def course(self) -> Floats:
        """How the heights run along the segments: the factors of each one's curve."""
        return self.paths.curves(self.heights)

    def segments(self) -> LineSegments | None:
        """Lines through the heights, cut where rules begin; None where no lines are drawn."""
        if not self.lined:
            return None
        paths = self.paths
        return LineSegments(
            starts=paths.starts,
            ends=paths.ends,
            left=self.across[paths.starts],
            right=self.across[paths.ends],
            curves=self.course,
            stretches=self._styled_segments(),
            smooth=paths.smooth,
            halo=not self.of_chart,
        )

    def _styled_segments(self) -> StyledSegments:
        """The pieces of the lines; rules on the line come before those on the mark."""
        targets = (LINE, MARK) if self.of_chart else (self.target,)
        cut = self._cutter(*targets).stretches(self.paths, self.course)
        color, pattern = self._look(cut.winners, self.paths.ends[cut.of])
        # By the colour and not by the rule: a rule that says quiet leaves the line as thin as it
        # was.
        quiet = same_color(color, rgb_of(self.verdict.theme.color("quiet")))
        width = np.where(quiet & self.of_chart, LINE_WIDTH_PX, FLAGGED_LINE_WIDTH_PX)
        return StyledSegments(cut.of, cut.low, cut.high, color, pattern, width)

    def _cutter(self, *targets: Target) -> Cutter:
        cutter = rule_cutter(self.context, self.verdict, *targets)
        return replace(cutter, placement=self.placement)

    def areas(self, floor: Floats) -> Areas | None:
        """The ground between a floor, shape (n,), and the lines; None where no areas are drawn.

        Areas take the colours of marks.
        """
        if not (self.shape.lined and self.shape.based):
            return None
        cut = self._cutter(MARK).areas(self.paths, self.course, floor)
        segment = cut.of[cut.at]
        color, pattern = self._look(cut.winners, self.paths.ends[segment])
        return Areas(
            segment=segment,
            low=cut.low[cut.at],
            high=cut.high[cut.at],
            lower=cut.lower,
            upper=cut.upper,
            color=color,
            pattern=pattern,
            base=None if self.design.chart.base is None else self.paths.curves(floor),
            through=len(self.context.marks.lines[1]) > 1,
        )

    def bar_parts(self) -> BarParts | None:
        """Bars in parts, with uncut bars as one part; None where no rule has a part."""
        cut = self.slices
        if cut is None or not self.shape.is_bar:
            return None
        color, pattern = self._look(cut.winners, cut.mark)
        floor = self.floor[cut.mark]  # pieces are measured from where their bar begins
        low, high = cut.low - floor, cut.high - floor
        return BarParts(cut.mark, low, high, cut.first, cut.last, color, pattern, self._texts(cut))

    @cached_property
    def slices(self) -> BarSlices | None:
        """Which rule wins in each part of each bar; None where no rule has a part."""
        # Sums over series, which only layers draw, have no bar that could be cut.
        values = np.where(np.isnan(self.heights), np.nan, self.values)
        return bar_slices(self.design, self.context, self.verdict, self.target, values)

    @cached_property
    def floor(self) -> Floats:
        """The value that each bar begins at, shape (n,)."""
        return bar_floors(self.design, self.context, self.target)

    def points(self, styles: MarkStyles, *, labelled: bool) -> PointStyles | None:
        """The points of lines and dots in their styles; None where the layer has none.

        labelled: whether there is something to write at points, which the farthest ones need.
        """
        if not self.has_points:
            return None
        targets = CHART_MARKER_TARGETS if self.of_chart else (self.target,)
        plain = np.full(len(styles.fill), np.nan)
        marker_styles = markers(self.verdict, styles, plain, targets)
        called, peaks = self.called_out(labelled=labelled)
        return PointStyles(
            marker_styles.fill,
            marker_styles.outline,
            marker_styles.strokes,
            marker_styles.sizes,
            called,
            peaks,
            self._forms(),
        )

    def _forms(self) -> NDArray[np.str_]:
        """The form of each point, by its series where those share rows; '' for circles."""
        lines, names = self.context.marks.lines
        forms = series_forms(self.shape, len(names) if self.of_chart else 1)
        return np.array([*forms, ""])[np.minimum(lines, len(forms))]

    def joins(self) -> Joins | None:
        """Lines between the dots of a row, from series to series; None where marks are no dots."""
        if not self.shape.shares_row or not self.of_chart:
            return None
        marks, verdict = self.context.marks, self.verdict
        # A row is a category within a panel; one number for both lets a single sort bring its dots
        # together.
        rows = marks.panels[0] * (int(marks.slots.max(initial=0)) + 1) + marks.slots
        known = np.flatnonzero(~np.isnan(self.heights))
        order = known[np.lexsort((marks.lines[0][known], rows[known]))]
        same = rows[order[:-1]] == rows[order[1:]]
        starts, ends = order[:-1][same], order[1:][same]
        winner = verdict.winner(LINE)[ends]
        color = verdict.faded(winner, verdict.winner(LINE, "opacity")[ends], ends, LINE)
        color[winner < 0, :3] = rgb_of(verdict.theme.color("quiet"))
        return Joins(starts, ends, color, verdict.patterns(LINE)[ends])

    def called_out(self, *, labelled: bool) -> tuple[Bools, Bools]:
        """Points that rules on whole marks call out, and each run's farthest beyond a value.

        labelled: as for `points`. Dots are called out all of them.
        """
        called, peaks = (np.zeros(len(self.values), dtype=bool) for _ in range(2))
        if not self.lined:
            return ~np.isnan(self.heights), peaks
        for calling, levels in self._calling_rules():
            # A rule without a level is about points; one with levels is about stretches, of which
            # the farthest point stands for all.
            if not levels:
                called |= calling
            elif labelled:
                peaks |= self._farthest(calling, levels)
        known = ~np.isnan(self.values)
        return called & known, peaks & known

    def _calling_rules(self) -> Iterator[tuple[Bools, list[Floats]]]:
        """The marks of each rule that calls points out, and the levels that it cuts lines at."""
        cutter = rule_cutter(self.context, self.verdict, self.target)
        for index, rule in enumerate(self.verdict.rules):
            if self._calls_out(index, rule):
                levels = [level.values for level in cutter.all_levels(rule)]
                yield self.verdict.whole.won(index), levels

    def _calls_out(self, index: int, rule: Rule) -> bool:
        """Whether a rule calls points out: it changes more than a line shows, or is on points."""
        more = bool(rule.effects - set(CUTTING))
        if not self.of_chart:
            return rule.on == self.target and more
        if rule.on == MARK:
            return more or self.verdict.styles.flags(index)
        written = rule.on.part == "label" and self.design.shape_of(rule.on).drawn
        of_points = rule.on.part == "marker" or written
        return of_points and (more or self.design.rules[index].section.color != "quiet")

    def _farthest(self, candidates: Bools, levels: list[Floats]) -> Bools:
        """Of each run of marks along a line the one that is farthest from all levels."""
        farthest = np.zeros(len(candidates), dtype=bool)
        # Marks of one line stand together, so that a run of held ones is a stretch of neighbours.
        order = np.lexsort((self.across, self.lines))
        held, line = candidates[order], self.lines[order]
        marks = np.flatnonzero(held)
        if not len(marks):
            return farthest
        begins = np.append(True, (np.diff(marks) > 1) | (np.diff(line[marks]) != 0))
        distance = np.min([np.abs(self.values - level) for level in levels], axis=0)[order][marks]
        run = np.cumsum(begins)
        # By run, then the farthest first: the first of each run is the one that is wanted.
        best = np.lexsort((-np.nan_to_num(distance), run))
        first_of_run = np.append(True, np.diff(run[best]) > 0)
        farthest[order[marks[best[first_of_run]]]] = True
        return farthest

    def _look(self, winners: Mapping[str, Codes], mark: Codes) -> tuple[Floats, Codes]:
        """The colour with its opacity, shape (k, 4), and the pattern of pieces of marks."""
        verdict = self.verdict
        color = verdict.faded(winners["color"], winners["opacity"], mark, self.target)
        return color, verdict.pattern_of(winners["pattern"], winners["color"])

    def _texts(self, cut: BarSlices) -> tuple[str, ...]:
        """The labels of parts, each written in its own piece."""
        texts = [""] * len(cut.mark)
        scope = self.context.scope("items")
        for index, rule in enumerate(self.design.rules):
            section, winning_pieces = rule.section, np.flatnonzero(cut.winners["color"] == index)
            if section.part is None or section.label is None or not len(winning_pieces):
                continue
            where = f"{rule_title(index + 1, section.called)}, label"
            with error_at(where, *rule.key, "label"):
                wanted = np.isin(scope.indices, cut.mark[winning_pieces])
                filled = fill_each(section.label.tree, scope.data, wanted)
            text_of = scope.by_mark(filled)
            for piece in winning_pieces.tolist():
                texts[piece] = text_of.get(int(cut.mark[piece]), "")
        return tuple(texts)


def rule_cutter(context: EvaluationContext, verdict: ColoredVerdict, *targets: Target) -> Cutter:
    """What rules on targets cut by, as far as the marks can show it."""
    visible = frozenset(
        (target, effect)
        for target, effect in verdict.drawn.winners
        if target in targets and effect in CUTTING
    )
    return Cutter(context, verdict.whole, targets, visible)


def bar_slices(
    design: Design,
    context: EvaluationContext,
    verdict: ColoredVerdict,
    target: Target,
    values: Floats,
) -> BarSlices | None:
    """Which rule wins in each part of each bar, up to a value; None where no rule has a part."""
    if not any(rule.part is not None and rule.on == target for rule in verdict.rules):
        return None
    floors = bar_floors(design, context, target)
    return sliced(rule_cutter(context, verdict, target), values, floors)
