"""Lines, areas and parts: where colours begin and end, as numbers."""

from __future__ import annotations

from collections.abc import Callable
from itertools import pairwise
from typing import Any, NamedTuple

import numpy as np
import pandas as pd
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.interpolate import PchipInterpolator

import yuzen as yz
from tests.support.colored_lines import ADVERSE, FAVORABLE, NOTICE, QUIET, fields, line_of, surface
from tests.support.sampling import examples
from tests.support.scenes import (
    assert_tidy,
    boxes_of,
    drawn,
    hex_colors,
    limits,
    only,
    points_of,
    seen,
    spot,
    strokes,
    upward,
)
from yuzen.arrays import polynomials_at
from yuzen.color.themes import LINEN, THEMES
from yuzen.draw.axes.date_ticks import ticks_of
from yuzen.draw.text.measurer import TextMeasurer
from yuzen.page.plot import CategoryAxis
from yuzen.rules.cuts.paths import roots


def axis_of(dates: pd.DatetimeIndex, grain: str | None) -> CategoryAxis:
    rows = {"day": dates, "v": np.arange(len(dates), dtype=float)}
    return (
        yz.chart(rows, category="day", value="v", kind="line", grain=grain)  # type: ignore[arg-type]
        .stages.page.charts[0]
        .axes.category
    )


numbers = st.integers(-6, 6).map(float)


class Place(NamedTuple):
    """A place of a line: its height, the measure r there, and the mark that its segment leads to."""

    y: float
    r: float
    end: int


RULES: dict[str, Callable[[Place], bool]] = {
    "below r": lambda p: p.y < p.r,
    "at least r": lambda p: p.y >= p.r,
    "between 0 and 3": lambda p: 0 <= p.y <= 3,
    "within 1.5 of 1": lambda p: -0.5 <= p.y <= 2.5,
    "within 50% of r": lambda p: abs(p.y - p.r) <= abs(p.r) / 2,
    "not (negative)": lambda p: not p.y < 0,
    "r at most v": lambda p: p.r <= p.y,
    "below r and position 3 to 5": lambda p: p.y < p.r and 2 <= p.end <= 4,
    "position 2 or above n": lambda p: p.end == 1 or p.y > 2,
}


@given(
    st.lists(st.tuples(st.one_of(st.none(), numbers), numbers), min_size=2, max_size=8),
    st.lists(st.sampled_from(sorted(RULES)), min_size=1, max_size=3, unique=True),
)
def test_every_place_of_a_line_has_the_colour_of_its_rule(
    points: list[tuple[float | None, float]], rules: list[str]
) -> None:
    values, targets = [v for v, _ in points], [r for _, r in points]
    chart = line_of(values, r=targets, parameters={"n": 2})
    colors = dict(zip(rules, (ADVERSE, FAVORABLE, NOTICE), strict=False))
    for rule, color in colors.items():
        chart = chart.rule(rule, color=color)
    if not any(value is not None for value in values):
        return
    pieces = strokes(drawn(chart))
    joined = [end for end in range(1, len(points)) if None not in (values[end], values[end - 1])]
    assert sum(piece[1, 0] - piece[0, 0] for _, piece in pieces) == pytest.approx(len(joined))
    for color, ((x0, y0), (x1, y1)) in pieces:
        middle, end = (x0 + x1) / 2, int(np.floor((x0 + x1) / 2)) + 1
        t = middle - (end - 1)
        r = targets[end - 1] + t * (targets[end] - targets[end - 1])
        before, after = (float(points[mark][0] or 0) for mark in (end - 1, end))
        y = before + t * (after - before)
        assert (y0 + y1) / 2 == pytest.approx(y, abs=1e-9)
        expected = next((colors[rule] for rule in rules if RULES[rule](Place(y, r, end))), QUIET)
        assert color == expected, (middle, y, r)


