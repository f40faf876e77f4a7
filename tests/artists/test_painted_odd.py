"""Odd charts made elsewhere: each is painted and undone without a warning, or refused with a reason."""

from __future__ import annotations

import datetime as dt
from collections.abc import Callable
from decimal import Decimal
from io import BytesIO
from typing import Any

import numpy as np
import pandas as pd
import pytest
from hypothesis import given
from hypothesis import strategies as st
from matplotlib.figure import Figure
from matplotlib.text import Annotation

import yuzen as yz
from yuzen.artists.axes_content import drawn_on
from yuzen.artists.label_room import free_place
from yuzen.color.themes import LINEN
from yuzen.draw.text.measurer import TextMeasurer

LOSS, BEST = yz.rule("negative", color="adverse"), yz.rule("highest", color="favorable")
HOURS = pd.date_range("2024-01-01", periods=30, freq="h")
MONTHS = pd.to_datetime(["2024-01-01", "2024-02-01"])


def log(axes: Any) -> None:
    axes.bar(list("abc"), [1, 100, 1000])
    axes.set_yscale("log")


def upside_down(axes: Any) -> None:
    axes.barh(list("abc"), [1, -2, 3])
    axes.invert_yaxis()


def twin(axes: Any) -> Any:
    axes.bar(list("abc"), [9, 8, 7])
    other = axes.twinx()
    other.plot(list("abc"), [-1, 2, 3])
    return other


def named(axes: Any) -> None:
    axes.bar(list("ab"), [1, -2], label="x")
    axes.bar(list("ab"), [3, 4], bottom=[1, -2], label="x")


def numbered(axes: Any) -> None:
    axes.bar_label(axes.bar(list("abc"), [1, -2, 3]))


@pytest.mark.sampled(3)
@pytest.mark.parametrize(
    ("draw", "rules"),
    [
        (lambda a: a.bar(list("abc"), [-2, np.nan, 1]), ["negative", "", "highest"]),
        (lambda a: a.plot([np.nan, np.nan]), ["", ""]),
        (lambda a: a.plot([3], [-1], "o"), ["negative"]),
        (lambda a: a.plot(np.ma.masked_less(np.array([1, -2, 3.0]), 0)), ["", "", "highest"]),
        (lambda a: a.scatter([1, 2, 3], np.ma.masked_less(np.array([1, -2, 3.0]), 0)), ["", "", "highest"]),
        (lambda a: a.bar(list("ab"), [Decimal(1), Decimal(-2)]), ["highest", "negative"]),
        (lambda a: a.bar([dt.date(2024, 1, 1), dt.date(2024, 2, 1)], [1, -1]), ["highest", "negative"]),
        (lambda a: a.plot(MONTHS.tz_localize("Europe/Berlin"), [1, -1]), ["highest", "negative"]),
        (lambda a: a.plot([3, 1, 2], [1, -1, 2]), ["", "negative", "highest"]),
        (upside_down, ["", "negative", "highest"]),
        (log, ["", "", "highest"]),
        (twin, ["negative", "", "highest"]),
        (lambda a: a.stem([1, 2, 3], [1, -2, 3]), ["", "negative", "highest", "", ""]),
        (lambda a: a.fill_between([1, 2, 3], [1, -2, 3], [0, -3, 1]), ["", "", "highest"]),
        (lambda a: a.fill_between(range(6), [1, -2, 3, 1, 2, -3], where=[True, True, False, True, True, True]),
         ["", "negative", "", "highest", "negative"]),
        (lambda a: a.fill_between([1, 2, 3], [6, 2, 9], 5), ["", "negative", "highest"]),
        (lambda a: a.fill_between([1, 2, 3], [-6, -2, -9]), ["negative", "negative", "negative"]),
        (lambda a: a.stackplot([1, 2, 3], [1, 2, 3], [3, 1, 1]), ["", "", "highest", "highest", "", ""]),
        (lambda a: pd.DataFrame({"x": [1, 2, 3], "y": [3, 1, 1]}).plot.area(ax=a), ["", "", "highest", "highest", "", ""]),
        (lambda a: a.bar(pd.Categorical(["a", "b"]), [1, -2]), ["highest", "negative"]),
        (named, ["", "negative", "", "highest"]),
        (numbered, ["", "negative", "highest"]),
        (lambda a: a.plot([1, np.inf, -3]), ["", "highest", "negative"]),
        (lambda a: a.bar(list("ab"), [1e300, -1e300]), ["highest", "negative"]),
        (lambda a: (a.plot([1, 2]), a.set_ylabel("$x^2$ in `crowns`")), ["", "highest"]),
    ],
)  # fmt: skip
def test_odd_charts_are_judged_by_what_they_show(
    draw: Callable[[Any], Any], rules: list[str]
) -> None:
    figure = Figure()
    axes = figure.subplots()
    if draw is twin:
        axes = twin(axes)
    else:
        draw(axes)
    painted = yz.paint(axes, LOSS, BEST, show=["key"], theme="press")
    assert painted.flags()["rule"].tolist() == rules
    figure.savefig(BytesIO())
    painted.undo()
    figure.savefig(BytesIO())


