"""What a check finds: each finding in a chart that shows it, and not in one beside it."""

from __future__ import annotations

import json
import warnings
from collections.abc import Callable
from itertools import product
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

import yuzen as yz
from tests.support.command_line import Called
from tests.support.ferries import DEMO
from yuzen.checks.finding import ExaminedPage
from yuzen.checks.registry import CHECKS
from yuzen.color.difference import DEFICIENCIES, EYES, apart, ciede2000, seen
from yuzen.color.gradient import hexes

with warnings.catch_warnings(), np.printoptions():
    warnings.simplefilter("ignore")
    import colour
    from colour.blindness import matrix_cvd_Machado2009

ROWS: dict[str, list[Any]] = {
    "item": ["a", "b", "c", "d", "e"],
    "v": [50.0, 40.0, 30.0, 20.0, 10.0],
    "w": [1.0, 2.0, 3.0, 4.0, 5.0],
    "team": ["x", "x", "x", "y", "y"],
}
Make = Callable[[], yz.Chart]


def made(rows: dict[str, list[Any]] | None = None, **said: Any) -> yz.Chart:
    return yz.chart({**ROWS, **(rows or {})}, **{"category": "item", "value": "v", **said})


def dated(values: list[float]) -> dict[str, list[Any]]:
    days = [f"2026-01-0{i + 1}" for i in range(len(values))]
    return {"item": days, "v": values, "w": values, "team": ["x"] * len(values)}


def guessed(tmp: Path, text: str) -> yz.Chart:
    (tmp / "rows.csv").write_text(text)
    return yz.chart(tmp / "rows.csv", category="item", value="v")


