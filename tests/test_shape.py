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
from tests.conftest import LAST_YEAR
from yuzen.rules.arrays import Text


def test_totals_measures_and_attributes_as_pandas(routes: pd.DataFrame, last_year: pd.DataFrame) -> None:
    chart = (
        yz.chart(routes, category="route", value="passengers")
        .keep(LAST_YEAR)
        .measure(margin="total of surplus / total of fares", punctual="average of on_time")
        .measure(best="highest of surplus", months="count of distinct month", typical="median of fares")
        .rule("surplus negative within waters", color="adverse")
    )
    columns, names = chart.marks.columns, chart.marks.names()
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
    held = dict(zip(chart.marks.names(), chart.verdict.truths.T.tolist(), strict=True))
    for place, (_, route) in enumerate(margin.index):
        assert held[route] == [
            1 if margin.iloc[place] > pooled[place] else -1,
            1 if margin.iloc[place] > plain.iloc[place] else -1,
        ]
    assert "overall (" in str(chart.why("Brinewick"))


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
    chart = yz.chart(rows, category="route", value="surplus").rule("top 3 within waters", color="notice")
    plain = yz.chart(last_year, category="route", value="surplus").rule("top 3 within waters", color="notice")
    pd.testing.assert_frame_equal(chart.flags(), plain.flags())


@given(st.randoms(use_true_random=False))
def test_the_order_of_rows_does_not_matter(random: Any) -> None:
    rows = pd.DataFrame({"item": list("abcabcab"), "waters": list("xyxxyxxy"), "v": [5, 1, 2, 4, 4, 0, 3, 8]})
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
    assert chart.marks.names() == expected
    falls = chart.rule("falls", color="adverse", name="falls").flags().set_index("item")["rule"]
    assert falls.to_dict() == {"d": "", "b": "", "a": "falls", "c": ""}, "sequences ignore the drawn order"


def test_dates_are_drawn_in_time_and_compare_by_period() -> None:
    rows = {"month": ["2026-03", "2026-01", "2026-02", "2025-12"], "v": [3, 1, 2, 9]}
    chart = yz.chart(rows, category="month", value="v").rule("falls", color="adverse")
    chart = chart.rule('month after "2026-01"', color="notice").rule('month = "2025"', color="quiet")
    assert chart.marks.names() == ["2025-12", "2026-01", "2026-02", "2026-03"]
    assert chart.verdict.truths.tolist() == [[0, 1, -1, -1], [-1, -1, 1, 1], [1, -1, -1, -1]]


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
    ({"category": "rout"}, "data-column", "There is no column 'rout' for the category. Did you mean route?"),
    ({"value": "passenger"}, "data-column", "Did you mean passengers?"),
    ({"value": "waters"}, "data-number", "waters must hold numbers, but row 1 (line 2"),
    ({"value": "total of ships"}, "rule-name", "I know no measure or column 'ships'."),
    ({"order": "in time"}, "brief-order", "route holds words, which have no order in time."),
    ({"parameters": {"fares": 3}}, "brief-name", "fares is a parameter and a column"),
    ({"measures": {"m": "surplus / fares"}}, "measure-row", "total of surplus or average of surplus"),
    ({"measures": {"m": "rank of surplus"}}, "measure-row", "ask it in a rule"),
    ({"measures": {"m": "total"}}, "measure-of", "such as total of fares"),
]


@pytest.mark.parametrize(("said", "code", "message"), WRONG)
def test_what_the_rows_cannot_give(
    said: dict[str, Any], code: str, message: str, last_year: pd.DataFrame
) -> None:
    with pytest.raises(yz.YuzenError) as error:
        _ = yz.chart(last_year, **{"category": "route", "value": "passengers", **said}).marks
    assert error.value.code == code
    assert message in str(error.value)


def test_a_text_among_numbers_is_told_with_its_row() -> None:
    rows = {"item": list("abcd"), "v": ["1", "2", "many", "4"]}
    with pytest.raises(yz.YuzenError) as error:
        _ = yz.chart(rows, category="item", value="v").marks
    assert "row 3 (line 4 of a file with a heading) holds 'many'" in str(error.value)
    assert error.value.exit_code == 3
