"""Which of very many marks are drawn: those that a picture can tell apart.

A line or an area goes through the first, the last, the lowest and the highest of its marks in each
column of pixels; of points that lie on one another the one is drawn that covers the others. Marks
of different rules are told apart everywhere. Numbers, texts, references and flags are of all marks.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Final

import numpy as np

from yuzen.arrays import Bools, Codes, Floats, Text, are_counted, rises
from yuzen.brief.design import Design
from yuzen.compose.axes.panel_axes import slot_values, steps_along
from yuzen.compose.drawn_context import DrawnContext
from yuzen.compose.judged_chart import JudgedChart
from yuzen.compose.scatter import across_measure, drawable_points
from yuzen.compose.styles.colored_verdict import ColoredVerdict
from yuzen.compose.texts.annotations import noted_marks
from yuzen.errors import make_error
from yuzen.rules.marks import Marks
from yuzen.rules.target import LINE, MARK
from yuzen.value import Value

MAX_MARKS: Final = 100_000  # that a picture holds, each with its own look and place
MAX_THINNED_MARKS: Final = 20_000_000
MAX_KEPT_FLAGS: Final = 20_000  # flagged marks that are all drawn; more are thinned like the others
COLUMNS_PER_PX: Final = 2  # of a line: what is left out is less than half a pixel off
CELL_PX: Final = 2  # of points, which are larger than that
USUAL_HEIGHT_PX: Final = 800  # of a page that is as high as it needs to be


class Thinned(Value, eq=False):
    """A chart of the marks that are drawn.

    steps: the place of each along its line, as a whole number; where one is left out is a gap.
    """

    chart: JudgedChart
    steps: Codes | None = None


def thinned(chart: JudgedChart) -> Thinned:
    """The marks of a chart that are drawn: all, unless there are too many to be told apart.

    Raises YuzenError (data-marks) for more than a picture of its kind can hold.
    """
    marks = chart.marks
    if len(marks) <= MAX_MARKS:
        return Thinned(chart)
    _refuse_what_stays_whole(chart.design, marks)
    if chart.design.traits.shape.two_sided:
        return Thinned(_drawn(chart, _points(chart)))
    order, runs = _along_lines(chart)
    kept = _turns(chart, order, runs)
    if chart.design.brief.layer:
        kept |= np.isnan(chart.context.values)  # where a layer may have a number nevertheless
    drawn = np.flatnonzero(kept)
    # Marks that follow one another on a line are joined, as far as nothing is missing between them.
    place, along = np.zeros(len(marks), dtype=np.intp), np.flatnonzero(kept[order])
    place[order[along]] = np.arange(len(along)) + runs[along]
    return Thinned(_drawn(chart, drawn), place[drawn])


def refuse_rows(marks: Marks) -> None:
    """Raise YuzenError (data-marks) for more marks than a slide or a sheet holds as rows."""
    if len(marks) > MAX_MARKS:
        message = (
            f"There are {len(marks):,} marks, and a slide or a workbook holds {MAX_MARKS:,} at"
        )
        raise make_error("data-marks", f"{message} most. Save a picture, or keep fewer rows.")


def thinning_note(chart: JudgedChart, drawn_chart: Thinned) -> list[str]:
    """A sentence where not all marks that have numbers are drawn."""
    all_marks, some = len(chart.marks), drawn_chart.chart
    if all_marks == len(some.marks):
        return []
    count, drawn = (np.count_nonzero(_drawable(one)) for one in (chart, some))
    if count == drawn:
        return []
    points = "points" if chart.design.traits.shape.two_sided else "points of lines"
    drawn_ones = f"{drawn:,} of {count:,} {points} are drawn, as the others lie on the same pixels."
    return [f"{drawn_ones} Flags, numbers and texts are of all."]


def _refuse_what_stays_whole(design: Design, marks: Marks) -> None:
    """Raise YuzenError (data-marks) where leaving marks out would show something else."""
    shape, count = design.traits.shape, len(marks)
    plain = marks.role is None and not marks.panel and not marks.bins
    # Bars and dots of a layer are each a mark of their own.
    plain &= all(design.layer_shape(layer).lined for layer in design.brief.layer)
    if (shape.lined or shape.two_sided) and plain and count <= MAX_THINNED_MARKS:
        return
    most = MAX_THINNED_MARKS if count > MAX_THINNED_MARKS else MAX_MARKS
    message = (
        f"{marks.category} has {count:,} different values, and a picture holds {most:,} at most."
    )
    raise make_error("data-marks", f"{message} Keep fewer rows, or choose another category.")


def _drawable(chart: JudgedChart) -> Bools:
    """The marks that have all numbers that they are drawn by."""
    if chart.design.traits.shape.two_sided:
        return drawable_points(chart.design, chart.context)
    return ~np.isnan(chart.context.values)


def _drawn(chart: JudgedChart, drawn: Codes) -> JudgedChart:
    """The chart of some of its marks, whose quantities are among all."""
    context = DrawnContext.of(chart.context, chart.verdict, drawn)
    return JudgedChart(chart.design, context, chart.verdict.taken(drawn))


def _points(chart: JudgedChart) -> Codes:
    """Of the points in each cell and of each rule the one that covers the others."""
    design, context, verdict = chart.design, chart.context, chart.verdict
    numbers, size = context.numbers, design.brief.size
    drawable = drawable_points(design, context)
    every = np.flatnonzero(drawable)
    # Most often all are, and then nothing has to be picked out of millions.
    chosen = slice(None) if len(every) == len(drawable) else every
    columns, rows = size.width // CELL_PX, (size.height or USUAL_HEIGHT_PX) // CELL_PX
    key = _share(numbers(across_measure(design))[chosen], columns)
    key *= rows
    key += _share(context.values[chosen], rows)
    looks, count = _looks(verdict)
    key *= count
    key += looks[chosen]
    if design.chart.point_size is not None:
        # The largest comes last, as it is seen whatever lies under it.
        largest_last = np.argsort(numbers(design.chart.point_size)[every], kind="stable")
        every, key = every[largest_last], key[largest_last]
    last = np.full(columns * rows * count, -1, dtype=np.intp)
    last[key] = every  # of several in one cell the last that is written stays
    kept = _always_drawn(chart)
    kept[last[last >= 0]] = True
    return np.flatnonzero(kept)


def _share(values: Floats, count: int) -> Codes:
    """Which of `count` equal parts of their range values lie in, shape (n,)."""
    low, high = (float(end) for end in (values.min(initial=np.inf), values.max(initial=-np.inf)))
    if not high > low:
        return np.zeros(len(values), dtype=np.intp)
    shares = values - low
    shares *= count / (high - low)
    return np.minimum(shares, count - 1, out=shares).astype(np.intp)


def _along_lines(chart: JudgedChart) -> tuple[Codes, Codes]:
    """The marks with a number, line after line and along each, and the unbroken run of each."""
    marks = chart.marks
    lines, slots = marks.lines[0], marks.slots
    known = np.flatnonzero(~np.isnan(chart.context.values))
    picked = slice(None) if len(known) == len(marks) else known
    line_of, slot_of = lines[picked], slots[picked]
    if _differs(line_of).any() or not rises(slot_of):
        known = known[np.lexsort((slot_of, line_of))]
        line_of, slot_of = lines[known], slots[known]
    steps = steps_along(marks, slot_values(marks))[slot_of]
    breaks = _differs(line_of) | (steps[1:] - steps[:-1] != 1)
    return known, np.append(0, np.cumsum(breaks))[: len(known)]


def _differs(column: Codes) -> Bools:
    """Whether each entry but the first is another than the one before it."""
    return np.asarray(column[1:] != column[:-1])


def _measures(chart: JudgedChart) -> Iterator[Floats]:
    """The numbers that lines go through: the chart's own, then those of its layers."""
    yield chart.context.values
    for layer in chart.design.brief.layer:
        yield np.asarray(chart.marks.columns[layer.value], dtype=float)


