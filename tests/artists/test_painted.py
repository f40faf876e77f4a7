"""Charts made elsewhere: what rules change of Matplotlib's own artists, and what stays as it was."""

from __future__ import annotations

import gc
import pickle
import re
import weakref
from collections.abc import Callable
from io import BytesIO
from itertools import pairwise
from typing import Any

import matplotlib as mpl
import numpy as np
import pandas as pd
import pytest
from hypothesis import given
from hypothesis import strategies as st
from matplotlib.artist import Artist
from matplotlib.axes import Axes
from matplotlib.backends.backend_agg import FigureCanvasAgg
from matplotlib.collections import Collection, LineCollection, PathCollection
from matplotlib.colors import to_hex, to_rgba
from matplotlib.container import BarContainer
from matplotlib.figure import Figure
from matplotlib.lines import Line2D

import yuzen as yz
from yuzen.render.rectangles import RectangleArtist

ROUTES = ["Brinewick", "Cinderquay", "Dunmarrow", "Eelstone", "Farrowness"]
VALUES = [30.0, -10, 50, 20, -5]
DAYS = pd.date_range("2025-07-01", periods=12, freq="MS")
COURSE = np.array([3.0, 4, -1, -2, 5, 6, 3, -4, 2, 1, 0, 7])
WIDE = pd.DataFrame(
    {"2025": VALUES, "2026": [10.0, 40, -20, 20, 60]}, pd.Index(ROUTES, name="route")
)
LOSS, BEST = (
    yz.rule("negative", color="adverse"),
    yz.rule("highest", color="favorable", key="Best of all"),
)
RED, NAVY, QUIET, DARKER = "#C63E2F", "#0A4A80", "#C9CCD0", "#939599"


def hexed(color: Any) -> str:
    return to_hex(color).upper()


def axes_of() -> Any:
    return Figure(figsize=(6.4, 4.8), dpi=50).subplots()


def fills(bars: Any) -> list[str]:
    return [hexed(bar.get_facecolor()) for bar in bars]


def pixels(axes: Any) -> np.ndarray[Any, Any]:
    canvas = FigureCanvasAgg(axes.figure)  # no part of one
    canvas.draw()
    return np.asarray(canvas.buffer_rgba()).copy()


def both_ways() -> Any:
    axes = axes_of()
    axes.bar([1], [1])
    axes.barh([1], [1])
    return axes


def bar(axes: Any) -> None:
    axes.bar(ROUTES, VALUES, color="tab:green", edgecolor="black", label="surplus")
    axes.set_title("somebody's title")
    axes.legend()


def stacked(axes: Any) -> None:
    WIDE.plot.barh(ax=axes, stacked=True)


def grouped(axes: Any) -> None:
    WIDE.plot.bar(ax=axes)


def line(axes: Any) -> None:
    axes.plot(
        DAYS, COURSE, "o--", color="tab:purple", linewidth=3, zorder=5, alpha=0.8, label="surplus"
    )
    axes.plot(DAYS[:3], [1, 2, 3], label="other")
    axes.axhline(0, color="black")


def step(axes: Any) -> None:
    axes.step(range(12), COURSE, where="mid")


def area(axes: Any) -> None:
    axes.fill_between(DAYS, COURSE, alpha=0.5, label="surplus")


def stack(axes: Any) -> None:
    axes.stackplot(range(12), np.abs(COURSE), np.abs(COURSE[::-1]), labels=["one", "two"])


def scatter(axes: Any) -> None:
    axes.scatter(COURSE, COURSE**2, c=np.arange(12), s=40, edgecolors="black")


def errors(axes: Any) -> None:
    axes.errorbar(range(12), COURSE, yerr=1, fmt="s-", capsize=3)


DRAWN = [bar, stacked, grouped, line, step, area, stack, scatter, errors]


