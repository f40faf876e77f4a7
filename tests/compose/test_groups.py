"""Series, stacks, layers, panels and a picture for each value."""

from __future__ import annotations

from itertools import combinations, pairwise
from pathlib import Path
from typing import Any

import numpy as np
import pandas as pd
import pytest
from hypothesis import given
from hypothesis import strategies as st
from matplotlib.colors import to_hex

import yuzen as yz
from tests.support.scenes import (
    assert_tidy,
    bars_of,
    boxes_of,
    drawn,
    only,
    plots,
    scale_ends,
    seen,
    spot,
    strokes,
)
from yuzen.jobs.batches import draw_each, file_names
from yuzen.page.page import KeyEntry
from yuzen.stages.stages import Stages

SALES = pd.DataFrame(
    [(m, w, v, p) for m, w, v, p in zip(
        np.repeat(["Jan", "Feb", "Mar"], 3), ["North", "South", "East"] * 3,
        [5.0, 3, -2, 4, np.nan, 6, -1, -2, 7], [6.0, 2, 1, 4, 4, 4, 2, 2, 2], strict=True)],
    columns=["month", "waters", "v", "plan"],
)  # fmt: skip


def sales(**said: Any) -> yz.Chart:
    said = {"category": "month", "value": "v", "order": "as given", **said}
    return yz.chart(SALES, **said)


tables = st.lists(
    st.tuples(st.sampled_from("abcd"), st.sampled_from("xyz"), st.integers(-9, 9), st.sampled_from("pq")),
    min_size=1, max_size=25,
)  # fmt: skip


@given(tables, st.sampled_from(["beside", "stacked"]))
def test_series_are_totals_of_both_columns_and_rules_choose_their_peers(
    rows: Any, arrange: str
) -> None:
    frame = pd.DataFrame(rows, columns=["c", "s", "v", "g"])
    chart = yz.chart(frame, category="c", value="v", series="s", arrange=arrange, order="as given")  # type: ignore[arg-type]
    chart = chart.rule("highest within s", name="series").rule("highest within c", name="category")
    chart = chart.rule("highest", name="all").rule("share of v at least 50% within c", name="half")
    marks, truths = chart.stages.marks, chart.stages.verdict.whole.truths == 1
    items = ~marks.totals
    made = chart.flags()[items].set_index(["c", "s"])["v"]
    expected = frame.groupby(["c", "s"], sort=False)["v"].sum()
    assert made.sort_index().tolist() == expected.sort_index().tolist()
    assert list(dict.fromkeys(made.index.get_level_values(0))) == list(dict.fromkeys(frame["c"]))
    wanted = [
        made == made.groupby(level=1).transform("max"),
        made == made.groupby(level=0).transform("max"),
        made == made.max(),
        made / made.groupby(level=0).transform("sum").replace(0, np.nan) >= 0.5,
    ]
    for held, rule in zip(truths[:, items], wanted, strict=True):
        assert held.tolist() == rule.tolist()
    sums = chart.flags()[~items].set_index("c")["v"]
    if arrange == "stacked":
        assert sums.to_dict() == frame.groupby("c")["v"].sum().to_dict()
    else:
        assert sums.empty


@pytest.mark.parametrize("kind", ["bar", "column"])
def test_stacks_stand_on_one_another_and_keep_the_label_of_their_total(kind: Any) -> None:
    chart = sales(series="waters", arrange="stacked", kind=kind)
    figure = drawn(chart)
    assert_tidy(figure)
    along = [0, 2] if kind == "bar" else [1, 3]
    flags = chart.flags()
    ends = bars_of(figure).corners[(flags["waters"] != "Total").to_numpy()][:, along]
    items = flags[flags["waters"] != "Total"].assign(low=ends[:, 0], high=ends[:, 1])
    for _, own in items.groupby("month"):
        for sign in (1, -1):
            parts = own[np.sign(own["v"]) == sign]
            reach = parts["v"].cumsum().tolist()
            far = (parts["high"] if sign > 0 else parts["low"]).tolist()
            near = (parts["low"] if sign > 0 else parts["high"]).tolist()
            assert far == pytest.approx(reach)
            assert near == pytest.approx([0, *reach[:-1]][: len(near)], abs=1e-9)
    texts = boxes_of(figure)
    for total, top in (("6", 8.0), ("10", 10.0), ("4", 7.0)):
        x, y = spot(figure, top, top)
        assert any(t == total and (b.x0 > x if kind == "bar" else b.y0 > y) for t, b in texts)


