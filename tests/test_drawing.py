"""Pictures, by what was drawn: colours, positions, and boxes of text that must not touch."""

from __future__ import annotations

from itertools import combinations
from typing import Any, get_args

import numpy as np
import pandas as pd
import pytest
from matplotlib.collections import LineCollection
from matplotlib.colors import to_hex
from matplotlib.figure import Figure
from matplotlib.text import Text

import yuzen as yz
from yuzen.brief.model import Kind
from yuzen.demo.gallery import demo_charts
from yuzen.draw.kinds import KINDS
from yuzen.draw.lettering import quiet_fonts
from yuzen.draw.placement import cut_line, thinned
from yuzen.draw.rectangles import Rectangles


def bars_of(figure: Figure) -> Rectangles:
    return next(c for c in figure.axes[0].collections if isinstance(c, Rectangles))


def colors_of(bars: Rectangles) -> list[str]:
    return [to_hex(tuple(color)).upper() for color in np.asarray(bars.get_facecolor())]


def boxes_of(figure: Figure) -> list[tuple[str, Any]]:
    """Every text with its box in pixels, as the renderer measures it."""
    with quiet_fonts():
        renderer = figure.canvas.get_renderer()  # type: ignore[attr-defined]
        texts = [text for text in figure.findobj(Text) if text.get_text()]
        return [(text.get_text(), text.get_window_extent(renderer)) for text in texts]


def drawn(chart: yz.Chart) -> Figure:
    from matplotlib.backends.backend_agg import FigureCanvasAgg

    figure = chart.figure()
    FigureCanvasAgg(figure)
    return figure


def assert_tidy(figure: Figure) -> None:
    """No text on another, none off the page, none under a reference line or a hairline."""
    boxes = boxes_of(figure)
    width, height = figure.get_size_inches() * figure.dpi
    for text, box in boxes:
        on_page = box.x0 >= 0 and box.y0 >= 0 and box.x1 <= width and box.y1 <= height
        assert on_page, f"{text} is off the page"
    for (one, a), (other, b) in combinations(boxes, 2):
        apart = a.x1 <= b.x0 + 1 or b.x1 <= a.x0 + 1 or a.y1 <= b.y0 + 2 or b.y1 <= a.y0 + 2
        assert apart, f"{one} lies on {other}"
    for axes in figure.axes:
        lines = [c for c in axes.collections if isinstance(c, LineCollection)]
        for segment in (s for c in lines for s in c.get_segments() if len(s)):
            (x0, y0), (x1, y1) = np.sort(axes.transData.transform(segment), axis=0)
            for text, box in boxes:
                crossed = x0 < box.x1 - 1 and x1 > box.x0 + 1 and y0 < box.y1 - 2 and y1 > box.y0 + 2
                assert not crossed, f"a line runs through {text}"


@pytest.mark.parametrize("kind", get_args(Kind))
def test_every_demo_chart_in_every_kind_is_tidy_and_true(kind: str) -> None:
    for name, chart in demo_charts():
        plain = chart.spec.plain()
        plain["chart"]["kind"] = kind
        turned = yz.Chart(type(chart.spec).model_validate(plain), chart.source)
        pd.testing.assert_frame_equal(turned.flags(), chart.flags())
        figure = drawn(turned)
        assert_tidy(figure)
        colors = colors_of(bars_of(figure))
        assert colors == turned.flags().query("target == 'mark'")["color"].tolist(), name


def test_every_kind_is_registered() -> None:
    assert set(KINDS) == set(get_args(Kind))


@pytest.mark.parametrize("kind", ["bar", "column"])
def test_bars_reach_from_zero_to_their_value(kind: str) -> None:
    values = [5.0, -3.0, 0.0, None, 8.0]
    chart = yz.chart(
        {"item": list("abcde"), "v": values}, category="item", value="v", kind=kind, order="as given"
    )
    corners = bars_of(chart.figure()).corners
    low, high = (corners[:, 0], corners[:, 2]) if kind == "bar" else (corners[:, 1], corners[:, 3])
    assert low.tolist() == [0, -3, 0, 0, 0]
    assert high.tolist() == [5, 0, 0, 0, 8]
    across = corners[:, [1, 3]] if kind == "bar" else corners[:, [0, 2]]
    assert across.mean(axis=1).tolist() == [0, 1, 2, 3, 4]


def test_numbers_stand_beyond_the_ends_of_bars() -> None:
    rows = {"item": list("abc"), "v": [500, -300, 20]}
    figure = drawn(yz.chart(rows, category="item", value="v", order="as given"))
    transform = figure.axes[0].transData
    boxes = dict(boxes_of(figure))
    assert boxes["500"].x0 > transform.transform((500, 0))[0]
    assert boxes["−300"].x1 < transform.transform((-300, 1))[0]
    assert boxes["20"].x0 > transform.transform((20, 2))[0]


