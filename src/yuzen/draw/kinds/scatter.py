"""Scatters: points of two measures, with texts at some, reference lines, and regions."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final

import numpy as np

from yuzen.arrays import Bools, Codes, Floats
from yuzen.draw.axes.axis import tick_room, ticks_between
from yuzen.draw.axes.frame import Frame, scale_of
from yuzen.draw.canvas import Canvas, Of, Plane, colors
from yuzen.draw.places.annotations import PlacedNote, write_notes
from yuzen.draw.places.point_texts import MAX_POINT_TEXTS, PointOwners, point_texts
from yuzen.draw.plots.plot import PAGE_HEIGHT_PX, PlotKind, says_empty
from yuzen.draw.room.nearness import MarkEnds
from yuzen.draw.room.occupancy import CURVE, TEXT, Occupancy
from yuzen.draw.shapes.dots import draw_dots, radii_of
from yuzen.draw.signs.styled_texts import Signs, first_inks, reaches_of, width_of, write_pieces
from yuzen.page.page import Size
from yuzen.page.scatter import Region, Scatter
from yuzen.scene.box import Box
from yuzen.scene.order import BANDS
from yuzen.scene.primitives import Rectangles
from yuzen.value import Value

SCATTER_POINT_PX: Final = 9.0  # pixels across
AXIS_TITLE_ROOM_PX: Final = 24  # pixels over the plot for the title of the axis that stands
BELOW_PX: Final = 46  # under it for the numbers and the title of the other one
LABEL_STRIP_PX: Final = 20  # over the plot for the labels of upright lines
REGION_OPACITY: Final = 0.16  # of a region's colour
TURNED: Final = (
    (0, 0),
    (0, 1),
    (1, 0),
    (1, 1),
)  # the other corners of a region, in the order of trying
PLATE_OPACITY: Final = 0.8  # of the paper's colour
FEW_POINTS: Final = 20  # points
CROWD: Final = 10_000_000  # more than a chart has points
CORNER_GAP_PX: Final = 8.0  # pixels between a region's name and its corner


class ScatterKind(PlotKind):
    """The plot of scatters."""

    def height(self, plot: Scatter, size: Size, around: float) -> int:
        """Height of the page in pixels."""
        del plot, size, around
        return PAGE_HEIGHT_PX

    def draw(self, plot: Scatter, size: Size, canvas: Canvas, box: Box) -> None:
        """Draw the scatter in a box of the sheet."""
        self.draw_panels([plot], size, canvas, [box])

    def draw_panels(
        self, plots: Sequence[Scatter], size: Size, canvas: Canvas, boxes: Sequence[Box]
    ) -> None:
        """Draw several, on two scales for all where those are shared."""
        del size
        room = max((_label_room(plot, canvas, boxes[0].width) for plot in plots), default=0.0)
        for plot, outer in zip(plots, boxes, strict=True):
            if says_empty(plot.note, canvas, outer):
                continue
            seen = [other for other in plots if not other.note] if plot.upright.shared else [plot]
            left = outer.left + _tick_room(seen, canvas, outer)
            top = outer.top + AXIS_TITLE_ROOM_PX + LABEL_STRIP_PX * bool(plot.uprights)
            box = Box(left, top, outer.right - room, outer.bottom - BELOW_PX)
            _Drawing.of(plot, seen, canvas, outer, box).draw()


PLOT: Final = ScatterKind()


class _Drawing(Value, eq=False):
    """A scatter that has its place on the sheet, and the scale of each axis."""

    plot: Scatter
    canvas: Canvas
    frame: Frame

    @classmethod
    def of(
        cls, plot: Scatter, plots: Sequence[Scatter], canvas: Canvas, outer: Box, box: Box
    ) -> _Drawing:
        """The scatter on scales that have room for the points of all plots, and for their lines."""
        places = np.concatenate([one.places for one in plots])
        uprights = [line.value for one in plots for line in one.uprights]
        levels = [line.value for one in plots for line in one.levels]
        levels += [end for one in plots for band in one.bands for end in (band.low, band.high)]
        across = scale_of(np.append(places[:, 0], uprights), box.width, plot.across)
        upright = scale_of(np.append(places[:, 1], levels), box.height, plot.upright)
        return cls(
            plot,
            canvas,
            Frame(canvas, outer, box, across, upright, (plot.across.numbers, plot.upright.numbers)),
        )

    def draw(self) -> None:
        """Draw the scatter: grounds, hairlines, points, then texts, and lines that stop there."""
        plane = self.frame.plane(self.plot.of_chart)
        self._draw_grounds(plane)
        middles, radii = self._draw_points(plane)
        seen = self._seen
        ground = Occupancy(self.frame.box)
        ground.add(self._name_corners(middles, radii), TEXT)
        ground.add(np.hstack([middles - radii[:, None], middles + radii[:, None]])[seen], CURVE)
        self._write(middles, radii, seen, ground)
        self._write_notes(middles, radii, ground)
        boxes = ground.texts
        above = LABEL_STRIP_PX * bool(self.plot.uprights)
        self.frame.draw_axes(plane, boxes, (self.plot.across.title, self.plot.upright.title), above)
        self.frame.draw_lines(plane, boxes, self.plot)

    def _write_notes(self, middles: Floats, radii: Floats, ground: Occupancy) -> None:
        """The notes at points, clear of all points and words."""
        seen = self._seen
        notes = []
        for point, text in self.plot.annotations:
            if seen[point]:
                x, y = middles[point].tolist()
                radius, name = float(radii[point]), self.plot.names[point]
                notes.append(PlacedNote(text, ((x, y),), radius, name, "", point))
        write_notes(self.canvas, notes, self.frame.box, ground)

    @property
    def _seen(self) -> Bools:
        """Which points lie within the ends that are set."""
        (left, right), (low, high) = self.plot.across.bounds, self.plot.upright.bounds
        x, y = self.plot.places.T
        return np.asarray((x >= left) & (x <= right) & (y >= low) & (y <= high))

    def _draw_grounds(self, plane: Plane) -> None:
        """Bands and regions, behind everything."""
        bands, filled = self.plot.bands, [region for region in self.plot.regions if region.filled]
        if bands:
            left, bottom, right, top = self._numbers
            corners = [[left, max(bottom, b.low), right, min(top, b.high)] for b in bands]
            fill = colors([self.canvas.theme.color("pale")])
            plane.add(self._ground("bands", corners, fill))
        if filled:
            fill = colors([region.color for region in filled], REGION_OPACITY)
            plane.add(self._ground("regions", [self._ends(region) for region in filled], fill))

    def _ground(self, role: str, corners: list[list[float]], fill: Floats) -> Rectangles:
        """Grounds from numbers to numbers: left, bottom, right and top of each."""
        ends = self.frame.on_page(np.array(corners).reshape(-1, 2)).reshape(-1, 4)
        return Rectangles(
            role=role, corners=ends[:, [0, 3, 2, 1]], fill=fill, order=BANDS, clipped=True
        )

    @property
    def _numbers(self) -> tuple[float, float, float, float]:
        """The numbers at the edges of the plot: left, bottom, right and top."""
        across, upright, box = self.frame.across, self.frame.upright, self.frame.box
        return across.value(0), upright.value(0), across.value(box.width), upright.value(box.height)

    def _ends(self, region: Region) -> list[float]:
        """A region's corners within the plot: left, bottom, right and top."""
        left, low, right, high = self._numbers
        x = np.clip([region.left, region.right], left, right).tolist()
        y = np.clip([region.low, region.high], low, high).tolist()
        return [x[0], y[0], x[1], y[1]]

    def _draw_points(self, plane: Plane) -> tuple[Floats, Floats]:
        """Draw all points, flagged ones on top; returns their places and radii in pixels."""
        plot = self.plot
        order = np.flatnonzero(self._seen)
        # Large points first, so that they do not cover small ones; flagged ones last, on top.
        order = order[np.lexsort((-np.nan_to_num(plot.points.sizes[order]), plot.flagged[order]))]
        centers, paper = self.frame.on_page(plot.places), self.canvas.theme.color("paper")
        styles = plot.points.take(order)
        draw_dots(plane, paper, styles, centers[order], SCATTER_POINT_PX, order)
        gone = [plot.names[point] for point in np.flatnonzero(~self._seen).tolist()]
        self.canvas.note(gone, "points go beyond the scale that is set")
        return centers, radii_of(plot.points, SCATTER_POINT_PX)

    def _name_corners(self, middles: Floats, radii: Floats) -> Floats:
        """Write the names of regions in corners of their own; returns boxes, shape (m, 4)."""
        canvas, boxes = self.canvas, np.empty((0, 4))
        tall = canvas.measurer.height("name")
        for region in self.plot.regions:
            left, bottom, right, top = self._region_on_page(region)
            room = right - left - 2 * CORNER_GAP_PX
            text = canvas.fitted(region.name, "name", max(0.0, room), "names of regions", bold=True)
            if not text or bottom - top < tall + 2 * CORNER_GAP_PX:
                canvas.note(
                    [region.name] if region.name else [],
                    "names of regions left out for want of room",
                )
                continue
            width = canvas.measurer.width(text, "name", bold=True)
            x = left + CORNER_GAP_PX, right - CORNER_GAP_PX - width
            y = top + CORNER_GAP_PX, bottom - CORNER_GAP_PX - tall
            first = (
                int(np.isfinite(region.left)),
                int(np.isfinite(region.high)),
            )  # the outer corner
            tries = [(x[first[0] ^ turn], y[first[1] ^ over]) for turn, over in TURNED]
            corners = np.array([(a, b, a + width, b + tall) for a, b in tries])
            held = [
                _held(corner, middles, radii) + CROWD * _hit(corner, boxes) for corner in corners
            ]
            # Few points are not to be covered; among many a name stands on a plate.
            if 0 < min(held) < FEW_POINTS or min(held) >= CROWD:
                canvas.note([region.name], "names of regions left out for want of room")
                continue
            chosen = corners[int(np.argmin(held))]
            boxes = np.concatenate([boxes, chosen[None]])
            self._plate(chosen[None])
            ink, (a, b) = canvas.theme.readable(region.color), chosen[:2].tolist()
            canvas.write(
                text, a, b + tall * 0.82, use="name", color=ink, bold=True, of=Of("region")
            )
        return boxes

    def _region_on_page(self, region: Region) -> list[float]:
        """A region's left, bottom, right and top on the page, within the plot."""
        ends = np.array(self._ends(region)).reshape(2, 2)
        return [float(place) for place in self.frame.on_page(ends).ravel()]

    def _plate(self, boxes: Floats) -> None:
        """A pale ground under words that may lie over points."""
        self.canvas.plates(boxes + np.array([-3, -1, 3, 1]), self.canvas.paper(PLATE_OPACITY))

    def _widths(self, order: Codes) -> Floats:
        """Pixels of the texts that are tried, the first of some points; 0 at all others."""
        widths, count = np.zeros(len(self.plot.places)), 0
        for point in order.tolist():
            widths[point] = width_of(self.plot.pieces, self.canvas.measurer, point)
            count += widths[point] > 0
            if count == MAX_POINT_TEXTS:  # measuring thousands that find no place takes longest
                break
        return widths

    def _write(self, middles: Floats, radii: Floats, seen: Bools, ground: Occupancy) -> None:
        """Write what stands at points, flagged ones first; what finds no place is noted."""
        plot, canvas = self.plot, self.canvas
        if not plot.pieces:
            return
        wanted = np.flatnonzero(np.any([piece.said for piece in plot.pieces], axis=0) & seen)
        order = wanted[np.argsort(~plot.flagged[wanted], kind="stable")]
        widths = self._widths(order)
        written_marks = order[widths[order] > 0]
        reaches = np.zeros((len(middles), 2))
        reaches[written_marks] = reaches_of(plot.pieces, canvas.measurer, written_marks)
        texts = point_texts(
            written_marks,
            middles,
            radii,
            widths,
            canvas.measurer.height("number"),
            self.frame.box,
            ground,
            PointOwners(_point_ends(middles, radii, np.flatnonzero(seen)), reaches),
        )
        signs = Signs()
        led = [text for text in texts if text.lead]
        led_points = np.array([text.point for text in led], dtype=np.intp)
        inks = first_inks(plot.pieces, led_points)
        canvas.lead([text.lead for text in led], inks, "", led_points)
        for text in texts:
            left, top, _, bottom = text.box.tolist()
            write_pieces(
                canvas, canvas.measurer, plot.pieces, text.point, (left, (top + bottom) / 2), signs
            )
        signs.draw(canvas)
        told = {text.point for text in texts}
        gone = [plot.names[point] for point in wanted.tolist() if point not in told]
        canvas.note(gone, "texts at points left out for want of room")