@pytest.mark.parametrize(
    ("values", "when", "expected"),
    [
        ([4, 0, 4], "negative", [(QUIET, 0, 2)]),  # touches and turns back
        ([4, 0, 4], "at most 0", [(QUIET, 0, 2)]),
        ([2, 0, 0, 2], "at most 0", [(QUIET, 0, 1), (ADVERSE, 1, 2), (QUIET, 2, 3)]),  # flat on the value
        ([2, 0, 0, 2], "negative", [(QUIET, 0, 3)]),
        ([3, -1, 2], "negative", [(QUIET, 0, 0.75), (ADVERSE, 0.75, 4 / 3), (QUIET, 4 / 3, 2)]),
        ([2, -2, None, -2, 2], "negative", [(QUIET, 0, 0.5), (ADVERSE, 0.5, 1), (ADVERSE, 3, 3.5), (QUIET, 3.5, 4)]),
        ([1, 5, 3, 4], "falls", [(QUIET, 0, 1), (ADVERSE, 1, 2), (QUIET, 2, 3)]),
        ([1, 5, 3, 4], "last 2", [(QUIET, 0, 1), (ADVERSE, 1, 3)]),
        ([1, 5, 3, 4], "highest", [(ADVERSE, 0, 1), (QUIET, 1, 3)]),
    ],
)  # fmt: skip
def test_stretches_begin_and_end_where_the_line_crosses(
    values: list[Any], when: str, expected: list[tuple[str, float, float]]
) -> None:
    merged: list[tuple[str, float, float]] = []
    for color, ((x0, _), (x1, _)) in strokes(drawn(line_of(values).rule(when, color="adverse"))):
        if merged and merged[-1][0] == color and merged[-1][2] == pytest.approx(x0):
            merged[-1] = color, merged[-1][1], x1
        else:
            merged.append((color, x0, x1))
    assert [color for color, _, _ in merged] == [color for color, _, _ in expected]
    ends = [end for _, *ends in merged for end in ends]
    assert ends == pytest.approx([end for _, *ends in expected for end in ends])


def test_the_average_of_a_group_steps_halfway_between_its_marks() -> None:
    chart = line_of([0, 4, 20, 10], g=["a", "a", "b", "b"]).rule(
        "above average within g", color="adverse"
    )
    cuts = sorted(
        {
            round(float(x), 9)
            for c, piece in strokes(drawn(chart))
            for x in piece[:, 0]
            if c == ADVERSE
        }
    )
    # The averages are 2 and 15: above 2 from 0.5 to 1.5, then above 15 from where 4 + 16t = 15 to 2.5.
    assert cuts == pytest.approx([0.5, 1, 1.5, 1 + 11 / 16, 2, 2.5])


@settings(max_examples=examples(40))
@given(st.lists(numbers, min_size=3, max_size=9), st.integers(-4, 4))
def test_smooth_lines_are_monotone_cubics_with_exact_crossings(
    values: list[float], level: int
) -> None:
    chart = line_of(values, smooth=True, parameters={"n": level}).rule("above n", color="adverse")
    curve = PchipInterpolator(np.arange(len(values)), values)
    for color, ((x0, y0), (x1, y1)) in strokes(drawn(chart)):
        assert [y0, y1] == pytest.approx(curve([x0, x1]).tolist(), abs=1e-9)
        low, high = sorted((values[int((x0 + x1) / 2)], values[int((x0 + x1) / 2) + 1]))
        assert low - 1e-9 <= y0 <= high + 1e-9, "no peak is invented"
        middle = float(curve((x0 + x1) / 2))
        if abs(middle - level) > 1e-6:
            assert (color == ADVERSE) == (middle > level)
    ends = {ADVERSE: [], QUIET: []}  # type: dict[str, list[Any]]
    for color, piece in strokes(drawn(chart)):
        ends[color] += [tuple(np.round(point, 7)) for point in piece]
    for _, y in set(ends[ADVERSE]) & set(ends[QUIET]):
        assert y == pytest.approx(level, abs=1e-6)


@given(st.lists(st.tuples(st.integers(1, 6), numbers), min_size=4, max_size=9))
def test_smooth_lines_between_dates_that_are_not_evenly_apart(
    steps: list[tuple[int, float]],
) -> None:
    """The slopes are weighted by both gaps (Fritsch and Butland 1984), as SciPy's are."""
    days = np.cumsum([gap for gap, _ in steps])
    values = [value for _, value in steps]
    dates = pd.Timestamp("2026-01-01") + pd.to_timedelta(days, unit="D")
    chart = yz.chart({"x": dates, "v": values}, category="x", value="v", kind="line", smooth=True)
    # The line is as long as with even gaps, whose marks are 0, 1, 2, ...
    curve = PchipInterpolator((days - days[0]) / (days[-1] - days[0]) * (len(days) - 1), values)
    for _, ((x0, y0), (x1, y1)) in strokes(drawn(chart)):
        assert [y0, y1] == pytest.approx(curve([x0, x1]).tolist(), abs=1e-6)


