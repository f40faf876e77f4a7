"""Rows to marks, against pandas' own grouping."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import pandas as pd
import pytest
from hypothesis import given
from hypothesis import strategies as st

import yuzen as yz
from tests.support.ferries import LAST_YEAR
from yuzen.arrays import Text


def test_totals_measures_and_attributes_as_pandas(
    routes: pd.DataFrame, last_year: pd.DataFrame
) -> None:
    chart = (
        yz.chart(routes, category="route", value="passengers")
        .keep(LAST_YEAR)
        .measure(margin="total of surplus / total of fares", punctual="average of on_time")
        .measure(
            best="highest of surplus", months="count of distinct month", typical="median of fares"
        )
        .rule("surplus negative within waters", color="adverse")
    )
    columns, names = chart.stages.marks.columns, chart.stages.marks.names()
    groups = last_year.groupby("route")
    expected = pd.DataFrame(
        {
            "passengers": groups["passengers"].sum(),
            "surplus": groups["surplus"].sum(),
            "margin": groups["surplus"].sum() / groups["fares"].sum(),
            "punctual": groups["on_time"].mean(),
            "best": groups["surplus"].max(),
            "months": groups["month"].nunique(),
            "typical": groups["fares"].median(),
        }
    ).loc[names]
    for name in expected.columns:
        np.testing.assert_allclose(np.asarray(columns[name]), expected[name], rtol=1e-12)
    waters = columns["waters"]
    assert isinstance(waters, Text)
    assert list(waters.values()) == list(groups["waters"].first().loc[names])
    assert names == list(expected["passengers"].sort_values(ascending=False, kind="stable").index)


def test_overall_is_pooled_from_rows_and_average_is_over_marks(last_year: pd.DataFrame) -> None:
    chart = (
        yz.chart(last_year, category="route", value="margin")
        .measure(margin="total of surplus / total of fares")
        .rule("above overall within waters", color="favorable", name="pooled")
        .rule("above average within waters", color="notice", name="plain")
    )
    sums = last_year.groupby(["waters", "route"])[["surplus", "fares"]].sum()
    margin = sums["surplus"] / sums["fares"]
    waters = sums.groupby("waters").sum()
    pooled = margin.index.get_level_values(0).map((waters["surplus"] / waters["fares"]).to_dict())
    plain = margin.groupby("waters").transform("mean")
    held = dict(
        zip(chart.stages.marks.names(), chart.stages.verdict.whole.truths.T.tolist(), strict=True)
    )
    for place, (_, route) in enumerate(margin.index):
        assert held[route] == [
            1 if margin.iloc[place] > pooled[place] else -1,
            1 if margin.iloc[place] > plain.iloc[place] else -1,
        ]
    told = str(chart.why("Brinewick"))
    assert "(12 rows; margin = total of surplus / total of fares)" in told
    assert "not above average (" in told
    assert "over 5 marks) within waters" in told


@pytest.mark.parametrize("container", ["frame", "mapping", "csv", "categories", "path text"])
def test_rows_of_any_container_give_the_same_marks(
    container: str, last_year: pd.DataFrame, tmp_path: Path
) -> None:
    last_year.to_csv(tmp_path / "rows.csv", index=False)
    rows: Any = {
        "frame": last_year,
        "mapping": {name: list(last_year[name]) for name in last_year.columns},
        "csv": tmp_path / "rows.csv",
        "categories": last_year.astype({"route": "category", "waters": "category"}),
        "path text": str(tmp_path / "rows.csv"),
    }[container]
    chart = yz.chart(rows, category="route", value="surplus").rule(
        "top 3 within waters", color="notice"
    )
    plain = yz.chart(last_year, category="route", value="surplus").rule(
        "top 3 within waters", color="notice"
    )
    pd.testing.assert_frame_equal(chart.flags(), plain.flags())


@given(st.randoms(use_true_random=False))
def test_the_order_of_rows_does_not_matter(random: Any) -> None:
    rows = pd.DataFrame(
        {"item": list("abcabcab"), "waters": list("xyxxyxxy"), "v": [5, 1, 2, 4, 4, 0, 3, 8]}
    )
    order = list(range(len(rows)))
    random.shuffle(order)
    charts = [
        yz.chart(part, category="item", value="v", order="by name")
        .rule("highest within waters", color="favorable")
        .rule("below average", color="adverse")
        for part in (rows, rows.iloc[order])
    ]
    pd.testing.assert_frame_equal(charts[0].flags(), charts[1].flags())


ORDERS = {
    "largest first": ["b", "d", "a", "c"],
    "smallest first": ["a", "d", "b", "c"],
    "by name": ["a", "b", "c", "d"],
    "as given": ["d", "b", "a", "c"],
}


@pytest.mark.parametrize(("order", "expected"), ORDERS.items())
def test_orders(order: str, expected: list[str]) -> None:
    rows = {"item": ["d", "b", "a", "c", "d"], "v": [1, 9, 2, None, 4]}
    chart = yz.chart(rows, category="item", value="v", order=order)
    assert chart.stages.marks.names() == expected
    falls = chart.rule("falls", color="adverse", name="falls").flags().set_index("item")["rule"]
    assert falls.to_dict() == {"d": "", "b": "", "a": "falls", "c": ""}, (
        "sequences ignore the drawn order"
    )


def test_dates_are_drawn_in_time_and_compare_by_period() -> None:
    rows = {"month": ["2026-03", "2026-01", "2026-02", "2025-12"], "v": [3, 1, 2, 9]}
    chart = yz.chart(rows, category="month", value="v").rule("falls", color="adverse")
    chart = chart.rule('month after "2026-01"', color="notice").rule(
        'month = "2025"', color="quiet"
    )
    assert chart.stages.marks.names() == ["2025-12", "2026-01", "2026-02", "2026-03"]
    assert chart.stages.verdict.whole.truths.tolist() == [
        [0, 1, -1, -1],
        [-1, -1, 1, 1],
        [1, -1, -1, -1],
    ]


def test_what_real_rows_have() -> None:
    rows = {
        "item": ["Øst", "東京", "العربية", " Øst ", None, "empty"],
        "v": [1.5, -2, 3, 2, 4, None],
    }
    flags = yz.chart(rows, category="item", value="v").rule("above 3", color="notice").flags()
    assert flags["item"].fillna("?").tolist()[:2] == ["?", "Øst"]
    assert flags["v"].tolist()[:4] == [4, 3.5, 3, -2]
    assert np.isnan(flags["v"].iloc[4])
    assert flags["unknown"].tolist() == ["", "", "", "", "above 3"]


WRONG = [
    (
        {"category": "rout"},
        "brief-column",
        "There is no column 'rout' for the category. Did you mean route?",
    ),
    ({"value": "passenger"}, "brief-column", "Did you mean passengers?"),
    ({"value": "waters"}, "data-number", "waters must hold numbers, but row 1 (line 2"),
    ({"value": "total of ships"}, "rule-name", "I know no measure or column 'ships'."),
    ({"order": "in time"}, "brief-order", "route holds words, which have no order in time."),
    ({"parameters": {"fares": 3}}, "brief-name", "fares is a parameter, and fares is a column"),
    (
        {"measures": {"m": "surplus / fares"}},
        "measure-row",
        "total of surplus or average of surplus",
    ),
    ({"measures": {"m": "total"}}, "measure-of", "such as total of fares"),
]


@pytest.mark.parametrize(("said", "code", "message"), WRONG)
def test_what_the_rows_cannot_give(
    said: dict[str, Any], code: str, message: str, last_year: pd.DataFrame
) -> None:
    with pytest.raises(yz.YuzenError) as error:
        _ = yz.chart(last_year, **{"category": "route", "value": "passengers", **said}).stages.marks
    assert error.value.code == code
    assert message in str(error.value)


def test_a_text_among_numbers_is_told_with_its_row() -> None:
    rows = {"item": list("abcd"), "v": ["1", "2", "many", "4"]}
    with pytest.raises(yz.YuzenError) as error:
        _ = yz.chart(rows, category="item", value="v").stages.marks
    assert "row 3 (line 4 of a file with a heading) holds 'many'" in str(error.value)
    assert error.value.exit_code == 3


@pytest.mark.parametrize(
    ("grain", "rule"),
    [("day", "D"), ("week", "W-SUN"), ("month", "M"), ("quarter", "Q"), ("year", "Y")],
)
def test_grains_as_pandas_periods(grain: str, rule: str) -> None:
    random = np.random.default_rng(4)
    days = pd.Timestamp("2023-11-20") + pd.to_timedelta(random.integers(0, 800, 300), unit="D")
    rows = pd.DataFrame({"day": days, "v": random.integers(0, 9, 300)})
    chart = yz.chart(rows, category="day", value="v", grain=grain)  # type: ignore[arg-type]
    expected = rows.groupby(rows["day"].dt.to_period(rule))["v"].sum().sort_index()
    starts = expected.index.to_timestamp().to_numpy()  # type: ignore[attr-defined]
    assert np.array_equal(
        np.asarray(chart.stages.marks.columns["day"], dtype="datetime64[D]"),
        starts.astype("datetime64[D]"),
    )
    assert np.asarray(chart.stages.marks.columns["v"]).tolist() == expected.tolist()
    first = {
        "day": "2023-11-2",
        "week": "2023-11-",
        "month": "2023-11",
        "quarter": "2023-Q4",
        "year": "2023",
    }[grain]
    assert chart.stages.marks.names()[0].startswith(first)


def test_a_limit_gathers_the_rest_by_the_measures_own_formula(last_year: pd.DataFrame) -> None:
    chart = yz.chart(last_year, category="route", value="passengers", limit=5, rest="Others")
    chart = chart.measure(margin="total of surplus / total of fares").rule("top 3", color="notice")
    sums = last_year.groupby("route")[["passengers", "surplus", "fares"]].sum()
    sums = sums.sort_values("passengers", ascending=False)
    flags = chart.rule("margin below average", color="adverse").flags()
    assert flags["route"].tolist() == [*sums.index[:5], "Others"]
    others = sums.iloc[5:].sum()
    assert flags["passengers"].tolist() == [*sums["passengers"][:5], others["passengers"]]
    assert flags["margin"].iloc[5] == pytest.approx(others["surplus"] / others["fares"])
    assert flags["rule"].iloc[5] == "", "the rest is no route, however large it is"
    assert flags["rule"].tolist()[:3] == ["top 3"] * 3
    without = yz.chart(last_year, category="route", value="passengers", limit=5)
    assert without.stages.marks.names() == list(sums.index[:5])
    assert "Others" in str(
        chart.rule("highest", totals=True, color="quiet", name="all").why("Others")
    )


def test_totals_follow_their_groups_and_no_rule_touches_them(last_year: pd.DataFrame) -> None:
    chart = yz.chart(
        last_year, category="route", value="passengers", totals=["waters", "all"]
    ).measure(margin="total of surplus / total of fares")
    chart = chart.rule("highest", color="favorable", name="best").rule(
        "margin above 0", color="notice", name="any"
    )
    flags = chart.flags().set_index("route")
    sums = last_year.groupby(["waters", "route"])["passengers"].sum()
    names = list(flags.index)
    assert names[-1] == "Total"
    assert flags["passengers"]["Total"] == sums.sum()
    start = 0
    for waters in [name.removesuffix(" total") for name in names if name.endswith(" total")]:
        end = names.index(f"{waters} total")
        own = sums[waters].sort_values(ascending=False)
        assert names[start:end] == list(own.index)
        assert flags["passengers"].iloc[end] == own.sum()
        start = end + 1
    margin = last_year["surplus"].sum() / last_year["fares"].sum()
    assert flags["margin"]["Total"] == pytest.approx(margin)
    totals = [name for name in names if name.endswith("otal")]
    assert set(flags["rule"][totals]) == {""}
    assert flags["rule"]["Cinderquay"] == "best"
    only = (
        chart.rule("margin above 0.1", totals="only", color="notice", name="sound")
        .flags()
        .set_index("route")
    )
    assert [name for name in names if only["rule"][name] == "sound"] == [
        name for name in totals if flags["margin"][name] > 0.1
    ]
    assert str(chart.why("Total")).count("it is a total") == 2


def test_another_category_with_one_word(last_year: pd.DataFrame) -> None:
    """All rules go on working when the category is another column."""
    for category in ("route", "waters", "month", "service"):
        chart = yz.chart(last_year, category=category, value="passengers").rule(
            "highest", color="favorable"
        )
        chart = chart.rule("surplus negative", color="adverse").rule(
            "above average", color="notice"
        )
        sums = last_year.groupby(category)["passengers"].sum()
        highest = chart.flags().query("rule == 'highest'")["passengers"].tolist()
        assert highest == [sums.max()]


def test_effects_are_decided_each_by_itself(last_year: pd.DataFrame) -> None:
    chart = (
        yz.chart(last_year, category="route", value="passengers")
        .rule("top 3", color="favorable", weight="normal")
        .rule(
            "surplus negative",
            color="adverse",
            outline="adverse",
            label="loss {-surplus:,.0f}",
            name="loss",
        )
        .rule("surplus negative", on="axis name", color="adverse", name="name")
        .rule("bottom 2", opacity=0.5, name="faint")
    )
    plot = chart.stages.page.charts[0]
    layer, names = plot.layers[0], plot.axes.category.names
    place = names.texts.index("Brinewick")
    assert layer.labels[0].pieces[0].texts[place] == "loss 16,890"
    assert layer.styles.outline[place].tolist() == pytest.approx(
        [0xC6 / 255, 0x3E / 255, 0x2F / 255, 1]
    )
    colors = [round(float(part) * 255) for part in layer.styles.fill[place, :3]]
    assert colors == [0x0A, 0x4A, 0x80], (
        "the first rule keeps the colour, a later one adds its outline"
    )
    assert not layer.labels[0].pieces[0].bold[place]
    assert names.ink[place].tolist() == pytest.approx([0xC6 / 255, 0x3E / 255, 0x2F / 255, 1])
    assert layer.styles.fill[:, 3].tolist() == [1.0] * 18 + [0.5] * 2
    flags = chart.flags()
    assert set(flags["target"]) == {"mark", "axis name"}
    assert flags.query("target == 'axis name' and route == 'Kelpwick'")["rule"].tolist() == ["name"]


@pytest.mark.parametrize(
    ("said", "message"),
    [
        ({"totals": ["watr"]}, "Did you mean waters?"),
        ({"totals": ["month"]}, "Totals of month need one word of month for each route."),
        ({"grain": "month"}, "route holds no dates, so it has no months."),
        ({"limit": 0}, "chart, limit"),
    ],
)
def test_faults_of_shaping(said: dict[str, Any], message: str, last_year: pd.DataFrame) -> None:
    with pytest.raises(yz.YuzenError, match=message):
        _ = yz.chart(last_year, category="route", value="passengers", **said).stages.marks