def test_parts_of_a_stack_are_split_and_flagged_by_their_share() -> None:
    chart = sales(series="waters", arrange="stacked", kind="column").rule(
        "share of v at least 60% within month", color="adverse"
    )
    flags = chart.flags()
    assert flags.loc[flags["rule"] != "", "v"].tolist() == [5, 6, 7]
    colors = bars_of(drawn(chart)).colors
    assert [c for c, rule in zip(colors, flags["rule"], strict=True) if rule] == ["#C63E2F"] * 3
    split = sales(series="waters", arrange="stacked", kind="column").rule(
        "always", part="above 4", color="notice"
    )
    parts = only(drawn(split), "parts")
    high = [c for c, k in zip(parts.corners, parts.colors, strict=True) if k == "#D79A00"]
    ends = sorted((low, top) for _, low, _, top in np.array(high).round(9).tolist())
    assert ends == [(4, 5), (4, 7), (8, 10)]


def test_bars_of_series_stand_beside_one_another_in_their_colors() -> None:
    chart = sales(series="waters", kind="column").rule("highest", color="adverse")
    figure = drawn(chart)
    assert_tidy(figure)
    corners = bars_of(figure).corners
    for bar, other in combinations(corners[chart.flags()["v"].notna().to_numpy()], 2):
        assert bar[2] <= other[0] + 1e-9 or other[2] <= bar[0] + 1e-9
    assert (
        np.round(corners[:, [0, 2]].mean(axis=1)).astype(int).tolist()
        == chart.stages.marks.slots.tolist()
    )
    colors = chart.flags()["color"].tolist()
    assert colors[0] == colors[3] == colors[6] == chart.stages.verdict.palette.base.series[0]
    assert chart.flags()["role"].tolist()[:3] == ["series 1", "series 2", "series 3"]
    key = [e for e in chart.stages.page.key.entries if isinstance(e, KeyEntry)]
    assert [(e.text, e.apart) for e in key] == [
        ("highest", False), ("North", True), ("South", False), ("East", False),
    ]  # fmt: skip


PLANNED = {
    "layer": [
        {"name": "plan", "value": "plan", "color": "hairline"},
        {"name": "actual", "value": "v", "width": 0.5, "color": "series 3"},
    ]
}


@pytest.mark.parametrize("kind", ["bar", "column"])
def test_a_narrow_bar_lies_within_a_wide_one_on_one_baseline(kind: Any) -> None:
    chart = sales(kind=kind, **PLANNED).rule(
        "below plan", on="layer actual", color="adverse", name="short"
    )
    chart = chart.rule("above average", on="layer plan", color="notice", name="large")
    figure = drawn(chart)
    assert_tidy(figure)
    along, across = ([0, 2], [1, 3]) if kind == "bar" else ([1, 3], [0, 2])
    plan, actual = only(figure, "bars", "plan").corners, only(figure, "bars", "actual").corners
    totals = SALES.groupby("month", sort=False)[["plan", "v"]].sum()
    for made, name in ((plan, "plan"), (actual, "v")):
        ends = np.array([[0, v] for v in totals[name]])
        assert made[:, along] == pytest.approx(ends, abs=1e-9)
    assert np.diff(actual[:, across]) == pytest.approx(np.diff(plan[:, across]) / 2)
    assert actual[:, across].mean(axis=1) == pytest.approx(plan[:, across].mean(axis=1))
    flags = chart.flags()
    short = np.where(totals["v"] < totals["plan"], "short", "").tolist()
    assert flags.query("target == 'mark'")["rule"].tolist() == short
    own = flags.query("target == 'layer plan'")
    assert own["color"].tolist() == [
        "#D79A00" if v > totals["plan"].mean() else "#DADDE0" for v in totals["plan"]
    ]
    assert only(figure, "bars", "plan").colors == own["color"].tolist()


