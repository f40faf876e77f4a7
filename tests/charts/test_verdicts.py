"""Verdicts without a picture: bare values and rows, as colours, arrays, flags and reasons."""

from __future__ import annotations

import subprocess
import sys
from typing import Any

import numpy as np
import pandas as pd
import polars as pl
import pytest
from hypothesis import given
from hypothesis import strategies as st

import yuzen as yz
from yuzen.color.named import contrast, rgb_of
from yuzen.color.themes import THEMES

NUMBERS = st.one_of(
    st.integers(-50, 50), st.floats(-1e9, 1e9), st.just(float("nan")), st.just(float("inf"))
)
LOSS, BEST = yz.rule("negative", color="adverse"), yz.rule("top 2", color="favorable", opacity=0.25)
anything: Any = yz  # as a script calls that no checker has seen
RED, NAVY, QUIET = "#C63E2F", "#0A4A80", "#C9CCD0"


@given(st.lists(NUMBERS, min_size=1, max_size=30), st.data())
def test_colors_are_those_of_pandas_in_any_container(
    values: list[float], data: st.DataObject
) -> None:
    groups = data.draw(st.lists(st.sampled_from("xyz"), min_size=len(values), max_size=len(values)))
    series = pd.Series(values, dtype=float)
    for within in (None, groups):
        ranked = series if within is None else series.groupby(groups)
        best = ranked.rank(method="min", ascending=False) <= 2
        expected = np.select([series < 0, best], [RED, NAVY], QUIET)
        for given_values in (
            values,
            np.array(values, dtype=float),
            series,
            pl.Series(values, dtype=pl.Float64),
        ):
            assert yz.colors(given_values, LOSS, BEST, within=within).tolist() == expected.tolist()
        rgba = yz.colors(values, LOSS, BEST, within=within, as_rgba=True)
        np.testing.assert_allclose(rgba[:, :3], [rgb_of(color) for color in expected])
        assert rgba[:, 3].tolist() == np.where(best, 0.25, 1.0).tolist()


@given(st.lists(st.floats(-1e6, 1e6), min_size=1, max_size=20))
def test_shades_are_those_of_a_chart(values: list[float]) -> None:
    shade = yz.rule(shade={"of": "v", "colors": ["adverse", "paper", "favorable"], "center": 0})
    rows = {"k": [f"r{place}" for place in range(len(values))], "v": values}
    chart = yz.chart(rows, category="k", value="v", order="as given").rule(shade)
    assert yz.colors(pd.Series(values, name="v"), shade).tolist() == chart.flags()["color"].tolist()


def test_further_columns_names_and_themes_are_spoken_of() -> None:
    rows = pd.DataFrame(
        {
            "route": list("abcd"),
            "waters": list("xxyy"),
            "surplus": [3, -1, 2, 9],
            "cost": [1, 5, 5, 1],
        }
    )
    said = (
        yz.rule("surplus highest within waters", color="adverse"),
        yz.rule('route = "b"', color="notice"),
    )
    tables: list[Any] = [rows, rows.to_dict("list"), pl.from_pandas(rows)]
    for table in tables:
        told = yz.colors(
            rows["surplus"],
            *said,
            yz.rule("cost = 5", color="ink"),
            data=table,
            names="route",
            theme="dusk",
        )
        roles = THEMES["dusk"].roles
        assert told.tolist() == [roles["adverse"], roles["notice"], roles["ink"], roles["adverse"]]
    months = pd.to_datetime(["2025-03-01", "2025-01-01", "2025-02-01"])
    rising = yz.rule("rises", color="favorable")
    assert yz.colors([5, 3, 4], rising, names=months).tolist() == [NAVY, QUIET, NAVY]
    assert yz.colors([5, 3, 4], rising).tolist() == [QUIET, QUIET, NAVY]
    rows = pd.DataFrame({"g": list("aabb"), "v": [1.0, 5, 2, 9], "w": [2.0, 3, 4, 1]})
    dear = yz.rule("v / w above overall of v / overall of w", color="adverse")
    for within in (None, "g"):
        groups = rows if within is None else rows.groupby(within)
        sums = groups[["v", "w"]].transform("sum") if within else rows[["v", "w"]].sum()
        above = rows["v"] / rows["w"] > sums["v"] / sums["w"]
        told = yz.colors(rows["v"], dear, data=rows, within=within)
        assert (told == RED).tolist() == above.tolist()
    assert yz.colors([], LOSS).tolist() == yz.ink([]).tolist() == []
    dear = yz.rule("cost above 1", color="adverse")
    assert yz.colors([1, 2], dear, data=iter([{"cost": 1}, {"cost": 5}])).tolist() == [QUIET, RED]


def test_columns_that_cannot_be_read_are_in_nobodys_way() -> None:
    rows = pd.DataFrame({"cost": [1, 9], "odd": [[1], [2]]})
    assert yz.colors([1, 2], yz.rule("cost above 5", color="adverse"), data=rows).tolist() == [
        QUIET,
        RED,
    ]


def test_rows_are_those_of_the_index_in_whatever_order_the_values_stand() -> None:
    rows = pd.DataFrame(
        {"route": list("abcd"), "v": [4, 1, 3, 2], "cost": [1, 9, 1, 9]}, index=[7, 3, 5, 9]
    )
    dear = yz.rule("cost above 5", color="adverse")
    for values in (
        rows["v"],
        rows["v"].sort_values(),
        rows["v"][rows["v"] > 1],
        rows["v"].rename("w"),
    ):
        told = yz.colors(values, dear, data=rows)
        assert told.tolist() == np.where(rows.loc[values.index, "cost"] > 5, RED, QUIET).tolist()
    with pytest.raises(yz.YuzenError, match="another index than data"):
        yz.colors(rows["v"].reset_index(drop=True), dear, data=rows)
    assert yz.colors(rows["v"].to_numpy(), dear, data=rows).tolist() == [QUIET, RED, QUIET, RED]