@given(st.lists(st.floats(-3, 3), min_size=4, max_size=4))
def test_roots_of_cubics_are_where_they_change_sign(factors: list[float]) -> None:
    curve = np.array([factors])
    fine = np.linspace(0, 1, 20_001)
    values = polynomials_at(np.repeat(curve, len(fine), axis=0), fine)
    changes = np.flatnonzero(np.sign(values[1:]) * np.sign(values[:-1]) < 0)
    found = np.sort(roots(curve)[1])
    assert np.all(np.abs(polynomials_at(np.repeat(curve, len(found), axis=0), found)) < 1e-9)
    for place in fine[changes]:
        assert np.any(np.abs(found - place) <= 1.01 / 20_000)


def test_a_curve_that_crosses_twice_between_neighbours_is_cut_twice() -> None:
    rows = {"x": [0.0, 1, 2, 3], "v": [0.0, 0, 10, 10], "r": [0.0, 1, 9, 9]}
    chart = yz.chart(rows, category="x", value="v", kind="line", smooth=True).rule(
        "above r", color="adverse"
    )
    colors = [color for color, _ in strokes(drawn(chart))]
    assert [c for i, c in enumerate(colors) if i == 0 or c != colors[i - 1]] == [QUIET, ADVERSE]
    sloped = yz.chart(
        {**rows, "r": [-1.0, 0.9, 9.4, 11]}, category="x", value="v", kind="line", smooth=True
    )
    colors = [color for color, _ in strokes(drawn(sloped.rule("above r", color="adverse")))]
    assert [c for i, c in enumerate(colors) if i == 0 or c != colors[i - 1]] == [
        ADVERSE,
        QUIET,
        ADVERSE,
        QUIET,
    ]


@given(
    st.lists(st.tuples(st.one_of(st.none(), numbers), numbers), min_size=2, max_size=8),
    st.sampled_from([None, "n", "r"]),
    st.sampled_from([None, "above r", "between 0 and n"]),
)
def test_areas_add_up_and_lie_on_their_own_side(
    points: list[tuple[float | None, float]], base: str | None, part: str | None
) -> None:
    values, targets = [v for v, _ in points], [r for _, r in points]
    if all(value is None for value in values):
        return
    chart = line_of(values, r=targets, kind="area", base=base or "0", parameters={"n": 2})
    if part is not None:
        chart = chart.rule("always", part=part, color="notice", name="part")
    chart = chart.rule(f"above {base or 0}", color="favorable").rule(
        f"below {base or 0}", color="adverse"
    )
    floor = np.array({None: [0.0] * len(points), "n": [2.0] * len(points), "r": targets}[base])
    gap = np.array([np.nan if v is None else v for v in values]) - floor
    whole = 0.0
    for start, end in pairwise(gap):
        if not np.isnan([start, end]).any():
            cross = start / (start - end) if start * end < 0 else 1.0
            whole += (
                abs(start) * cross / 2 + abs(end) * (1 - cross) / 2
                if start * end < 0
                else abs(start + end) / 2
            )
    pieces = fields(drawn(chart))
    assert sum(surface(piece) for _, piece in pieces) == pytest.approx(whole, abs=1e-9)
    pale = {"#c2d2df": 1, "#f1cfcb": -1}  # favorable and adverse at a quarter on paper
    places = np.arange(len(points))
    for color, piece in pieces:
        ground = np.interp(piece[:, 0], places, floor)
        if color in pale:
            assert np.all((piece[:, 1] - ground) * pale[color] >= -1e-9)
        elif part == "above r":
            assert np.all(piece[:, 1] >= np.interp(piece[:, 0], places, targets) - 1e-9)
        else:
            assert part is not None
            assert np.all((piece[:, 1] >= -1e-9) & (piece[:, 1] <= 2 + 1e-9))


