"""Groups in tables: nested totals, their order, shares within them, and rows that fold; beside pandas."""

from __future__ import annotations

import re
import shutil
import subprocess
from pathlib import Path
from typing import Any

import numpy as np
import pandas as pd
import pytest

import yuzen as yz
from yuzen.files.web import groups_of_rows
from yuzen.page.table import HEADING, Table

ORDERS: dict[str, Any] = {
    "largest first": lambda sums: sums.sort_values(ascending=False, kind="stable").index,
    "smallest first": lambda sums: sums.sort_values(kind="stable").index,
    "by name": lambda sums: sums.sort_index().index,
}


def nested_rows(seed: int) -> pd.DataFrame:
    """Items in districts in regions, each item with several rows."""
    draw = np.random.default_rng(seed)
    keys = [
        (f"{region}{district}{item}", f"{region}{district}", region)
        for region in "NSW"
        for district in range(draw.integers(1, 4))
        for item in range(draw.integers(1, 4))
    ]
    rows = pd.DataFrame([keys[i] for i in draw.integers(0, len(keys), 80)], columns=["item", "district", "region"])  # fmt: skip
    return rows.assign(v=draw.integers(0, 9, 80), w=draw.integers(0, 9, 80))


@pytest.mark.sampled(3)
@pytest.mark.parametrize("order", ORDERS)
@pytest.mark.parametrize("by", ["", "w"])
@pytest.mark.parametrize("seed", range(3))
def test_groups_of_two_levels_stand_by_their_totals(seed: int, by: str, order: str) -> None:
    rows = nested_rows(seed)
    if by and order == "by name":
        pytest.skip("names are no measure")
    chart = yz.chart(
        rows, kind="table", category="item", value="v", totals=["region", "district", "all"],
        group_order=f"{by}, {order}" if by else order, order="by name",
    ).column("v").column("w")  # fmt: skip
    column = by or "v"
    expected: list[tuple[str, int]] = []

    def in_order(level: str, of: pd.DataFrame) -> list[str]:
        sums = of.groupby(level)[column].sum()
        # Equal totals stand as the drawn items name their groups.
        named = of.sort_values("item").drop_duplicates(level)[level]
        return list(ORDERS[order](sums[named.tolist()]))

    for region in in_order("region", rows):
        own = rows[rows["region"] == region]
        for district in in_order("district", own):
            part = own[own["district"] == district]
            expected += [(str(name), int(of["v"].sum())) for name, of in part.groupby("item")]
            expected.append((f"{district} total", int(part["v"].sum())))
        expected.append((f"{region} total", int(own["v"].sum())))
    expected.append(("Total", int(rows["v"].sum())))
    table = chart.flags()
    assert sorted(zip(table["item"], table["v"], strict=True)) == sorted(expected)
    drawn = list(zip(table["item"], table["v"], strict=True))
    assert _untied(drawn, rows, column) == _untied(expected, rows, column)


def _untied(
    listed: list[tuple[str, int]], rows: pd.DataFrame, column: str
) -> list[tuple[str, int]]:
    """The list, where all groups of one level have totals of their own; else in any order."""
    for level, above in (("region", None), ("district", "region")):
        keys = [level] if above is None else [above, level]
        sums = rows.groupby(keys)[column].sum()
        groups = [sums] if above is None else [part for _, part in sums.groupby(above)]
        if any(part.duplicated().any() for part in groups):
            return sorted(listed)
    return listed


def test_shares_within_groups_are_as_pandas_has_them() -> None:
    rows = nested_rows(4)
    chart = (
        yz.chart(rows, kind="table", category="item", value="v", totals=["region"])
        .measure(part="share of v within region", above="v - average of v within region")
        .column("part")
        .column("above")
        .column("share of v within district")
        .rule("part above 30%", on="column part", name="big", color="adverse")
    )
    table = chart.flags()
    items = table[(table["target"] == "mark") & ~table["item"].str.endswith("total")].set_index(
        "item"
    )
    sums = rows.groupby(["item", "district", "region"])["v"].sum().reset_index().set_index("item")
    within = {
        level: sums["v"] / sums.groupby(level)["v"].transform("sum")
        for level in ("region", "district")
    }
    assert items["part"].to_dict() == pytest.approx(within["region"].to_dict(), nan_ok=True)
    assert items["share of v within district"].to_dict() == pytest.approx(
        within["district"].to_dict(), nan_ok=True
    )
    flagged = set(table["item"][table["rule"] == "big"])
    assert flagged == set(sums.index[within["region"] > 0.3])
    with pytest.raises(yz.YuzenError, match="I know no measure or column 'nowhere'"):
        yz.chart(rows, category="item", value="share of v within nowhere").flags()
    label = yz.chart(rows, category="item", value="v").label("{share of v within region:.0%}")
    assert any(line.text.endswith("%") for line in label.stages.scene.texts)