def _turns(chart: JudgedChart, order: Codes, runs: Codes) -> Bools:
    """The marks that lines are drawn through, shape (n,): the ends of each column and its extremes.

    order, runs: the marks along their lines, and the unbroken run of each.
    """
    marks, kept = chart.marks, _always_drawn(chart)
    # Most often marks stand along their lines already, and millions need not be picked.
    chosen = slice(None) if are_counted(order, len(marks)) else order
    moments = _moments(marks)[chosen]
    columns = _share(moments, chart.design.brief.size.width * COLUMNS_PER_PX)
    looks, count = _looks(chart.verdict)
    own, measures = looks[chosen], [numbers[chosen] for numbers in _measures(chart)]
    for look in range(count):
        at = np.flatnonzero(own == look)
        if not len(at):
            continue
        # Along a line columns follow one another, so that each is one stretch of marks.
        fresh = _differs(columns[at]) | _differs(runs[at])
        begins = np.append(0, np.flatnonzero(fresh) + 1)
        lengths = np.diff(begins, append=len(at))
        kept[order[at[begins]]] = kept[order[at[begins + lengths - 1]]] = True
        for numbers in measures:
            values = numbers[at]
            for extreme in (np.fmin, np.fmax):
                extremes = np.repeat(extreme.reduceat(values, begins), lengths)
                places = np.flatnonzero(extremes == values)
                stretches = np.searchsorted(begins, places, side="right")
                _, one = np.unique(stretches, return_index=True)
                kept[order[at[places[one]]]] = True
    return kept


def _moments(marks: Marks) -> Floats:
    """Where each mark stands along the category: its moment, else its slot."""
    column = marks.columns[marks.category]
    if isinstance(column, Text) or column.dtype.kind != "M":
        return marks.slots.astype(float)
    return column.astype(np.float64)


def _looks(verdict: ColoredVerdict) -> tuple[Codes, int]:
    """One number for what rules make of each mark and of the line at it, and how many there are."""
    winners, count = verdict.drawn.winners, len(verdict.rules) + 1
    combined = verdict.flagging(MARK) + 1
    for key in ((MARK, "color"), (LINE, "color")):
        if key in winners:
            combined *= count
            combined += winners[key]
            combined += 1
    there = np.bincount(combined) > 0
    return (np.cumsum(there) - 1)[combined], int(there.sum())


def _always_drawn(chart: JudgedChart) -> Bools:
    """Marks that are drawn whatever lies on them: flagged ones, if not too many, and noted ones."""
    flagged = chart.verdict.flagged
    kept = flagged.copy() if np.count_nonzero(flagged) <= MAX_KEPT_FLAGS else np.zeros_like(flagged)
    for section in chart.design.brief.note:
        kept |= noted_marks(chart.context, section)
    return kept
