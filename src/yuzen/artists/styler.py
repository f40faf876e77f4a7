"""How the marks of an Axes look by the rules: what each artist wears, series by series."""

from dataclasses import replace
from typing import TypeAlias

import numpy as np
from matplotlib.artist import Artist
from matplotlib.axes import Axes
from matplotlib.path import Path

from yuzen.arrays import Bools, Codes, Floats
from yuzen.artists.axes_content import AxesContent, AxesSeries
from yuzen.artists.axis_placement import AxisPlacement, is_scaled, scaled, unscaled
from yuzen.artists.bar_override import BarOverride
from yuzen.artists.overrides import (
    AreaOverride,
    AreaPiece,
    LineMarkers,
    LineOverride,
    PointOverride,
    Stroke,
    remove,
)
from yuzen.artists.steps import step_strokes
from yuzen.color.named import rgb_of
from yuzen.compose.judged_chart import JudgedChart
from yuzen.compose.mark_cutter import MarkCutter
from yuzen.compose.styles.mark_styles import mark_styles
from yuzen.compose.styles.markers import CHART_MARKER_TARGETS, Markers, markers
from yuzen.draw.axes.pixel_columns import PixelColumns
from yuzen.draw.shapes.bar import BAR_OUTLINE_PX
from yuzen.draw.shapes.curves import by_look, polyline, surface
from yuzen.locks import cached_property
from yuzen.page.layer import MarkStyles
from yuzen.page.lines import Areas, LineSegments
from yuzen.render.artists import line_styles
from yuzen.render.paths import path_of_rings
from yuzen.render.rectangles import RectangleArtist, hatch
from yuzen.rules.target import LINE, MARK
from yuzen.scene.strokes import STROKES, stroke_names
from yuzen.scene.units import points
from yuzen.value import Value

AnyOverride: TypeAlias = BarOverride | PointOverride | LineOverride | AreaOverride


