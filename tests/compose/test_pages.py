"""Pages: slices of the whole against charts drawn alone, cuts by every effect, and texts near further layers."""

from __future__ import annotations

import ast
import subprocess
import sys
from collections.abc import Callable
from dataclasses import replace
from functools import partial
from itertools import product
from pathlib import Path
from typing import Any

import numpy as np
import pandas as pd
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from matplotlib.colors import to_hex
from tools.legibility.belonging import belonging_faults
from tools.legibility.faults import faults_of, written_faults
from tools.legibility.measuring import examined

import yuzen as yz
from tests.support.sampling import examples
from tests.support.scenes import assert_tidy, drawn, hex_colors, seen, shapes_of, texts_of
from yuzen.brief.kinds import KINDS
from yuzen.brief.sections.effects import EFFECT_TABLE
from yuzen.color.named import contrast, legible, rgb_of
from yuzen.color.themes import LINEN, TEXT_CONTRAST, THEMES
from yuzen.draw.places.number_fit import fit_texts
from yuzen.page.layer import PATTERN_NAMES, BarParts, Layer
from yuzen.page.lines import LineSegments, places_in
from yuzen.page.page import Page
from yuzen.page.shapes import SHAPES
from yuzen.render.scenes import scene_of
from yuzen.scene.primitives import Badges
from yuzen.scene.scene import Scene
from yuzen.scene.writing import Writing, WrittenLine

numbers = st.integers(-6, 6).map(float)
rows_of_groups = st.lists(
    st.tuples(st.sampled_from("xy"), st.one_of(st.none(), numbers), numbers),
    min_size=2,
    max_size=12,
)
PANEL_RULES = ["negative", "above average", "highest", "above r", "last"]


ON_AXES = sorted(name for name, kind in KINDS.items() if not kind.lacks)


def grouped(points: list[tuple[str, float | None, float]]) -> pd.DataFrame:
    """Rows of one number in sequence, each group counted from 0."""
    frame = pd.DataFrame(points, columns=["g", "v", "r"]).astype({"v": float})
    return frame.assign(x=frame.groupby("g").cumcount().astype(float))


def assert_same_lines(one: LineSegments | None, other: LineSegments | None) -> None:
    assert (one is None) == (other is None)
    if one is None or other is None:
        return
    for name in ("starts", "ends", "left", "right", "curves"):
        np.testing.assert_allclose(getattr(one, name), getattr(other, name), err_msg=name)
    for name in ("segment", "low", "high", "color", "pattern", "width"):
        mine, theirs = getattr(one.stretches, name), getattr(other.stretches, name)
        np.testing.assert_allclose(mine, theirs, err_msg=name)


def assert_same_parts(one: BarParts | None, other: BarParts | None) -> None:
    assert (one is None) == (other is None)
    if one is None or other is None:
        return
    assert one.texts == other.texts
    for name in ("mark", "low", "high", "color", "pattern"):
        np.testing.assert_allclose(getattr(one, name), getattr(other, name), err_msg=name)


def assert_same_layer(one: Layer, other: Layer) -> None:
    for name in ("values", "heights", "slots", "dodge_index", "starts", "totals", "flagged"):
        np.testing.assert_allclose(
            getattr(one.marks, name), getattr(other.marks, name), err_msg=name
        )
    for name in ("fill", "outline", "patterns"):
        np.testing.assert_allclose(
            getattr(one.styles, name), getattr(other.styles, name), err_msg=name
        )
    assert_same_lines(one.segments, other.segments)
    assert_same_parts(one.parts, other.parts)
    assert len(one.labels) == len(other.labels)
    for mine, theirs in zip(one.labels, other.labels, strict=True):
        for first, second in zip(mine.pieces, theirs.pieces, strict=True):
            assert tuple(first.texts) == tuple(second.texts)
            np.testing.assert_allclose(first.ink, second.ink)
    if one.areas is not None and other.areas is not None:
        for name in ("segment", "low", "high", "lower", "upper", "color", "pattern"):
            np.testing.assert_allclose(
                getattr(one.areas, name), getattr(other.areas, name), err_msg=name
            )


