"""Pixels: drawn without a figure, they are those that Matplotlib's own canvas draws of the figure."""

from __future__ import annotations

import io
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from matplotlib.backends.backend_agg import FigureCanvasAgg
from PIL import Image

import yuzen as yz
from tests.support.ferries import CHARTS
from tests.support.many_charts import bars, letters, lines, points, tables
from tests.support.sampling import a_sample_of
from yuzen.render.figure import figure_of
from yuzen.render.raster import raster

MANY = {**bars(), **letters(), **lines(), **points(), **tables()}
STYLED = {
    "names": ["Ünal", "日本語", "שלום", "a\u0301b", "fi", "g"],
    "v": [3.0, -2.0, 5.0, 1.0, 4.0, 2.5],
    "w": [1, 2, 3, 4, 5, 6],
}


def styled(kind: str) -> yz.Chart:
    across = {"across": "w"} if kind == "scatter" else {}
    chart = yz.chart(STYLED, kind=kind, category="names", value="v", title="Zahlen 日本", **across)  # type: ignore[arg-type]
    chart = chart.rule("top 2", color="favorable", opacity=0.5, badge="star")
    chart = chart.rule("negative", color="adverse", badge="alert").rule(
        "w = 4", outline="ink", name="o"
    )
    return (
        chart
        if kind in {"scatter", "line", "dots"}
        else chart.rule("v below 3", pattern="cross", name="p")
    )


def on_a_canvas(chart: yz.Chart, dpi: float) -> np.ndarray[Any, Any]:
    figure = figure_of(chart.stages.scene)
    figure.set_dpi(dpi)
    canvas = FigureCanvasAgg(figure)
    canvas.draw()
    return np.asarray(canvas.buffer_rgba())


@pytest.mark.parametrize(
    ("name", "dpi"), a_sample_of([(name, dpi) for name in CHARTS for dpi in (100, 200)], every=3)
)
def test_the_pixels_of_every_demo_chart_are_those_of_its_figure(
    folder: Path, name: str, dpi: int
) -> None:
    chart = yz.load(folder / f"{name}.toml")
    np.testing.assert_array_equal(raster(chart.stages.scene, dpi), on_a_canvas(chart, dpi))


@pytest.mark.parametrize(("name", "dpi"), a_sample_of([(name, 100) for name in MANY], every=12))
def test_so_are_those_of_charts_with_every_key(name: str, dpi: int) -> None:
    chart = MANY[name]()
    np.testing.assert_array_equal(raster(chart.stages.scene, dpi), on_a_canvas(chart, dpi))


@pytest.mark.parametrize(
    "kind", ["bar", "column", "line", "area", "dots", "scatter", "ring", "bridge", "table"]
)
def test_so_are_those_of_patterns_badges_outlines_and_foreign_letters(kind: str) -> None:
    chart = styled(kind) if kind != "ring" else styled(kind).also_keep("v above 0")
    np.testing.assert_array_equal(raster(chart.stages.scene, 200), on_a_canvas(chart, 200))


def test_a_png_holds_these_pixels() -> None:
    chart = styled("bar")
    image = np.asarray(Image.open(io.BytesIO(chart.image())))
    np.testing.assert_array_equal(image, raster(chart.stages.scene, 100)[:, :, :3])