# For each code: what shows it, what its sentence says, and what is beside it and must stay silent.
PAIRS: list[tuple[str, Make, str, Make]] = [
    (
        "pillar-off",
        lambda: made(kind="bridge", opening="a", subtotals=["d"]),
        "d is 20, and the steps before it lead to 120.",
        lambda: made({"v": [50.0, 40, 30, 120, 10]}, kind="bridge", opening="a", subtotals=["d"]),
    ),
    (
        "slices-many",
        lambda: yz.chart({"c": range(9), "v": range(1, 10)}, kind="ring", category="c", value="v"),
        "2 slices are too small and too many to tell apart",
        lambda: made(kind="ring"),
    ),
    (
        "no-sum",
        lambda: made(kind="ring", value="average of v"),
        "average of v does not add up",
        lambda: made(kind="ring"),
    ),
    (
        "effect-unshown",
        lambda: made().rule("top 1", color="adverse", size=20),
        "Bars show no size on mark; areas, dots, lines and points do, so nothing of it is drawn",
        lambda: made(kind="line").rule("top 1", color="adverse", size=20),
    ),
    (
        "rule-never",
        lambda: made().rule("above 99", color="adverse"),
        "holds for no mark.",
        lambda: made().rule("above 49", color="adverse"),
    ),
    (
        "rule-never",
        lambda: made({"w": [None] * 5}).rule("w above 1", color="adverse"),
        "5 unknown for want of a number",
        lambda: made().rule("w above 1", color="adverse"),
    ),
    (
        "rule-always",
        lambda: made().rule("above 9", color="adverse"),
        "holds for all 5 marks",
        lambda: made().rule("always", color="adverse"),
    ),
    (
        "rule-beaten",
        lambda: made().rule("top 3", color="adverse", name="three").rule("top 2", color="notice"),
        'earlier rules take all of them: "three"',
        lambda: made().rule("top 3", color="adverse").rule("top 2", badge="cup"),
    ),
    (
        "tie-at-cut",
        lambda: made({"v": [50.0, 40, 40, 20, 10]}).rule("top 2", color="adverse"),
        "b and c have equal numbers at the cut, more marks are in than 'top 2' says",
        lambda: made({"v": [50.0, 40, 40, 20, 10]}).rule("top 3", color="adverse"),
    ),
    (
        "tie-at-cut",
        lambda: made({"v": [50.0, 50, 40, 20, 10]}).rule("highest within team", color="adverse"),
        "a and b have equal numbers",
        lambda: made({"v": [50.0, 50, 40, 20, 10]}).rule("highest", color="adverse", ties="competition"),
    ),
    (
        "tie-no-place",
        lambda: made({"v": [50.0, 50, 40, 20, 10]}).rule("rank 2", color="adverse"),
        "so no mark is 'rank 2'",
        lambda: made({"v": [50.0, 50, 40, 20, 10]}).rule("rank 3", color="adverse"),
    ),
    (
        "parameter-unused",
        lambda: made(parameters={"n": 3, "limit": 7}).rule("top n", color="adverse"),
        "Nothing uses the parameter limit.",
        lambda: made(parameters={"n": 3}, title="The {n} best").rule("top 2", color="adverse"),
    ),
    (
        "name-twice",
        lambda: made({"item": ["North Reach", "north-reach", "c", "d", "e"]}),
        "item has both 'North Reach' and 'north-reach', which look like one.",
        lambda: made({"item": ["North Reach", "North Reach 2", "c", "d", "e"]}),
    ),
    (
        "outsized",
        lambda: made({"v": [500.0, 40, 30, 20, 10]}),
        "a is 12 times the next",
        lambda: made({"v": [390.0, 40, 30, 20, 10]}),
    ),
    (
        "scale-not-zero",
        lambda: made(scale={"low": 5}),
        "do not begin at zero",
        lambda: made({"item": [1, 2, 3, 4, 5]}, scale={"low": 5}, kind="line"),
    ),
    (
        "total-among-items",
        lambda: made({"v": [100.0, 40, 30, 20, 10]}),
        "'a' is the sum of all others",
        lambda: made({"v": [101.0, 40, 30, 20, 10]}, totals=["all"]),
    ),
    (
        "total-among-items",
        lambda: made({"item": ["Grand total", "b", "c", "d", "e"]}),
        "'Grand total' looks like a total",
        lambda: made({"item": ["Totality", "b", "c", "d", "e"]}),
    ),
    (
        "sequence-order",
        lambda: made().rule("falls 2 times", color="adverse"),
        "'falls 2 times' goes from mark to mark, and item holds words",
        lambda: made(dated([5, 4, 3, 6]), kind="line").rule("falls 2 times", color="adverse"),
    ),
    (
        "sequence-order",
        lambda: made().rule("running share of v at most 80%", color="adverse"),
        "goes from mark to mark",
        lambda: made().rule("share of v at least 20%", color="adverse"),
    ),
    (
        "ratio-averaged",
        lambda: made(measures={"m": "average of (v / w)"}, value="m"),
        "m averages a ratio of each row.",
        lambda: made(measures={"m": "total of v / total of w"}, value="m"),
    ),
    (
        "ratio-averaged",
        lambda: made(measures={"m": "total of v / total of w"}).rule("m below average", color="adverse"),
        "averages m over marks, and m is a ratio",
        lambda: made(measures={"m": "total of v / total of w"}).rule("m below overall", color="adverse"),
    ),
    (
        "ratio-averaged",
        lambda: made(measures={"m": "total of v / total of w"}, value="m").reference("average"),
        "averages m over marks",
        lambda: made().reference("average"),
    ),
    (
        "few-peers",
        lambda: made().rule("above average within team", color="adverse"),
        "is asked of 2 marks, such as d, with fewer than 3 peers",
        lambda: made({"team": ["x"] * 5}).rule("above average within team", color="adverse"),
    ),
    (
        "numbers-missing",
        lambda: made({"v": [50.0, None, None, 20, 10]}),
        "2 of 5 marks have no number in v: b and c.",
        made,
    ),
    (
        "numbers-partly-missing",
        lambda: made({"item": ["a", "a", "b", "c", "d"], "v": [50.0, None, 40, 20, 10]}),
        "v is made of some rows only in 1 mark: a (1 of 2 rows).",
        made,
    ),
    (
        "name-or-word",
        lambda: made({"average": [1.0] * 5}).rule("above average", color="adverse"),
        "average is read as the language reads it, and a column is called so too.",
        lambda: made({"average": [1.0] * 5}).rule("v above `average`", color="adverse"),
    ),
    (
        "value-unknown",
        lambda: made().rule('team = "xx" or item = "b"', color="adverse"),
        "team has no 'xx'. Did you mean x?",
        lambda: made().rule('team = "zebra" or item = "b"', color="adverse"),
    ),
    (
        "rule-idle",
        lambda: made().rule("top 1"),
        "It has no effect",
        lambda: made(title='{count "best"}').rule("top 1", name="best"),
    ),
    (
        "names-merged",
        lambda: made({"team": ["x y", "x  y", "x y", "z", "z"]}).rule("highest within team", badge="cup"),
        'team has "x y" and "x  y", which differ in blanks only and are one name.',
        lambda: made({"team": ["x y", "x y", "x y", "z", "z"]}).rule("highest within team", badge="cup"),
    ),
    (
        "no-rows",
        lambda: made().keep('item = "nobody"'),
        "No rows are left: 'item = \"nobody\"' holds for none of them.",
        lambda: made().keep('item != "nobody"'),
    ),
    (
        "colors-alike",
        lambda: made().rule("top 1", color="#C63E2F").rule("bottom 1", color="#C2452E", name="low"),
        "look alike to every eye.",
        lambda: made().rule("top 1", color="adverse").rule("bottom 1", color="favorable"),
    ),
    (
        "colors-alike",
        lambda: made().rule("top 1", color="#D62728", name="bad").rule("bottom 1", color="#6A7B00", name="good"),
        "with deuteranopia",
        lambda: made().rule("top 1", color="#D62728").rule("bottom 1", color="#6A7B00", badge="up"),
    ),
    (
        "colors-alike",
        lambda: made().rule("top 1", color="#D0D4D8", name="pale"),
        '"pale" (#D0D4D8) and "the rest" (#C9CCD0) look alike to every eye',
        lambda: made().rule("top 1", color="#D0D4D8", pattern="dots"),
    ),
    (
        "text-faint",
        lambda: made().rule("top 1", on="label", color="notice"),
        "notice has a contrast of 2.5 on the paper",
        lambda: made().rule("top 1", on="label", color="adverse"),
    ),
    (
        "text-faint",
        lambda: made().label("{v:.0f}", color="#CCCCCC"),
        "#CCCCCC has a contrast of 1.6 on the paper",
        lambda: made().label("{v:.0f}", color="#CCCCCC", where="inside"),
    ),
    (
        "left-out",
        lambda: made({k: v * 8 for k, v in ROWS.items()} | {"item": [f"A long name of item {i}" for i in range(40)]}, kind="column"),
        "for want of room",
        lambda: made({k: v * 8 for k, v in ROWS.items()} | {"item": [f"A long name of item {i}" for i in range(40)]}),
    ),
    (
        "letters-missing",
        lambda: made({"item": ["渡船", "b", "c", "d", "e"]}),
        "No font here has 渡 and 船",
        lambda: made({"item": ["Färöer", "b", "c", "d", "e"]}),
    ),
]  # fmt: skip