@settings(max_examples=examples(50))
@given(
    rows_of_groups,
    st.sampled_from(ON_AXES),
    st.lists(st.sampled_from(PANEL_RULES), min_size=1, max_size=3, unique=True),
    st.sampled_from([None, "above average", "above r"]),
)
def test_a_panel_is_what_its_rows_give_alone(
    points: list[tuple[str, float | None, float]], kind: Any, rules: list[str], part: str | None
) -> None:
    """Cut once for the whole page and sliced, every panel is as if its rows had been drawn by themselves."""
    frame = grouped(points)

    def made(rows: pd.DataFrame, **said: Any) -> Page:
        chart = yz.chart(rows, category="x", value="v", kind=kind, order="in time", **said)
        if part is not None:
            chart = chart.rule("always", part=part, color="notice", name="part")
        for rule, color in zip(rules, ("adverse", "favorable", "ink"), strict=False):
            chart = chart.rule(rule, color=color, pattern="stripes", opacity=0.5)
        return chart.stages.page

    page = made(frame, panels="g")
    assert [plot.name for plot in page.charts] == list(dict.fromkeys(frame["g"]))
    for plot in page.charts:
        own = frame[frame["g"] == plot.name]
        alone = made(own.assign(g=own["g"])).charts[0]
        if len(page.charts) == 1 or len(plot.axes.category) == len(own):
            for mine, theirs in zip(plot.layers, alone.layers, strict=True):
                assert_same_layer(mine, theirs)


def test_places_are_where_kept_things_stand() -> None:
    assert places_in(np.array([2, 0]), 3).tolist() == [1, -1, 0]
    assert places_in(np.array([], dtype=np.intp), 2).tolist() == [-1, -1]


CUTS: list[tuple[dict[str, Any], str, Any, Any]] = [
    ({"opacity": 0.3}, "color", 1.0, 0.3),
    ({"pattern": "dots"}, "pattern", 0, PATTERN_NAMES.index("dots")),
    ({"color": "adverse"}, "color", None, None),
]


@pytest.mark.parametrize("target", ["mark", "line"])
@pytest.mark.parametrize(("said", "field", "before", "after"), CUTS)
def test_every_effect_of_a_line_begins_where_the_line_crosses(
    said: dict[str, Any], field: str, before: Any, after: Any, target: str
) -> None:
    rows = {"x": [0.0, 1, 2, 3], "v": [4.0, 2, -2, -6]}
    chart = yz.chart(rows, category="x", value="v", kind="line").rule("negative", on=target, **said)
    layer = chart.stages.page.charts[0].layers[0]
    assert layer.segments is not None
    cut = layer.segments.stretches
    place = layer.segments.left[cut.segment] + cut.low
    values = cut.color[:, 3] if field == "color" and "opacity" in said else getattr(cut, field)
    if "color" in said:
        colors = [to_hex(tuple(color)).upper() for color in cut.color]
        values, before, after = np.array(colors), LINEN.for_lines.color("quiet"), "#C63E2F"
    assert set(values[place < 1.5].tolist()) == {before}
    assert set(values[place >= 1.5].tolist()) == {after}


def test_each_effect_of_a_line_has_its_own_first_match() -> None:
    rows = {"x": [0.0, 1, 2], "v": [-4.0, -2, 2]}
    chart = yz.chart(rows, category="x", value="v", kind="line")
    chart = chart.rule("below -3", opacity=0.5).rule(
        "negative", color="adverse", opacity=0.2, pattern="grid"
    )
    segments = chart.stages.page.charts[0].layers[0].segments
    assert segments is not None
    cut = segments.stretches
    place = segments.left[cut.segment] + (cut.low + cut.high) / 2
    found = [
        (round(float(p), 2), to_hex(tuple(c)).upper(), float(c[3]), PATTERN_NAMES[k])
        for p, c, k in zip(place, cut.color, cut.pattern.tolist(), strict=True)
    ]
    assert found == [
        (0.25, "#C63E2F", 0.5, "grid"),
        (0.75, "#C63E2F", 0.2, "grid"),
        (1.25, "#C63E2F", 0.2, "grid"),
        (1.75, LINEN.for_lines.color("quiet"), 1.0, ""),
    ]


