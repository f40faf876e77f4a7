"""The commands that show what there is: words, themes and the schema of a brief."""

from __future__ import annotations

import json
import tomllib
from pathlib import Path
from typing import Any

import pytest
from jsonschema import Draft202012Validator

import yuzen as yz
from tests.support.command_line import Called
from yuzen.color.themes import THEMES
from yuzen.rules.claims import CLAIMS, OPENING
from yuzen.rules.conditions import Test
from yuzen.rules.grammar.parser import parse
from yuzen.rules.grammar.sayings import sayings


def test_every_example_of_the_language_can_be_judged(call: Any, folder: Path) -> None:
    chart = yz.load(folder / "busiest.toml")
    in_time = yz.load(folder / "year_before.toml")
    for group in sayings().values():
        for _, example in group:
            assert str(parse(str(parse(example)))) == str(parse(example))
            made = (in_time if "month" in example else chart).rule(
                example, color="notice", name="example"
            )
            assert len(made.flags())
    told: Called = call("words")
    assert told.code == 0
    assert len(told.out.splitlines()) <= 40
    assert max(map(len, told.out.splitlines())) <= 100
    assert all(word in told.out for word in OPENING if word.isalpha())
    assert all(claim.words and isinstance(parse(claim.example), Test) for claim in CLAIMS)
    assert [type(parse(claim.example).claim) for claim in CLAIMS] == CLAIMS  # type: ignore[union-attr]
    assert json.loads(call("words", "--json").out)["a number by itself"]


def test_themes_are_shown_with_all_their_colors(call: Any) -> None:
    told: Called = call("themes")
    assert told.code == 0
    for theme in THEMES.values():
        assert all(color in told.out for color in (*theme.roles.values(), *theme.series))
    shown = json.loads(call("themes", "--json").out)
    assert shown["press"]["patterns"]["adverse"] == "stripes"
    assert shown["linen"]["roles"] == dict(THEMES["linen"].roles)


BROKEN: list[tuple[str, Any]] = [
    ("chart.kind", "barr"),
    ("chart.valu", "passengers"),
    ("chart.smooth", "very"),
    ("rule", [{"when": "top 3", "colour": "red"}]),
    ("rule", [{"when": "top 3", "badge": "heart"}]),
    ("rule", [{"when": "top 3", "opacity": 2}]),
    ("layer", [{"name": "plan"}]),
    ("parameters", {"n": [3]}),
    ("size.width", 3),
    ("reference", {"at": "average"}),
]


@pytest.fixture
def schema(call: Any) -> Draft202012Validator:
    printed = json.loads(call("schema").out)
    Draft202012Validator.check_schema(printed)
    return Draft202012Validator(printed)


def test_the_schema_accepts_every_demo_brief(schema: Draft202012Validator, folder: Path) -> None:
    briefs = sorted(folder.glob("*.toml"))
    assert len(briefs) > 15
    for path in briefs:
        assert not list(schema.iter_errors(tomllib.loads(path.read_text()))), path.name


@pytest.mark.parametrize(("key", "value"), BROKEN)
def test_the_schema_refuses_what_the_brief_refuses(
    schema: Draft202012Validator, folder: Path, key: str, value: Any
) -> None:
    brief = tomllib.loads((folder / "busiest.toml").read_text())
    section, _, name = key.partition(".")
    if name:
        brief.setdefault(section, {})[name] = value
    else:
        brief[section] = value
    assert list(schema.iter_errors(brief))
    said = {k: v for k, v in brief.items() if k not in {"data", "chart"}}
    with pytest.raises(yz.YuzenError):
        yz.chart(
            {"route": ["a"], "passengers": [1.0]},
            **{"category": "", "value": ""} | brief["chart"] | said,
        )


@pytest.mark.parametrize(
    ("word", "hint"),
    [("drow", "Did you mean draw?"), ("strat", "Did you mean start?"), ("xyzzy", "")],
)
def test_a_misspelt_command_is_told_with_the_nearest_one(call: Any, word: str, hint: str) -> None:
    told: Called = call(word)
    assert told.code == 2
    assert f"No such command '{word}'.{' ' if hint else ''}{hint}" in told.err
