"""Kinds of chart beyond bars and lines: dots, scatters, rings, bridges, bins, floating bars, slopes."""

from __future__ import annotations

import sqlite3
from collections.abc import Callable
from contextlib import closing
from itertools import product
from pathlib import Path
from typing import Any

import numpy as np
import pandas as pd
import pytest
from matplotlib.collections import PathCollection

import yuzen as yz
from tests.support.ferries import CHARTS
from tests.support.sampling import a_sample_of
from tests.support.scenes import (
    assert_tidy,
    bars_of,
    boxes_of,
    drawn,
    hex_colors,
    limits,
    only,
    plots,
    scale_ends,
    shapes_of,
    spot,
    upward,
)
from yuzen.brief.kinds import KINDS
from yuzen.scene.primitives import Dots
from yuzen.shape.plan.bins import MOST_BINS
from yuzen.stages.stages import Stages

NAMES = [
    "Brinewick",
    "Cinderquay",
    "Vane Harbour",
    "Sandsend Ferry",
    "Kelpwick",
    "Ivernsay",
    "Otterby",
]
SHAPES = ["dots", "scatter", "ring", "bridge", "bins", "floating", "slope"]


def random_of(shape: str, seed: int) -> yz.Chart:
    """A chart of a shape with whatever data, rules, labels, themes and sizes the seed says."""
    random = np.random.default_rng(seed)
    count = int(random.integers(1, 24))
    names = [f"{NAMES[k % len(NAMES)]} {k // len(NAMES)}".removesuffix(" 0") for k in range(count)]
    values = random.normal(0, 1, count) * 10 ** float(random.uniform(-3, 7))
    if random.random() < 0.3:
        values = np.abs(values) + 5 * np.abs(values).max()
    values[random.random(count) < 0.2 * (random.random() < 0.3)] = np.nan
    rows = pd.DataFrame(
        {"name": names, "v": values, "w": random.normal(10, 4, count), "g": "First"}
    )
    said: dict[str, Any] = {"category": "name", "value": "v", "kind": shape, "panels": None}
    if random.random() < 0.25 and count > 3:
        rows["g"], said["panels"] = np.where(np.arange(count) % 3 > 0, "First", "Second"), "g"
    rows, said = _shaped(shape, rows, said, random)
    return _ruled(
        yz.chart(rows, **{k: v for k, v in said.items() if v}, title=f"Random {seed}"),
        shape,
        random,
    )


def _shaped(
    shape: str, rows: pd.DataFrame, said: dict[str, Any], random: np.random.Generator
) -> tuple[pd.DataFrame, dict[str, Any]]:
    """The rows and the keys of [chart] that a shape needs."""
    count, standing = len(rows), str(random.choice(["column", "bar"]))
    if shape == "dots" and random.random() < 0.7:
        other = rows.assign(v=rows["v"] * random.uniform(0.8, 1.3, count), s="actual")
        return pd.concat([rows.assign(s="plan"), other]), {**said, "series": "s"}
    if shape == "scatter":
        return rows, {**said, "across": "w", "point_size": random.choice(["w", ""])}
    if shape == "ring":
        return rows.assign(v=rows["v"].abs()), said
    if shape == "bridge":
        ends = {"closing": "All of it" if said["panels"] is None else None}
        return rows, {
            **said,
            **ends,
            "subtotals": list(rows["name"][-1:]) * (random.random() < 0.3),
        }
    if shape == "bins":
        many = pd.DataFrame(
            {"v": random.normal(40, 15, 200), "g": random.choice(["First", "Second"], 200)}
        )
        own = {"category": "v", "value": "count of rows", "kind": standing}
        return many, {**said, **own, "bins": int(random.integers(1, 30))}
    if shape == "floating":
        return rows, {**said, "base": "w", "kind": standing}
    if shape == "slope":
        years = [
            rows.assign(t=year, v=rows["v"] * random.uniform(0.5, 2, count))
            for year in ("2025", "2026")
        ]
        return pd.concat(years), {**said, "category": "t", "series": "name", "kind": "line"}
    return rows, said