@given(
    st.lists(st.tuples(*[st.integers(0, 255)] * 3), min_size=1, max_size=20),
    st.sampled_from(sorted(THEMES)),
)
def test_shaded_texts_can_be_read_and_change_no_more_than_they_must(
    colors: list[tuple[int, int, int]], name: str
) -> None:
    theme = THEMES[name]
    ink, paper = theme.color("ink"), theme.color("paper")
    given_colors = np.array(colors) / 255
    made = legible(given_colors, rgb_of(ink), rgb_of(paper), TEXT_CONTRAST)
    for before, after in zip(given_colors, made, strict=True):
        told = to_hex(tuple(after))
        enough = contrast(to_hex(tuple(before)), paper) >= TEXT_CONTRAST
        assert contrast(told, paper) >= TEXT_CONTRAST - 0.1
        assert np.array_equal(before, after) or not enough
        share = np.linalg.norm(after - before) / max(
            1e-9, float(np.linalg.norm(rgb_of(ink) - before))
        )
        weaker = before * (1 - (share - 0.1)) + rgb_of(ink) * (share - 0.1)
        if share > 0.11:
            assert contrast(to_hex(tuple(np.clip(weaker, 0, 1))), paper) < TEXT_CONTRAST + 0.1


def layered(seed: int) -> yz.Chart:
    """A chart of two or three layers, with texts and badges that rules write at all of them."""
    random = np.random.default_rng(seed)
    count = int(random.choice([3, 6, 12, 18]))
    rows = {
        "c": [f"Route {k}" for k in range(count)],
        "v": random.normal(1000, 700, count).round(),
        "plan": random.normal(1000, 600, count).round(),
        "goal": random.normal(900, 300, count).round(),
    }
    shapes = random.choice(["bar", "line", "tick"], 2)
    layers = [
        {"name": "goal", "value": "goal", "kind": str(shapes[0]), "color": "hairline"},
        {"name": "own", "value": "v", "width": 0.6},
        {"name": "plan", "value": "plan", "kind": str(shapes[1]), "color": "slate"},
    ]
    kind = str(random.choice(ON_AXES))
    chart = yz.chart(rows, category="c", value="v", kind=kind, order="as given", layer=layers)  # type: ignore[arg-type]
    chart = chart.rule("below 800", color="adverse", name="few")
    chart = chart.rule(
        "highest", on="layer plan", label="plan {plan:,.0f}", badge="flag", name="most planned"
    )
    chart = chart.rule("bottom 3", on="layer goal", badge="down", opacity=0.4, name="least goal")
    return chart.rule("top 2", on="axis name", badge="cup", name="best")


@pytest.mark.parametrize("part", range(2))
def test_texts_of_further_layers_touch_nothing(part: int) -> None:
    for seed in range(part * 12, part * 12 + 5):
        chart = layered(seed)
        figure = drawn(chart)
        assert_tidy(figure)
        flags = [name for badges in shapes_of(figure, Badges) for name in badges.names
                 if name == "flag"]  # fmt: skip
        left_out = any("of layers left out" in note for note in chart.notes())
        texts = {*texts_of(figure)}
        assert left_out or any(text.startswith("plan ") for text in texts), seed
        assert len(flags) == 2 or left_out, "one in the key, one at the mark"


