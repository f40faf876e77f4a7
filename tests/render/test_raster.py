"""Pixels: drawn without a figure, they are those that Matplotlib's own canvas draws of the figure."""

from __future__ import annotations

import io
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis.extra.numpy import array_shapes, arrays
from matplotlib.backends.backend_agg import FigureCanvasAgg
from PIL import Image

import yuzen as yz
from tests.support.ferries import CHARTS
from tests.support.many_charts import bars, letters, lines, points, tables
from tests.support.sampling import a_sample_of
from yuzen.render.figure import figure_of
from yuzen.render.png import PngText, png_of
from yuzen.render.raster import raster
from yuzen.scene.box import Box, PlotArea
from yuzen.scene.primitives import Rectangles
from yuzen.scene.scene import Group, Scene

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


def on_a_canvas(scene: Scene, dpi: float) -> np.ndarray[Any, Any]:
    figure = figure_of(scene)
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
    np.testing.assert_array_equal(
        raster(chart.stages.scene, dpi), on_a_canvas(chart.stages.scene, dpi)
    )


@pytest.mark.parametrize(("name", "dpi"), a_sample_of([(name, 100) for name in MANY], every=12))
def test_so_are_those_of_charts_with_every_key(name: str, dpi: int) -> None:
    chart = MANY[name]()
    np.testing.assert_array_equal(
        raster(chart.stages.scene, dpi), on_a_canvas(chart.stages.scene, dpi)
    )


@pytest.mark.sampled(3)
@pytest.mark.parametrize(
    "kind", ["bar", "column", "line", "area", "dots", "scatter", "ring", "bridge", "table"]
)
def test_so_are_those_of_patterns_badges_outlines_and_foreign_letters(kind: str) -> None:
    chart = styled(kind) if kind != "ring" else styled(kind).also_keep("v above 0")
    np.testing.assert_array_equal(
        raster(chart.stages.scene, 200), on_a_canvas(chart.stages.scene, 200)
    )


def test_a_png_holds_these_pixels_and_texts() -> None:
    chart = styled("bar")
    image: Any = Image.open(io.BytesIO(chart.image()))
    np.testing.assert_array_equal(image, raster(chart.stages.scene, 100)[:, :, :3])
    assert image.info["dpi"] == pytest.approx((100, 100), abs=0.02)
    assert image.text["Title"] == "Zahlen 日本"
    assert image.text["Description"] == chart.alt()


@given(arrays(np.uint8, array_shapes(min_dims=2, max_dims=2, max_side=9).map(lambda s: (*s, 4))))
def test_any_pixels_are_read_back_by_pillow(pixels: np.ndarray[Any, Any]) -> None:
    texts = [PngText("Title", "Zwölf\0Fähren", "de"), PngText("Comment", "x" * 5_000)]
    data = png_of(pixels, 240, texts)
    Image.open(io.BytesIO(data)).verify()  # the checksums
    image: Any = Image.open(io.BytesIO(data))
    np.testing.assert_array_equal(image, pixels[:, :, :3])
    assert image.info["dpi"] == pytest.approx((240, 240), abs=0.02)
    assert image.text == {"Title": "Zwölf�Fähren", "Comment": "x" * 5_000}
    assert image.text["Title"].lang == "de"


@pytest.mark.parametrize("dpi", [100, 130])
def test_opaque_rectangles_lie_over_one_another_within_their_plot(dpi: int) -> None:
    """Smaller than a pixel, beyond the plot and the page, upside down, missing."""
    random = np.random.default_rng(3)
    corners = random.uniform(-80, 260, (600, 4))
    corners[::2, 2:] = corners[::2, :2] + random.uniform(-3, 3, (300, 2))
    corners[7] = np.nan
    inks = random.uniform(0, 1, (600, 4))
    inks[:, 3] = 1
    shape = Rectangles(role="bar", corners=corners, fill=inks)
    area = PlotArea(Box(20.3, 10.2, 160.7, 120.6), (0, 1), (0, 1))
    scene = Scene(width=200, height=150, paper="#ffffff", groups=(Group(area, (shape,)),))
    np.testing.assert_array_equal(raster(scene, dpi), on_a_canvas(scene, dpi))
