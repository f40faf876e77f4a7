"""Every target with every effect in every kind: drawn, refused when the brief is read, or told."""

from __future__ import annotations

from itertools import product
from typing import Any

import pandas as pd
import pytest

import yuzen as yz
from tests.support.sampling import a_sample_of
from tests.support.scenes import assert_tidy, boxes_of, drawn, shapes_of
from yuzen.brief.kinds import KINDS
from yuzen.brief.sections.effects import EFFECT_TABLE, EFFECTS
from yuzen.checks.registry import findings
from yuzen.page.shapes import TREND
from yuzen.rules.target import Target
from yuzen.scene.primitives import Badges

ROWS = {"item": list("abcdef"), "v": [5.0, 3, -2, 4, 1, 6], "w": [4.0, 5, 3, 2, 3, 5]}
SAID: dict[str, dict[str, Any]] = {
    "color": {"when": "v above 2", "color": "adverse"},
    "shade": {"shade": {"of": "v", "colors": ["notice", "adverse"]}},
    "bands": {
        "bands": {
            "of": "v",
            "edges": [2],
            "names": ["low", "high"],
            "colors": ["adverse", "favorable"],
        }
    },
    "part": {"part": "above 2", "color": "adverse"},
    "outline": {"when": "v above 2", "outline": "adverse"},
    "opacity": {"when": "v above 2", "opacity": 0.4},
    "weight": {"when": "v above 2", "weight": "bold"},
    "label": {"when": "v above 4", "label": "here"},
    "badge": {"when": "v above 4", "badge": "star"},
    "pattern": {"when": "v above 2", "pattern": "stripes"},
    "size": {"when": "v above 2", "size": 30},
    "region": {"when": "w above 1 and v above 2", "region": True},
}
WRITING = {
    "label",
    "badge",
    "weight",
    "size",
    "region",
}  # effects that move texts, or what they keep clear of
LAYERS = ("bar", "line", "tick", "dots")
COLUMNS = ("column w", "column trend")
TARGETS = [
    "mark",
    "line",
    "marker",
    "label",
    "label.number",
    "axis name",
    *(f"layer {k}" for k in LAYERS),
]
TARGETS += ["row", "label.w", *COLUMNS]


def chart_of(kind: Any, target: str, **said: Any) -> yz.Chart:
    if target.startswith("layer "):
        layer = target.partition(" ")[2]
        own = {"name": "own", "value": "v", "width": 0.5}
        said["layer"] = [own, {"name": layer, "value": "w", "kind": layer}]
    if target in {*COLUMNS, "label.w"}:
        trend = {"value": "v", "name": "trend", "show": "trend", "over": "time"}
        said["column"] = [{"value": "v"}, {"value": "w"}, trend]
    rows: Any = ROWS
    if kind == "ring":  # whose slices are parts of a whole
        rows = {**ROWS, "v": [5.0, 3, 2, 4, 1, 6]}
    if kind == "scatter":
        said["across"] = "w"
    if kind == "dots" and target == "line":  # of several series, which it joins
        one = pd.DataFrame(ROWS)
        rows = pd.concat([one.assign(s="a"), one.assign(s="b", v=one["v"] + 1)])
        said["series"] = "s"
    if target in {*COLUMNS, "label.w"}:
        rows = pd.concat([pd.DataFrame(rows).assign(time=place) for place in (1, 2)])
    chart = yz.chart(
        rows, category="item", value="v", kind=kind, order="as given", footer=" ", **said
    )
    return chart.label("{v:.0f}", name="number")


def seen(effect: str, target: str, chart: yz.Chart, *, of_points: bool = False) -> bool:
    """Whether a chart shows an effect on a target, of its marks or of the points of small lines."""
    on = Target.parse(target)
    return EFFECTS[effect].seen(on, TREND if of_points else chart.stages.design.shape_of(on))


def test_every_effect_has_a_case() -> None:
    assert set(SAID) == set(EFFECTS)
    assert {Target.parse(target).family for target in TARGETS} >= {
        target for e in EFFECT_TABLE for target in e.shown
    }


