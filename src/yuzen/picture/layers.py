"""Layers: the further measures of a chart as they are drawn."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from yuzen.picture.page import Layer
from yuzen.picture.pieces import Traced
from yuzen.rules.marks import TOTAL_MARK

if TYPE_CHECKING:
    from yuzen.brief.model import Brief, LayerSection
    from yuzen.picture.judged import Judged
    from yuzen.rules.arrays import Floats


def layers(judged: Judged) -> tuple[Layer, ...]:
    """The layers besides the chart's own, in the order of the brief."""
    spec = judged.spec
    names = [layer.name for layer in spec.layer]
    main = names.index(spec.main.name) if spec.main is not None else 0
    return tuple(
        _layer(judged, layer, behind=place < main)
        for place, layer in enumerate(spec.layer)
        if layer is not spec.main
    )


def turns(spec: Brief) -> dict[str, int]:
    """Which of the bars that share a row each layer is; none where all lie over one another."""
    if not any(layer.place == "beside" for layer in spec.layer):
        return {}
    sharing = [x.name for x in spec.layer if x.place == "beside" or x is spec.main]
    return {name: place for place, name in enumerate(sharing)}


def _layer(judged: Judged, section: LayerSection, *, behind: bool) -> Layer:
    target = f"layer {section.name}"
    return Layer(
        name=section.name,
        kind=section.kind or ("bar" if judged.spec.chart.kind in {"bar", "column"} else "line"),
        values=_values(judged, section),
        color=judged.palette.layers[target][1],
        fill=judged.palette.fill(judged.verdict, target),
        opacity=judged.opacity(target),
        patterns=judged.patterned(target),
        tracing=Traced(judged, target),
        width=section.width,
        beside=section.place == "beside",
        turn=turns(judged.spec).get(section.name, 0),
        own=section.axis == "own",
        behind=behind,
    )


def _values(judged: Judged, section: LayerSection) -> Floats:
    """The layer's numbers: of the marks, or over groups of the totals of their categories."""
    marks = judged.marks
    values = np.asarray(marks.columns[section.value], dtype=float)
    sums = np.zeros(len(marks), dtype=bool) if marks.standing is None else marks.standing == TOTAL_MARK
    return np.where(sums if marks.series else ~sums, values, np.nan)