@pytest.mark.parametrize(
    ("code", "shows", "says", "silent"), PAIRS, ids=[f"{p[0]} {i}" for i, p in enumerate(PAIRS)]
)
def test_each_finding_is_shown_by_one_chart_and_not_by_the_one_beside_it(
    code: str, shows: Make, says: str, silent: Make
) -> None:
    found = [finding for finding in shows().check() if finding.code == code]
    assert any(says in finding.message for finding in found), [f.message for f in shows().check()]
    assert all(finding.remedy and finding.where for finding in found)
    assert code not in {finding.code for finding in silent().check()}


def test_a_theme_whose_ink_is_faint_is_told_once(tmp_path: Path) -> None:
    (tmp_path / "pale.toml").write_text('[roles]\nink = "#999999"\n')
    chart = made(theme=str(tmp_path / "pale.toml")).label("{v:.0f}")
    assert [(f.code, f.where) for f in chart.check()] == [("text-faint", "theme")]


def test_a_guess_that_matters_is_found(tmp_path: Path) -> None:
    found = guessed(tmp_path, "item;v\na;1,234\nb;7\n").check()
    assert [
        (f.code, "1,234 in v as 1.234" in f.message, "thousands" in f.remedy) for f in found
    ] == [("guess", True, True)]
    assert not guessed(tmp_path, "item;v\na;1,23\nb;7\n").check()