def _tick_room(plots: Sequence[Scatter], canvas: Canvas, outer: Box) -> float:
    """Pixels beside a plot for the numbers of its upright axis."""
    values = np.concatenate([one.places[:, 1] for one in plots])
    scale = scale_of(values, outer.height, plots[0].upright)
    ticks = ticks_between(scale.value(0), scale.value(outer.height))
    return tick_room(canvas.measurer, ticks, plots[0].upright.numbers)


def _point_ends(middles: Floats, radii: Floats, seen: Codes) -> MarkEnds:
    """The points that are seen, as what texts could be taken to belong to."""
    boxes = np.hstack([middles - radii[:, None], middles + radii[:, None]])[seen]
    return MarkEnds(boxes, seen, np.zeros(len(seen), dtype=np.intp))


def _label_room(plot: Scatter, canvas: Canvas, width: float) -> float:
    """Pixels to the right of a plot for the labels of lines and bands."""
    texts: list[str] = [line.text for line in plot.levels] + [band.text for band in plot.bands]
    widest = max((canvas.measurer.width(text, "reference") for text in texts if text), default=0.0)
    return min(widest + 12, width * 0.25) if widest else 0.0


def _held(box: Floats, middles: Floats, radii: Floats) -> int:
    """How many points lie in a box or touch it."""
    # The nearest place of the box to each point's middle.
    nearest = np.clip(middles, box[:2], box[2:])
    return int(np.count_nonzero(np.hypot(*(middles - nearest).T) < radii))


def _hit(box: Floats, boxes: Floats) -> bool:
    """Whether a box lies on one of others, shape (m, 4)."""
    apart = (box[2:] <= boxes[:, :2]) | (box[:2] >= boxes[:, 2:])
    return bool((~apart.any(axis=1)).any())