def _ruled(chart: yz.Chart, shape: str, random: np.random.Generator) -> yz.Chart:
    """The chart with some rules, references and labels, in some theme."""
    for when, color in (
        ("highest", "favorable"),
        ("lowest", "adverse"),
        ("above average", "notice"),
    ):
        if random.random() < 0.6:
            chart = chart.rule(
                when, color=color, name=when, badge="flag" if random.random() < 0.2 else None
            )
    if shape == "scatter" and random.random() < 0.6:
        chart = chart.rule(
            "w above 10 and above average", color="adverse", region=True, name="quadrant"
        )
        chart = chart.reference("average").reference(across="average of w")
    elif shape not in {"ring", "bridge"} and random.random() < 0.4:
        chart = chart.reference("average")
    theme = str(random.choice(["linen", "dusk", "press"]))
    plain = {**chart.stages.brief.plain(), "theme": theme}
    if random.random() < 0.2:
        plain["size"] = {"width": int(random.integers(500, 1300))}
    return yz.Chart(Stages(type(chart.stages.brief).model_validate(plain), chart.stages.source))


@pytest.mark.sampled(3)
@pytest.mark.parametrize("shape", SHAPES)
def test_random_charts_of_new_kinds_are_tidy(shape: str) -> None:
    for seed in range(8):
        assert_tidy(drawn(random_of(shape, seed)))


WAVES = pd.DataFrame(
    {
        "day": pd.date_range("2026-01-01", periods=90),
        "m": np.random.default_rng(5).gamma(4, 0.3, 90),
    }
)


@pytest.mark.parametrize("kind", ["bar", "column"])
@pytest.mark.parametrize("far", [0.0, 100.0])
def test_bars_float_from_the_lowest_to_the_highest(kind: Any, far: float) -> None:
    rows = WAVES.assign(m=WAVES["m"] + far)
    chart = yz.chart(
        rows, kind=kind, category="day", grain="month", value="highest of m", base="lowest of m"
    )
    chart = chart.rule("`highest of m` - `lowest of m` highest", color="adverse")
    chart = chart.rule("`lowest of m` lowest", outline="ink")
    months = rows.groupby(rows["day"].dt.to_period("M"))["m"].agg(["min", "max"])
    figure = drawn(chart)
    sides = [0, 2] if kind == "bar" else [1, 3]
    assert bars_of(figure).corners[:, sides] == pytest.approx(months.to_numpy())
    spans = (months["max"] - months["min"]).to_numpy()
    assert np.flatnonzero(chart.flags()["rule"] != "").tolist() == [int(np.argmax(spans))]
    low, high = scale_ends(plots(figure)[0], kind)
    assert (low <= 0 <= high) == (far == 0)
    # A bar is cut at the value itself, wherever it begins.
    parted = drawn(chart.rule("always", part=f"above {far + 1}", color="notice"))
    corners = only(parted, "parts").corners[:, sides]
    cut = corners[(corners[:, 0] < far + 1 - 1e-9) & (corners[:, 1] > far + 1 + 1e-9)]
    assert not len(cut)
    assert corners.min() == pytest.approx(months.to_numpy().min())


def test_a_base_among_marks_is_one_of_all_and_its_rules_see_both_ends() -> None:
    rows = {"c": list("abc"), "v": [5.0, 3, 9], "w": [4.0, 6, np.nan]}
    average = drawn(yz.chart(rows, category="c", value="v", base="average", order="as given"))
    assert bars_of(average).corners[:, [0, 2]] == pytest.approx(
        np.array([[5, 17 / 3], [3, 17 / 3], [17 / 3, 9]])
    )
    named = yz.chart(rows, category="c", value="v", base="w", order="as given").rule(
        "v below w", color="adverse"
    )
    assert bars_of(drawn(named)).corners[:2, [0, 2]] == pytest.approx(np.array([[4.0, 5], [3, 6]]))
    assert named.flags()["rule"].tolist() == ["", "v below w", ""]
    assert "rule" in named.flags()
    assert named.flags()["unknown"].tolist() == ["", "", "v below w"]