@pytest.mark.sampled(3)
@pytest.mark.parametrize("draw", DRAWN)
def test_what_has_been_painted_can_be_undone_to_the_last_pixel(draw: Callable[[Any], None]) -> None:
    axes = axes_of()
    draw(axes)
    before = pixels(axes)
    limits, title, ticks = (
        (axes.get_xlim(), axes.get_ylim()),
        axes.get_title(),
        list(axes.get_xticks()),
    )
    said: list[Any] = [
        LOSS,
        BEST,
        yz.rule("above 2", opacity=0.5),
        yz.reference("average"),
        yz.reference(low=1, high=2),
    ]
    painted = yz.paint(axes, *said, show=["key"])
    assert (axes.get_xlim(), axes.get_ylim()) == limits
    assert (axes.get_title(), list(axes.get_xticks())) == (title, ticks)
    after = pixels(axes)
    assert not np.array_equal(before, after)
    yz.paint(axes, *said, show=["key"])
    np.testing.assert_array_equal(pixels(axes), after)
    painted.undo()
    yz.paint(axes, yz.rule("lowest", color="notice")).undo()
    np.testing.assert_array_equal(pixels(axes), before)
    assert [type(artist) for artist in axes.get_children()].count(LineCollection) == (
        draw is errors
    )


@given(
    st.lists(st.floats(-100, 100, allow_nan=False), min_size=1, max_size=9),
    st.booleans(),
    st.integers(1, 3),
)
def test_bars_have_the_colors_that_pandas_finds(
    values: list[float], horizontal: bool, count: int
) -> None:
    axes = axes_of()
    names = [f"r{place}" for place in range(len(values))]
    bars = (axes.barh if horizontal else axes.bar)(names, values)
    yz.paint(axes, LOSS, yz.rule(f"top {count}", color="favorable"))
    series = pd.Series(values)
    ranks = series.rank(method="min", ascending=False)
    expected = np.select([series < 0, ranks <= count], [RED, NAVY], QUIET)
    assert fills(bars) == expected.tolist()
    assert (
        yz.colors(values, LOSS, yz.rule(f"top {count}", color="favorable"), names=names).tolist()
        == expected.tolist()
    )


@pytest.mark.parametrize("draw", [grouped, stacked])
def test_groups_and_stacks_of_pandas_keep_the_colors_that_tell_series_apart(
    draw: Callable[[Any], None],
) -> None:
    axes = axes_of()
    draw(axes)
    own = [fills(bars) for bars in axes.containers]
    painted = yz.paint(axes, LOSS, yz.rule("highest within route", color="favorable"))
    long = WIDE.reset_index().melt("route", var_name="series", value_name="value")
    best = long.groupby("route")["value"].transform("max") == long["value"]
    expected = long.assign(
        rule=np.select([long["value"] < 0, best], ["negative", "highest within route"], "")
    )
    told = painted.flags().merge(
        expected, on=["route", "series", "value"], suffixes=("", "_wanted")
    )
    assert len(told) == 10
    assert told["rule"].tolist() == told["rule_wanted"].tolist()
    for place, bars in enumerate(axes.containers):
        name = bars.get_label()
        ruled = told[told["series"] == name].set_index("route").loc[ROUTES]
        wanted = [
            color if rule else own[place][0]
            for rule, color in zip(ruled["rule"], ruled["color"], strict=True)
        ]
        assert fills(bars) == wanted
        assert set(ruled.loc[ruled["rule"] == "", "role"]) <= {"own"}


@given(st.lists(st.one_of(st.floats(-50, 50, allow_nan=False), st.just(float("nan"))), min_size=2, max_size=12),
       st.integers(-20, 20))  # fmt: skip
def test_lines_are_cut_where_they_cross_a_value(values: list[float], level: int) -> None:
    axes = axes_of()
    axes.plot(range(len(values)), values, linewidth=2.5, linestyle=":", zorder=4)
    yz.paint(axes, yz.rule(f"above {level}", color="adverse"))
    drawn: Any
    found: list[Any] = [made for made in axes.collections if isinstance(made, LineCollection)]
    [drawn] = found or [None]
    if drawn is None:
        assert not any(np.isfinite(values[i : i + 2]).all() for i in range(len(values) - 1))
        return
    assert (drawn.get_zorder(), set(drawn.get_linewidth())) == (4, {2.5})
    seen = {
        hexed(color): corners
        for color, corners in zip(
            drawn.get_colors(), [path.vertices for path in drawn.get_paths()], strict=True
        )
    }
    length = 0.0
    for color, corners in seen.items():
        inner = (corners[1:] + corners[:-1]) / 2
        heights = inner[~np.isnan(inner).any(axis=1), 1]
        assert (heights > level - 1e-9).all() if color == RED else (heights <= level + 1e-9).all()
        length += np.nansum(np.abs(np.diff(corners[:, 0])))
    joined = np.isfinite(values)[1:] & np.isfinite(values)[:-1]
    assert length == pytest.approx(joined.sum())