@pytest.mark.parametrize("kind", ["bar", "column"])
@pytest.mark.parametrize("wide", [("plan", "of {plan:.0f}"), ("own", "")])
def test_texts_of_layers_stand_at_the_ends_of_their_layers(kind: Any, wide: Any) -> None:
    rows = {"c": list("ab"), "v": [10.0, 4], "plan": [7.0, 6]}
    name, text = wide
    layers = [
        {"name": "plan", "value": "plan", "width": 1.0 if name == "plan" else 0.5},
        {"name": "own", "value": "v", "width": 0.5 if name == "plan" else 1.0},
    ]
    layers = layers if name == "plan" else layers[::-1]
    chart = yz.chart(rows, category="c", value="v", kind=kind, layer=layers, order="as given")  # type: ignore[arg-type]
    if text:
        chart = chart.rule("always", on="layer plan", label=text)
    scene = drawn(chart)
    assert chart.notes() == []
    assert not list(belonging_faults(scene, chart.stages.page))
    assert {"10", "4"} | ({"of 7", "of 6"} if text else set()) <= {*texts_of(scene)}


@pytest.mark.parametrize("shape", ["bar", "line", "tick"])
@pytest.mark.parametrize("kind", ON_AXES)
def test_looks_of_layers_are_those_of_their_rules(kind: Any, shape: str) -> None:
    rows = {"c": list("abcd"), "v": [5.0, 3, 4, 6], "plan": [4.0, 5, 3, 2]}
    layers = [
        {"name": "own", "value": "v"},
        {"name": "plan", "value": "plan", "kind": shape, "color": "ink"},
    ]
    chart = yz.chart(rows, category="c", value="v", kind=kind, layer=layers, order="as given")  # type: ignore[arg-type]
    chart = chart.rule(
        "plan above 3.5", on="layer plan", color="adverse", opacity=0.5, pattern="stripes"
    )
    figure = drawn(chart)
    layer = next(layer for layer in chart.stages.page.charts[0].layers if layer.name == "plan")
    assert [PATTERN_NAMES[place] for place in layer.styles.patterns.tolist()] == [
        "stripes",
        "stripes",
        "",
        "",
    ]
    assert layer.styles.fill[:, 3].tolist() == [0.5, 0.5, 1, 1]
    if shape == "tick":
        ticks = seen(figure, "ticks", "plan")
        styles = {hex_colors(tick.shape.ink)[0]: tick.shape.strokes for tick in ticks}
        assert styles == {"#c63e2f": ("stripes",), "#22272c": ()}
    if shape == "line":
        lines = seen(figure, "line", "plan")
        assert {hex_colors(line.shape.ink)[0] for line in lines} == {"#c63e2f", "#22272c"}
    own = chart.flags().query("target == 'layer plan'")
    assert own["color"].tolist() == ["#C63E2F", "#C63E2F", "#22272C", "#22272C"]


COMBINED = [
    (kind, count, series, arrange, panels, shape)
    for place, (kind, count, series, arrange, panels, shape) in enumerate(
        product(
            [*ON_AXES, "table", "dots"],
            [1, 3, 9],
            [None, "s"],
            ["beside", "stacked"],
            [None, "p"],
            ["line", "tick", "bar"],
        )
    )
    if place % 19 == 0
]