# Columns are of tables, and layers of one shape are alike over kinds of one direction.
OTHERS: dict[str, tuple[str, ...]] = {
    "column": ("bar", "table"),
    "row": ("bar", "table"),
    "label.w": ("bar", "table"),
}
OTHERS["layer"] = ("bar", "line", "dots", "bridge", "table")
# Drawn as bars, lines and columns are, from the same file: what is their own is the mark itself.
SIBLINGS = {"column": ("mark", "axis name"), "area": ("mark", "line"), "bridge": ("mark", "label")}
CASES = [
    (kind, on)
    for kind in KINDS
    for on in TARGETS
    if kind in OTHERS.get(on.split(" ")[0], KINDS)
    and (kind not in SIBLINGS or on in SIBLINGS[kind])
]


@pytest.mark.sampled(4)
@pytest.mark.parametrize(("kind", "target"), a_sample_of(CASES))
def test_every_effect_is_drawn_or_refused_or_told(kind: Any, target: str) -> None:
    if target.startswith("layer ") and "layer" in KINDS[kind].lacks:
        with pytest.raises(yz.YuzenError, match=f'kind = "{kind}" has no layers'):
            chart_of(kind, target)
        return
    without = drawn(chart_of(kind, target, key_place="none")).groups
    for name, effect in EFFECTS.items():
        rule = {"name": "it", "on": target, **SAID[name]}
        if Target.parse(target).family not in effect.shown:
            with pytest.raises(
                yz.YuzenError, match=f"{target} has no {name}; what has one is mark"
            ):
                chart_of(kind, target).rule(rule.pop("when", "always"), **rule)
            continue
        when = rule.pop("when", "always")
        chart = chart_of(kind, target).rule(when, **rule)
        judged = kind == "table" or target != "column trend"
        assert set(chart.flags()["target"]) == ({"mark", target} if judged else {"mark"})
        before = without
        of_points = kind == "table" and target == "column trend"
        shown = seen(name, target, chart, of_points=of_points)
        if name in {"part", "region"} and not shown:  # whole marks are coloured
            plain = when if name == "region" else "above 2"
            whole = chart_of(kind, target, key_place="none").rule(plain, **{**rule, name: None})
            before = drawn(whole).groups
        figure = drawn(chart_of(kind, target, key_place="none").rule(when, **rule))
        if name in WRITING:
            assert_tidy(figure)
        changed = figure.groups != before
        called = "color" if name == "bands" else name  # bands are rules with a color each
        told = findings(chart.stages.judged, chart.stages.page, [])
        found = [f for f in told if f.code == "effect-unshown" and f" no {called} on" in f.message]
        of_rules = {"it", "low", "high", "2 to 6"}
        key = [
            entry
            for entry in chart.stages.page.key.entries
            if entry.text.split(": ")[-1] in of_rules or "▒" in entry.text
        ]
        assert (changed, bool(found)) == (shown, not shown), (name, target, kind)
        assert shown or any(f" no {called} on {target}" in note for note in chart.notes())
        if not shown and name != "part":  # the color that a part has is shown all the same
            assert not key, (name, target, kind)
        elif effect.key not in {"", "ramp"}:
            assert key, (name, target, kind)


NAMED = [
    *product(["color", "shade"], TARGETS),
    *product(["badge", "label", "outline", "pattern", "opacity"], ["mark", "layer bar"]),
    *product(["weight", "opacity", "label", "badge"], ["mark", "label"]),
    ("size", "marker"),
    ("size", "layer line"),
    ("part", "mark"),
    ("part", "layer bar"),
    ("part", "layer line"),
    ("outline", "layer line"),
    ("badge", "layer tick"),
    ("label", "layer line"),
]


@pytest.mark.parametrize(("name", "target"), NAMED)
def test_effects_that_the_language_names_are_drawn_somewhere(name: str, target: str) -> None:
    fit = [
        kind for kind in KINDS if not (target.startswith("layer ") and "layer" in KINDS[kind].lacks)
    ]
    assert any(seen(name, target, chart_of(kind, target)) for kind in fit)


@pytest.mark.parametrize("kind", KINDS)
def test_an_empty_label_takes_away_numbers_and_leaves_what_rules_write(kind: Any) -> None:
    chart = chart_of(kind, "mark")
    chart = yz.Chart(chart.stages.with_brief(chart.stages.brief.having(label=()))).label("")
    chart = chart.rule("highest", label="best", badge="cup").rule(
        "lowest", on="label", label="least"
    )
    figure = drawn(chart)
    assert_tidy(figure)
    texts = {text for text, _ in boxes_of(figure)}
    assert {"best", "least"} <= texts
    assert "3" not in texts or kind != "bar"
    assert any("cup" in badges.names for badges in shapes_of(figure, Badges))
