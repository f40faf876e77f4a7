"""A ring of a page as a chart that can be edited."""

from __future__ import annotations

from typing import Final

import numpy as np

from yuzen.color.gradient import hex_color
from yuzen.color.named import black_or_white
from yuzen.color.themes import Theme
from yuzen.formats.name_lists import listed
from yuzen.office.editable.chart import (
    ChartGroup,
    ChartSeries,
    EditableChart,
    NumberAxis,
    PointLabels,
    PointLooks,
    Slots,
    TextRun,
)
from yuzen.office.editable.labels import label_runs
from yuzen.page.layer import PATTERN_NAMES
from yuzen.page.ring import Ring

SLIMMEST: Final = 0.03  # of the whole: a slice in which a name has room


def ring_chart(ring: Ring, theme: Theme) -> EditableChart:
    """A ring as a chart of its slices' shares, with the whole in its middle.

    Programs write the labels of a ring into its slices, so those of slim slices have no room.
    """
    styles = ring.styles
    patterns = tuple(PATTERN_NAMES[code] for code in styles.patterns.tolist())
    looks = PointLooks(styles.fill, styles.outline, patterns)
    labels = tuple(_slice_runs(ring, place) for place in range(len(ring.shares)))
    shares = np.asarray(ring.shares, float)
    series = ChartSeries(
        "share", shares, ring.of_chart, looks, labels=PointLabels(labels, "middle")
    )
    left_out = [ring.names.texts[place] for place in range(len(shares)) if not labels[place]]
    notes: tuple[str, ...] = ()
    if left_out:
        notes = (f"slices too slim for their names: {listed(left_out)}",)
    ink, slate = theme.color("ink"), theme.color("slate")
    middle = tuple(
        TextRun(text, color, bold)
        for text, color, bold in (
            (ring.middle[0], ink, True),
            (ring.middle[1], slate, False),
        )
        if text.strip()
    )
    axis = NumberAxis()
    slots = Slots(tuple(ring.names.texts))
    return EditableChart(
        (ChartGroup("ring", (series,)),), slots, theme, axis, middle=middle, notes=notes
    )


def _slice_runs(ring: Ring, place: int) -> tuple[TextRun, ...]:
    """What is written in a slice: its name, and its texts in a line of their own."""
    if ring.shares[place] < SLIMMEST:
        return ()
    fill = hex_color(ring.styles.fill[place])
    ink, bold = black_or_white(fill), bool(ring.flagged[place])
    runs = [run for label in ring.labels for run in label_runs(label, place)]
    texts = [run.text.strip() for run in runs if run.text.strip()]
    name = TextRun(ring.names.texts[place], ink, bold)
    return (name, TextRun(" ".join(texts), ink, bold)) if texts else (name,)