def test_every_check_has_a_chart_that_shows_it(tmp_path: Path) -> None:
    charts = [shows() for code, shows, *_ in PAIRS if code != "no-rows"] + [
        guessed(tmp_path, "item;v\na;1,234\n")
    ]
    examined = [
        ExaminedPage(chart.stages.judged, chart.stages.page, chart.notes()) for chart in charts
    ]
    for check in CHECKS:
        assert any(list(check(one)) for one in examined), check.__name__


@pytest.mark.parametrize("name", sorted(path.stem for path in (DEMO / "briefs").glob("*.toml")))
def test_demo_briefs_are_clean(name: str, folder: Path) -> None:
    assert [str(finding) for finding in yz.load(folder / f"{name}.toml").check()] == []


def test_check_on_the_command_line(call: Callable[..., Called], folder: Path) -> None:
    told = call("check", "busiest.toml", "causes.toml")
    assert (told.code, told.err) == (0, "")
    assert told.out == "busiest.toml: nothing found\ncauses.toml: nothing found\n"
    text = (folder / "causes.toml").read_text().replace('ties  = "competition"\n', "")
    (folder / "causes.toml").write_text(text)
    told = call("check", "busiest.toml", "causes.toml")
    line = 1 + text.splitlines().index('when  = "highest"')
    assert told.code == 0
    assert (
        f'causes.toml, line {line}, rule 1 "most": Fog and High wind have equal numbers' in told.out
    )
    assert call("check", "causes.toml", "--strict").code == 1
    assert call("check", "busiest.toml", "--strict").code == 0
    found = json.loads(call("check", "busiest.toml", "causes.toml", "--json").out)
    codes = [(f["code"], f["line"]) for brief in found for f in brief["findings"]]
    assert [brief["brief"] for brief in found] == ["busiest.toml", "causes.toml"]
    assert codes == [("tie-at-cut", line)]
    assert set(found[1]["findings"][0]) == {"code", "message", "remedy", "where", "line"}
    (broken,) = json.loads(call("check", "nothing.toml", "--json").out)
    assert (broken["findings"], broken["error"]["code"]) == ([], "brief-file")
    told = call("check", "causes.toml", "nothing.toml", "--strict")
    assert told.code == 2
    assert "There is no brief nothing.toml." in told.err
    assert "Fog and High wind" in told.out


channels = st.tuples(st.integers(0, 255), st.integers(0, 255), st.integers(0, 255))


@given(
    st.lists(st.floats(0, 100), min_size=2, max_size=2),
    st.lists(st.floats(-110, 110), min_size=4, max_size=4),
)
def test_differences_are_those_of_a_colour_library(
    lights: list[float], opponents: list[float]
) -> None:
    one, other = (np.array([lights[i], *opponents[2 * i : 2 * i + 2]]) for i in range(2))
    expected = float(colour.delta_E(one, other, method="CIE 2000"))
    assert ciede2000(one, other) == pytest.approx(expected, abs=1e-6)
    assert ciede2000(one, other) == pytest.approx(ciede2000(other, one), abs=1e-9)


def test_eyes_are_those_of_the_published_table() -> None:
    names = {
        "protanopia": "Protanomaly",
        "deuteranopia": "Deuteranomaly",
        "tritanopia": "Tritanomaly",
    }
    for ours, theirs in names.items():
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            np.testing.assert_allclose(
                DEFICIENCIES[ours], matrix_cvd_Machado2009(theirs, 1.0), atol=1e-6
            )
    for eye, color in product(EYES, ("#000000", "#FFFFFF", "#7F7F7F")):
        assert apart(color, hexes(seen(color, eye)[None])[0]) < 0.5