@pytest.mark.sampled(4)
@pytest.mark.parametrize("combined", COMBINED, ids=str)
def test_all_that_can_stand_on_a_chart_stands_together(combined: tuple[Any, ...]) -> None:
    kind, count, series, arrange, panels, shape = combined
    panels = panels if kind != "table" else None
    names, values = [f"item {k}" for k in range(count)], [1.0, -2, np.nan, 5, 6, 7, -8, 1e6, 3]
    others = [2.0, np.inf, 1, -3, 4, 5, 6, 7, 1e5]
    rows = {
        "c": names * 2,
        "s": ["x"] * count + ["y"] * count,
        "p": ["k"] * count + ["l"] * count,
        "v": values[:count] * 2,
        "w": others[:count] * 2,
    }
    said = {name: column for name, column in (("series", series), ("panels", panels)) if column}
    layers = [
        {"name": "w", "value": "w", "kind": shape, "axis": "own" if count == 3 else "shared"},
        {"name": "m", "value": "v", "width": 0.6},
        {"name": "t", "value": "w", "kind": "tick"},
    ]
    chart = yz.chart(
        pd.DataFrame(rows),
        category="c",
        value="v",
        kind=kind,
        arrange=arrange,
        layer=layers,  # type: ignore[arg-type]
        **said,
    )
    chart = chart.rule(
        "highest", color="adverse", badge="star", outline="ink", label="top", name="a"
    )
    chart = chart.rule("negative", on="label", outline="ink", opacity=0.3, name="b").reference(
        "average"
    )
    chart = chart.reference("average", within=["c"]).rule(
        "always", part="above 0", color="notice", name="p"
    )
    chart = chart.rule(
        "highest", on="layer w", badge="flag", label="w {w}", outline="ink", name="c"
    )
    chart = chart.rule("highest", on="layer t", label="t {w}", badge="dot", opacity=0.4, name="d")
    chart = chart.rule("lowest", on="axis name", badge="cup", opacity=0.5, weight="bold", name="f")
    assert chart.image()
    assert len(chart.stages.page.plots) == max(1, 2 * bool(panels))


def test_texts_are_fitted_once(monkeypatch: pytest.MonkeyPatch) -> None:
    fits: list[object] = []

    def counted(*said: Any) -> Any:
        fits.append(said)
        return fit_texts(*said)

    monkeypatch.setattr("yuzen.draw.plots.bar_plot.fit_texts", counted)
    rows = {"c": list("abcd"), "v": [5.0, 3, 4, 6]}
    for kind in ("bar", "column"):
        yz.chart(rows, category="c", value="v", kind=kind).rule("highest", color="adverse").image()
    assert len(fits) == 2


def test_names_of_effects_that_a_sparse_axis_hides_are_told() -> None:
    days = pd.date_range("2026-01-01", periods=200).strftime("%Y-%m-%d").tolist()
    rows = {"day": days, "v": np.arange(200.0)}
    chart = yz.chart(rows, category="day", value="v", kind="line", title="Days")
    chart = chart.rule("position 17", on="axis name", color="adverse")
    assert "1 name that rules change left out of the sparse axis: 17 January 2026" in chart.notes()


def test_the_table_of_effects_speaks_of_known_things() -> None:
    traits = {trait for shape in SHAPES for trait in shape.traits}
    named = {name for effect in EFFECT_TABLE for needed in effect.shown.values() for name in needed}
    assert named <= traits
    assert {kind.shape for kind in KINDS.values()} <= set(SHAPES)
    assert len({kind.plural for kind in KINDS.values()}) == len(KINDS)
    for effect in EFFECT_TABLE:
        assert effect.shown, effect.name
        assert all(effect.shown.values()), effect.name


LONG = '''
from dataclasses import dataclass

@dataclass
class Wide:
    """A value."""
{fields}

class Twice:
    """A name that another public class has."""

class Twice:
    """The other one."""

def nested(a, b):
    """Two choices in one, one of them deep inside, on a line that is wider than a hundred characters allow."""
    return 1 if a else max(0, *[2 if b else 3])

def late():
    """An import that is quick."""
    from yuzen.errors import wrong
    return wrong

def long():
    """Many lines."""
{lines}
'''


def test_sizes_of_code_are_measured(tmp_path: Path) -> None:
    tool = Path(__file__).parents[2] / "tools" / "measure_code.py"
    fields = "\n".join(f"    f{k}: int" for k in range(17))
    text = LONG.format(fields=fields, lines="\n".join(["    x = 1"] * 400))
    ast.parse(text)
    (tmp_path / "tools").mkdir()
    (tmp_path / "src" / "yuzen").mkdir(parents=True)
    (tmp_path / "src" / "yuzen" / "bad.py").write_text(text)
    (tmp_path / "tools" / "measure_code.py").write_text(tool.read_text())
    call = [sys.executable, str(tmp_path / "tools" / "measure_code.py")]
    told = subprocess.run(call, check=False, capture_output=True, text=True)
    assert told.returncode == 1
    for part in (
        "Wide has 17 fields",
        "inside another",
        "late imports yuzen.errors",
        "long has 401 lines of code",
        "over 300",
        "2 public classes are called Twice",
        "bad.py is at the root",
        "characters, over 100",
        "0 comments",
    ):
        assert part in told.stdout, part