@pytest.mark.parametrize(
    ("draw", "message"),
    [
        (lambda a: a.bar([], []), "The axes hold no bars"),
        (lambda a: a.plot([], []), "The axes hold no bars"),
        (lambda a: a.pie([1, 2, 3]), "The axes hold no bars"),
        (lambda a: a.imshow(np.eye(3)), "The axes hold no bars"),
        (lambda a: a.hist([1, 2, 2, 3], histtype="step"), "The axes hold outlines of steps"),
        (lambda a: a.plot([1, 1, 2], [1, -1, 2]), "Two marks stand at 1.0"),
        (
            lambda a: a.fill_between([1, 2, 3], [1, -2, 3], step="mid"),
            "One area is filled in steps",
        ),
        (lambda a: a.fill_betweenx([1, 2, 3], [1, -2, 3]), "One area is filled in steps"),
    ],
)
def test_what_cannot_be_read_is_told(draw: Callable[[Any], Any], message: str) -> None:
    axes = Figure().subplots()
    draw(axes)
    with pytest.raises(yz.YuzenError, match=message):
        yz.paint(axes, LOSS)


@pytest.mark.parametrize(
    ("draw", "rule", "flagged"),
    [
        (lambda a: a.plot(HOURS, np.sin(range(30))), yz.rule("rises", color="adverse"), np.diff(np.sin(range(30)), prepend=9) > 0),
        (lambda a: a.plot(pd.date_range("2023-11-01", periods=5, freq="MS"), [1, 2, 3, 2, 1]),
         yz.rule("highest within year", color="adverse"), [False, True, True, False, False]),
        (lambda a: a.plot([1, -2, 3, 5, 1]), yz.rule("value above moving average over 3", color="adverse"), [False, False, True, True, False]),
        (lambda a: (a.plot([1, -2, 3], label="a"), a.plot([4, 2, 3], label="b")),
         yz.rule('series = "b" and lowest within series', color="adverse"), [False, False, False, False, True, False]),
        (lambda a: a.bar(list("abc"), [1, -2, 3]), yz.rule(shade={"of": "value", "colors": ["adverse", "paper"]}), [True] * 3),
    ],
)  # fmt: skip
def test_rules_speak_of_what_is_on_the_axes(
    draw: Callable[[Any], Any], rule: Any, flagged: Any
) -> None:
    axes = Figure().subplots()
    draw(axes)
    painted = yz.paint(axes, rule, show=["key"])
    assert (painted.winners() == 0).tolist() == list(flagged)
    assert axes.get_legend() is not None