@pytest.mark.parametrize("scale", ["linear", "symlog"])
def test_a_dense_line_keeps_every_corner_and_is_drawn_by_those_that_are_seen(scale: str) -> None:
    course = np.cumsum(np.random.default_rng(5).normal(size=20_000))
    course[700:900] = np.nan
    pictures = []
    for simplified in (True, False):
        with mpl.rc_context({"path.simplify": simplified}):
            axes: Any = Figure(figsize=(12.8, 8), dpi=100).subplots()
            axes.plot(course)
            axes.set_yscale(scale)
            yz.paint(axes, LOSS, BEST)
            pictures.append(pixels(axes).astype(int))
            axes.figure.savefig(BytesIO(), format="svg")
            [pieces] = [made for made in axes.collections if isinstance(made, LineCollection)]
            # Each is there, and at each crossing one more, but for those that are missing.
            assert sum(map(len, pieces.get_paths())) > np.isfinite(course).sum()
    away = np.abs(pictures[0] - pictures[1]).max(axis=2)
    assert away.any()  # so that something was left out
    assert np.mean(away > 64) < 0.002


def test_a_line_becomes_one_collection_of_its_style_and_name() -> None:
    axes = axes_of()
    line(axes)
    own, other = axes.lines[:2]
    painted = yz.paint(axes, LOSS)
    pieces, markers, _ = axes.collections
    assert [*map(isinstance, axes.collections, (LineCollection, PathCollection, Artist))] == [
        True
    ] * 3
    assert (
        pieces.get_label(),
        pieces.get_zorder(),
        set(pieces.get_linewidth()),
        own.get_visible(),
    ) == (
        "surplus",
        5,
        {3},
        False,
    )
    assert {tuple(color) for color in pieces.get_colors()} == {
        to_rgba("tab:purple", 0.8),
        to_rgba(RED, 0.8),
    }
    assert [hexed(color) for color in markers.get_facecolor()] == [
        RED if v < 0 else hexed("tab:purple") for v in COURSE
    ]
    assert axes.get_legend_handles_labels()[1] == ["surplus", "other"]
    assert axes.lines[2].get_visible()  # which is no line of data
    again = yz.paint(axes, LOSS)
    assert list(axes.collections)[:2] == [pieces, markers]
    assert again.flags().equals(painted.flags())
    again.undo()
    assert (own.get_label(), own.get_visible(), other.get_visible(), len(axes.collections)) == (
        "surplus",
        True,
        True,
        0,
    )


@pytest.mark.parametrize(("where", "rise"), [("pre", 0.0), ("mid", 0.5), ("post", 1.0)])
def test_steps_have_the_color_of_their_mark_and_rise_where_they_did(
    where: Any, rise: float
) -> None:
    axes = axes_of()
    axes.step(range(12), COURSE, where=where)
    yz.paint(axes, LOSS)
    drawn: Any
    [drawn] = axes.collections
    for color, corners in zip(
        drawn.get_colors(), [path.vertices for path in drawn.get_paths()], strict=True
    ):
        pairs = corners[np.isfinite(corners).all(axis=1)].reshape(-1, 2, 2)
        level = pairs[pairs[:, 0, 1] == pairs[:, 1, 1]]
        assert (
            (np.sign(level[:, 0, 1] + 0.5) < 0).all()
            if hexed(color) == RED
            else (level[:, 0, 1] >= 0).all()
        )
        upright = pairs[pairs[:, 0, 1] != pairs[:, 1, 1]]
        assert set((upright[:, 0, 0] % 1).tolist()) <= {rise % 1}


@pytest.mark.parametrize("draw", [area, stack])
def test_areas_are_cut_as_lines_are_and_keep_their_strength(draw: Callable[[Any], None]) -> None:
    axes = axes_of()
    draw(axes)
    before = [made.get_facecolor()[0] for made in axes.collections]
    yz.paint(axes, yz.rule(part="above 2", color="adverse"))
    assert not any(made.get_visible() for made in axes.collections)
    colors = {tuple(patch.get_facecolor()) for patch in axes.patches}
    assert (*to_rgba(RED)[:3], before[0][3]) in colors
    for patch in axes.patches:
        if draw is area and hexed(patch.get_facecolor()) == RED:
            assert patch.get_path().vertices[:, 1].min() == pytest.approx(2)
    assert axes.get_legend_handles_labels()[1] == (["surplus"] if draw is area else ["one", "two"])