def test_layers_stand_beside_as_ticks_and_as_lines() -> None:
    layers = [
        {"name": "actual", "value": "v"},
        {"name": "plan", "value": "plan", "place": "beside"},
        {"name": "goal", "value": "total of plan + 1", "kind": "tick", "color": "ink"},
        {"name": "line", "value": "total of plan - 2", "kind": "line", "color": "slate"},
    ]
    chart = sales(kind="column", layer=layers).rule("below 5", on="layer line", color="adverse")
    figure = drawn(chart)
    actual, plan = bars_of(figure).corners, only(figure, "bars", "plan").corners
    assert (actual[:, 2] <= plan[:, 0] + 1e-9).all()
    heights = [round(float(line[0, 1]), 9) for line in only(figure, "ticks", "goal").lines]
    assert sorted(set(heights)) == sorted({v + 1 for v in SALES.groupby("month")["plan"].sum()})
    pieces = strokes(figure)
    assert {color for color, _ in pieces} == {"#c63e2f", "#5b646d"}
    for color, ((_, y0), (_, y1)) in pieces:
        assert ((y0 + y1) / 2 < 5) == (color == "#c63e2f")


def test_a_second_axis_is_only_there_when_asked_and_both_are_named() -> None:
    layers = [
        {"name": "actual", "value": "v"},
        {"name": "many", "value": "total of plan * 1000", "kind": "line"},
    ]
    shared = drawn(sales(kind="column", layer=layers))
    assert [area.y[1] > 10_000 for area in plots(shared)] == [True]
    layers[1]["axis"] = "own"
    own = drawn(sales(kind="column", layer=layers))
    assert_tidy(own)
    first, second = plots(own)
    assert first.y[1] < 20
    assert second.y[1] >= 12_000
    assert {"actual", "many", "10.0k"} <= {text for text, _ in boxes_of(own)}


def test_a_line_over_groups_has_one_number_for_each_category() -> None:
    layers = [
        {"name": "v", "value": "v"},
        {"name": "mean", "value": "average of plan", "kind": "line", "axis": "own"},
    ]
    chart = sales(kind="column", series="waters", layer=layers).rule(
        "below 3.5", on="layer mean", color="adverse", name="low"
    )
    means = SALES.groupby("month", sort=False)["plan"].mean()
    flags = chart.flags().query("target == 'layer mean' and waters == 'Total'")
    assert flags["average of plan"].tolist() == means.tolist()
    assert flags["rule"].tolist() == ["low" if m < 3.5 else "" for m in means]
    assert_tidy(drawn(chart))


@pytest.mark.parametrize(
    ("said", "message"),
    [
        ({"layer": [{"name": "a", "value": "plan"}]}, "one of them draws the chart's value"),
        (
            {"layer": [{"name": "a", "value": "v"}, {"name": "a", "value": "plan"}]},
            "a name of its own",
        ),
        (
            {"layer": [{"name": "a", "value": "v"}, {"name": "b", "value": "plam"}]},
            "Did you mean plan?",
        ),
        (
            {
                "layer": [
                    {"name": "a", "value": "v", "color": "rde"},
                    {"name": "b", "value": "plan"},
                ]
            },
            'layer "a", color: I know no color',
        ),
        ({"series": "water"}, "There is no column 'water' for the series. Did you mean waters?"),
        ({"panels": "water"}, "There is no column 'water' for the panels. Did you mean waters?"),
        ({"series": "waters", "totals": ["waters"]}, "has no totals besides"),
        ({"scale": {"low": 3, "high": 1}}, "low has to be less than high"),
    ],
)
def test_faults_of_groups_are_told(said: dict[str, Any], message: str) -> None:
    with pytest.raises(yz.YuzenError, match=message):
        _ = sales(**said).stages.page
    with pytest.raises(yz.YuzenError, match="There is no 'layer plam' to act on"):
        sales(**PLANNED).rule("highest", on="layer plam", color="adverse").flags()


