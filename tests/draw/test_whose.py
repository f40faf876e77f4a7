"""Whatever is drawn at a mark is that mark's: places, key, counts, axes."""

import math
from itertools import pairwise
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from tools.legibility.belonging import belonging_faults
from tools.legibility.charts import chart_of
from tools.legibility.swatches import swatch_faults

import yuzen as yz
from tests.support.sampling import seeds
from tests.support.scenes import drawn, shapes_of, texts_of
from yuzen.color.named import luminance, rgb_of
from yuzen.color.themes import LINEN
from yuzen.draw.room.nearness import AS_NEAR_PX, MarkEnds
from yuzen.draw.text.fonts import box_of
from yuzen.draw.text.measurer import ELLIPSIS, TextMeasurer
from yuzen.errors import YuzenError
from yuzen.page.page import KeyEntry
from yuzen.scene.primitives import Dots, Rectangles

boxes = st.tuples(*[st.integers(0, 60)] * 2, *[st.integers(1, 20)] * 2).map(
    lambda box: (float(box[0]), float(box[1]), float(box[0] + box[2]), float(box[1] + box[3]))
)


def gap(one: tuple[float, ...], other: tuple[float, ...]) -> float:
    """Pixels between two boxes, by their sides."""
    x = max(other[0] - one[2], one[0] - other[2], 0.0)
    y = max(other[1] - one[3], one[1] - other[3], 0.0)
    return math.hypot(x, y)


@given(st.lists(boxes, min_size=1, max_size=6), boxes)
def test_a_text_belongs_to_the_only_nearest_of_points(ends: list[Any], text: Any) -> None:
    marks = np.arange(len(ends))
    found = MarkEnds(np.array(ends), marks, np.zeros(len(ends), dtype=np.intp))
    far = [gap(end, text) for end in ends]
    for mark in marks.tolist():
        others = [away for place, away in enumerate(far) if place != mark]
        expected = all(away > far[mark] + AS_NEAR_PX for away in others)
        assert found.is_nearest(text, mark) == expected


@pytest.mark.sampled(3)
@pytest.mark.parametrize("seed", range(8))
def test_numbers_of_dense_columns_are_those_of_their_columns(seed: int) -> None:
    random = np.random.default_rng(seed)
    count = int(random.integers(18, 60))
    rows = {
        "r": [f"r{k}" for k in range(count)],
        "v": random.integers(990, 1012, count).astype(float),
    }
    order: Any = ["largest first", "as given"][seed % 2]
    chart = yz.chart(rows, kind="column", category="r", value="v", order=order)
    chart = chart.rule("top 5", color="adverse", badge="up").rule("lowest", color="notice")
    scene, marks = drawn(chart), chart.stages.marks
    assert not list(belonging_faults(scene, chart.stages.page))
    values = np.asarray(marks.columns["v"])
    numbers = [line for line in scene.texts if line.role == "number"]
    assert all(line.text == f"{values[line.mark]:,.0f}" for line in numbers)
    left_out = len(values) - len(numbers)
    assert not left_out or any("numbers left out" in note for note in chart.notes())


def test_random_charts_have_no_number_at_another_mark_and_no_false_swatch() -> None:
    for seed in seeds(61_000, 61_080):
        try:
            chart = chart_of(seed)
            scene, page = drawn(chart), chart.stages.page
        except YuzenError:
            continue
        assert not [*belonging_faults(scene, page), *swatch_faults(scene, page)], seed


def test_the_key_shows_fill_outline_badge_and_size_together() -> None:
    rows = {"r": list("abcdef"), "v": [1.0, 2, 3, 4, 5, 6], "w": [3.0, 1, 2, 6, 5, 4]}
    chart = yz.chart(rows, kind="scatter", category="r", value="v", across="w", theme="press")
    chart = chart.rule("highest", color="favorable", outline="ink", size=16, name="ringed")
    chart = chart.rule("top 3", color="favorable", name="top").rule(
        "lowest", badge="flag", name="low"
    )
    entries = [e for e in chart.stages.page.key.entries if isinstance(e, KeyEntry)]
    ringed, top, low, rest = entries
    assert (ringed.outline != "", ringed.size > 15, top.outline, top.size) == (True, True, "", 0)
    assert (low.seen, low.badge, rest.text) == ("sign", "flag", "the rest")
    assert not ringed.pattern + top.pattern, "points have no hatch"
    edges = [dots.edge[0, :3] for dots in shapes_of(drawn(chart), Dots) if dots.role == "swatches"]
    assert len({tuple(edge.round(3)) for edge in edges}) == 3
    named = yz.chart(rows, kind="table", category="r", value="v").column("v").column("w")
    named = named.rule("top 2", on="column w", color="adverse")
    assert [e.text for e in named.stages.page.key.entries if isinstance(e, KeyEntry)] == [
        "W: top 2"
    ]
    quoted = yz.chart({"a b": [1.0, 2], "c": list("xy")}, category="c", value="`a b`")
    quoted = quoted.rule("`a b` highest", color="adverse")
    assert getattr(quoted.stages.page.key.entries[0], "text", "") == "a b highest"
    whole = yz.chart(rows, category="r", value="v").rule("above 0", color="adverse")
    assert [getattr(e, "text", "") for e in whole.stages.page.key.entries] == ["above 0"]