def test_points_have_colors_outlines_and_sizes() -> None:
    axes = axes_of()
    made = axes.scatter(COURSE, COURSE**2, s=40)
    axes.set(xlabel="surplus", ylabel="cost")
    rows = pd.DataFrame(
        {
            "surplus": COURSE,
            "cost": COURSE**2,
            "route": [f"r{i}" for i in range(12)],
            "age": range(12),
        }
    )
    painted = yz.paint(axes, yz.rule("surplus negative", color="adverse", size=12), yz.rule("age = 0", outline="ink"),
                       yz.reference(across="average of surplus"), data=rows)  # fmt: skip
    negative = COURSE < 0
    assert [hexed(color) for color in made.get_facecolor()] == np.where(
        negative, RED, QUIET
    ).tolist()
    assert made.get_sizes().tolist() == np.where(negative, 144.0, 40.0).tolist()
    assert hexed(made.get_edgecolor()[0]) == "#22272C"
    assert painted.names == rows["route"].tolist()
    assert "surplus −1 is negative" in str(painted.why("r2"))
    [level] = [made for made in axes.lines if isinstance(made, Line2D)]
    assert level.get_xdata() == [COURSE.mean()] * 2


@pytest.mark.parametrize("horizontal", [False, True])
def test_parts_outlines_and_patterns_lie_over_bars(horizontal: bool) -> None:
    axes = axes_of()
    bars = (axes.barh if horizontal else axes.bar)(ROUTES, VALUES)
    yz.paint(
        axes,
        yz.rule(part="above 25", color="adverse"),
        yz.rule("lowest", outline="ink", pattern="stripes"),
    )
    parts, hatched, outlined = (
        made for made in axes.collections if isinstance(made, RectangleArtist)
    )
    along = parts.corners[:, [0, 2]] if horizontal else parts.corners[:, [1, 3]]
    assert along.tolist() == [[25, 30], [25, 50]]
    assert (hatched.get_hatch(), len(outlined.corners)) == ("///", 1)
    sides = [
        (b.get_y(), b.get_height()) if horizontal else (b.get_x(), b.get_width()) for b in bars
    ]
    across = parts.corners[:, [1, 3]] if horizontal else parts.corners[:, [0, 2]]
    np.testing.assert_allclose(across, [[low, low + wide] for low, wide in (sides[0], sides[2])])


def test_bars_that_are_alike_have_all_that_setting_a_color_changes() -> None:
    for more in ({}, {"alpha": 0.5}, {"fill": False}, {"hatch": "//"}):
        axes, other = axes_of(), axes_of()
        style: Any = more
        painted, plain = axes.bar(ROUTES, VALUES, **style), other.bar(ROUTES, VALUES, **style)
        yz.paint(axes, LOSS)
        for one, value in zip(plain, VALUES, strict=True):
            one.set_facecolor((*to_rgba(RED if value < 0 else QUIET)[:3], one.get_facecolor()[3]))
        for one, wanted in zip(painted, plain, strict=True):
            same = {
                name: part
                for name, part in vars(one).items()
                if "color" in name or name == "_alpha"
            }
            for name, part in same.items():
                np.testing.assert_allclose(
                    np.ravel(part), np.ravel(vars(wanted)[name])
                ) if isinstance(part, tuple) else None


@pytest.mark.parametrize(
    ("draw", "names"),
    [
        (lambda axes: axes.bar([2023, 2024, 2025], [1, 2, 3]), ["2023", "2024", "2025"]),
        (lambda axes: axes.bar(DAYS[:3], [1, 2, 3], width=10), ["2025-07", "2025-08", "2025-09"]),
        (lambda axes: pd.Series([1, 2, 3], [2023, 2024, 2025]).plot.bar(ax=axes), ["2023", "2024", "2025"]),
        (lambda axes: pd.Series([1, 2, 3], list("abc")).plot.barh(ax=axes), ["a", "b", "c"]),
        (lambda axes: pd.Series([1, 2, 3], DAYS[:3]).plot(ax=axes), ["2025-07", "2025-08", "2025-09"]),
        (lambda axes: pd.Series([1, 2, 3], DAYS[:3].to_period("M")).plot(ax=axes), ["2025-07", "2025-08", "2025-09"]),
        (lambda axes: axes.plot(["a", "b", "c"], [1, 2, 3]), ["a", "b", "c"]),
        (lambda axes: (axes.bar([0, 1, 2], [1, 2, 3]), axes.set_xticks([0, 1, 2], ["x", "y", "z"])), ["x", "y", "z"]),
        (lambda axes: (axes.bar([0, 1, 2], [1, 2, 3]), axes.set_xticks([0, 1, 2])), ["0", "1", "2"]),
        (lambda axes: axes.hist([1, 1, 2, 5], bins=[0, 2, 4, 6]), ["1", "3", "5"]),
    ],
)  # fmt: skip
def test_categories_are_read_off_the_axes(draw: Callable[[Any], Any], names: list[str]) -> None:
    axes = axes_of()
    draw(axes)
    painted = yz.paint(axes, BEST)
    assert painted.names == names
    assert np.flatnonzero(painted.winners() == 0).tolist() == [int(np.argmax(painted.numbers))]


