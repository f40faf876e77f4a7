"""The parts of lines, areas and groups by themselves, each beside a slow way to the same result."""

from __future__ import annotations

from itertools import pairwise
from pathlib import Path
from typing import Any

import numpy as np
import pandas as pd
import pytest
from hypothesis import given
from hypothesis import strategies as st

import yuzen as yz
from tests.support.colored_lines import ADVERSE, FAVORABLE, QUIET, fields, line_of, surface
from tests.support.command_line import Called
from tests.support.scenes import (
    assert_tidy,
    boxes_of,
    drawn,
    hex_colors,
    limits,
    only,
    plots,
    points_of,
    seen,
    strokes,
)
from yuzen.arrays import Text
from yuzen.draw.axes.pixel_columns import PixelColumns
from yuzen.draw.axes.scale import SET_END_ROOM_PX, Room, fitted, span
from yuzen.draw.shapes.curves import columns
from yuzen.formats.display import Shown, shown
from yuzen.formats.periods import Grain, Unit
from yuzen.page.page import KeyEntry
from yuzen.rules.cuts.cutter import layered
from yuzen.rules.cuts.paths import Paths
from yuzen.rules.marks import ITEM_MARK, TOTAL_MARK, Marks
from yuzen.rules.target import MARK, Target
from yuzen.scene.scene import Scene
from yuzen.shape.grouping.groups import Groups
from yuzen.shape.keep import kept_rows, split_rows
from yuzen.shape.plan.choices import Keep
from yuzen.shape.plan.plan import Plan
from yuzen.sources.cells import cell_list
from yuzen.sources.frames import columns_from
from yuzen.sources.rows import Rows

small = st.integers(-5, 5).map(float)


@given(
    st.lists(
        st.tuples(st.booleans(), st.integers(0, 2), st.integers(0, 9)),
        max_size=20,
        unique_by=lambda m: m[1:],
    )
)
def test_lines_join_neighbours_that_are_both_there(marks: list[tuple[bool, int, int]]) -> None:
    there = np.array([m[0] for m in marks], dtype=bool)
    lines = np.array([m[1] for m in marks], dtype=np.intp)
    steps = np.array([m[2] for m in marks], dtype=np.intp)
    paths = Paths.joining(there, lines, steps, steps.astype(float), smooth=False)
    expected = {
        (a, b)
        for a in range(len(marks))
        for b in range(len(marks))
        if there[a] and there[b] and lines[a] == lines[b] and steps[b] - steps[a] == 1
    }
    assert set(zip(paths.starts.tolist(), paths.ends.tolist(), strict=True)) == expected
    assert len(paths) == len(expected)


@given(
    st.lists(
        st.tuples(
            small, small, st.lists(st.one_of(small, st.just(np.nan)), min_size=2, max_size=2)
        ),
        min_size=1,
        max_size=6,
    )
)
def test_pieces_between_a_floor_and_a_tip_are_cut_at_the_levels_between(
    bars: list[tuple[float, float, list[float]]],
) -> None:
    floor, tip = np.array([b[0] for b in bars]), np.array([b[1] for b in bars])
    levels = [np.array([b[2][i] for b in bars]) for i in range(2)]
    where, lower, upper = layered(floor, tip, levels)
    stack = np.stack([floor, tip, *levels])
    for bar, (start, end, cuts) in enumerate(bars):
        low, high = sorted((start, end))
        edges = sorted({low, high, *(c for c in cuts if low < c < high)})
        own = where == bar
        made = sorted(
            zip(stack[lower[own], bar].tolist(), stack[upper[own], bar].tolist(), strict=True)
        )
        assert made == (list(pairwise(edges)) if low < high else [])


@given(st.lists(st.tuples(st.sampled_from("abc"), st.sampled_from("xy")), min_size=1, max_size=20))
def test_crossed_groups_are_those_of_pandas(rows: list[tuple[str, str]]) -> None:
    frame = pd.DataFrame(rows, columns=["one", "two"])
    one, two = (Groups.of(Text.of(frame[name].tolist())) for name in frame)
    crossed, of = one.crossed(two)
    order = {name: i for i, name in enumerate(shown(one.names))}
    expected = sorted(set(rows), key=lambda r: (order[r[0]], shown(two.names).index(r[1])))
    assert shown(crossed.names) == [first for first, _ in expected]
    assert of.tolist() == [order[first] for first, _ in expected]
    assert crossed.codes.tolist() == [expected.index(row) for row in rows]
    assert crossed.first.tolist() == [rows.index(row) for row in expected]