@given(tables, st.sampled_from(["panel", "chart"]), st.one_of(st.none(), st.integers(1, 3)))
def test_panels_have_marks_order_limit_and_peers_of_their_own(
    rows: Any, peers: str, limit: int | None
) -> None:
    frame = pd.DataFrame(rows, columns=["c", "s", "v", "g"])
    chart = yz.chart(frame, category="c", value="v", panels="g", panel_peers=peers, limit=limit)  # type: ignore[arg-type]
    flags = chart.rule("highest", name="top", color="adverse").flags()
    totals = frame.groupby(["g", "c"], sort=False)["v"].sum().reset_index()
    order = {g: i for i, g in enumerate(dict.fromkeys(frame["g"]))}
    assert flags["g"].tolist() == sorted(flags["g"], key=order.__getitem__)
    kept = (
        totals.sort_values("v", ascending=False, kind="stable")
        .groupby("g", sort=False)
        .head(limit or 99)
    )
    for panel, own in flags.groupby("g"):
        wanted = kept[kept["g"] == panel]["v"]
        assert own["v"].tolist() == sorted(wanted, reverse=True)
        best = own["v"].max() if peers == "panel" else flags["v"].max()
        assert (own["rule"] == "top").tolist() == (own["v"] == best).tolist()
    average = flags.groupby("g")["v"].transform("mean") if peers == "panel" else flags["v"].mean()
    above = chart.rule("above average", name="above", color="notice").flags()["rule"] == "above"
    assert above.tolist() == (flags["v"] > average).tolist()


@pytest.mark.sampled(2)
@pytest.mark.parametrize("kind", ["bar", "column", "line", "area"])
def test_panels_share_their_scale_unless_asked(kind: Any) -> None:
    rows = pd.DataFrame(
        {
            "g": np.repeat([f"Panel {i}" for i in range(24)], 6),
            "m": list(range(6)) * 24,
            "v": np.arange(144) % 37 + 1.0,
        }
    )
    rows.loc[rows["g"] == "Panel 7", "v"] = np.nan
    base: dict[str, Any] = {"category": "m", "value": "v", "panels": "g", "kind": kind}
    chart = (
        yz.chart(rows, **base)
        .rule("highest", color="adverse")
        .rule("negative", color="notice")
        .reference("average")
    )
    figure = drawn(chart)
    assert_tidy(figure)
    assert len(plots(figure)) == 23
    assert len({scale_ends(area, kind) for area in plots(figure)}) == 1
    texts = [text for text, _ in boxes_of(figure)]
    assert {f"Panel {i}" for i in range(24)} <= set(texts)
    assert texts.count("There are no numbers to draw.") == 1
    averages = rows.groupby("g", sort=False)["v"].mean().dropna()
    # In little room a label is its number alone.
    for average in averages:
        written = {f"{average:,.1f}", f"{average:,.0f}", f"{average:,.2f}"}
        assert any(text.removeprefix("average ") in written for text in texts)
    own = drawn(yz.chart(rows, **base, panel_scale="own"))
    assert len({scale_ends(area, kind) for area in plots(own)}) > 10


def test_panels_of_shared_dates_have_one_axis_and_too_many_are_refused() -> None:
    days = pd.date_range("2025-01-01", periods=8, freq="MS")
    rows = pd.DataFrame({"d": [*days, *days[4:]], "v": range(12), "g": ["a"] * 8 + ["b"] * 4})
    scene = drawn(yz.chart(rows, category="d", value="v", kind="line", panels="g", grain="month"))
    assert [area.x for area in plots(scene)] == [(-0.5, 7.5)] * 2
    assert seen(scene, "line", plot=1)[0].points[1, 0] == pytest.approx(4)
    many = pd.DataFrame({"c": ["x"] * 61, "v": range(61), "g": [f"g{i}" for i in range(61)]})
    with pytest.raises(yz.YuzenError, match="61 values, and a page holds 60 panels"):
        yz.chart(many, category="c", value="v", panels="g").figure()


def test_each_value_has_a_picture_with_its_own_peers(tmp_path: Path) -> None:
    chart = (
        sales(subtitle="Six {n:.0f}", parameters={"n": 2})
        .rule("highest", color="adverse")
        .keep("plan above 1")
    )
    charts = dict(chart.each("waters"))
    assert list(charts) == ["North", "South", "East"]
    for name, own in charts.items():
        kept = SALES[(SALES["waters"] == name) & (SALES["plan"] > 1)]
        assert own.flags()["v"].sum() == kept["v"].sum()
        assert own.flags()["rule"].tolist().count("highest") == 1
        assert own.stages.page.words.subtitle == f"{name} · Six 2"
        again = yz.Chart(Stages(own.stages.brief, SALES))
        pd.testing.assert_frame_equal(again.flags(), own.flags())
    odd = SALES.assign(
        waters=SALES["waters"].map({"North": "{a}/b", "South": "../../x", "East": None})
    )
    made = list(draw_each(chart.with_rows(odd).each("waters"), tmp_path / "w.png"))
    assert sorted(p.name for p in tmp_path.iterdir()) == ["w-a-b.png", "w-no-name.png", "w-x.png"]
    assert [edition.value for edition in made] == ["{a}/b", "../../x", "(no name)"]
    assert "{a}/b · Six 2" in str(
        yz.load_picture(tmp_path / "w-a-b.png").stages.page.words.subtitle
    )