LONG = pd.DataFrame(
    {
        "route": ROUTES * 2,
        "waters": list("xxyyy") * 2,
        "cost": range(10),
        "month": [1] * 5 + [2] * 5,
    }
)


def test_further_columns_are_joined_by_the_category_one_row_or_several() -> None:
    tables: list[Any] = [LONG, LONG.groupby(["route", "waters"], as_index=False)["cost"].sum(), LONG.to_dict("list"),
                         LONG.sample(frac=1, random_state=2)]  # fmt: skip
    for rows in tables:
        axes = axes_of()
        bars = axes.bar(ROUTES, VALUES)
        painted = yz.paint(
            axes,
            yz.rule("highest within waters", color="favorable"),
            yz.rule("cost above 10", color="notice"),
            data=rows,
        )
        cost = LONG.groupby("route")["cost"].sum().loc[ROUTES]
        wanted = np.where(np.isin(range(5), [0, 2]), NAVY, np.where(cost > 10, "#D79A00", QUIET))
        assert fills(bars) == wanted.tolist()
        assert painted.flags()["cost"].tolist() == cost.tolist()
        assert "the highest of 3 marks within waters" in str(painted.why("Dunmarrow"))
    months = axes_of()
    LONG.pivot_table("cost", "route", "month").plot.bar(ax=months)
    own = yz.paint(
        months, yz.rule("late above 10", color="adverse"), data=LONG.assign(late=range(5, 15))
    )
    assert own.flags().sort_values("late")["late"].tolist() == list(range(5, 15))


@pytest.mark.parametrize(
    ("rows", "rules", "message"),
    [
        (LONG.replace({"route": {"Eelstone": "Eelston"}}), [LOSS], "data has no row of Eelstone, which the chart shows. Did you mean Eelston?"),
        (LONG.assign(route="z"), [LOSS], "No column of data holds what the chart shows: Brinewick, Cinderquay"),
        (LONG.assign(waters=list("xyxyxyxyxy")), [yz.rule("highest within waters", color="adverse")], "waters of data differs inside one mark: Brinewick has x and y"),
        (LONG, [yz.rule("costs above 10", color="adverse")], "I know no measure or column 'costs'. Did you mean cost?"),
        (None, [yz.rule("highest", badge="up")], "paint changes bands, color, opacity, outline, part, pattern, shade of a mark, and this rule sets badge."),
        (None, [yz.rule("highest", on="label", color="adverse")], "paint does not act on 'label' of bars; it acts on mark."),
        (None, [yz.reference(across="average")], "Only points have two measures"),
        (None, [yz.reference("averag")], "averag"),
        (None, ["top 3"], "A str is no rule."),
    ],
)  # fmt: skip
def test_what_does_not_fit_is_told_and_changes_nothing(
    rows: Any, rules: list[Any], message: str
) -> None:
    axes = axes_of()
    bars = axes.bar(ROUTES, VALUES)
    before = fills(bars)
    with pytest.raises(yz.YuzenError) as error:
        yz.paint(axes, *rules, data=rows)
    assert message in str(error.value)
    assert (fills(bars), len(axes.lines), len(axes.collections)) == (before, 0, 0)


@pytest.mark.parametrize(
    ("axes", "message"),
    [
        (Figure(), "A Figure is no Axes."),
        (axes_of(), "The axes hold no bars, points, areas or lines."),
        (axes_of().bar(["a", "a"], [1, 2])[0].axes, "Two marks stand at a"),
        (both_ways(), "horizontal and vertical bars"),
    ],
)  # fmt: skip
def test_axes_without_marks_of_one_kind_are_refused(axes: Any, message: str) -> None:
    with pytest.raises(yz.YuzenError, match=message):
        yz.paint(axes, LOSS)


