"""The colours of pieces: of lines where rules begin, of areas and bars in their parts."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import TYPE_CHECKING

import numpy as np

from yuzen.errors import told_at
from yuzen.picture.page import PATTERNS, Fields, Pieces, Strands
from yuzen.picture.texts import fill_each
from yuzen.rules.cuts import Cutter
from yuzen.rules.judge import called

if TYPE_CHECKING:
    from collections.abc import Iterator

    from yuzen.picture.judged import Judged
    from yuzen.rules.arrays import Bools, Codes, Floats
    from yuzen.rules.cuts import Slices
    from yuzen.rules.paths import Paths

POINTS = ("mark", "marker", "label")  # what a rule acts on when it calls points of a line out


@dataclass(frozen=True, eq=False)
class Traced:
    """What a judged chart's lines, areas and bars are coloured by (see picture.Tracing)."""

    judged: Judged
    target: str = "mark"

    def strands(self, paths: Paths, values: Floats) -> Strands:
        """Rules on the line come before those on the mark."""
        targets = ("line", "mark") if self.target == "mark" else (self.target,)
        cut = self._cutter(*targets).stretches(paths, values)
        color = self._color(cut.winner, paths.ends[cut.of])
        return Strands(cut.of, cut.low, cut.high, color, self._pattern(cut.winner))

    def fields(self, paths: Paths, values: Floats, floor: Floats) -> Fields:
        """Areas take the colours of marks."""
        cut = self._cutter("mark").layers(paths, values, floor)
        of = cut.of[cut.at]
        color, pattern = self._color(cut.winner, paths.ends[of]), self._pattern(cut.winner)
        return Fields(of, cut.low[cut.at], cut.high[cut.at], cut.lower, cut.upper, color, pattern)

    def pieces(self) -> Pieces | None:
        """Bars in their parts, and those that no part cuts in one piece."""
        cut = self.slices
        if cut is None:
            return None
        color, pattern = self._color(cut.winner, cut.mark), self._pattern(cut.winner)
        return Pieces(cut.mark, cut.low, cut.high, color, pattern, self._texts(cut))

    @cached_property
    def slices(self) -> Slices | None:
        """Which rule wins in each part of each bar; None where no rule is of a part."""
        if not any(rule.part for rule in self.judged.verdict.rules):
            return None
        return self._cutter("mark").slices(self.judged.values)

    def points(self) -> Bools:
        """Points that a rule of whole marks speaks of."""
        found = np.zeros(len(self.judged.marks), dtype=bool)
        for own, levels in self._speaking():
            found |= own & (not levels)
        return found & ~np.isnan(self.judged.values)

    def peaks(self) -> Bools:
        """The farthest point of each stretch that lies on one side of a value."""
        found = np.zeros(len(self.judged.marks), dtype=bool)
        for own, levels in self._speaking():
            if levels:
                found |= self._farthest(own, levels)
        return found & ~np.isnan(self.judged.values)

    def _speaking(self) -> Iterator[tuple[Bools, list[Floats]]]:
        """The marks of each rule that calls points out, and the levels that it cuts lines at."""
        judged, cutter = self.judged, self._cutter("mark")
        for index, rule in enumerate(judged.verdict.rules):
            calm = rule.effects <= {"color", "opacity", "pattern"} and not judged.palette.flags(index)
            if rule.on in POINTS and not calm:
                yield judged.verdict.won(index), [level.values for level in cutter.all_levels(rule)]

    def _farthest(self, own: Bools, levels: list[Floats]) -> Bools:
        """Of each run of marks along a line the one that is farthest from all levels."""
        judged = self.judged
        order = np.lexsort((judged.slots, judged.lines))
        held, line = own[order], judged.lines[order]
        marks = np.flatnonzero(held)
        found = np.zeros(len(own), dtype=bool)
        if not len(marks):
            return found
        begins = np.append(True, (np.diff(marks) > 1) | (np.diff(line[marks]) != 0))
        far = np.min([np.abs(judged.values - level) for level in levels], axis=0)[order][marks]
        run = np.cumsum(begins)
        best = np.lexsort((-np.nan_to_num(far), run))
        found[order[marks[best[np.append(True, np.diff(run[best]) > 0)]]]] = True
        return found

    def _cutter(self, *targets: str) -> Cutter:
        return Cutter(self.judged.bench, self.judged.verdict, targets)

    def _color(self, winner: Codes, mark: Codes) -> Floats:
        judged = self.judged
        color = judged.palette.colored(winner, mark, judged.verdict, self.target)
        return np.column_stack([color, judged.opacity(self.target)[mark]])

    def _pattern(self, winner: Codes) -> Codes:
        """Each winner's pattern as an index into PATTERNS."""
        own = [PATTERNS.index(name) for name in self.judged.patterns]
        return np.array([*own, 0], dtype=np.intp)[winner]

    def _texts(self, cut: Slices) -> tuple[str, ...]:
        """The labels of parts, each written in its own piece."""
        texts = [""] * len(cut.mark)
        facts, items = self.judged.bench.facts("items")
        places = np.arange(len(self.judged.marks)) if items is None else items
        for index, rule in enumerate(self.judged.rules):
            own = np.flatnonzero(cut.winner == index)
            if rule.part is None or rule.label is None or not len(own):
                continue
            where = f"{called(index + 1, rule.called)}, label"
            with told_at(where, *self.judged.spec.key_of(index), "label"):
                wanted = np.isin(places, cut.mark[own])
                told = dict(zip(places.tolist(), fill_each(rule.label, facts, wanted), strict=True))
            for piece in own.tolist():
                texts[piece] = told[int(cut.mark[piece])]
        return tuple(texts)