@pytest.mark.parametrize(
    ("said", "message"),
    [
        ({"totals": ["district", "region"]}, "Totals of region stand inside those of district, and S is in S1 and S2"),
        ({"totals": ["all"], "group_order": "by name"}, "group_order orders groups that have totals"),
        ({"totals": ["region"], "group_order": "in time"}, "Groups are words, which have no order in time"),
        ({"totals": ["region"], "group_order": "running total of v, largest first"}, "Groups are ordered by what rows tell"),
        ({"totals": ["region"], "group_order": "nothing, largest first"}, "There is no column 'nothing' for the order"),
    ],
)  # fmt: skip
def test_groups_that_cannot_stand_so_are_refused(said: dict[str, Any], message: str) -> None:
    rows = nested_rows(1)
    rows = pd.concat(
        [rows, rows.assign(district=rows["region"] + "9", item=rows["region"] + "9x").head(30)]
    )
    with pytest.raises(yz.YuzenError) as error:
        yz.chart(rows, kind="table", category="item", value="v", **said).flags()
    assert message in str(error.value)


def test_a_measure_may_use_others_by_their_names() -> None:
    rows = nested_rows(2)
    chart = yz.chart(rows, kind="table", category="item", value="ratio", totals=["region"]).measure(
        many="count of rows where v above 4", rate="many / total of w", ratio="rate * 100"
    )
    table = chart.flags().set_index("item")["ratio"]
    for name, own in [*rows.groupby("item"), *rows.groupby("region")]:
        whole = own["w"].sum()
        expected = (own["v"] > 4).sum() / whole * 100 if whole else np.nan
        assert table[name if name in table else f"{name} total"] == pytest.approx(
            expected, nan_ok=True
        )
    with pytest.raises(yz.YuzenError, match="The measure a refers to itself"):
        yz.chart(rows, category="item", value="a").measure(a="b + 1", b="2 * a").flags()


def test_rows_fold_under_their_headings_without_a_script(tmp_path: Path) -> None:
    rows = nested_rows(3)
    chart = yz.chart(
        rows, kind="table", category="item", value="v", totals=["region", "district", "all"]
    )
    table = chart.stages.page.table
    assert isinstance(table, Table)
    groups, names = groups_of_rows(table), table.names.texts
    open_now: list[int] = []
    for row, name in enumerate(names):
        if table.roles[row] == HEADING:
            open_now = [h for h in open_now if len(names[h]) < len(name)] + [row]
            continue
        if name.endswith("total") or name == "Total":
            open_now = [
                h for h in open_now if names[h] != name.removesuffix(" total") and name != "Total"
            ]
        assert groups[row] == tuple(open_now), name
    text = chart.image("html").decode()
    assert "<script" not in text
    boxes = re.findall(
        r'<input type="checkbox" class="g(\d+)" aria-label="Hide the rows of ([^"]+)"', text
    )
    assert [names[int(row)] for row, _ in boxes] == [name for _, name in boxes]
    chromium = shutil.which("chromium")
    if chromium is None:
        pytest.skip("there is no Chromium")
    first = next(row for row, role in enumerate(table.roles.tolist()) if role == HEADING)
    (tmp_path / "open.html").write_text(text)
    (tmp_path / "shut.html").write_text(
        text.replace(f'class="g{first}"', f'checked class="g{first}"')
    )
    heights = []
    for name in ("open", "shut"):
        page = (tmp_path / f"{name}.html").read_text().replace(
            "</body>", "<script>document.title=document.querySelector('table').offsetHeight</script></body>"
        )  # fmt: skip
        (tmp_path / f"{name}.html").write_text(page)
        call = [
            chromium,
            "--headless",
            "--no-sandbox",
            "--disable-gpu",
            "--dump-dom",
            f"file://{tmp_path}/{name}.html",
        ]
        dom = subprocess.run(call, capture_output=True, text=True, check=True, timeout=120).stdout
        found = re.search(r"<title>(\d+)</title>", dom)
        assert found
        heights.append(int(found[1]))
    folded = sum(first in groups[row] for row in range(len(names))) - 1
    assert heights[0] - heights[1] >= 15 * folded > 0


def test_columns_that_are_called_as_flags_are_keep_their_numbers() -> None:
    rows = {"route": ["Ash", "Elm"], "v": [1, 2], "target": [3, 1]}
    table = (
        yz.chart(rows, category="route", value="v")
        .rule("below target", name="r", color="adverse")
        .flags()
    )
    assert table.set_index("route")["target (column)"].to_dict() == {"Ash": 3, "Elm": 1}
    assert set(table["target"]) == {"mark"}