@pytest.mark.parametrize("periods", [2, 3])
def test_lines_over_few_periods_are_named_beside_both_ends(periods: int) -> None:
    rows = pd.DataFrame(
        [(f"20{20 + t}", name, v + t * s) for t in range(periods)
         for name, v, s in (("Brinewick", 5.0, 2), ("Kelpwick", 20, -4), ("Ivernsay", 12, 1))],
        columns=["year", "route", "v"],
    )  # fmt: skip
    chart = yz.chart(rows, kind="line", category="year", series="route", value="v").rule(
        "falls", color="adverse"
    )
    figure = drawn(chart)
    assert_tidy(figure)
    boxes = [
        (text, box)
        for text, box in boxes_of(figure)
        if text in {"Brinewick", "Kelpwick", "Ivernsay"}
    ]
    assert len(boxes) == 6
    last = spot(figure, periods - 1, 0)[0]
    first = spot(figure, 0, 0)[0]
    on_left = [first - box.x1 for _, box in boxes if box.x1 < first]
    on_right = [box.x0 - last for _, box in boxes if box.x0 > last]
    assert len(on_left) == len(on_right) == 3
    assert max(on_left) < 10
    fallen = next(box for text, box in boxes_of(figure) if text == f"{20 - 4 * (periods - 1)}")
    assert sorted(on_right)[:2] == pytest.approx([8, 8], abs=2)
    assert max(on_right) == pytest.approx(fallen.x1 - last + 8, abs=3), (
        "after the number of its point"
    )


@pytest.mark.parametrize("said", [{"bins": 7}, {"grain": 0.1}, {"edges": [0, 0.5, 0.9, 2]}])
def test_bins_count_as_numpy_does(said: dict[str, Any]) -> None:
    chart = yz.chart(WAVES, kind="column", category="m", value="count of rows", **said)
    flags, m = chart.flags(), WAVES["m"].to_numpy()
    edges = np.append(flags["m"], flags["m to"].iloc[-1])
    if "bins" in said:
        assert edges == pytest.approx(np.histogram_bin_edges(m, 7))
    if "edges" in said:
        assert edges.tolist() == said["edges"]
        gone = int(np.count_nonzero(m > 2))
        assert any(
            f"{gone} of 90 rows are in no bin: {gone} lie beyond the edges." in n
            for n in chart.notes()
        )
    whole = np.unique(np.append(flags["m"], flags["m to"]))
    counts = np.histogram(m, whole)[0]
    assert flags["count of rows"].tolist() == counts[counts > 0].tolist()
    touching = bars_of(drawn(chart)).corners
    gaps = touching[1:, 0] - touching[:-1, 2]
    assert np.all((gaps < 0.05) | (gaps > 0.95)), (
        "next to one another, or a bin without rows between"
    )


def test_decimal_bins_begin_where_their_decimals_say() -> None:
    values = [0.1, 0.3, 0.6, 0.7, 1.1, 2.3]
    flags = yz.chart({"v": values}, category="v", grain=0.1, value="count of rows").flags()
    assert flags["v"].tolist() == values
    shown = yz.chart({"v": values}, category="v", grain=0.1, value="count of rows").why(
        "0.3 to 0.4"
    )
    assert "bin  quiet" in str(shown)


def test_rules_on_bins_hold_where_they_hold_of_all_that_is_in_them() -> None:
    ages = np.arange(0, 100.0)
    chart = yz.chart({"age": ages}, kind="column", category="age", grain=10, value="count of rows")
    for claim, holds in (
        ("above 55", lambda x: x >= 55), ("at least 60", lambda x: x >= 60), ("below 30", lambda x: x <= 30),
        ("between 20 and 45", lambda x: (x >= 20) & (x <= 45)), ("negative", lambda x: x < 0),
    ):  # fmt: skip
        flags = chart.rule(f"age {claim}", color="adverse", name="r").flags()
        for low, rule, unknown in zip(flags["age"], flags["rule"], flags["unknown"], strict=True):
            inside = holds(np.linspace(low, low + 10, 101))
            assert (rule == "r") == inside.all(), (claim, low)
            partly = inside[1:-1].any() and not inside.all()
            assert (unknown == "r") == partly, (claim, low)
    assert "age 50 to 60 is above 55 in part only" in str(
        chart.rule("age above 55", color="adverse").why("50 to 60")
    )
    parts = only(drawn(chart.rule("always", part="age above 57", color="adverse")), "parts")
    red = [color == "#C63E2F" for color in parts.colors]
    # 57 is at seven tenths of the bin from 50 to 60, which fills 0.97 of the room around place 5.
    assert parts.corners[red][:, 0].min() == pytest.approx(5 - 0.97 / 2 + 0.7 * 0.97, abs=0.01)


def test_stacked_bars_in_parts_leave_out_the_sums_that_only_layers_draw() -> None:
    rows = {"item": list("aabb"), "s": list("xyxy"), "v": [5, 3, 2, 6]}
    chart = yz.chart(rows, category="item", value="v", series="s", kind="column", arrange="stacked")
    parts = only(drawn(chart.rule(part="above 4", color="adverse")), "parts")
    assert (parts.corners[:, 3] - parts.corners[:, 1]).sum() == pytest.approx(16)
    assert parts.corners[:, 3].max() == pytest.approx(8)


