"""Charts inside somebody else's figure: an Axes, a figure, a part of one."""

from __future__ import annotations

from io import BytesIO
from typing import Any

import matplotlib as mpl
import numpy as np
import pytest
from matplotlib.axes import Axes
from matplotlib.backends.backend_agg import FigureCanvasAgg
from matplotlib.colors import to_hex
from matplotlib.figure import Figure

import yuzen as yz
from tests.support.ferries import CHARTS
from yuzen.draw.text.fonts import box_of
from yuzen.render.writing import WritingArtist

ALL: Any = ["title", "subtitle", "key", "footer"]


def pixels(figure: Figure) -> np.ndarray[Any, Any]:
    canvas = FigureCanvasAgg(figure)
    canvas.draw()
    return np.asarray(canvas.buffer_rgba())[:, :, :3].astype(int)


@pytest.mark.sampled(2)
@pytest.mark.parametrize("name", CHARTS)
def test_a_figure_of_somebody_else_shows_what_our_own_shows(name: str) -> None:
    own = CHARTS[name].figure()
    other = Figure(figsize=tuple(own.get_size_inches().tolist()), dpi=own.dpi)
    CHARTS[name].draw(other, show=ALL)
    np.testing.assert_array_equal(pixels(other), pixels(own))


@pytest.mark.parametrize(
    "name", ["busiest", "waters", "shares", "quadrants", "margins", "plan", "ledger"]
)
@pytest.mark.parametrize(("size", "dpi"), [((6.5, 3.5), 72), ((12.0, 6.0), 220)])
def test_axes_hold_all_that_is_drawn_whatever_their_size(
    name: str, size: tuple[float, float], dpi: int
) -> None:
    figure = Figure(figsize=size, dpi=dpi)
    left, right = figure.subplots(1, 2)
    right.plot([1, 2, 3])
    right.set_title("somebody's own")
    figure.canvas.draw()
    place, around = right.get_position().bounds, dict(mpl.rcParams)
    drawn = CHARTS[name].draw(left)
    assert right.get_position().bounds == place
    assert dict(mpl.rcParams) == around
    assert all(isinstance(axes, Axes) for axes in drawn.axes)
    [writing] = [made for made in left.artists if isinstance(made, WritingArtist)]
    box = left.get_window_extent()
    scale = dpi / 100
    for line in writing.lines:
        low, above, high, below = (edge * scale for edge in box_of(line).ends)
        assert -1 <= low <= high <= box.width + 1, line.text
        assert -1 <= above <= below <= box.height + 1, line.text
    assert not {CHARTS[name].stages.page.words.title} & {line.text for line in writing.lines}
    assert not left.axison


@pytest.mark.parametrize("on_axes", [True, False])
def test_whoever_shows_the_axes_of_a_chart_has_ticks_on_them(on_axes: bool) -> None:
    figure = Figure(figsize=(8, 5))
    plot = CHARTS["busiest"].draw(figure.subplots() if on_axes else figure).axes[0]
    plain = Figure(figsize=(8, 5)).add_axes(plot.get_position().bounds)
    plain.set_xlim(plot.get_xlim())
    plain.set_ylim(plot.get_ylim())
    for axes in (plot, plain):
        axes.set_axis_on()
        axes.grid(visible=True, color="red")
    pixels(figure)
    for ours, usual in ((plot.xaxis, plain.xaxis), (plot.yaxis, plain.yaxis)):
        assert ours.get_majorticklocs().tolist() == usual.get_majorticklocs().tolist()
        assert {line.get_color() for line in ours.get_gridlines()} == {"red"}
        assert all(line.get_visible() for line in ours.get_gridlines())


def test_several_charts_stand_in_one_figure_with_a_layout_of_its_own() -> None:
    figure = Figure(figsize=(12, 8), layout="constrained")
    parts: Any = figure.subfigures(2, 1)
    upper, lower = parts
    axes = upper.subplots(1, 2)
    CHARTS["busiest"].draw(axes[0], show=["title"])
    CHARTS["waves"].draw(axes[1])
    CHARTS["causes"].draw(lower, show=ALL)
    figure.savefig(BytesIO())
    parts = (axes[0], axes[1], lower)
    assert [any(isinstance(a, WritingArtist) for a in part.artists) for part in parts] == [True] * 3
    dusk = [
        made
        for made in axes[1].patches
        if to_hex(made.get_facecolor()) == CHARTS["waves"].stages.theme.color("paper").lower()
    ]
    assert len(dusk) == 1  # whose texts could not be read on somebody's white


@pytest.mark.parametrize(
    ("target", "show", "message"),
    [
        (3, (), "An int is nothing to draw on. Give an Axes, a Figure or a SubFigure."),
        (
            Figure(),
            "title",
            "show is a list of title, subtitle, footer, key, and 'title' is none of it.",
        ),
        (Figure(), ["titel"], "and 'titel' is none of it."),
        (
            Figure(figsize=(3, 1)),
            (),
            "There are 100 pixels from top to bottom, at a hundred for an inch",
        ),
        (Figure(figsize=(0.3, 3)), (), "There are 30 by 300 pixels"),
        (Figure(figsize=(0.45, 3)), (), "There is no room for the plot beside its texts."),
    ],
)
def test_what_has_no_room_is_told_and_leaves_nothing_behind(
    target: Any, show: Any, message: str
) -> None:
    with pytest.raises(yz.YuzenError) as error:
        CHARTS["busiest"].draw(target, show=show)
    assert message in str(error.value)
    if isinstance(target, Figure):
        assert target.axes == target.artists == target.patches == []


def test_axes_that_are_too_small_stay_as_they_were() -> None:
    axes = Figure(figsize=(0.6, 3)).subplots()
    with pytest.raises(yz.YuzenError, match="no room for the plot"):
        CHARTS["punctual"].draw(axes)
    assert axes.axison
    assert not axes.child_axes
    assert not axes.artists