def test_many_pictures_are_drawn_by_several_processes(tmp_path: Path) -> None:
    rows = pd.DataFrame(
        {"c": list("ab") * 9, "v": range(18), "g": [f"G {i // 2}" for i in range(18)]}
    )
    charts = yz.chart(rows, category="c", value="v").rule("highest", color="adverse").each("g")
    made = list(draw_each(charts, tmp_path / "p.svg"))
    assert [(e.value, e.marks, e.flagged) for e in made] == [(f"G {i}", 2, 1) for i in range(9)]
    assert all(edition.path.stat().st_size > 1000 for edition in made)
    broken = [(name, chart.rule("nonsense above 3", color="adverse")) for name, chart in charts]
    with pytest.raises(yz.YuzenError, match="I know no measure or column 'nonsense'"):
        list(draw_each(broken, tmp_path / "q.svg"))
    assert not list(tmp_path.glob("q*"))


@given(st.lists(st.text(max_size=120), max_size=30))
def test_file_names_are_safe_whatever_the_values_hold(values: list[str]) -> None:
    names = file_names(values)
    assert len({name.casefold() for name in names}) == len(values)
    for name in names:
        assert 0 < len(name) <= 100
        assert all(c.isalnum() or c == "-" for c in name)
        assert Path(f"x-{name}.png").name == f"x-{name}.png"


@pytest.mark.parametrize("kind", ["bar", "column", "line", "area"])
def test_a_scale_that_is_told_is_kept_whatever_the_values(kind: Any) -> None:
    limits = []
    for top in (3.0, 40, 90):
        rows = {"c": list("abc"), "v": [1.0, 2, top]}
        chart = yz.chart(
            rows, category="c", value="v", kind=kind, order="as given", scale={"low": 0, "high": 60}
        )
        limits.append(scale_ends(plots(drawn(chart))[0], kind))
        assert_tidy(drawn(chart))
    assert limits[0] == limits[1] == limits[2]
    assert limits[0][0] <= 0
    assert 60 <= limits[0][1] <= 70


def test_a_scale_never_counts_what_is_not_drawn() -> None:
    rows = {"c": list("abcd"), "v": [1000.0, 5, 4, 3], "kind": ["freight", "x", "x", "x"]}
    chart = yz.chart(rows, category="c", value="v", kind="column", order="smallest first", limit=3)
    assert plots(drawn(chart))[0].y[1] < 7
    kept = yz.chart(rows, category="c", value="v", kind="column").keep('kind = "x"')
    assert plots(drawn(kept))[0].y[1] < 7


def test_colors_of_series_are_many_enough_and_no_two_alike() -> None:
    for count in range(2, 13):
        rows = {"c": ["x"] * count, "s": [f"s{i}" for i in range(count)], "v": range(1, count + 1)}
        colors = yz.chart(rows, category="c", value="v", series="s").flags()["color"].tolist()
        assert len(set(colors)) == count
        for one, other in pairwise(colors):
            apart = np.abs(
                np.array([int(one[i : i + 2], 16) - int(other[i : i + 2], 16) for i in (1, 3, 5)])
            )
            assert apart.max() >= 10
        assert not {to_hex(c).upper() for c in colors} & {"#C63E2F", "#0A4A80", "#D79A00"}


@pytest.mark.parametrize("kind", ["bar", "column", "line", "area"])
def test_marks_without_numbers_beside_totals_that_have_some_are_drawn(kind: Any) -> None:
    rows = {
        "c": list("aabb"),
        "s": list("xyxy"),
        "v": [np.nan, np.nan, np.nan, np.nan],
        "w": [1.0, 2, 3, 4],
    }
    layers = [{"name": "v", "value": "v"}, {"name": "w", "value": "w", "kind": "line"}]
    chart = yz.chart(rows, category="c", value="v", kind=kind, series="s", layer=layers)  # type: ignore[arg-type]
    assert_tidy(drawn(chart.measure(v="average of v")))
    assert_tidy(drawn(chart.measure(v="total of v").rule("always", part="above 0", color="notice")))