PARTS: dict[str, Callable[[Any], Any]] = {
    "above 6": lambda x: x > 6,
    "at least 6": lambda x: x >= 6,
    "below 4": lambda x: x < 4,
    "at most 4": lambda x: x <= 4,
    "between 3 and 8": lambda x: (x >= 3) & (x <= 8),
    "above 5": lambda x: x > 5,
    "at most limit": lambda x: x <= 7,
}


CUT_VALUES = ["count of rows", "total of w", "share of count of rows", "average of w"]


@pytest.mark.sampled(3)
@pytest.mark.parametrize(
    ("part", "value", "seed"), a_sample_of(list(product(PARTS, CUT_VALUES, range(2))), every=5)
)
def test_a_bin_that_a_part_cuts_is_known_by_its_rows(
    part: str, value: str, seed: int, tmp_path: Path
) -> None:
    """Count, share, reason and area are those of the rows, of a file, a database and a picture alike."""
    random = np.random.default_rng(seed)
    rows = pd.DataFrame({"x": random.integers(0, 21, 40) / 2, "w": random.integers(1, 9, 40)})
    holds, edges = PARTS[part](rows["x"]), [0, 2.5, 5, 7.5, 10]
    with closing(sqlite3.connect(tmp_path / "rows.db")) as store, store:
        rows.to_sql("rows", store, index=False)
    for source in (rows, yz.Database(f"sqlite:///{tmp_path / 'rows.db'}", "rows")):
        chart = yz.chart(
            source, category="x", value=value, kind="column", edges=edges, parameters={"limit": 7},
            title='{share "it":.4%} {count "it"}',
        ).rule(part=f"x {part}", name="it", color="adverse")  # fmt: skip
        bins = np.minimum(np.searchsorted(edges, rows["x"], side="right") - 1, 3)
        some = holds.groupby(bins).any().reindex(range(4), fill_value=False)
        flags = chart.flags()
        assert (flags["rule"] == "it").tolist() == some[np.searchsorted(edges, flags["x"])].tolist()
        assert not flags["unknown"].any()
        share, count = chart.stages.page.words.title.split()
        assert int(count) == some.sum()
        weights = {"total of w": rows["w"]}.get(value, pd.Series(1, index=rows.index))
        if value != "average of w":
            assert float(share.rstrip("%")) / 100 == pytest.approx(
                weights[holds].sum() / weights.sum(), abs=1e-6
            )
        for number in np.unique(bins[some[bins]]).tolist():
            own = holds[bins == number]
            answer = str(chart.why(f"{edges[number]:g} to {edges[number + 1]:g}"))
            assert own.all() or f"in {own.sum()} of {len(own)} rows" in answer, answer
        parts = only(drawn(chart), "parts")
        left, bottom, right, top = parts.corners.T
        red = np.array([color == "#C63E2F" for color in parts.colors])
        if value == "average of w":
            expected = [rows["w"][(bins == n) & holds].mean() for n in np.flatnonzero(some)]
            assert sorted(set(top[red].round(6))) == sorted(set(np.round(expected, 6)))
        else:
            areas = (right - left) * (top - bottom)
            assert areas[red].sum() / areas.sum() == pytest.approx(
                weights[holds].sum() / weights.sum(), abs=1e-6
            )
    picture = yz.load_picture(chart.save(tmp_path / "bins.png"))
    assert str(picture.why()) == str(chart.why())
    assert drawn(picture) == drawn(chart)