@pytest.mark.parametrize(
    ("effect", "count"),
    [
        ({"color": "adverse"}, 1), ({"outline": "ink"}, 1), ({"badge": "up"}, 1),
        ({"weight": "bold"}, 1), ({"label": "here"}, 1), ({"pattern": "stripes"}, 1),
        ({"color": "quiet"}, 0), ({"weight": "normal"}, 0), ({"opacity": 0.5}, 0), ({"shade": "v"}, 0),
    ],
)  # fmt: skip
def test_flagged_is_what_some_rule_changes(effect: dict[str, Any], count: int) -> None:
    chart = yz.chart({"r": list("abc"), "v": [1.0, 2, 3]}, category="r", value="v")
    chart = chart.rule("highest", **effect)
    footer = chart.stages.page.words.footer
    assert footer == (f"{count} of 3 flagged" if count else "")
    assert int(chart.stages.verdict.exceptions(chart.stages.marks)[0].sum()) == count


def test_a_bridge_of_slivers_breaks_its_scale_and_says_so() -> None:
    rows = {"r": ["before", "x", "y", "z", "after"], "v": [4200.0, 30, -45, 22, 4207]}
    chart = yz.chart(
        rows, kind="bridge", category="r", value="v", opening="before", closing="after"
    )
    breaks = [shape for shape in drawn(chart).shapes if shape.role == "breaks"]
    assert len(breaks[0]) == 2, "one gap in each pillar"
    assert any("have a break" in note for note in chart.notes())
    whole = yz.chart(
        rows, kind="bridge", category="r", value="v", opening="before", closing="after",
        scale={"low": 0},
    )  # fmt: skip
    assert not [shape for shape in drawn(whole).shapes if shape.role == "breaks"]
    assert not any("break" in note for note in whole.notes())


def test_bars_of_panels_of_one_scale_are_alike() -> None:
    names = ["a", "a very long name of a pier", "b", "c"]
    rows = {"r": [*names, *names[::2]], "w": list("xxxxyy"), "v": [4.0, 3, 2, 1, 5, 2]}
    chart = yz.chart(rows, kind="bar", category="r", value="v", panels="w")
    found = [(g.area.box, s.corners) for g in drawn(chart).groups if g.area is not None
             for s in g.shapes if isinstance(s, Rectangles) and s.role == "bars"]  # fmt: skip
    assert len({round(box.width, 6) for box, _ in found}) == 1
    thick = {round(float(c), 4) for _, corners in found for c in corners[:, 3] - corners[:, 1]}
    assert len(thick) == 1


def test_numbers_on_a_ramp_change_their_ink_once() -> None:
    rows = {
        "r": list("abcdefgh") * 4,
        "m": [m for m in "wxyz" for _ in range(8)],
        "v": np.arange(32.0),
    }
    for theme in ("linen", "dusk", "press"):
        chart = yz.chart(rows, kind="table", category="r", series="m", value="v", theme=theme)
        page = chart.rule("always", shade="v").stages.page
        assert page.table is not None
        pairs = [
            (float(luminance(ground[:3])), piece.ink[row, :3].tolist())
            for column in page.table.columns
            for piece in column.pieces
            for row, ground in enumerate(column.ground.fill)
        ]
        inks = [ink for _, ink in sorted(pairs)]
        assert sum(one != other for one, other in pairwise(inks)) == 1, theme


def test_an_axis_has_room_for_its_numbers_and_says_a_long_unit_once() -> None:
    rows = {"r": [f"r{k}" for k in range(30)], "v": np.linspace(1, 9.5, 30)}
    for kind in ("column", "line"):
        chart = yz.chart(
            rows, kind=kind, category="r", value="v", formats={"v": "{,.2f} kg per passenger"}
        )
        chart = chart.label("", show="flagged")
        ticks = [line for line in drawn(chart).texts if line.role == "tick"]
        assert ticks
        assert all(line.text.replace(".", "").isdigit() and line.text[-3] == "." for line in ticks)
        assert all(box_of(line).left >= 0 for line in drawn(chart).texts)
        assert texts_of(drawn(chart)).count("kg per passenger") == 1
    wide = yz.chart(rows, kind="line", category="r", value="v", formats={"v": "CHF {,.2f} pp"})
    assert all(box_of(line).left >= 0 for line in drawn(wide).texts if line.role == "tick")


@given(st.text("ab 12.,", min_size=1, max_size=30), st.integers(5, 120))
def test_cutting_never_parts_a_number(text: str, room: int) -> None:
    cut = TextMeasurer(LINEN).cut(text, "name", float(room))
    if cut == text:
        return
    kept = cut.removesuffix(ELLIPSIS)
    assert text.startswith(kept)
    rest = text[len(kept) :].lstrip() if not kept or kept[-1] in "0123456789" else ""
    assert not (rest[:1].isdigit() and kept[-1:].isdigit() and text[len(kept)].isdigit())
    assert len(kept) <= max(0, len(text) - 2)


def test_roles_are_read_on_paper_and_layers_grow_darker() -> None:
    rows = {"r": list("abc"), "v": [1.0, 2, 3], "p": [3.0, 2, 3], "q": [2.0, 2, 2]}
    chart = yz.chart(rows, kind="column", category="r", value="v")
    chart = chart.layer("plan", value="p", kind="bar").layer(
        "last", value="q", kind="bar", width=0.6
    )
    fills = [shape.fill[0, :3] for shape in drawn(chart).shapes if shape.role == "bars"]  # type: ignore[attr-defined]
    lights = [float(luminance(fill)) for fill in fills]
    assert lights == sorted(lights, reverse=True)
    assert len(set(lights)) == 3
    assert lights[0] == pytest.approx(float(luminance(rgb_of(LINEN.color("quiet")))))