def without_text(text: str, line: WrittenLine) -> WrittenLine | None:
    """A line unless it says a text."""
    return None if line.text == text else line


def with_lines(scene: Scene, change: Callable[[WrittenLine], WrittenLine | None]) -> Scene:
    """A scene in which some lines of text are others, or are missing."""
    groups = [
        replace(
            group,
            shapes=tuple(
                replace(shape, lines=tuple(filter(None, map(change, shape.lines))))
                if isinstance(shape, Writing)
                else shape
                for shape in group.shapes
            ),
        )
        for group in scene.groups
    ]
    return replace(scene, groups=tuple(groups))


@pytest.mark.sampled(2)
@pytest.mark.parametrize("part", range(2))
def test_random_charts_can_be_read(part: int) -> None:
    """As tools/legibility measures many more."""
    charts = [examined(seed) for seed in range(part * 12, part * 12 + 8)]
    assert [(one.seed, f) for one in charts for f in one.faults if f.what != "slow"] == []
    assert sum(one.refused for one in charts) < 4


@pytest.mark.parametrize(
    ("move", "fault"),
    [
        ((0, 0), None),
        ((320, 0), "text on text"),
        ((2000, 0), "text off the page"),
        ((0, 14), "something under a text"),
        ((np.nan, 0), "position that is no number"),
    ],
)
def test_what_cannot_be_read_is_measured(move: tuple[float, float], fault: str | None) -> None:
    rows = {"a": ["x", "y"], "v": [5.0, 5.0]}
    chart = yz.chart(rows, kind="column", category="a", value="v", title="T", theme="linen")
    scene = drawn(chart)
    first, second = (line for line in scene.texts if line.text == "5")
    step = second.left - first.left if fault == "text on text" else move[0]
    moved = replace(first, left=first.left + step, foot=first.foot + move[1])
    changed = with_lines(scene, lambda line: moved if line is first else line)
    assert {found.what for found in written_faults(changed)} == ({fault} if fault else set())
    pale = with_lines(
        scene, lambda line: replace(line, ink=(0.9, 0.9, 0.9, 1.0)) if line is first else line
    )
    assert {found.what for found in written_faults(pale)} == {"too little contrast"}


def test_a_flagged_number_that_gives_way_to_others_is_measured() -> None:
    rows = {"a": ["x", "y", "z"], "v": [5.0, 4.0, 3.0]}
    page = (
        yz.chart(rows, category="a", value="v", title="T")
        .rule("highest", color="adverse")
        .stages.page
    )
    scene = scene_of(page)
    assert list(faults_of(scene, page)) == []
    for gone, fault in (("5", "flagged left out, others there"), ("4", "left out, not told")):
        without = with_lines(scene, partial(without_text, gone))
        assert fault in {found.what for found in faults_of(without, page)}


def test_numbers_of_narrow_columns_are_written_shorter_before_any_is_left_out() -> None:
    values = [901_000.0 - 41_000 * place for place in range(20)]
    rows = {"item": [f"r{place}" for place in range(20)], "v": values}
    chart = yz.chart(rows, kind="column", category="item", value="v", size={"width": 1000})
    written = {line.text for line in drawn(chart).texts}
    assert {f"{value / 1e3:,.0f}k" for value in values} <= written
    wide = yz.chart(
        {"item": ["a", "b"], "v": values[:2]}, kind="column", category="item", value="v"
    )
    assert {"901,000", "860,000"} <= {line.text for line in drawn(wide).texts}