def test_the_legend_tells_of_rules_that_fired_after_what_it_told() -> None:
    axes = axes_of()
    bar(axes)
    assert axes.get_legend() is not None
    own = axes.get_legend()
    painted = yz.paint(axes, LOSS, BEST, yz.rule("above 100", color="notice"), show=["key"])
    legend = axes.get_legend()
    assert legend is not None
    assert [text.get_text() for text in legend.get_texts()] == [
        "surplus",
        "negative",
        "Best of all",
    ]
    assert [hexed(handle.get_facecolor()) for handle in legend.legend_handles[1:]] == [RED, NAVY]
    yz.paint(axes, LOSS)
    assert axes.get_legend() is own
    painted.undo()
    assert axes.get_legend() is own


def test_references_lie_where_their_numbers_are_and_what_is_outside_is_told() -> None:
    axes = axes_of()
    axes.bar(ROUTES, VALUES)
    painted = yz.paint(axes, LOSS, yz.reference("average", label="mean {average:.0f}"), yz.reference(2000),
                       yz.reference(after="position 2"), yz.reference("average", within=["category"], label="own"))  # fmt: skip
    levels = [made for made in axes.lines if made.get_xdata() == [0, 1]]
    assert [made.get_ydata()[0] for made in levels] == [np.mean(VALUES), 2000]
    [divider] = [made for made in axes.lines if made not in levels]
    assert divider.get_xdata() == [1.5, 1.5]
    [ticks] = [made for made in axes.collections if isinstance(made, LineCollection)]
    assert [segment[0, 1] for segment in ticks.get_segments()] == VALUES
    assert axes.texts[0].get_text() == "mean 17"
    assert painted.notes() == [
        "The reference 2,000 lies outside the limits of the axes.",
        "The label of reference 4 is not shown, as paint writes none at ticks.",
    ]


def places(artist: Artist) -> str:
    """Where the points of a collection are, as a text."""
    return (
        str(np.asarray(artist.get_offsets()).tolist()) if isinstance(artist, PathCollection) else ""
    )


@pytest.mark.sampled(3)
@pytest.mark.parametrize("kind", ["line", "area", "points"])
def test_what_lies_on_top_does_not_depend_on_what_was_painted_before(kind: str) -> None:
    def painted(*rules: tuple[str, ...]) -> list[tuple[str, float]]:
        axes = Figure().subplots()
        for name, values in (
            ("first", [3, -2, 4, -1]),
            ("second", [2, 3, -3, 1]),
            ("third", [1, -1, 2, -3]),
        ):
            if kind == "line":
                axes.plot(range(4), values, "o-", label=name)
            elif kind == "area":
                axes.fill_between(range(4), values, label=name)
            else:
                axes.scatter(range(4), values, label=name)
        for conditions in rules:
            yz.paint(axes, *(yz.rule(condition, color="adverse") for condition in conditions))
        shown = [artist for artist in axes.get_children() if artist.get_visible()]
        return [
            (
                re.sub(r"_child\d+", "", str(artist.get_label())) + places(artist),
                artist.get_zorder(),
            )
            for artist in shown
        ]

    once = painted(("negative",))
    for before in (
        ['series = "third" and negative'],
        ['series = "first" and positive'],
        ["highest"],
        ["above 99"],
    ):
        assert painted(tuple(before), ("negative",)) == once
        assert painted(("negative",), tuple(before), ("negative",)) == once


def test_painting_again_with_new_numbers_follows_them_and_undo_goes_back_to_the_start() -> None:
    axes = axes_of()
    bars = axes.bar(ROUTES, VALUES)
    before = fills(bars)
    yz.paint(axes, LOSS)
    for patch, value in zip(bars, [-1, 2, 3, 4, 5], strict=True):
        patch.set_height(value)
    painted = yz.paint(axes, LOSS)
    assert fills(bars) == [RED, *[QUIET] * 4]
    axes.bar(["Gullhaven"], [-3])
    assert yz.paint(axes, LOSS).flags()["rule"].tolist() == ["negative", "", "", "", "", "negative"]
    assert isinstance(axes.containers[1], BarContainer)
    painted.undo()
    assert fills(bars) == before