@given(
    st.lists(st.tuples(st.one_of(st.none(), numbers), numbers, st.sampled_from("ab")), min_size=1, max_size=8),
    st.lists(
        st.sampled_from(["above r", "below r", "between 0 and 3", "above average within g", "negative"]),
        min_size=1, max_size=3, unique=True,
    ),
    st.sampled_from(["bar", "column"]),
)  # fmt: skip
def test_parts_add_up_to_their_bar_and_lie_where_they_say(
    points: list[tuple[float | None, float, str]], parts: list[str], kind: Any
) -> None:
    rows = pd.DataFrame(points, columns=["v", "r", "g"]).assign(
        x=[f"i{k}" for k in range(len(points))]
    )
    rows["v"] = rows["v"].astype(float)
    chart = yz.chart(rows, category="x", value="v", order="as given", kind=kind)
    for part, color in zip(parts, (ADVERSE, FAVORABLE, NOTICE), strict=False):
        chart = chart.rule("always", part=part, color=color)
    if not rows["v"].fillna(0).any():
        return
    drawn_parts = only(drawn(chart), "parts")
    along, across = ([0, 2], [1, 3]) if kind == "bar" else ([1, 3], [0, 2])
    ends = drawn_parts.corners[:, along]
    marks = np.round(drawn_parts.corners[:, across].mean(axis=1)).astype(int)
    sizes = (
        pd.Series(ends[:, 1] - ends[:, 0]).groupby(marks).sum().reindex(rows.index, fill_value=0)
    )
    assert sizes.to_numpy() == pytest.approx(rows["v"].abs().fillna(0).to_numpy())
    average = rows.groupby("g")["v"].transform("mean")
    colors = hex_colors(drawn_parts.shape.fill)
    for mark, (low, high), color in zip(marks, ends, colors, strict=True):
        y, r = (low + high) / 2, rows["r"][mark]
        told = {
            "above r": y > r,
            "below r": y < r,
            "between 0 and 3": 0 <= y <= 3,
            "above average within g": y > average[mark],
            "negative": y < 0,
        }
        own = zip(parts, (ADVERSE, FAVORABLE, NOTICE), strict=False)
        assert color == next((c for p, c in own if told[p]), LINEN.color("quiet").lower())


def test_a_part_writes_its_own_text_and_is_in_the_key() -> None:
    rows = {"x": list("abc"), "v": [90.0, 40, -30], "w": ["u", "u", "u"]}
    chart = yz.chart(rows, category="x", value="v", order="as given", parameters={"n": 50})
    chart = chart.rule(
        "always", part="above n", color="adverse", label="{v - n:sign .0f}", key="Beyond {n:.0f}"
    )
    chart = chart.rule("always", part="below 10", color="favorable", key="The first ten")
    figure = drawn(chart)
    boxes = dict(boxes_of(figure))
    beyond = boxes["+40"]
    assert spot(figure, 50, 0)[0] < beyond.x0 < beyond.x1 < spot(figure, 90, 0)[0]
    assert [entry.text for entry in chart.stages.page.key.entries] == [
        "Beyond 50",
        "The first ten",
        "the rest",
    ]
    assert chart.flags()["rule"].tolist() == ["above n", "", "below 10"]
    assert "v 90 is above n (50)" in str(chart.why("a"))


@pytest.mark.parametrize(
    ("part", "message"),
    [
        ("highest", "does not say on which side"),
        ("above average and below 3", "does not say on which side"),
        ("w above 3", "A part lies on one side of a value of v"),
        ("above nothing", "I know no measure or column 'nothing'"),
    ],
)
def test_what_is_no_part_is_told(part: str, message: str) -> None:
    rows = {"x": list("abc"), "v": [1.0, 2, 3], "w": [1.0, 2, 3]}
    with pytest.raises(yz.YuzenError, match=message):
        yz.chart(rows, category="x", value="v").rule("always", part=part, color="adverse").flags()


def test_call_outs_are_one_for_each_point_and_the_farthest_of_each_stretch() -> None:
    values = [5.5, 3.5, -2.5, -6.5, -1.5, 4.5, 9.5, 7.5, -3.5, 2.5]
    chart = (
        line_of(values)
        .rule("negative", color="adverse")
        .rule("highest", color="favorable", badge="cup")
    )
    chart = (
        chart.rule("rank 1", badge="star", name="again")
        .rule("last", outline="ink")
        .label("{v:.1f}")
    )
    figure = drawn(chart)
    assert_tidy(figure)
    texts = [text for text, _ in boxes_of(figure)]
    assert [texts.count(t) for t in ("−6.5", "9.5", "2.5", "−3.5")] == [1, 1, 1, 1]
    assert not {"−2.5", "−1.5", "5.5", "7.5"} & set(texts)
    points = points_of(figure)
    assert sorted(points.offsets[:, 0].tolist()) == pytest.approx([3, 6, 8, 9])
    places = points.offsets[:, 0].round().astype(int).tolist()
    edges = dict(zip(places, hex_colors(points.shape.edge), strict=True))
    assert edges[9] == "#22272c", "the outline of the last point"
    assert edges[6] == "#ffffff"