def random_chart(seed: int) -> yz.Chart:
    """A chart of any shape: short and long names, any signs, ties, tiny beside huge, any script."""
    random = np.random.default_rng(seed)
    count = int(random.choice([1, 2, 3, 7, 12, 20, 33, 60]))
    alphabets = ["abcdefgh ", "ÅØüß ", "αβγδ ", "жщюя ", "ABCDEFGHIJ KLMN "]
    names = [
        "".join(random.choice(list(alphabets[random.integers(5)]), int(random.integers(1, 45)))) + str(i)
        for i in range(count)
    ]
    values = random.choice(
        [
            random.normal(0, 1000, count),
            random.integers(0, 4, count).astype(float),
            -(10 ** random.uniform(-2, 6, count)),
            10 ** random.uniform(-3, 7, count),
            np.full(count, 7.0),
        ]
    )
    values[random.random(count) < 0.1] = np.nan
    chart = yz.chart(
        {"name of item": names, "v": values},
        category="name of item",
        value="v",
        kind=str(random.choice(["bar", "column"])),
        title="A title " * int(random.integers(1, 30)),
        subtitle="and a subtitle " * int(random.integers(0, 14)),
    )
    rules = ["highest", "bottom 3", "negative", "above average", "outlier", "rank 4 to 9"]
    for rule in random.choice(rules, int(random.integers(0, 5)), replace=False):
        chart = chart.rule(str(rule), color=str(random.choice(["favorable", "adverse", "notice"])))
    for at in random.choice(["average", "median", "highest", "0"], int(random.integers(0, 4)), replace=False):
        chart = chart.reference(str(at))
    return chart


@pytest.mark.parametrize("part", range(4))
def test_random_charts_are_tidy(part: int) -> None:
    for seed in range(part * 50, part * 50 + 50):
        assert_tidy(drawn(random_chart(seed)))


@pytest.mark.parametrize("kind", ["bar", "column"])
def test_thousands_of_bars_are_a_sane_picture(kind: str) -> None:
    values = np.sin(np.arange(20_000) / 500) * 100
    values[777] = 400
    rows = {"item": [f"Item {i}" for i in range(20_000)], "v": values}
    chart = yz.chart(rows, kind=kind, category="item", value="v", order="as given").rule(
        "highest", color="adverse"
    )
    figure = drawn(chart)
    assert_tidy(figure)
    bars = bars_of(figure)
    assert len(bars.corners) == 20_000
    last = bars.corners[-1]
    assert colors_of(bars)[-1] == "#C63E2F", "the flagged one lies on top"
    assert np.mean(last[[1, 3]] if kind == "bar" else last[[0, 2]]) == pytest.approx(777)
    assert len(boxes_of(figure)) < 200
    assert "Item 777" in dict(boxes_of(figure))


def test_rows_have_an_even_height_and_pages_grow() -> None:
    heights, pitches = [], []
    for count in (12, 25, 60):
        rows = {"item": [f"i{k}" for k in range(count)], "v": range(1, count + 1)}
        figure = yz.chart(rows, category="item", value="v").figure()
        transform = figure.axes[0].transData.transform([(0, 0), (0, 1)])
        pitches.append(abs(transform[1, 1] - transform[0, 1]))
        heights.append(figure.get_size_inches()[1] * 100)
    assert heights[0] == 800
    assert heights == sorted(heights)
    assert pitches[1:] == pytest.approx([37, 37], abs=0.1)


def test_thinning_keeps_the_flagged_and_never_overlaps() -> None:
    random = np.random.default_rng(5)
    centers, sizes = random.uniform(0, 500, 400), random.uniform(5, 30, 400)
    first = np.zeros(400, dtype=bool)
    first[:3] = True
    centers[:3] = 100, 200, 300
    kept = thinned(centers, sizes, np.ones(400, dtype=bool), first)
    assert kept[:3].all()
    low, high = centers[kept] - sizes[kept] / 2, centers[kept] + sizes[kept] / 2
    order = np.argsort(low)
    assert (low[order][1:] >= high[order][:-1] - 1).all()


def test_a_line_is_cut_where_the_gaps_are() -> None:
    random = np.random.default_rng(6)
    for _ in range(50):
        gaps = np.sort(random.uniform(-5, 25, (4, 2)), axis=1)
        left = cut_line(0, 20, gaps)
        for place in np.linspace(0.01, 19.99, 200):
            covered = any(low < place < high for low, high in gaps)
            assert covered != any(low <= place <= high for low, high in left)