def random_groups(seed: int) -> yz.Chart:
    """A chart with some of all that groups can have: series, stacks, layers, panels, told scales, themes."""
    random = np.random.default_rng(seed)
    some = random.random(8) < 0.45
    size = int(random.integers(1, 14))
    names = [
        f"{'A rather long name of ' * int(random.integers(0, 2))}item {i}" for i in range(size)
    ]
    rows = pd.DataFrame(
        [
            (c, s, p)
            for c in names
            for s in ("North", "South", "East by far")
            for p in ("one", "two", "three")
        ],
        columns=["c", "s", "p"],
    )
    scale = float(random.choice([1, 1000, 1e6]))
    rows["v"] = random.normal(scale * random.choice([0, 3]), scale, len(rows))
    rows["w"] = random.uniform(0, 4 * scale, len(rows))
    rows.loc[random.random(len(rows)) < 0.1, "v"] = np.nan
    said: dict[str, Any] = {"kind": str(random.choice(["bar", "column", "line", "area"]))}
    if some[0]:
        said |= {"series": "s", "arrange": str(random.choice(["beside", "stacked"]))}
    if some[1]:
        said |= {"panels": "p", "panel_scale": str(random.choice(["shared", "own"]))}
    if some[2]:
        kind, place = (
            str(random.choice(["bar", "line", "tick"])),
            str(random.choice(["over", "beside"])),
        )
        said["layer"] = [
            {
                "name": "plan",
                "value": "w",
                "kind": kind,
                "place": place,
                "axis": "own" if some[3] and not some[1] else "shared",
            },
            {"name": "actual", "value": "v", "width": 0.6},
        ]
    if some[4]:
        said["scale"] = {"low": -2 * scale, "high": 9 * scale}
    if some[5]:
        said["theme"] = str(random.choice(["dusk", "press"]))
    chart = yz.chart(rows, category="c", value="v", **said)
    for rule in random.choice(
        ["negative", "highest", "above average", "last", "share of v above 30% within c"],
        3,
        replace=False,
    ):
        chart = chart.rule(
            str(rule),
            color=str(random.choice(["adverse", "favorable", "notice"])),
            badge="star" if seed % 2 else None,
        )
    if some[6]:
        chart = chart.reference("average").reference(low="0", high="median", label="usual")
    if some[7]:
        chart = chart.rule(
            "always", part="above median", color="notice", name="part", label="{v:,.0f}"
        )
    return chart


@pytest.mark.sampled(2)
@pytest.mark.parametrize("part", range(2))
def test_random_groups_are_tidy_and_drawn_in_their_colors(part: int) -> None:
    for seed in range(part * 25, part * 25 + 9):
        chart = random_groups(seed)
        figure = drawn(chart)
        assert_tidy(figure)
        main = chart.stages.design.main.name if chart.stages.design.main else ""
        made = {color for bars in seen(figure, "bars", main) for color in bars.colors}
        assert made <= set(chart.flags()["color"])


@pytest.mark.parametrize("said", [{"panels": "p"}, {"series": "p"}])
def test_a_month_that_one_group_lacks_is_a_gap_in_it_alone(said: dict[str, str]) -> None:
    rows = {
        "p": list("aaabb"),
        "m": ["2026-01", "2026-02", "2026-03", "2026-01", "2026-03"],
        "v": [3.0, 2, 1, 9, 5],
    }
    chart = yz.chart(rows, kind="line", category="m", value="v", grain="month", **said)  # type: ignore[arg-type]
    flags = chart.rule("falls", color="adverse", name="fall").flags()
    months = pd.to_datetime(flags["m"]).dt.month
    assert set(zip(flags["p"], months, flags["rule"] == "fall", flags["unknown"] == "fall", strict=True)) == {
        ("a", 1, False, True), ("a", 2, True, False), ("a", 3, True, False),
        ("b", 1, False, True), ("b", 3, False, True),
    }  # fmt: skip