@pytest.mark.sampled(3)
@pytest.mark.parametrize("seed", range(9))
def test_random_lines_are_tidy_and_no_text_lies_on_them(seed: int) -> None:
    random = np.random.default_rng(seed)
    count, several = int(random.integers(1, 90)), int(random.integers(1, 5))
    dates = pd.date_range(
        "2023-01-01", periods=count, freq=str(random.choice(["D", "MS", "W-MON", "QS"]))
    )
    values = np.cumsum(random.normal(0, 10, (several, count)), axis=1)
    values[random.random(values.shape) < 0.05] = np.nan
    rows = pd.DataFrame(
        {
            "day": np.tile(dates, several),
            "v": values.ravel(),
            "s": np.repeat([f"Line {i}" for i in range(several)], count),
        }
    )
    kind = str(random.choice(["line", "area"]))
    chart = yz.chart(rows, category="day", value="v", kind=kind, smooth=bool(random.random() < 0.3),  # type: ignore[arg-type]
                     series="s" if several > 1 else None)  # fmt: skip
    for rule in random.choice(
        ["negative", "highest", "last 2 within s", "above average", "falls 3 times"],
        3,
        replace=False,
    ):
        chart = chart.rule(str(rule).replace(" within s", ""), color=str(random.choice(["adverse", "favorable"])), badge="up" if seed % 2 else None)  # fmt: skip
    chart = chart.reference("average").reference(after="first 3", label="here")
    figure = drawn(chart)
    assert_tidy(figure)
    (left, right), (bottom, top) = limits(figure)
    low, high = spot(figure, left, bottom), spot(figure, right, top)
    inside = [
        b
        for t, b in boxes_of(figure)
        if b.x0 > low[0] and b.x1 < high[0] and low[1] < b.y0 and b.y1 < high[1]
    ]
    for line in seen(figure, "line", plot=0):
        points = upward(figure, line.shape.points)
        share = np.linspace(0, 1, 40)[:, None, None]
        x, y = (points[:-1] + share * (points[1:] - points[:-1])).reshape(-1, 2).T
        for box in inside:
            hit = (x > box.x0 + 1) & (x < box.x1 - 1) & (y > box.y0 + 3) & (y < box.y1 - 3)
            assert not hit.any()


def test_lines_of_series_are_named_at_their_ends_and_follow_their_own_sequence() -> None:
    rows = pd.DataFrame({
        "month": list(pd.date_range("2025-01-01", periods=4, freq="MS")) * 2,
        "v": [1.0, 2, 3, 9, 8, 7, 6, 5], "w": ["Up"] * 4 + ["Down"] * 4,
    })  # fmt: skip
    chart = yz.chart(rows, category="month", value="v", series="w", kind="line", grain="month")
    chart = (
        chart.rule("falls", color="adverse")
        .rule("last", badge="dot")
        .rule("running share of v above 90%", badge="up")
    )
    flags = chart.flags()
    step = flags.groupby("w")["v"].diff()
    assert (flags["rule"] == "falls").tolist() == (step < 0).tolist()
    assert flags.loc[flags["also"].str.contains("last"), "v"].tolist() in ([9, 5], [9.0], [5.0])
    figure = drawn(chart)
    boxes = dict(boxes_of(figure))
    ends = {"Up": 9.0, "Down": 5.0}
    for name, value in ends.items():
        x, y = spot(figure, 3, value)
        assert boxes[name].x0 > x
        assert (boxes[name].y0 + boxes[name].y1) / 2 == pytest.approx(y, abs=6)


@pytest.mark.parametrize(
    ("grain", "pieces"), [("month", [(0, 1), (3, 4)]), (None, [(0, 1), (1, 3), (3, 4)])]
)
def test_a_period_without_rows_is_a_gap_where_there_is_a_grain(
    grain: str | None, pieces: list[Any]
) -> None:
    rows = {
        "month": pd.to_datetime(["2025-01-01", "2025-02-01", "2025-04-01", "2025-05-01"]),
        "v": [1.0, 2, 3, 4],
    }
    chart = yz.chart(rows, category="month", value="v", kind="line", grain=grain)  # type: ignore[arg-type]
    found = [(round(p[0, 0], 1), round(p[1, 0], 1)) for _, p in strokes(drawn(chart))]
    scale = 1 if grain else 4 / 3
    assert [(round(a * scale), round(b * scale)) for a, b in found] == pieces


def test_a_point_between_gaps_is_a_dot() -> None:
    figure = drawn(line_of([1, None, 5, None, 2, 3]))
    assert points_of(figure).offsets == pytest.approx(np.array([[0, 1], [2, 5]]))
    assert len(strokes(figure)) == 1


