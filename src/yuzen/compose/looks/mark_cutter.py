"""How lines, areas and bars are cut, and what each piece looks like."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import TYPE_CHECKING, Final

import numpy as np

from yuzen.brief.tables.effects import EFFECTS
from yuzen.color.named import rgb_of
from yuzen.compose.axes.baselines import floor_of
from yuzen.compose.looks.markers import markers_of
from yuzen.compose.texts.texts import fill_each
from yuzen.errors import error_at
from yuzen.page.layer import BarParts, Joins, PointStyles
from yuzen.page.lines import Areas, LineSegments, StyledSegments
from yuzen.rules.cuts.bar_cuts import sliced
from yuzen.rules.cuts.cutter import CUTTING, Cutter
from yuzen.rules.cuts.paths import Paths
from yuzen.rules.judge import rule_title

if TYPE_CHECKING:
    from collections.abc import Iterator, Mapping

    from yuzen.arrays import Bools, Codes, Floats
    from yuzen.brief.tables.kinds import Shape
    from yuzen.compose.judged import Judged
    from yuzen.page.layer import MarkStyles
    from yuzen.rules.cuts.segments import BarSlices
    from yuzen.rules.judge import Rule

LINE_WIDTH_PX: Final = 2.0  # pixels
FLAGGED_LINE_WIDTH_PX: Final = 3.0


@dataclass(frozen=True, eq=False)
class MarkCutter:
    """What a layer's lines, areas and bars are cut by.

    across, lines, steps: where marks stand, which can be joined, and their places in sequence,
    shape (n,).
    values, heights:      the layer's numbers, and as they are drawn, shape (n,).
    target:               what rules on them act on.
    """

    judged: Judged
    across: Floats
    lines: Codes
    steps: Codes
    values: Floats
    heights: Floats
    target: str = "mark"

    @property
    def shape(self) -> Shape:
        """How the layer is drawn."""
        return self.judged.spec.shape_of(self.target)

    @property
    def lined(self) -> bool:
        """Whether it is of lines, with areas under them or not."""
        return self.shape in {"line", "area"}

    @property
    def of_chart(self) -> bool:
        """Whether these are the chart's own marks."""
        return self.target == "mark"

    @cached_property
    def paths(self) -> Paths:
        """The segments that join marks."""
        smooth = self.of_chart and self.judged.spec.chart.smooth
        return Paths.joining(
            ~np.isnan(self.heights), self.lines, self.steps, self.across, smooth=smooth
        )

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
            curves=paths.curves(self.heights),
            stretches=self._stretches(),
            smooth=paths.smooth,
            halo=not self.of_chart,
        )

    def _stretches(self) -> StyledSegments:
        """Rules on the line come before those on the mark."""
        targets = ("line", "mark") if self.of_chart else (self.target,)
        cut = cutter(self.judged, *targets).stretches(self.paths, self.heights)
        color, pattern = self._look(cut.winners, self.paths.ends[cut.of])
        # By the colour and not by the rule: a rule that says quiet leaves the line as thin as it
        # was.
        quiet = np.all(
            np.abs(color[:, :3] - rgb_of(self.judged.theme.color("quiet"))) < 1e-9, axis=1
        )
        width = np.where(quiet & self.of_chart, LINE_WIDTH_PX, FLAGGED_LINE_WIDTH_PX)
        return StyledSegments(cut.of, cut.low, cut.high, color, pattern, width)

    def areas(self, floor: Floats) -> Areas | None:
        """The ground between a floor, shape (n,), and the lines; None where no areas are drawn.

        Areas take the colours of marks.
        """
        if self.shape != "area":
            return None
        judged = self.judged
        cut = cutter(self.judged, "mark").areas(self.paths, self.heights, floor)
        segment = cut.of[cut.at]
        color, pattern = self._look(cut.winners, self.paths.ends[segment])
        if judged.spec.chart.base is None:
            base = None
        else:
            base = self.paths.curves(floor)
        through = len(judged.marks.lines[1]) > 1
        low, high = cut.low[cut.at], cut.high[cut.at]
        return Areas(segment, low, high, cut.lower, cut.upper, color, pattern, base, through)

    def bar_parts(self) -> BarParts | None:
        """Bars in their parts, and those that no part cuts in one piece; None where no rule is of a part."""
        cut = self.slices
        if cut is None or self.shape != "bar":
            return None
        color, pattern = self._look(cut.winners, cut.mark)
        floor = self.floor[cut.mark]  # pieces are told from where their bar begins
        low, high = cut.low - floor, cut.high - floor
        return BarParts(cut.mark, low, high, cut.first, cut.last, color, pattern, self._texts(cut))

    @cached_property
    def slices(self) -> BarSlices | None:
        """Which rule wins in each part of each bar; None where no rule is of a part."""
        return bar_slices(self.judged, self.target, self.values)

    @cached_property
    def floor(self) -> Floats:
        """The value that each bar begins at."""
        return floor_of(self.judged, self.target)

    def points(self, looks: MarkStyles, *, labelled: bool) -> PointStyles | None:
        """The points of lines, and dots: as rules on the marker say, else as the marks look; None: no such.

        labelled: whether there is something to say at points, which those that are farthest need.
        """
        if not (self.lined or self.shape == "dot"):
            return None
        targets = ("mark", "marker") if self.of_chart else (self.target,)
        made = markers_of(self.judged, looks, np.full(len(looks.fill), np.nan), targets)
        if self.lined:
            rule_title, peaks = self._called(labelled=labelled)
        else:
            rule_title, peaks = ~np.isnan(self.heights), np.zeros(len(looks.fill), dtype=bool)
        return PointStyles(made.fill, made.outline, made.sizes, rule_title, peaks)

    def joins(self) -> Joins | None:
        """Lines between the dots of a row, from series to series; None where marks are no dots."""
        if self.shape != "dot" or not self.of_chart:
            return None
        judged, marks = self.judged, self.judged.marks
        rows = marks.panels[0] * (int(marks.slots.max(initial=0)) + 1) + marks.slots
        there = np.flatnonzero(~np.isnan(self.heights))
        order = there[np.lexsort((marks.lines[0][there], rows[there]))]
        same = rows[order[:-1]] == rows[order[1:]]
        starts, ends = order[:-1][same], order[1:][same]
        winner = judged.winner("line")[ends]
        color = judged.palette.colored(winner, ends, judged.verdict, "line")
        color[winner < 0] = rgb_of(judged.theme.color("quiet"))
        color = np.column_stack([color, judged.opacity("line")[ends]])
        return Joins(starts, ends, color, judged.patterns("line")[ends])

    def _called(self, *, labelled: bool) -> tuple[Bools, Bools]:
        """Points that rules of whole marks call out, and the farthest of each stretch beyond a value."""
        rule_title, peaks = (np.zeros(len(self.values), dtype=bool) for _ in range(2))
        for own, levels in self._speaking():
            if not levels:
                rule_title |= own
            elif labelled:
                peaks |= self._farthest(own, levels)
        there = ~np.isnan(self.values)
        return rule_title & there, peaks & there

    def _speaking(self) -> Iterator[tuple[Bools, list[Floats]]]:
        """The marks of each rule that calls points out, and the levels that it cuts lines at."""
        judged, cut = self.judged, cutter(self.judged, self.target)
        for index, rule in enumerate(judged.verdict.rules):
            if self._speaks(index, rule):
                yield judged.verdict.won(index), [level.values for level in cut.all_levels(rule)]

    def _speaks(self, index: int, rule: Rule) -> bool:
        """Whether a rule calls points out: it changes more than a line shows by itself, or is of points."""
        more = bool(rule.effects - set(CUTTING))
        if not self.of_chart:
            return rule.on == self.target and more
        if rule.on == "mark":
            return more or self.judged.palette.flags(index)
        written = (
            rule.on.partition(".")[0] == "label" and self.judged.spec.shape_of(rule.on) != "none"
        )
        of_points = rule.on == "marker" or written
        return of_points and (more or self.judged.rules[index].color != "quiet")

    def _farthest(self, own: Bools, levels: list[Floats]) -> Bools:
        """Of each run of marks along a line the one that is farthest from all levels."""
        found = np.zeros(len(own), dtype=bool)
        # Marks of one line stand together, so that a run of held ones is a stretch of neighbours.
        order = np.lexsort((self.across, self.lines))
        held, line = own[order], self.lines[order]
        marks = np.flatnonzero(held)
        if not len(marks):
            return found
        begins = np.append(True, (np.diff(marks) > 1) | (np.diff(line[marks]) != 0))
        far = np.min([np.abs(self.values - level) for level in levels], axis=0)[order][marks]
        run = np.cumsum(begins)
        best = np.lexsort((-np.nan_to_num(far), run))
        found[order[marks[best[np.append(True, np.diff(run[best]) > 0)]]]] = True
        return found

    def _look(self, winners: Mapping[str, Codes], mark: Codes) -> tuple[Floats, Codes]:
        """The colour with its opacity, and the pattern, of pieces of marks."""
        judged = self.judged
        color = judged.palette.colored(winners["color"], mark, judged.verdict, self.target)
        alpha = judged.opacities[winners["opacity"]]
        pattern = judged.pattern_of(winners["pattern"], winners["color"])
        return np.column_stack([color, alpha]), pattern

    def _texts(self, cut: BarSlices) -> tuple[str, ...]:
        """The labels of parts, each written in its own piece."""
        texts = [""] * len(cut.mark)
        facts, items = self.judged.bench.facts("items")
        if items is None:
            places = np.arange(len(self.judged.marks))
        else:
            places = items
        for index, rule in enumerate(self.judged.rules):
            own = np.flatnonzero(cut.winners["color"] == index)
            if rule.part is None or rule.label is None or not len(own):
                continue
            where = f"{rule_title(index + 1, rule.called)}, label"
            with error_at(where, *self.judged.spec.key_of(index), "label"):
                wanted = np.isin(places, cut.mark[own])
                told = dict(
                    zip(places.tolist(), fill_each(rule.label.tree, facts, wanted), strict=True)
                )
            for piece in own.tolist():
                texts[piece] = told[int(cut.mark[piece])]
        return tuple(texts)


def cutter(judged: Judged, *targets: str) -> Cutter:
    """What rules on targets cut by, as far as the marks can show it."""
    seen = {
        (target, effect)
        for target in targets
        for effect in CUTTING
        if EFFECTS[effect].seen(target, judged.spec.shape_of(target))
    }
    return Cutter(judged.bench, judged.verdict, targets, frozenset(seen))


def bar_slices(judged: Judged, target: str, values: Floats) -> BarSlices | None:
    """Which rule wins in each part of each bar, up to a value; None where no rule is of a part."""
    if not any(rule.part is not None and rule.on == target for rule in judged.verdict.rules):
        return None
    return sliced(cutter(judged, target), values, floor_of(judged, target))