def test_bins_of_dates_and_what_cannot_be_cut() -> None:
    days = pd.DataFrame({"day": pd.date_range("2026-01-01", periods=40), "w": "x"})
    flags = yz.chart(
        days,
        category="day",
        edges=["2026-01-01", "2026-01-11", "2026-02-10"],
        value="count of rows",
    ).flags()
    assert flags["count of rows"].tolist() == [10, 30]
    told = yz.chart(days, category="day", bins=4, value="count of rows").rule(
        'day after "2026-01-20"', color="adverse"
    )
    assert told.flags()["rule"].tolist() == ["", "", *[told.flags()["rule"].iloc[-1]] * 2]
    for said, message in (
        ({"category": "w", "bins": 3}, "w holds words"),
        ({"category": "day", "grain": 10}, 'take grain = "month"'),
        ({"category": "day", "edges": [3, 1]}, "edges are dates"),
        ({"category": "day", "edges": ["2026-02", "2026-01"]}, "have to grow"),
        ({"category": "day", "bins": 3, "grain": "month"}, "say one of them"),
        ({"category": "day", "edges": ["2026"]}, "at least two"),
    ):
        with pytest.raises(yz.YuzenError, match=message):
            yz.chart(days, value="count of rows", **said).flags()
    line = yz.chart(days, kind="line", category="day", bins=4, value="count of rows")
    assert "lines are not cut" not in " ".join(line.rule("above 3", color="adverse").notes())


PLAN = pd.DataFrame(
    {
        "route": ["a", "b", "c"] * 2,
        "state": ["plan"] * 3 + ["actual"] * 3,
        "v": [10.0, 20, 30, 14, 20, 24],
    }
)


def test_dots_stand_at_their_values_and_the_gap_between_two_has_rules() -> None:
    chart = yz.chart(
        PLAN, kind="dots", category="route", series="state", value="v", order="as given"
    )
    chart = chart.rule("change of v at least 2", on="line", color="favorable", name="up")
    chart = chart.rule("falls by 10%", on="line", color="adverse", name="down").rule(
        "v highest", color="notice"
    )
    flags = chart.flags().query("target == 'line'")
    assert flags["rule"].tolist() == ["", "up", "", "", "", "down"]
    figure = drawn(chart)
    dots = only(figure, "points")
    own = {(round(y), round(x, 9)) for x, y in dots.offsets.tolist()}
    assert own == {(0, 10.0), (0, 14.0), (1, 20.0), (2, 30.0), (2, 24.0)}
    joins = only(figure, "joins")
    assert hex_colors(joins.shape.ink) == ["#0a4a80", "#c63e2f"]
    low, _ = limits(figure)[0]
    assert low > 0, "the scale need not begin at zero"
    assert "dot" in str(chart.why("b"))
    assert chart.check() is not None


def test_dots_as_a_layer_stand_over_bars() -> None:
    rows = {"c": list("ab"), "v": [5.0, 8], "w": [6.0, 7]}
    layers = [{"name": "own", "value": "v"}, {"name": "plan", "value": "w", "kind": "dots"}]
    for kind in ("bar", "column"):
        chart = yz.chart(rows, kind=kind, category="c", value="v", layer=layers, order="as given")  # type: ignore[arg-type]
        figure = drawn(chart.rule("w above v", on="layer plan", color="adverse"))
        offsets = only(figure, "points", "plan").offsets
        assert sorted(offsets[:, 0 if kind == "bar" else 1]) == pytest.approx([6, 7])
        assert bars_of(figure).shape.layer == "own"


POINTS = pd.DataFrame(
    {"n": [f"p{k}" for k in range(60)], "x": np.random.default_rng(3).normal(50, 9, 60),
     "y": np.random.default_rng(4).normal(0, 20, 60)}
)  # fmt: skip


def test_scatters_compare_both_measures_and_name_quadrants() -> None:
    chart = yz.chart(POINTS, kind="scatter", category="n", value="y", across="x").reference(
        "average"
    )
    chart = chart.reference(across="average of x", label="middle")
    chart = chart.rule(
        "y negative and x above average", color="adverse", name="losing", region=True
    )
    chart = chart.rule("top 3", color="favorable")
    expected = (POINTS["y"] < 0) & (POINTS["x"] > POINTS["x"].mean())
    flags = chart.flags().set_index("n")
    assert (flags["rule"] == "losing").sum() == expected.sum()
    figure = drawn(chart)
    assert_tidy(figure)
    (region,) = chart.stages.page.plots[0].regions  # type: ignore[union-attr]
    assert (region.left, region.right, region.low, region.high) == pytest.approx(
        (POINTS["x"].mean(), np.inf, -np.inf, 0)
    )
    ground = only(figure, "regions").corners[0]
    (_, right), (bottom, _) = limits(figure)
    assert ground.tolist() == pytest.approx([POINTS["x"].mean(), bottom, right, 0.0])
    points = only(figure, "points")
    assert sorted(points.shape.marks) == list(range(60))
    in_order = points.offsets[np.argsort(points.offsets[:, 0])]
    assert in_order == pytest.approx(POINTS[["x", "y"]].sort_values("x").to_numpy())
    colors = hex_colors(points.shape.fill)
    flagged = [color != "#c9ccd0" for color in colors]
    assert flagged == sorted(flagged), "flagged points lie over the rest"
    # No name lies on a point.
    pixels = upward(figure, points.shape.centers)
    for text, box in boxes_of(figure):
        if text.startswith("p"):
            inside = (pixels >= [box.x0 - 3, box.y0 - 1]) & (pixels <= [box.x1 + 3, box.y1 + 1])
            assert not inside.all(axis=1).any(), text
    assert "middle" in {text for text, _ in boxes_of(figure)}


