"""Pictures, by what was drawn: colours, positions, and boxes of text that must not touch."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Any

import numpy as np
import pandas as pd
import pytest
from matplotlib.colors import to_hex

import yuzen as yz
from tests.support.ferries import CHARTS
from tests.support.sampling import THOROUGH, seeds
from tests.support.scenes import (
    assert_tidy,
    bars_of,
    boxes_of,
    drawn,
    only,
    seen,
    shapes_of,
    spot,
    upward,
)
from yuzen.brief.kinds import KINDS
from yuzen.brief.toml.document import make_brief
from yuzen.color.gradient import hexes
from yuzen.color.themes import THEMES
from yuzen.draw import kinds
from yuzen.draw.kinds import plot_kind
from yuzen.draw.room.placement import cut_line, thinned
from yuzen.explain.flags import flag_columns
from yuzen.page.layer import PATTERN_NAMES
from yuzen.scene.primitives import Badges, Polyline
from yuzen.scene.scene import Scene
from yuzen.sources.frames import frame_from
from yuzen.stages.stages import Stages

PALE = {
    t.for_lines.color("quiet"): t.color("quiet") for t in THEMES.values()
}  # of lines, and of bars


def colors_drawn(scene: Scene) -> set[str]:
    """Every colour of bars, parts and lines."""
    lines = [line.shape.ink for line in seen(scene, "line") if isinstance(line.shape, Polyline)]
    fills = [part.shape.fill for role in ("bars", "parts", "line") for part in seen(scene, role)
             if not isinstance(part.shape, Polyline)]  # fmt: skip
    return {color for inks in (*lines, *fills) for color in hexes(inks[:, :3])}


@pytest.mark.sampled(3)
@pytest.mark.parametrize("kind", KINDS)
def test_every_demo_chart_in_every_kind_is_tidy_and_true(kind: Any) -> None:
    # Every kind has some of the charts, so that all of them are drawn in some kinds.
    step = 2 if THOROUGH else 4
    first = list(KINDS).index(kind) % step
    for place, (name, chart) in list(enumerate(CHARTS.items()))[first::step]:
        plain = chart.stages.brief.plain()
        plain["chart"]["kind"] = kind
        if KINDS[kind].shape.two_sided:
            plain["chart"].setdefault("across", chart.stages.brief.chart.value)
        said = {**plain["chart"], "layer": plain.get("layer")}
        odd = [key for key in KINDS[kind].lacks if said.get(key)]
        odd += ["from and to"] * (bool(said.get("from")) and not KINDS[kind].steps)
        refused = "|".join(f'kind = "{kind}" has no {key}' for key in odd)
        if (
            not refused
            and chart.stages.brief.chart.series
            and chart.stages.brief.chart.totals
            and kind != "table"
        ):
            refused = "a chart with series has no totals besides"
        if refused:
            with pytest.raises(yz.YuzenError, match=refused):
                make_brief(plain)
            continue
        turned = yz.Chart(
            Stages(type(chart.stages.brief).model_validate(plain), chart.stages.source)
        )
        # What no rule colours is plain in tables, and pillars of bridges are in ink; bridges stand as given.
        unlike = (
            ["role", "color"] if {"table", "bridge"} & {kind, chart.stages.brief.chart.kind} else []
        )
        by = ["target", chart.stages.marks.category, *chart.stages.marks.series]
        one, other = (
            frame_from(flag_columns(c.stages.judged, {}))
            .drop(columns=unlike)
            .sort_values(by, ignore_index=True)
            for c in (turned, chart)
        )
        told = [name for name in other.columns if name in one.columns]
        one, other = (table.replace(PALE) for table in (one, other))
        pd.testing.assert_frame_equal(one[told], other[told])
        if (
            kind == "ring"
            and np.nanmin(
                np.asarray(chart.stages.marks.columns[chart.stages.marks.value])[
                    ~chart.stages.marks.sums
                ]
            )
            < 0
        ):
            with pytest.raises(yz.YuzenError, match="slices of a ring are parts of a whole"):
                turned.figure()
            continue
        if (place + list(KINDS).index(kind)) % 3:
            continue  # a third of them are drawn, each kind others
        figure = drawn(turned)
        assert_tidy(figure)
        flags = turned.flags().query("target == 'mark'")
        expected = flags["color"].tolist()
        if kind in {"table", "ring", "scatter", "dots"}:
            continue
        if (
            any(rule.section.part is not None for rule in turned.stages.design.rules)
            or "line" in turned.flags()["target"].array
        ):
            continue  # what is cut, and lines by themselves, have tests of their own
        if kind in {"bar", "column", "bridge"}:
            main = turned.stages.design.main.name if turned.stages.design.main else ""
            made = seen(figure, "bars", main)
            assert [color for bars in made for color in bars.colors] == expected, name
        else:
            # A line of one mark after another has no colour for its first mark alone.
            colors = turned.stages.verdict.palette.base
            base = {*colors.series, *colors.layers.values()}
            layers = turned.flags().query("target.str.startswith('layer ')")["color"]
            assert colors_drawn(figure) <= {*expected, *base, *layers}, name
            assert colors_drawn(figure) >= set(expected[1:]) or turned.stages.brief.chart.panels, (
                name
            )


def test_every_kind_is_registered() -> None:
    files = {path.stem for path in Path(kinds.__file__).parent.glob("*.py")} - {"__init__"}
    layouts = {kind.layout or name for name, kind in KINDS.items()}
    assert layouts == files
    assert all(plot_kind(layout) for layout in layouts)


@pytest.mark.parametrize("kind", ["bar", "column"])
def test_bars_reach_from_zero_to_their_value(kind: Any) -> None:
    values = [5.0, -3.0, 0.0, None, 8.0]
    chart = yz.chart(
        {"item": list("abcde"), "v": values},
        category="item",
        value="v",
        kind=kind,
        order="as given",
    )
    corners = bars_of(drawn(chart)).corners
    low, high = (corners[:, 0], corners[:, 2]) if kind == "bar" else (corners[:, 1], corners[:, 3])
    assert low == pytest.approx([0, -3, 0, 0, 0], abs=1e-9)
    assert high == pytest.approx([5, 0, 0, 0, 8], abs=1e-9)
    across = corners[:, [1, 3]] if kind == "bar" else corners[:, [0, 2]]
    assert across.mean(axis=1) == pytest.approx([0, 1, 2, 3, 4])


def test_numbers_stand_beyond_the_ends_of_bars() -> None:
    rows = {"item": list("abc"), "v": [500, -300, 20]}
    figure = drawn(yz.chart(rows, category="item", value="v", order="as given"))
    boxes = dict(boxes_of(figure))
    assert boxes["500"].x0 > spot(figure, 500, 0)[0]
    assert boxes["−300"].x1 < spot(figure, -300, 1)[0]
    assert boxes["20"].x0 > spot(figure, 20, 2)[0]


def random_chart(seed: int) -> yz.Chart:
    """A chart of any shape: short and long names, any signs, ties, tiny beside huge, any script."""
    random = np.random.default_rng(seed)
    count = int(random.choice([1, 2, 3, 7, 12, 20, 33, 60]))
    alphabets = ["abcdefgh ", "ÅØüß ", "αβγδ ", "жщюя ", "ABCDEFGHIJ KLMN "]
    names = [
        "".join(random.choice(list(alphabets[random.integers(5)]), int(random.integers(1, 45))))
        + str(i)
        for i in range(count)
    ]
    values = random.choice(
        [
            random.normal(0, 1000, count),
            random.integers(0, 4, count).astype(float),
            -(10 ** random.uniform(-2, 6, count)),
            10 ** random.uniform(-3, 7, count),
            np.full(count, 7.0),
        ]
    )
    values[random.random(count) < 0.1] = np.nan
    chart = yz.chart(
        {"name of item": names, "v": values},
        category="name of item",
        value="v",
        kind=str(random.choice(["bar", "column", "line", "area"], p=[0.35, 0.35, 0.15, 0.15])),  # type: ignore[arg-type]
        title="A title " * int(random.integers(1, 30)),
        subtitle="and a subtitle " * int(random.integers(0, 14)),
    )
    rules = ["highest", "bottom 3", "negative", "above average", "outlier", "rank 4 to 9"]
    for rule in random.choice(rules, int(random.integers(0, 5)), replace=False):
        chart = chart.rule(str(rule), color=str(random.choice(["favorable", "adverse", "notice"])))
    for at in random.choice(
        ["average", "median", "highest", "0"], int(random.integers(0, 4)), replace=False
    ):
        chart = chart.reference(str(at))
    return decorated(chart, random)


def decorated(chart: yz.Chart, random: np.random.Generator) -> yz.Chart:
    """Some of all that can stand on a chart besides: labels, badges, dividers, ticks, bands, themes."""
    some = random.random(8) < 0.35
    if some[0]:
        chart = chart.label("{v:,.1f}").label(
            "  {v / average - 1:arrow .0%}", weight="normal", show="flagged"
        )
    if some[1]:
        where: Any = str(random.choice(["inside", "base", "above"]))
        chart = chart.label("{share of v:.0%}", where=where, plate=bool(random.random() < 0.5))
    if some[2]:
        chart = chart.rule("top 2", badge="cup", name="cup").rule(
            "lowest", badge="down", name="down"
        )
    if some[3]:
        chart = chart.reference(after="top 3", label="the first three end here")
    if some[4]:
        chart = chart.reference("median", within=["name of item"], label="own")
    if some[5]:
        chart = chart.reference(low="0.5 * average", high="median", label="usual")
    if some[6]:
        chart = chart.rule("above median", shade="v", name="shade")
    plain = {**chart.stages.brief.plain(), "theme": str(random.choice(["linen", "dusk", "press"]))}
    return yz.Chart(Stages(type(chart.stages.brief).model_validate(plain), chart.stages.source))


@pytest.mark.parametrize("part", range(2))
def test_random_charts_are_tidy(part: int) -> None:
    for seed in seeds(part * 50, part * 50 + 15):
        assert_tidy(drawn(random_chart(seed)))


@pytest.mark.parametrize("kind", ["bar", "column"])
def test_thousands_of_bars_are_a_sane_picture(kind: Any) -> None:
    values = np.sin(np.arange(20_000) / 500) * 100
    values[777] = 400
    rows = {"item": [f"Item {i}" for i in range(20_000)], "v": values}
    chart = yz.chart(rows, kind=kind, category="item", value="v", order="as given").rule(
        "highest", color="adverse"
    )
    figure = drawn(chart)
    assert_tidy(figure)
    bars = bars_of(figure)
    assert len(bars.corners) == 20_000
    last = bars.corners[-1]
    assert bars.colors[-1] == "#C63E2F", "the flagged one lies on top"
    assert np.mean(last[[1, 3]] if kind == "bar" else last[[0, 2]]) == pytest.approx(777)
    assert len(boxes_of(figure)) < 200
    assert "Item 777" in dict(boxes_of(figure))


def test_rows_have_an_even_height_and_pages_grow() -> None:
    heights, pitches = [], []
    for count in (12, 25, 60):
        rows = {"item": [f"i{k}" for k in range(count)], "v": range(1, count + 1)}
        scene = drawn(yz.chart(rows, category="item", value="v"))
        pitches.append(abs(spot(scene, 0, 1)[1] - spot(scene, 0, 0)[1]))
        heights.append(scene.height)
    assert heights[0] == 800
    assert heights == sorted(heights)
    assert pitches[1:] == pytest.approx([37, 37], abs=0.1)


def test_thinning_keeps_the_flagged_and_never_overlaps() -> None:
    random = np.random.default_rng(5)
    centers, sizes = random.uniform(0, 500, 400), random.uniform(5, 30, 400)
    first = np.zeros(400, dtype=bool)
    first[:3] = True
    centers[:3] = 100, 200, 300
    kept = thinned(centers, sizes, np.ones(400, dtype=bool), first)
    assert kept[:3].all()
    low, high = centers[kept] - sizes[kept] / 2, centers[kept] + sizes[kept] / 2
    order = np.argsort(low)
    assert (low[order][1:] >= high[order][:-1] - 1).all()


def test_a_line_is_cut_where_the_gaps_are() -> None:
    random = np.random.default_rng(6)
    for _ in range(50):
        gaps = np.sort(random.uniform(-5, 25, (4, 2)), axis=1)
        left = cut_line(0, 20, gaps)
        for place in np.linspace(0.01, 19.99, 200):
            assert all(low < high for low, high in left)
            covered = any(low < place < high for low, high in gaps)
            assert covered != any(low <= place <= high for low, high in left)


ROWS = {"item": list("abcde"), "v": [50, 40, 30, 2, -10], "w": list("xxyyy")}


def five(**said: Any) -> yz.Chart:
    return yz.chart(ROWS, category="item", value="v", order="as given", **said)


@pytest.mark.parametrize("kind", ["bar", "column"])
def test_labels_stand_where_they_are_told(kind: Any) -> None:
    chart = (
        five(kind=kind)
        .label("end {v}")
        .label("in {v}", where="inside")
        .label("at {v}", where="base")
    )
    figure = drawn(chart)
    boxes = dict(boxes_of(figure))
    along = 0 if kind == "bar" else 1

    def span(text: str) -> tuple[float, float]:
        box = boxes[text]
        return (box.x0, box.x1) if kind == "bar" else (box.y0, box.y1)

    zero = spot(figure, 0, 0)[along]
    tip = spot(figure, 50, 50)[along]
    assert (
        zero
        < span("at 50")[0]
        < span("at 50")[1]
        < span("in 50")[0]
        < span("in 50")[1]
        < tip
        < span("end 50")[0]
    )
    if (
        "in 2" in boxes
    ):  # smaller; what does not fit inside then, beside a number at the end, is left out
        assert span("in 2")[1] <= spot(figure, 2, 2)[along]
    assert "end 2" in boxes
    assert span("end −10")[1] < spot(figure, -10, -10)[along]


def test_a_text_that_does_not_fit_inside_goes_to_the_end() -> None:
    figure = drawn(five().label("{v} inside", where="inside"))
    boxes = dict(boxes_of(figure))
    assert boxes["50 inside"].x1 < spot(figure, 50, 0)[0]
    assert boxes["2 inside"].x0 > spot(figure, 2, 3)[0]


def test_text_inside_takes_the_ink_that_can_be_read() -> None:
    chart = five().label("{v}", where="inside", show="v above 5")
    chart = chart.rule("highest", color="#102030").rule("v above 35", color="#F0E0A0")
    inks = {line.text: to_hex(line.ink).upper() for line in drawn(chart).texts}
    assert (inks["50"], inks["40"]) == ("#FFFFFF", "#22272C")
    assert "2" not in inks


def test_both_that_tie_carry_the_cup_before_their_number() -> None:
    rows = {"item": list("abc"), "v": [9, 9, 4]}
    chart = yz.chart(rows, category="item", value="v", order="as given").rule(
        "highest", badge="cup"
    )
    figure = drawn(chart)
    boxes = [(text, box) for text, box in boxes_of(figure) if text == "9"]
    cups = next(badges for badges in shapes_of(figure, Badges) if badges.names == ("cup", "cup"))
    places = upward(figure, cups.centers).tolist()
    assert [boxes[0][1].x0 - x for x, _ in places] == pytest.approx([11.5, 11.5], abs=2)
    assert sorted(y for _, y in places) == pytest.approx(
        sorted((b.y0 + b.y1) / 2 for _, b in boxes), abs=3
    )


def test_references_of_groups_dividers_and_bands_stand_at_their_values() -> None:
    chart = (
        five(parameters={"n": 2})
        .reference("average", within=["w"])
        .reference(after="top n", label="top {n:.0f}")
    )
    chart = chart.reference(low="10", high="20", label="usual")
    figure = drawn(chart)
    segments = [line for ticks in seen(figure, "reference") for line in ticks.lines]
    ticks = {round(float(y)): round(float(x), 3) for (x, y), _ in segments if x}
    assert ticks == {0: 45, 1: 45, 2: 7.333, 3: 7.333, 4: 7.333}
    assert only(figure, "bands").corners == pytest.approx(np.array([[10, -0.5, 20, 4.5]]))
    middle = spot(figure, 0, 1.5)[1]
    box = dict(boxes_of(figure))["top 2"]
    assert (box.y0 + box.y1) / 2 == pytest.approx(middle, abs=4)
    moved = dict(boxes_of(drawn(chart.given(n=3))))["top 3"]
    assert moved.y0 < box.y0
    assert [entry.text for entry in chart.stages.page.key.entries] == ["average within w"]


def test_patterns_come_from_rules_and_from_themes() -> None:
    page = (
        five(theme="press")
        .rule("highest", color="adverse")
        .rule("lowest", pattern="grid")
        .stages.page
    )
    patterns = [PATTERN_NAMES[place] for place in page.charts[0].layers[0].styles.patterns.tolist()]
    assert patterns == ["stripes", "", "", "", "grid"]
    assert [entry.pattern for entry in page.key.entries if hasattr(entry, "pattern")] == [
        "stripes",
        "grid",
        "",
    ]
    assert five(key_place="none").rule("highest", color="adverse").stages.page.key.entries == ()


def test_pieces_have_their_own_rules_and_weight() -> None:
    chart = (
        five()
        .label("{v}")
        .label(" ({change of v:sign .0f})", name="step", color="slate", weight="normal")
    )
    chart = chart.rule("highest", color="favorable").rule(
        "change of v negative", on="label.step", color="adverse"
    )
    first, second = chart.stages.page.charts[0].layers[0].labels[0].pieces
    assert second.texts == (" (–)", " (−10)", " (−10)", " (−28)", " (−12)")
    assert first.bold.tolist() == [True, False, False, False, False]
    assert not second.bold.any()
    assert to_hex(tuple(second.ink[1])) == "#c63e2f"
    assert to_hex(tuple(second.ink[0])) == "#5b646d"
    assert to_hex(tuple(first.ink[0])) == "#0a4a80"


def test_an_average_within_a_label_is_the_groups() -> None:
    texts = (
        five()
        .label("{v / average - 1:arrow .0%}", within=["w"])
        .stages.page.charts[0]
        .layers[0]
        .labels[0]
        .pieces[0]
        .texts
    )
    assert texts == ("▲ 11%", "▼ 11%", "▲ 309%", "▼ 73%", "▼ 236%")


def test_a_key_beside_the_subtitle_saves_its_line() -> None:
    plain = five(subtitle="Values of five").rule("highest", color="adverse", key="The highest")
    beside = five(subtitle="Values of five", key_place="beside subtitle").rule(
        "highest", color="adverse", key="The highest"
    )
    boxes, figure = dict(boxes_of(drawn(beside))), drawn(beside)
    assert_tidy(figure)
    assert boxes["The highest"].x0 > boxes["Values of five"].x1
    assert abs(boxes["The highest"].y0 - boxes["Values of five"].y0) < 6
    assert figure.height < drawn(plain).height
    crowded = five(subtitle="many words " * 30, key_place="beside subtitle").rule(
        "highest", color="adverse", key="K " * 60
    )
    assert_tidy(drawn(crowded))


def test_what_has_no_room_is_told() -> None:
    rows = {"item": [f"{'long ' * 30}{i}" for i in range(40)], "v": range(40)}
    (note,) = yz.chart(rows, category="item", value="v").notes()
    assert note.startswith("40 names cut to a third of the page: long long")
    assert note.endswith(" and 37 more")
    notes = yz.chart(rows, category="item", value="v", kind="column").notes()
    assert any(
        note.count("long") and note.endswith("more; horizontal bars have more") for note in notes
    )
    many = {"item": [f"i{k}" for k in range(900)], "v": range(900)}
    notes = yz.chart(many, category="item", value="v").notes()
    assert [note.split(" ", 1)[1].split(":")[0] for note in notes] == [
        "numbers left out for want of room",
        "names left out for want of room",
    ]
    assert all(re.search(r": i\d+, i\d+, i\d+ and \d+ more$", note) for note in notes)
    assert five().notes() == []


def test_a_rule_without_a_name_is_told_with_its_parameters() -> None:
    chart = (
        five(parameters={"n": 2})
        .rule("v in top n", color="favorable")
        .rule('w = "n"', color="adverse")
    )
    chart = chart.reference(after="top n")
    assert chart.stages.page.key.entries[0].text == "v in top 2"
    assert chart.stages.page.charts[0].references.dividers[0].text == "top 2"