@given(
    st.lists(
        st.tuples(st.sampled_from(["a", "B", None, "x y"]), st.integers(0, 9)),
        min_size=1,
        max_size=20,
    )
)
def test_rows_of_each_value_are_those_of_pandas(rows: list[tuple[str | None, int]]) -> None:
    frame = pd.DataFrame(rows, columns=["s", "v"])
    table = Rows(columns_from(frame, frame.columns), tuple(frame.columns))
    parts = split_rows(table, Plan("v", "v"), "s")
    called = ["(no name)" if pd.isna(value) else str(value) for value in frame["s"].unique()]
    assert [name for name, _ in parts] == called
    for (name, part), (_, expected) in zip(
        parts, frame.groupby("s", sort=False, dropna=False), strict=True
    ):
        assert cell_list(part.columns["v"]) == expected["v"].tolist()
        assert (
            cell_list(kept_rows(table, Plan("s", "v", keep=Keep(only={"s": name}))).columns["v"])
            == expected["v"].tolist()
        )
    assert not len(kept_rows(table, Plan("s", "v", keep=Keep(only={"s": "nobody"}))))


def test_marks_know_their_slots_lines_and_panels() -> None:
    marks = Marks(
        {
            "c": Text.of(["a", "a", "a", "b", "b", "a"]),
            "s": Text.of(["y", "x", "Total", "x", "Total", "z"]),
            "p": Text.of(["one", "one", "one", "one", "one", "two"]),
            "v": np.arange(6.0),
        },
        "c", "v", ("s",), "p",
        role=np.array([ITEM_MARK, ITEM_MARK, TOTAL_MARK, ITEM_MARK, TOTAL_MARK, ITEM_MARK], dtype=np.int8),
    )  # fmt: skip
    assert marks.slots.tolist() == [0, 0, 0, 1, 1, 2]
    assert marks.lines[0].tolist() == [0, 1, 0, 1, 0, 2]
    assert marks.lines[1] == ["y", "x", "z"]
    assert (marks.panels[0].tolist(), marks.panels[1]) == ([0, 0, 0, 0, 0, 1], ["one", "two"])
    assert marks.names()[0] == "a · y · one"
    assert marks.reached_by(Target("layer", "plan")).tolist() == [
        False,
        False,
        True,
        False,
        True,
        False,
    ]
    assert marks.reached_by(MARK).all()


@pytest.mark.parametrize(
    ("dates", "unit", "expected"),
    [
        (["2025-01-01", "2025-02-01"], None, ["2025-01", "2025-02"]),
        (["2025-01-01", "2025-02-03"], None, ["2025-01-01", "2025-02-03"]),
        (["2025-01-01T10:30", "NaT"], None, ["2025-01-01 10:30", "(no name)"]),
        (["2025-04-01", "2025-07-01"], "quarter", ["2025-Q2", "2025-Q3"]),
        (["2025-01-01"], "year", ["2025"]),
    ],
)
def test_names_that_are_made_when_asked_for_are_the_same(
    dates: list[str], unit: Unit | None, expected: list[str]
) -> None:
    column, grain = np.array(dates, dtype="datetime64[s]"), unit and Grain(unit)
    lazy = Shown(column, grain)
    assert shown(column, grain) == list(lazy) == expected
    assert lazy[-1] == expected[-1]
    assert list(lazy[:1]) == expected[:1]
    with pytest.raises(IndexError):
        lazy[len(expected)]


# What is smaller than a page can hold is zero before it has a place (picture/range.py).
sizes = st.floats(-1e6, 1e6).map(lambda value: value if abs(value) > 1e-150 else 0.0)


@given(st.lists(sizes, min_size=1, max_size=9), st.floats(0, 60), st.floats(200, 1500))
def test_a_span_holds_all_values_with_room_for_words(
    values: list[float], room: float, length: float
) -> None:
    array = np.array(values)
    scale = span(array, room, length, (np.nan, np.nan))
    at = scale.zero + scale.unit * array
    assert at.min() >= -1e-6 * length
    assert at.max() <= length * (1 + 1e-6)
    zero_is_there = -1e-6 <= scale.zero <= length * (1 + 1e-6)
    low, high = array.min(), array.max()
    assert zero_is_there or min(abs(low), abs(high)) > 2 * (high - low)