def test_a_scatter_tells_what_it_cannot_place_and_what_no_rectangle_is() -> None:
    rows = {"n": list("abcd"), "x": [1.0, 2, np.nan, 4], "y": [4.0, np.inf, 2, 1]}
    chart = yz.chart(rows, kind="scatter", category="n", value="y", across="x", point_size="x")
    chart = chart.rule("y above 1 or x above 2", color="adverse", region=True).reference(
        after="top 2"
    )
    notes = " ".join(chart.notes())
    assert "2 of 4 points lack a number in x or y" in notes
    assert "it describes no one region" in notes
    assert "reference 1: a scatter has no ticks of groups and no dividers" in notes
    sizes = only(drawn(chart), "points").shape.radii ** 2
    assert sorted(sizes / sizes.max()) == pytest.approx([0.25, 1.0]), "areas are as the measure"
    with pytest.raises(yz.YuzenError, match="say the other one: across"):
        yz.chart(rows, kind="scatter", category="n", value="y")


@pytest.mark.slow
def test_many_points_are_one_collection() -> None:
    random = np.random.default_rng(2)
    rows = pd.DataFrame(
        {
            "n": np.arange(50_000).astype(str),
            "x": random.normal(size=50_000),
            "y": random.normal(size=50_000),
        }
    )
    chart = yz.chart(rows, kind="scatter", category="n", value="y", across="x").rule(
        "top 5", color="adverse"
    )
    figure = drawn(chart)
    points = [dots for dots in shapes_of(figure, Dots) if dots.role == "points"]
    assert [len(dots) for dots in points] == [50_000]
    made = chart.figure().axes[0].collections
    assert [len(np.asarray(c.get_offsets())) for c in made if isinstance(c, PathCollection)] == [
        50_000
    ]
    assert (
        sum(text in set(rows["n"][rows["y"].nlargest(5).index]) for text, _ in boxes_of(figure))
        == 5
    )