@pytest.mark.parametrize(
    ("call", "message"),
    [
        (lambda: yz.colors([1, 2], LOSS, data={"a": [1]}), "There are 2 values, and 1 of data"),
        (lambda: yz.colors([1, 2], LOSS, names=["a"]), "There are 2 values, and 1 of name"),
        (
            lambda: yz.colors([1, 2], LOSS, names="route"),
            "There is no column 'route' in data for category.",
        ),
        (lambda: yz.colors(["a"], LOSS), "value must hold numbers"),
        (lambda: anything.colors([1], "top 3"), "A str is no rule. Make one"),
        (lambda: yz.colors([1], yz.rule("value2 above 1", color="ink")), "Did you mean value?"),
        (lambda: yz.colors([1], LOSS, theme="linnen"), "Did you mean linen?"),
        (
            lambda: yz.colors([1], yz.rule("positive", badge="up")),
            "colors gives color of marks, and this rule changes badge on mark.",
        ),
        (
            lambda: yz.colors([1], yz.rule("positive", on="label", color="ink")),
            "this rule changes color on label.",
        ),
        (
            lambda: yz.colors([1], yz.rule("positive", opacity=0.5)),
            "this rule changes opacity on mark.",
        ),
        (lambda: yz.ink([3.0, 4.0]), "are no fills"),
        (lambda: yz.ink([[255, 0, 0]]), "Divide bytes by 255"),
        (lambda: yz.ink(["navi"]), "Did you mean navy?"),
        (
            lambda: anything.rule("top 3", colour="ink"),
            "I know no key 'colour' in rule 1. Did you mean color?",
        ),
        (lambda: yz.rule(color="ink"), 'when is missing; say "always"'),
        (lambda: yz.reference(label="x"), "a reference has at"),
        (lambda: yz.judge({"a": [1]}, category="b", value="a"), "There is no column 'b'"),
    ],
)
def test_what_does_not_fit_is_told(call: Any, message: str) -> None:
    with pytest.raises(yz.YuzenError) as error:
        call()
    assert message in str(error.value)


@given(
    st.lists(st.tuples(*[st.integers(0, 255)] * 3), min_size=1, max_size=9),
    st.sampled_from(sorted(THEMES)),
)
def test_text_can_be_read_on_every_fill(fills: list[tuple[int, int, int]], theme: str) -> None:
    words = [f"#{r:02X}{g:02X}{b:02X}" for r, g, b in fills]
    inks = yz.ink(words, theme=theme)
    assert all(contrast(ink, fill) >= 4.5 for ink, fill in zip(inks.tolist(), words, strict=True))
    opaque = np.column_stack([np.array(fills) / 255, np.ones(len(fills))])
    assert (
        yz.ink(opaque, theme=theme).tolist()
        == inks.tolist()
        == yz.ink(opaque[:, :3], theme=theme).tolist()
    )


def test_an_outcome_is_what_a_chart_of_the_same_rows_says(routes: pd.DataFrame) -> None:
    rules = [
        yz.rule("passengers top 3", color="favorable", name="busiest"),
        yz.rule("lowest", outline="ink"),
    ]
    outcome = yz.judge(routes, *rules, category="route", value="passengers")
    chart = (
        yz.chart(routes, category="route", value="passengers", order="as given")
        .rule(rules[0])
        .rule(rules[1])
    )
    pd.testing.assert_frame_equal(outcome.flags(), chart.flags())
    assert str(outcome.why()) == str(chart.why())
    sums = routes.groupby("route", sort=False)["passengers"].sum()
    assert outcome.names == sums.index.tolist()
    assert outcome.numbers.tolist() == sums.tolist()
    busiest = (sums.rank(ascending=False, method="min") <= 3).to_numpy()
    assert (outcome.winners() == 0).tolist() == busiest.tolist()
    assert outcome.winners("mark", "outline").max() == 1
    assert outcome.truths.shape == (2, len(outcome)) == (2, len(sums))
    assert outcome.colors().tolist() == np.where(busiest, NAVY, QUIET).tolist()
    assert repr(outcome) == f"<Verdicts of {len(sums)} marks, rules: 2>"
    assert yz.judge(routes, category="route", value="passengers").flags()["rule"].eq("").all()


def test_a_million_marks_are_judged_in_whole_arrays() -> None:
    values = np.random.default_rng(5).normal(size=1_000_000)
    rows = pd.DataFrame({"k": np.arange(len(values)), "v": values})
    outcome = yz.judge(rows, LOSS, yz.rule("above 2", color="notice"), category="k", value="v")
    assert (outcome.winners() == np.select([values < 0, values > 2], [0, 1], -1)).all()


@pytest.mark.sampled(3)
@pytest.mark.parametrize(
    "call",
    [
        'yz.colors([1, -2], yz.rule("negative", color="adverse"))',
        'yz.ink(["#000000"])',
        'yz.judge({"a": ["x"], "v": [1]}, yz.rule("highest", color="ink"), category="a", value="v").flags()',
    ],
)
def test_no_picture_needs_no_matplotlib(call: str) -> None:
    code = f"import sys, yuzen as yz; {call}; sys.exit(any(m.startswith('matplotlib') for m in sys.modules))"
    assert subprocess.run([sys.executable, "-c", code], check=False).returncode == 0