class AxesStyler(Value, eq=False):
    """What the marks of an Axes wear.

    coats: what lies on each series, which knows the colours before.
    """

    axes: Axes
    drawn: AxesContent
    judged: JudgedChart
    overrides: tuple[AnyOverride, ...]

    def apply(self) -> None:
        """Let every series look as the rules say."""
        for place, (series, override) in enumerate(
            zip(self.drawn.series, self.overrides, strict=True)
        ):
            marks = self._marks(place)
            if isinstance(override, BarOverride):
                override.on(self._fill(marks, override.colors), self._over_bars(series, marks))
            elif isinstance(override, PointOverride):
                marker_styles = self._markers
                override.on(
                    self._own(marker_styles.fill[marks], marks, override.colors),
                    marker_styles.outline[marks],
                    marker_styles.sizes[marks],
                )
            elif isinstance(override, LineOverride):
                override.on(
                    self.axes, self._strokes(series, override, marks), self._spots(override, marks)
                )
            else:
                override.on(self.axes, self._areas(override, marks))
        self._stack()

    def _stack(self) -> None:
        """Let pieces lie over one another as their series do, whichever were painted before.

        Of artists of one order Matplotlib draws the one last that was added last.
        """
        laid = [artist for override in self.overrides for artist in override.over]
        if not laid:
            return
        place = {artist: n for n, artist in enumerate(self.axes.get_children())}
        places = [place[artist] for artist in laid]
        if places == sorted(places):
            return
        remove(laid)
        for artist in laid:
            self.axes.add_artist(artist)

    def _marks(self, place: int) -> Codes:
        """The marks of a series."""
        counts = [len(series) for series in self.drawn.series]
        return np.arange(sum(counts[:place]), sum(counts[: place + 1]))

    @cached_property
    def _looks(self) -> MarkStyles:
        return mark_styles(self.judged.verdict, MARK)

    @cached_property
    def _markers(self) -> Markers:
        sizes = np.full(len(self._looks.fill), np.nan)
        return markers(self.judged.verdict, self._looks, sizes)

    @property
    def _kept(self) -> bool:
        """Whether marks without a rule keep their colours: where colours tell series apart."""
        return len(self.drawn.series) > 1

    def _fill(self, marks: Codes, before: Floats) -> Floats:
        """The colours of marks of a series, with the opacity that they had."""
        return self._own(self._looks.fill[marks], marks, before)

    def _own(self, fill: Floats, marks: Codes, before: Floats) -> Floats:
        colors_own = np.broadcast_to(before, (len(marks), 4)).copy()
        ruled = self._ruled[marks] | (not self._kept)
        colors_own[ruled, :3] = fill[ruled, :3]
        # Opacity adds to what somebody has set, so that transparent bars stay so.
        colors_own[:, 3] *= fill[:, 3]
        return colors_own

    @cached_property
    def _ruled(self) -> Bools:
        """The marks that a rule colours, whatever of them."""
        targets = CHART_MARKER_TARGETS if self.drawn.shape in {"points", "lines"} else (MARK,)
        return np.asarray(
            np.logical_or.reduce([self.judged.verdict.winner(target) >= 0 for target in targets])
        )

    @cached_property
    def pieces(self) -> MarkCutter:
        """The cutter of lines, areas and bars; marks of a series are joined as they were drawn."""
        drawn = self.drawn.series
        places, values = (self.drawn.all(name) for name in ("places", "heights"))
        lines = np.repeat(np.arange(len(drawn)), [len(series) for series in drawn])
        steps = self.drawn.all("steps").astype(np.intp)
        heights = np.where(np.isfinite(values) & np.isfinite(places), values, np.nan)
        judged = self.judged
        plain = MarkCutter(
            judged.design,
            judged.context,
            judged.verdict,
            places,
            lines,
            steps,
            judged.context.values,
            heights,
        )
        if not self._is_scaled:
            return plain
        # Matplotlib joins points by straight lines on the page, so that is where lines are cut.
        placement = AxisPlacement(self.axes, self._floors)
        across = scaled(self.axes, places, along_x=True)
        return replace(plain, across=across, heights=placement.placed(heights), placement=placement)

    @property
    def _floors(self) -> Floats:
        """Where the marks begin, shape (n,)."""
        return np.nan_to_num(self.drawn.all("floors"))

    @property
    def _is_scaled(self) -> bool:
        """Whether lines are straight along a scale; those in steps are so in numbers."""
        lined = self.drawn.shape in {"lines", "areas"}
        stepped = any(
            isinstance(override, LineOverride) and override.line.get_drawstyle() != "default"
            for override in self.overrides
        )
        return lined and not stepped and is_scaled(self.axes)

    def _unscaled(self, corners: Floats) -> Floats:
        return unscaled(self.axes, corners) if self._is_scaled else corners

    @cached_property
    def _area_pieces(self) -> Areas | None:
        """The areas in pieces, each lifted to where it begins."""
        pieces = self.pieces
        if self._is_scaled:
            # Levels and heights are places already, above the floor of each mark.
            return pieces.areas(pieces.placement.placed(np.zeros(len(pieces.values))))
        areas = pieces.areas(np.zeros(len(pieces.values)))
        if areas is None:
            return None
        lift = pieces.paths.curves(self.drawn.all("floors"))[areas.segment]
        return replace(areas, lower=areas.lower + lift, upper=areas.upper + lift)

    @cached_property
    def _segments(self) -> LineSegments | None:
        return self.pieces.segments()

    def _over_bars(self, series: AxesSeries, marks: Codes) -> list[Artist]:
        """The artists over the bars of a series: coloured parts, patterns and outlines."""
        laid: list[Artist] = []
        parts = self.pieces.bar_parts()
        if parts is not None:
            piece_rows = np.flatnonzero(np.isin(parts.mark, marks))
            at = parts.mark[piece_rows] - marks[0]
            floor = series.floors[at]
            ends = np.clip(
                np.stack([floor + parts.low[piece_rows], floor + parts.high[piece_rows]]),
                # A part of a rule may reach beyond the bar that somebody has drawn.
                np.minimum(floor, floor + series.heights[at]),
                np.maximum(floor, floor + series.heights[at]),
            )
            corners = self._corners(series, at, ends[0], ends[1])
            colored = self._slices[piece_rows] >= 0
            if colored.any():
                style = {"facecolors": parts.color[piece_rows][colored], "antialiaseds": False}
                laid.append(self._lay(corners[colored], **style))
            laid += hatch(self.axes, corners, parts.pattern[piece_rows], self._paper)
        corners = self._corners(
            series, np.arange(len(series)), series.floors, series.floors + series.heights
        )
        if parts is None:
            laid += hatch(self.axes, corners, self._looks.patterns[marks], self._paper)
        outline = self._looks.outline[marks]
        edged = outline[:, 3] > 0
        if edged.any():
            strokes = stroke_names(self._looks.strokes[marks][edged])
            laid.append(
                self._lay(
                    corners[edged],
                    facecolors="none",
                    edgecolors=outline[edged],
                    linewidths=points(BAR_OUTLINE_PX),
                    linestyles=line_styles(strokes, STROKES),
                )
            )
        return laid

    @cached_property
    def _slices(self) -> Codes:
        """The rule that colours each part of a bar, −1 for none."""
        slices = self.pieces.slices
        assert slices is not None  # noqa: S101 - who asks has parts
        return slices.winners["color"]

    @property
    def _paper(self) -> str:
        return self.judged.verdict.theme.color("paper")

    def _lay(self, corners: Floats, **style: object) -> Artist:
        """Rectangles over the bars."""
        bars = self.drawn.series[0].artist
        above = max(bar.get_zorder() for bar in bars.patches[:1])  # type: ignore[union-attr]  # a container
        rectangles = RectangleArtist(corners, **{"linewidths": 0, **style}, zorder=above + 0.001)
        self.axes.add_collection(rectangles, autolim=False)
        return rectangles

    def _corners(self, series: AxesSeries, at: Codes, low: Floats, high: Floats) -> Floats:
        """Rectangles of bars from low to high, as wide as the bars."""
        half = series.widths[at] / 2
        sides = (series.places[at] - half, low, series.places[at] + half, high)
        if self.drawn.horizontal:
            sides = (sides[1], sides[0], sides[3], sides[2])
        return np.stack(sides, axis=1)

    def _strokes(self, series: AxesSeries, override: LineOverride, marks: Codes) -> list[Stroke]:
        """The pieces of a line: cut where rules begin, or in steps as it was drawn."""
        if self._segments is None:
            return []
        lines = self._segments
        if len(self.drawn.series) > 1:
            lines = lines.take(marks)
        cut, line_color = lines.stretches, override.colors[0]
        color = self._with_own(cut.color, line_color)
        way = override.line.get_drawstyle()
        if way != "default":
            return step_strokes(
                way,
                lines,
                color,
                self._marked(marks, line_color),
                np.stack([series.places, series.heights]),
            )
        return [
            Stroke(
                self._unscaled(polyline(lines, cut.segment[at], cut.low[at], cut.high[at])),
                rgba,
                pattern,
            )
            for at, rgba, pattern, _ in by_look(color, cut.pattern, np.zeros(len(color)))
        ]

    def _marked(self, marks: Codes, line_color: Floats) -> Floats:
        """The colours of a line at its marks: rules on the line come before those on marks."""
        verdict = self.judged.verdict
        line, mark = verdict.winner(LINE)[marks], verdict.winner(MARK)[marks]
        faded = [verdict.winner(target, "opacity")[marks] for target in (LINE, MARK)]
        winner, fading = np.where(line >= 0, line, mark), np.where(line >= 0, *faded)
        return self._with_own(verdict.faded(winner, fading, marks), line_color)

    def _with_own(self, color: Floats, line_color: Floats) -> Floats:
        """Colours of pieces with the opacity that the whole had."""
        color = color.copy()
        color[:, 3] *= line_color[3]
        return color

    def _spots(self, override: LineOverride, marks: Codes) -> LineMarkers | None:
        """The markers along a line: its own, else at points that rules call out."""
        if not self.pieces.has_points:
            return None
        called, _ = self.pieces.called_out(labelled=False)
        if not (override.has_markers or called[marks].any()):
            return None
        places = self._unscaled(np.column_stack([self.pieces.across, self.pieces.heights]))[marks]
        there, markers = ~np.isnan(places).any(axis=1), self._markers
        fill = self._own(markers.fill.take(marks, axis=0), marks, override.colors)
        if override.has_markers:
            shown, outline = (
                there,
                np.where(markers.outline[marks, 3:] > 0, markers.outline[marks], fill),
            )
        else:
            shown = there & called[marks]
            paper = np.append(rgb_of(self._paper), 1.0)
            outline = np.where(markers.outline[marks, 3:] > 0, markers.outline[marks], paper)
        return LineMarkers(places[shown], fill[shown], outline[shown], markers.sizes[marks][shown])

    def _areas(self, override: AreaOverride, marks: Codes) -> list[AreaPiece]:
        """The pieces of an area, each with its colour and pattern."""
        areas, lines = self._area_pieces, self._segments
        if areas is None or lines is None:
            return []
        kept = lines.kept(marks)
        pieces_kept = np.flatnonzero(np.isin(areas.segment, kept))
        ends = np.asarray(self.axes.get_xlim(), dtype=float)
        if self._is_scaled:
            ends = scaled(self.axes, ends, along_x=True)
        across = PixelColumns(float(ends[0]), float(ends[1]), self.axes.bbox.width)
        color = self._with_own(areas.color[pieces_kept], override.colors[0])

        def path(at: Codes) -> Path:
            corners, ends = surface(lines, areas, pieces_kept[at], across)
            return path_of_rings(self._unscaled(corners), ends)

        return [
            (path(at), rgba, pattern)
            for at, rgba, pattern, _ in by_look(
                color, areas.pattern[pieces_kept], np.zeros(len(pieces_kept))
            )
        ]