def test_axes_that_were_cleared_are_painted_as_new_ones() -> None:
    axes = axes_of()
    bar(axes)
    yz.paint(axes, LOSS, yz.reference("average"), show=["key"])
    axes.clear()
    bars = axes.bar(ROUTES, VALUES)
    before = fills(bars)
    painted = yz.paint(axes, LOSS)
    assert (fills(bars)[1], axes.get_legend(), len(axes.lines)) == (RED, None, 0)
    painted.undo()
    assert fills(bars) == before


def test_painted_axes_live_no_longer_than_others_and_go_into_a_pickle_of_their_figure() -> None:
    axes = axes_of()
    line(axes)
    yz.paint(axes, LOSS, yz.reference("average"))
    again = pickle.loads(pickle.dumps(axes.figure)).axes[0]  # noqa: S301 - our own
    pieces = len(again.collections)
    assert yz.paint(again, LOSS).flags()["rule"].tolist().count("negative") == 3
    assert len(again.collections) == pieces
    left = weakref.ref(axes)
    del axes
    gc.collect()
    assert left() is None


def test_nothing_of_matplotlib_is_changed_besides() -> None:
    before = dict(mpl.rcParams)
    axes = axes_of()
    bar(axes)
    yz.paint(axes, LOSS, show=["key"])
    assert axes.figure is not None
    axes.figure.savefig(BytesIO())
    assert dict(mpl.rcParams) == before


SCALES: dict[str, dict[str, Any]] = {
    "linear": {},
    "log": {},
    "symlog": {"linthresh": 10},
    "asinh": {"linear_width": 5},
    "function": {"functions": (np.sqrt, np.square)},
}


@pytest.mark.sampled(3)
@pytest.mark.parametrize("kind", ["line", "area"])
@pytest.mark.parametrize("across", SCALES)
@pytest.mark.parametrize("along", SCALES)
def test_lines_and_areas_are_cut_where_they_are_drawn(along: str, across: str, kind: str) -> None:
    """On every scale: what is laid over a line lies on it, and is cut where it meets the level."""
    places, heights = np.array([1, 2, 5, 10, 30, 100.0]), np.array([3, 200, 20, 5000, 50, 900.0])
    axes = Figure(figsize=(8, 5)).subplots()
    axes.set_xscale(across, **SCALES[across])
    axes.set_yscale(along, **SCALES[along])
    if kind == "line":
        axes.plot(places, heights)
        rule = yz.rule("above 100", color="#010203")
    else:
        axes.fill_between(places, heights)
        rule = yz.rule("always", part="above 100", color="#010203")
    axes.set_xlim(1, 100)
    axes.set_ylim(1, 6000)
    yz.paint(axes, rule)
    to_pixels = axes.transData.transform
    colored = [one for one in laid_over(axes) if one[1] == (1, 2, 3)]
    assert colored
    corners = to_pixels(np.concatenate([vertices for vertices, _ in colored]))
    ends = to_pixels(np.column_stack([places, heights]))
    level = to_pixels([[1, 100]])[0, 1]
    off_line = np.min([distances(corners, a, b) for a, b in pairwise(ends)], axis=0)
    off_level = np.abs(corners[:, 1] - level)
    assert np.minimum(off_line, off_level if kind == "area" else np.inf).max() < 0.01
    # All that is coloured is above the level, and begins on it.
    assert corners[:, 1].min() == pytest.approx(level, abs=0.01)
    assert corners[:, 1].max() == pytest.approx(ends[:, 1].max(), abs=0.01)


def laid_over(axes: Axes) -> list[tuple[np.ndarray[Any, Any], tuple[int, ...]]]:
    """The corners of each artist that was laid over others, and its colour."""
    laid = []
    artists: list[Any] = [*axes.collections, *axes.patches]
    for artist in artists:
        colors = (
            artist.get_edgecolor() if isinstance(artist, LineCollection) else artist.get_facecolor()
        )
        paths = artist.get_paths() if isinstance(artist, Collection) else [artist.get_path()]
        for path, color in zip(paths, np.atleast_2d(colors), strict=False):
            vertices = np.asarray(path.vertices)
            vertices = vertices[np.isfinite(vertices).all(axis=1)]
            laid.append((vertices, tuple(np.round(color[:3] * 255).astype(int).tolist())))
    return laid


def distances(points: Any, begin: Any, end: Any) -> Any:
    """How far points, shape (p, 2), are from a stretch."""
    way = end - begin
    t = np.clip((points - begin) @ way / (way @ way), 0, 1)
    return np.hypot(*(begin + t[:, None] * way - points).T)