def test_slices_share_out_a_whole() -> None:
    rows = {"c": list("abcd"), "v": [10.0, 40, 30, 20]}
    chart = yz.chart(rows, kind="ring", category="c", value="v").rule(
        "highest", color="favorable", badge="cup"
    )
    figure = drawn(chart)
    assert_tidy(figure)
    slices = only(figure, "slices")
    rings = [ring for rings in slices.shape.rings_of() for ring in rings]
    rims = [ring[: len(ring) // 2] for ring in rings]
    x, y = (640.0, _middle(rings))
    dodge_index = [np.unwrap(np.arctan2(rim[:, 0] - x, y - rim[:, 1])) for rim in rims]
    spans = [float(turn[-1] - turn[0]) / (2 * np.pi) for turn in dodge_index]
    assert spans == pytest.approx([0.4, 0.3, 0.2, 0.1], abs=0.01)
    assert float(dodge_index[0][0]) == pytest.approx(0, abs=1e-6), "from twelve o'clock"
    texts = {text for text, _ in boxes_of(figure)}
    assert {"a", "b", "40%", "10%", "100", "V"} <= texts
    assert "slice" in str(chart.why("b"))
    with pytest.raises(yz.YuzenError, match="v is −1 for a"):
        yz.chart({"c": list("ab"), "v": [-1.0, 3]}, kind="ring", category="c", value="v").figure()


def _middle(rings: list[Any]) -> float:
    """The height of the middle of a ring on the sheet, between its highest and lowest place."""
    heights = np.concatenate([ring[:, 1] for ring in rings])
    return float((heights.min() + heights.max()) / 2)


def test_what_stands_on_axes_is_told_where_there_are_none() -> None:
    said: dict[str, Any] = {
        "scale": {"low": 0, "across": {"low": 1}},
        "reference": [{"at": "average"}],
    }
    ring = yz.chart({"c": list("ab"), "v": [1.0, 3]}, kind="ring", category="c", value="v", **said)
    notes = ring.label("{v}", where="inside").notes()
    rows = {"c": list("ab"), "v": [1.0, 3], "w": [1.0, 9]}
    far = yz.chart(
        rows, kind="scatter", category="c", value="v", across="w", scale={"across": {"high": 4}}
    )
    assert (
        "reference 1: average lies beyond the scale, so no line is drawn."
        in far.reference(across="average").notes()
    )
    assert "A ring has no axis, so it does not show references." in notes
    assert "A ring has no axis, so it does not show the ends of a scale." in notes
    assert "[scale.across] is for scatters, so this ring chart does not show it." in notes
    assert "label 1: where is for bars, so this ring chart does not show it." in notes


def test_small_slices_are_gathered_and_flagged_ones_stay() -> None:
    rows = {"c": [f"c{k}" for k in range(20)], "v": np.arange(1.0, 21)}
    chart = yz.chart(rows, kind="ring", category="c", value="v").rule("lowest", color="adverse")
    texts = [text for text, _ in boxes_of(drawn(chart))]
    assert "13 others" in texts
    assert "c0" in texts, "the smallest is flagged"
    assert any(
        "the 13 smallest that no rule changes are drawn as one" in note for note in chart.notes()
    )
    assert len(chart.flags()) == 20
    rest = yz.chart(rows, kind="ring", category="c", value="v", limit=3, rest="Others").label(
        "{share of v:.0%}"
    )
    assert any("share is among what is named, without the rest" in note for note in rest.notes())
    plain = {
        text
        for text, _ in boxes_of(
            drawn(yz.chart(rows, kind="ring", category="c", value="v", limit=3, rest="Others"))
        )
    }
    assert {"10%", "9%", "73%"} <= plain, "parts of the whole ring"


STEPS = pd.DataFrame(
    {
        "item": ["Before", "Fares", "Fuel", "Half", "Crew", "Piers"],
        "v": [100.0, 40, -30, 110, -150, 20],
    }
)


def test_steps_begin_where_the_one_before_ended() -> None:
    chart = yz.chart(
        STEPS,
        kind="bridge",
        category="item",
        value="v",
        opening="Before",
        closing="After",
        subtotals=["Half"],
    )
    chart = chart.rule("negative", color="adverse").rule("top 2", color="favorable")
    flags = chart.flags()
    assert flags["item"].tolist() == [*STEPS["item"], "After"]
    assert flags["v"].iloc[-1] == -20
    assert flags["role"].tolist() == [
        "ink",
        "favorable",
        "adverse",
        "ink",
        "adverse",
        "favorable",
        "ink",
    ]
    figure = drawn(chart)
    assert_tidy(figure)
    low, high = bars_of(figure).corners[:, [1, 3]].T
    assert list(zip(low.round(9), high.round(9), strict=True)) == [
        (0, 100),
        (100, 140),
        (110, 140),
        (0, 110),
        (-40, 110),
        (-40, -20),
        (-20, 0),
    ]
    joined = only(figure, "connectors")
    assert len(joined.lines) >= 6
    assert chart.notes() == []
    assert "step" in str(chart.why("Fuel"))


def test_random_bridges_end_at_the_sum_of_their_steps() -> None:
    random = np.random.default_rng(8)
    for _ in range(20):
        values = random.normal(0, 100, int(random.integers(2, 12))).round(1)
        rows = {"c": [f"c{k}" for k in range(len(values))], "v": values}
        chart = yz.chart(rows, kind="bridge", category="c", value="v", totals=["all"])
        low, high = bars_of(drawn(chart)).corners[:, [1, 3]].T
        levels = np.append(0, np.cumsum(values))
        assert low[:-1] == pytest.approx(np.minimum(levels[1:], levels[:-1]))
        assert high[:-1] == pytest.approx(np.maximum(levels[1:], levels[:-1]))
        assert chart.flags()["v"].iloc[-1] == pytest.approx(levels[-1])
        assert chart.notes() == []


def test_pillars_that_say_otherwise_are_told_and_names_that_are_not_there_refused() -> None:
    wrong = STEPS.assign(v=[100.0, 40, -30, 120, -150, 20])
    said: dict[str, Any] = {"kind": "bridge", "category": "item", "value": "v", "opening": "Before"}
    chart = yz.chart(wrong, subtotals=["Half"], **said)
    assert "Half is 120, and the steps before it lead to 110." in chart.notes()
    assert "pillar-off" in {finding.code for finding in chart.check()}
    after = yz.chart(STEPS.drop(index=3), subtotals={"Trading": "Fuel"}, **said).flags()
    assert after["v"].tolist() == [100, 40, -30, 110, -150, 20]
    for keys, message in (
        ({"closing": "x", "panels": "item"}, "In panels the pillars are in the rows"),
        ({"subtotals": ["Halv"]}, "Did you mean Half"),
        ({"series": "item"}, 'kind = "bridge" has no series'),
        ({"limit": 3}, "there is no limit besides"),
    ):
        with pytest.raises(yz.YuzenError, match=message):
            yz.chart(STEPS, **{**said, **keys}).flags()
    bar = yz.chart(STEPS, **{**said, "kind": "bar"})
    assert bar.flags()["rule"].tolist() == [""] * 6
    assert any("For bridges there is opening" in note for note in bar.notes())


def test_a_share_is_drawn_as_a_part_of_all() -> None:
    rows = pd.DataFrame({"age": np.arange(0, 80.0)})
    chart = yz.chart(rows, kind="column", category="age", grain=20, value="share of count of rows")
    assert chart.flags()["share of count of rows"].tolist() == [0.25] * 4
    assert {"25%"} <= {text for text, _ in boxes_of(drawn(chart))}
    parts = yz.chart(PLAN, category="route", value="share of v", limit=1, rest="others").flags()
    assert parts["share of v"].tolist() == pytest.approx([54 / 118, 64 / 118])
    with pytest.raises(yz.YuzenError, match="A share is of what adds up"):
        yz.chart(PLAN, category="route", value="share of average of v").flags()


@pytest.mark.sampled(2)
@pytest.mark.parametrize("shape", SHAPES)
def test_a_picture_alone_tells_what_its_chart_does(shape: str, tmp_path: Path) -> None:
    chart = random_of(shape, 3)
    again = yz.load_picture(chart.save(tmp_path / "x.png"))
    pd.testing.assert_frame_equal(again.flags(), chart.flags())
    assert str(again.why()) == str(chart.why())
    assert again.image() == chart.image()


def test_demo_charts_show_every_kind() -> None:
    assert {chart.stages.brief.chart.kind for chart in CHARTS.values()} == set(KINDS)


def test_as_many_bins_as_a_chart_holds_are_drawn_and_one_more_is_refused() -> None:
    def counted(bins: int) -> int:
        rows = {"k": np.arange(bins) + 7.5}
        return len(
            yz.chart(rows, category="k", value="count of rows", kind="column", grain=1).flags()
        )

    assert counted(MOST_BINS) == MOST_BINS
    with pytest.raises(
        yz.YuzenError, match=f"would be {MOST_BINS + 1:,}, and a chart holds {MOST_BINS:,}"
    ):
        counted(MOST_BINS + 1)


@pytest.mark.parametrize("factor", [1e-3, 1.0, 1e6])
def test_areas_of_points_are_as_their_measure_in_whatever_unit(factor: float) -> None:
    sizes = np.array([0.9, 0.225, 0.4, 0.0, -1.0, np.nan]) * factor
    rows = {"n": list("abcdef"), "y": range(6), "x": range(6), "size": sizes}
    chart = yz.chart(
        rows,
        kind="scatter",
        category="n",
        value="y",
        across="x",
        point_size="size",
        order="as given",
    )
    (dots,) = [s for s in drawn(chart).shapes if isinstance(s, Dots) and s.role == "points"]
    radii = dict(zip(dots.marks.tolist(), np.asarray(dots.radii).tolist(), strict=True))
    assert radii[1] / radii[0] == pytest.approx(0.5, abs=0.02)
    assert radii[2] / radii[0] == pytest.approx(2 / 3, abs=0.02)
    assert radii[3] == radii[4] < radii[1]
    reference = yz.chart(
        {**rows, "size": sizes / factor * 7},
        kind="scatter",
        category="n",
        value="y",
        across="x",
        point_size="size",
        order="as given",
    )
    (same,) = [s for s in drawn(reference).shapes if isinstance(s, Dots) and s.role == "points"]
    assert np.asarray(same.radii) == pytest.approx(np.asarray(dots.radii))