PEN = TextMeasurer(LINEN)


@pytest.mark.parametrize(
    ("first", "count", "freq", "grain", "upper", "lower"),
    [
        ("2024-11", 4, "MS", "month", "Nov Dec Jan Feb", "2024 - 2025 -"),
        ("2023-07", 36, "MS", "month", "Jul Oct Jan Apr Jul Oct Jan Apr Jul Oct Jan Apr", "2023 - 2024 - - - 2025 - - - 2026 -"),
        ("2024-01", 5, "QS", "quarter", "Q1 Q2 Q3 Q4 Q1", "2024 - - - 2025"),
        ("2025-12-30", 4, "D", None, "30 31 1 2", "Dec 2025 - Jan 2026 -"),
        ("2001-01", 25, "YS", "year", None, ""),
        ("2025-03-01 22:00", 4, "h", None, "22:00 23:00 00:00 01:00", "1 Mar 2025 - 2 Mar 2025 -"),
    ],
)  # fmt: skip
def test_dates_of_an_axis_are_sparse_and_tell_only_what_is_new(
    first: str, count: int, freq: str, grain: str | None, upper: str | None, lower: str
) -> None:
    centers = (np.arange(count) + 0.5) * 600 / count
    dates = pd.date_range(first, periods=count, freq=freq)
    ticks = ticks_of(axis_of(dates, grain), centers, PEN, 600)
    if upper is not None:
        assert list(ticks.upper) == upper.split()
    assert [text or "-" for text in ticks.lower if lower] == [
        part.replace("_", " ") for part in lower.replace("Dec 2025", "Dec_2025").replace("Jan 2026", "Jan_2026").replace("Mar 2025", "Mar_2025").replace("1 Mar", "1_Mar").replace("2 Mar", "2_Mar").split()
    ]  # fmt: skip


@given(
    st.integers(0, 20_000),
    st.integers(2, 3_000),
    st.sampled_from(["D", "W-MON", "MS", "QS", "YS", "7h"]),
    st.integers(200, 1200),
)
def test_any_dates_have_texts_that_are_apart(first: int, count: int, freq: str, width: int) -> None:
    begin = pd.Timestamp("1970-01-01") + pd.Timedelta(days=first)
    axis = pd.date_range(
        begin, periods=min(count, 150 if freq in {"YS", "QS"} else count), freq=freq
    )
    centers = (np.arange(len(axis)) + 0.5) * width / len(axis)
    ticks = ticks_of(axis_of(axis, None), centers, PEN, width)
    assert len(ticks.slots) >= 1
    half = np.array([PEN.width(text, "name") for text in ticks.upper]) / 2
    places = centers[ticks.slots]
    assert np.all(np.diff(places) > half[1:] + half[:-1]) or len(places) <= 2


def test_the_scale_of_lines_leaves_zero_out_only_when_it_is_far() -> None:
    for values, zero in (
        ([100, 104, 102], False),
        ([10, 40, 20], True),
        ([-5, 5, 3], True),
        ([-90, -91], False),
    ):
        low, high = limits(drawn(line_of(values)))[1]
        assert (low <= 0 <= high) == zero, values


def test_sizes_and_markers_have_rules_of_their_own() -> None:
    chart = (
        line_of([1, 5, 3])
        .rule("highest", on="marker", color="adverse", size=12)
        .rule("last", on="line", color="notice")
    )
    figure = drawn(chart)
    points = points_of(figure)
    assert points.offsets == pytest.approx(np.array([[1, 5]]))
    assert hex_colors(points.shape.fill) == [ADVERSE]
    assert points.shape.radii == pytest.approx([12 / 72 * 100 / 2])
    assert [color for color, _ in strokes(figure)] == [QUIET, NOTICE]


def test_patterns_are_dashes_on_lines() -> None:
    scene = drawn(line_of([1, -5, 3], theme="press").rule("negative", color="adverse"))
    dashes = {hex_colors(line.shape.ink)[0]: line.shape.stroke for line in seen(scene, "line")}
    assert dashes == {"#111111": "stripes", THEMES["press"].for_lines.color("quiet").lower(): ""}


def test_a_cubic_that_lies_level_on_zero_has_its_root_there_once() -> None:
    segment, t = roots(np.array([[-0.125, 0.75, -1.5, 1.0], [1.0, 0.0, 0.0, 0.0]]))
    assert (segment.tolist(), t.tolist()) == ([0], [pytest.approx(0.5)])