@pytest.mark.parametrize(
    "ends", [(0.0, 10.0), (-5.0, 10.0), (-4.0, 0.0), (np.nan, 20.0), (-3.0, np.nan)]
)
def test_ends_that_are_told_are_ends_of_the_scale(ends: tuple[float, float]) -> None:
    values = np.array([4.0, -1.0]) if ends[0] != 0 else np.array([4.0])
    none = np.zeros(len(values))
    scale = fitted(Room(values, none, none), 500, ends)
    low = ends[0] if not np.isnan(ends[0]) else -1.0
    high = ends[1] if not np.isnan(ends[1]) else 4.0
    assert scale(low) == pytest.approx(SET_END_ROOM_PX if low < 0 else 0)
    assert scale(high) == pytest.approx(500 - (SET_END_ROOM_PX if high > 0 else 0))
    assert span(values, 10, 500, ends).value(500) >= high


def test_crowded_lines_cover_what_lies_in_each_column_of_pixels() -> None:
    random = np.random.default_rng(3)
    values = 10 * np.sin(np.arange(40_000) / 900) + random.normal(0, 1, 40_000)
    chart = line_of(values.tolist()).rule("above 0", color="favorable").label("")
    scene = drawn(chart)
    made = seen(scene, "line", plot=0)
    assert sorted(hex_colors(strokes_made.shape.fill)[0] for strokes_made in made) == [
        FAVORABLE,
        QUIET,
    ]
    up = 1.5 * value_of_a_pixel(scene)
    for strokes_made in made:
        above = hex_colors(strokes_made.shape.fill)[0] == FAVORABLE
        low, high = strokes_made.corners[:, 1], strokes_made.corners[:, 3]
        assert (low if above else -high).min() >= -2 * up
        assert high.max() <= max(values.max(), 0) + 2 * up
    covered = np.array([c for m in made for c in m.corners])
    for mark in random.integers(0, 40_000, 200).tolist():
        near = (covered[:, 0] - 80 <= mark) & (mark <= covered[:, 2] + 80)
        inside = (covered[near, 1] <= values[mark] + up) & (values[mark] - up <= covered[near, 3])
        assert inside.any(), mark


def value_of_a_pixel(scene: Scene) -> float:
    """How much one pixel along the marks is worth."""
    area = plots(scene)[0]
    return (area.y[1] - area.y[0]) / area.box.height


@given(st.lists(st.one_of(st.floats(-9, 9), st.just(np.nan)), min_size=3, max_size=40))
def test_columns_of_pixels_are_as_tall_as_their_points(heights: list[float]) -> None:
    places = np.where(np.isnan(heights), np.nan, np.linspace(0, 300, len(heights)))
    points = np.column_stack([places, heights])
    made = columns(points, PixelColumns(0, 300, 300).begun(places), 2.0)
    known = np.array([h for h in heights if not np.isnan(h)])
    assert bool(len(made)) == bool(len(known))
    if len(known):
        assert made[:, 1].min() == pytest.approx(known.min() - 1)
        assert made[:, 3].max() == pytest.approx(known.max() + 1)
        assert np.ptp(made[:, [0, 2]], axis=1) == pytest.approx(2)


def test_a_crowded_area_is_as_large_as_its_points() -> None:
    values = np.abs(np.sin(np.arange(30_000) / 700)) * 10
    chart = line_of(values.tolist(), kind="area").rule("above 5", color="adverse").label("")
    pieces = fields(drawn(chart))
    assert sum(surface(piece) for _, piece in pieces) == pytest.approx(
        np.trapezoid(values), rel=0.03
    )


def test_a_missing_target_leaves_the_line_quiet_there() -> None:
    chart = line_of([1, 1, 1, 1], r=[2.0, np.nan, 2.0, 2.0]).rule("below r", color="adverse")
    assert [c for c, _ in strokes(drawn(chart))] == [QUIET, ADVERSE, ADVERSE]
    assert chart.flags()["unknown"].tolist() == ["", "below r", "", ""]


def test_infinite_values_are_drawn_within_the_plot() -> None:
    figure = drawn(line_of([1, np.inf, 2, -np.inf, 3]).rule("above 100", color="adverse"))
    low, high = limits(figure)[1]
    for _, piece in strokes(figure):
        assert (piece[:, 1] >= low).all()
        assert (piece[:, 1] <= high).all()