@pytest.mark.parametrize(
    ("draw", "data"),
    [
        (
            lambda a: a.bar(list("ab"), [1, 2]),
            pd.DataFrame({"w": [1, 9]}, index=pd.Index(list("ab"), name="k")),
        ),
        (lambda a: a.bar(list("ab"), [1, 2]), pd.DataFrame({"w": [1, 9]}, index=list("ab"))),
        (lambda a: a.bar([2023, 2024], [1, 2]), {"w": [1, 9], "year": [2023, 2024]}),
        (lambda a: a.plot(MONTHS, [1, 2]), {"month": ["2024-01-01", "2024-02-01"], "w": [1, 9]}),
        (
            lambda a: a.plot(MONTHS, [1, 2]),
            {"w": [9, 1, 3], "month": MONTHS[::-1].append(MONTHS[:1] + pd.Timedelta(days=400))},
        ),
    ],
)
def test_rows_are_found_by_names_numbers_and_dates(draw: Callable[[Any], Any], data: Any) -> None:
    axes = Figure().subplots()
    draw(axes)
    painted = yz.paint(axes, yz.rule("w above 5", color="adverse"), data=data)
    assert painted.winners().tolist() == [-1, 0]
    extra = ["1 of 3 in data have no mark in the chart."] if len(data["w"]) == 3 else []
    assert painted.notes() == extra


@given(
    st.lists(st.floats(-100, 100, allow_nan=False), min_size=2, max_size=12),
    st.integers(3, 30),
    st.booleans(),
)
def test_the_text_of_a_reference_stands_where_no_mark_does(
    values: list[float], letters: int, bars: bool
) -> None:
    axes = Figure(figsize=(8, 5), dpi=80).subplots()
    (axes.bar if bars else axes.plot)(range(len(values)), values)
    axes.set_ylim(-120, 120)
    axes.figure.canvas.draw()
    level, text = float(np.mean(values)), "n" * letters
    end, above = free_place(axes, drawn_on(axes, ()), LINEN, text, level)
    yz.paint(axes, yz.reference(round(level, 3), label=text))
    [label] = [made for made in axes.texts if isinstance(made, Annotation)]
    box = label.get_window_extent()
    assert box.width == pytest.approx(TextMeasurer(LINEN).width(text, "reference") * 0.8, abs=12)
    if (end, above) == (1.0, True):
        return  # the last resort too, when no place is free
    inner = axes.transData.inverted().transform(
        [[box.x0 + 3, box.y0 + 3], [box.x1 - 3, box.y1 - 3]]
    )
    (left, low), (right, high) = inner
    for place in np.linspace(left, right, 40):
        if bars:
            near = round(place)
            inside = 0 <= near < len(values) and abs(place - near) < 0.4
            covered = inside and min(0, values[near]) < high and max(0, values[near]) > low
        else:
            covered = bool(low < np.interp(place, range(len(values)), values) < high)
        assert not (covered and 0 <= place <= len(values) - 1)


def test_points_are_joined_with_rows_that_stand_where_they_do() -> None:
    rows = pd.DataFrame(
        {"day": pd.date_range("2025-07-01", periods=3), "wave": [1.0, 3, 2], "pier": list("abc")}
    )
    axes = Figure().subplots()
    axes.scatter(rows["day"], rows["wave"])
    rough = yz.rule("wave highest", color="adverse")
    assert yz.paint(axes, rough, data=rows).names == ["a", "b", "c"]
    for other, message in ((rows.iloc[::-1], "how far up"), (rows.drop(columns="wave"), "how far up"), (rows.assign(day=rows["day"][::-1].to_numpy()), "how far across"), (rows[:2], "data has 2 rows, and the axes have 3 points")):  # fmt: skip
        with pytest.raises(yz.YuzenError, match=message):
            yz.paint(axes, rough, data=other)


@pytest.mark.parametrize("first", ["line", "band"])
def test_a_band_around_a_line_is_not_what_is_judged(first: str) -> None:
    places, values = np.arange(5.0), np.array([3, 20, 5, 50, 9.0])
    axes = Figure().subplots()
    for what in ("line", "band") if first == "line" else ("band", "line"):
        if what == "line":
            axes.plot(places, values)
        else:
            axes.fill_between(places, values - places, values + places, alpha=0.2)
    painted = yz.paint(axes, yz.rule("above 15", color="adverse"))
    assert painted.flags()["rule"].tolist() == ["", "above 15", "", "above 15", ""]


@pytest.mark.parametrize("kind", ["step", "stepfilled"])
def test_outlines_of_steps_are_refused_in_words(kind: Any) -> None:
    axes = Figure().subplots()
    axes.hist([1, 2, 2, 3], histtype=kind)
    with pytest.raises(yz.YuzenError, match="outlines of steps"):
        yz.paint(axes, yz.rule("highest", color="adverse"))