def test_references_are_steps_for_groups_and_lines_for_measures() -> None:
    chart = line_of([1, 5, 2, 8], r=[2.0, 3, 4, 5], g=["a", "a", "b", "b"])
    chart = (
        chart.reference("average", within=["g"]).reference("r", within=["x"]).reference("median")
    )
    figure = drawn(chart)
    assert_tidy(figure)
    points = only(figure, "curve").points
    expected = np.array([[0, 2], [1, 3], [2, 4], [3, 5]])
    assert points[~np.isnan(points[:, 0])] == pytest.approx(expected, abs=1e-9)
    assert [e.text for e in chart.stages.page.key.entries if isinstance(e, KeyEntry)] == [
        "average within g",
        "r within x",
    ]
    assert "median 3.5" in dict(boxes_of(figure))


def test_areas_have_hatches_where_colors_are_not_enough_and_shades_are_lines_of_many_colors() -> (
    None
):
    scene = drawn(line_of([3, -2, 4], kind="area", theme="press").rule("negative", color="adverse"))
    assert sorted(area.shape.patterns for area in seen(scene, "area")) == [(), ("stripes",)]
    shaded = line_of([1, 2, 3, 4]).rule("always", shade="v")
    colors = [color for color, _ in strokes(drawn(shaded))]
    assert len(set(colors)) == 3
    assert colors == [c.lower() for c in shaded.flags()["color"].tolist()[1:]]


def test_the_key_of_lines_shows_lines_and_points() -> None:
    chart = (
        line_of([1, 5, -3])
        .rule("negative", color="adverse")
        .rule("highest", color="favorable", badge="cup")
    )
    entries = [e for e in chart.stages.page.key.entries if isinstance(e, KeyEntry)]
    assert [(e.text, e.seen, e.badge) for e in entries] == [
        ("negative", "line", ""),
        ("highest", "point", "cup"),
        ("the rest", "line", ""),
    ]
    assert_tidy(drawn(chart))
    points = points_of(drawn(chart))
    assert len(points.offsets) == 2


def test_numbers_on_the_axis_of_a_line_are_sparse_and_in_their_order() -> None:
    rows = {"hour": [23, 0, 12, 6, 18], "v": [1.0, 2, 3, 4, 5]}
    chart = yz.chart(rows, category="hour", value="v", kind="line")
    assert chart.flags()["hour"].tolist() == [0, 6, 12, 18, 23]
    texts = [text for text, _ in boxes_of(drawn(chart))]
    assert [t for t in texts if t in {"0", "6", "12", "18", "23"}][-5:] == [
        "0",
        "6",
        "12",
        "18",
        "23",
    ]


def test_draw_each_and_panels_on_the_command_line(call: Any, folder: Path) -> None:
    told: Called = call("draw", "busiest.toml", "--each", "waters", "-o", "out.png", "--set", "n=1")
    assert told.code == 0
    assert told.err == "  note: Rules compare the marks of one waters (--each), each by itself.\n"
    names = ["Kestrel-Sound", "North-Reach", "Outer-Isles", "Saltmarsh"]
    assert sorted(path.name for path in folder.glob("out-*.png")) == [
        f"out-{name}.png" for name in names
    ]
    assert "out-North-Reach.png: North Reach, 5 marks, " in told.out
    why: Called = call("why", "out-North-Reach.png", "Thistle Roads")
    assert "ranks 2 of 5" in why.out
    told = call("draw", "surplus.toml", "--panels", "waters", "-o", "panels.svg")
    assert told.code == 0
    assert "Saltmarsh" in (folder / "panels.svg").read_text()
    told = call("draw", "surplus.toml", "--each", "watres")
    assert told.code == 2
    assert "There is no column 'watres' for each picture. Did you mean waters?" in told.err
    told = call("draw", "surplus.toml", "--each", "waters", "-o", "out.gif")
    assert told.code == 2
    assert "I cannot draw into '.gif'" in told.err
    assert not list(folder.glob("out*.gif"))


def test_the_summary_of_parts_and_layers_says_what_was_asked(call: Any, folder: Path) -> None:
    told: Called = call("draw", "parts.toml", "-o", "parts.png")
    assert 'rule 1 "beyond": above average within waters: 9 flagged' in told.out
    told = call("draw", "punctual.toml", "-o", "punctual.png")
    assert 'rule 1 "late" on layer on time: below limit: 8 flagged' in told.out
    assert (folder / "punctual.png").is_file()
