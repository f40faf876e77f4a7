"""Defaults of a house: which value counts, whose line a fault names, and what says where each key comes from."""

from __future__ import annotations

import json
from collections.abc import Callable
from pathlib import Path

import pytest

import yuzen as yz
from tests.support.command_line import Called

Call = Callable[..., Called]
HOUSE = """
theme = "themes/house.toml"
locale = "de"
rules = "shared.toml"
ignore = ["outsized"]
[formats]
Passengers = "{,.1fk}"
nowhere = "{,.0f}"
[words]
rest = "alle übrigen"
[calendar]
year_starts = "April"
[size]
width = 1000
row_height = 30
[parameters]
n = 5
goal = 40000
unused = 3
"""
SHARED = '[parameters]\ngoal = 30000\nfloor = 7000\n[[rule]]\nname = "goal"\nwhen = "passengers at least goal"\noutline = "ink"\n'
SHARED += '[[rule]]\nname = "small"\nwhen = "passengers below floor"\nbadge = "down"\n'


@pytest.fixture
def house(folder: Path) -> Path:
    """A folder of briefs below one with defaults."""
    (folder / "briefs" / "june").mkdir(parents=True)
    (folder / "themes").mkdir()
    (folder / "themes" / "house.toml").write_text('base = "dusk"\n[roles]\nloss = "#FF8800"\n')
    (folder / "shared.toml").write_text(SHARED)
    (folder / "yuzen.toml").write_text(HOUSE)
    brief = (folder / "busiest.toml").read_text("utf-8").replace("routes.csv", "../../routes.csv")
    (folder / "briefs" / "june" / "b.toml").write_text(brief.replace('"adverse"', '"loss"'))
    return folder / "briefs" / "june" / "b.toml"


def test_a_brief_comes_before_its_house_and_the_house_before_yuzen(house: Path) -> None:
    stages = yz.load(house).stages
    brief = stages.housed.brief
    assert brief.parameters == {
        "n": 3,
        "goal": 40000,
        "floor": 7000,
    }  # n is the brief's, low the rules'
    assert [rule.called for rule in brief.rule] == ["goal", "small", "loss", "busiest"]
    assert stages.theme.name == "house"
    assert stages.page.size.width == 1000
    assert set(brief.formats) == {"Passengers"}
    assert brief.ignore == ("outsized",)
    assert "48,980" not in (svg := yz.load(house).label("{passengers}").image("svg").decode())
    assert "49,0k" in svg
    house.write_text(f'locale = "fr"\nignore = ["left-out"]\n{house.read_text("utf-8")}')
    own = yz.load(house).stages.brief
    assert (own.locale, own.ignore) == ("fr", ("outsized", "left-out"))


def test_only_the_nearest_file_counts_and_other_folders_have_none(house: Path) -> None:
    (house.parent / "yuzen.toml").write_text('locale = "pl"\n')
    brief = yz.load(house).stages.brief
    assert (brief.locale, brief.theme, brief.parameters) == ("pl", "linen", {"n": 3})
    (house.parents[2] / "yuzen.toml").unlink()
    assert yz.load(house.parents[2] / "busiest.toml").stages.defaults is None


def test_the_same_chart_however_it_is_begun_stored_or_changed(house: Path, call: Call) -> None:
    chart = yz.load(house)
    picture = chart.save(house.with_suffix(".png"))
    assert yz.load_picture(picture).flags().equals(chart.flags())
    assert yz.loads(chart.brief(), folder=house.parent).flags().equals(chart.flags())
    text = house.read_text("utf-8")
    assert yz.loads(text, folder=house.parent).flags().equals(chart.flags())
    assert chart.given(n=2).stages.housed.brief.parameters["goal"] == 40000
    assert chart.given(goal=50_000).flags()["also"].str.contains("goal").sum() == 2
    assert chart.flags()["also"].str.contains("goal").sum() == 3
    assert call("draw", house, "--set", "goal=50000", "-o", "x.png").code == 0
    moved = chart.write(house.parents[2] / "moved.toml")
    assert yz.load(moved).flags().equals(chart.flags())


def test_charts_without_a_brief_take_the_defaults_of_their_folder(folder: Path, call: Call) -> None:
    (folder / "yuzen.toml").write_text('theme = "dusk"\n[size]\nwidth = 900\n')
    assert call("start", "routes.csv", "-o", "first.toml").code == 0
    assert yz.load_picture("first.png").stages.theme.name == "dusk"
    words = ("draw", "routes.csv", "--category", "route", "--value", "passengers", "-o", "p.png")
    assert call(*words).code == 0
    assert yz.load_picture("p.png").stages.page.size.width == 900
    assert yz.chart("routes.csv", category="route", value="passengers").stages.theme.name == "linen"


def test_a_report_file_comes_before_the_house(folder: Path, call: Call) -> None:
    (folder / "yuzen.toml").write_text('theme = "dusk"\nlocale = "de"\n')
    (folder / "june.toml").write_text('theme = "press"\n[[section]]\nbriefs = ["busiest.toml"]\n')
    assert call("report", "june.toml", "-o", "june.docx").code == 0
    stages = yz.load_picture("june.docx").stages
    assert (stages.theme.name, stages.brief.locale) == ("press", "de")


@pytest.mark.parametrize(
    ("text", "told"),
    [
        ('titel = "x"', "yuzen.toml, line 1: I know no key 'titel' here."),
        ('locale = "de"\ntitle = "x"', "yuzen.toml, line 2: title is for a brief, and not for all of them."),
        ("[chart]\nkind = 'bar'", "yuzen.toml, line 1: chart is for a brief"),
        ('theme = "none.toml"', "yuzen.toml, line 1, theme, "),
        ('\nrules = "none.toml"', "yuzen.toml, line 2, rules: There is no file of rules"),
        ('[calendar]\nyear_starts = "Apri"', "yuzen.toml, line 2, calendar, year_starts: 'Apri' has no place here"),
        ('[formats]\npassengers = "{"', "yuzen.toml, line 2, formats, passengers: A format is a text"),
        ('ignore = ["outsize"]', "yuzen.toml, line 1, ignore 1: 'outsize' is no code of a finding. Did you mean outsized?"),
        ("locale = ", "yuzen.toml: This is no TOML"),
        ('locale = "xx"', "yuzen.toml, line 1, locale"),
        ("parameters = 7", "yuzen.toml, line 1, parameters"),
    ],
)  # fmt: skip
def test_a_fault_of_the_house_names_its_file_and_line(
    house: Path, call: Call, text: str, told: str
) -> None:
    (house.parents[2] / "yuzen.toml").write_text(text)
    answer = call("draw", house, "-o", "x.png")
    assert told in answer.err
    assert answer.code == 2
    assert not Path("x.png").exists()


def test_where_names_file_and_line_of_every_key(house: Path, call: Call) -> None:
    told = {one["key"]: one for one in json.loads(call("where", house, "--json").out)}
    text = {
        "brief": house,
        "house": house.parents[2] / "yuzen.toml",
        "rules": house.parents[2] / "shared.toml",
    }
    expected = {
        "theme": "house", "locale": "house", "rules": "house", "ignore": "house", "formats.Passengers": "house", "parameters.n": "brief",
        "parameters.goal": "house", "parameters.floor": "rules", "rule 1, when": "rules", "rule 2, badge": "rules", "rule 3, color": "brief",
        "chart.kind": "brief", "data.keep": "brief", "size.width": "house", "calendar.year_starts": "house", "chart.smooth": "default",
    }  # fmt: skip
    assert {key: told[key]["from"] for key in expected} == expected
    for key, source in expected.items():
        if source != "default":
            line = text[source].read_text("utf-8").splitlines()[told[key]["line"] - 1]
            assert key.rpartition(".")[2].rpartition(" ")[2] in line
    assert "formats.nowhere" not in told
    assert "parameters.unused" not in told
    table = call("where", house).out
    assert "yuzen.toml, line 2\n" in table
    assert "Left out, so as Yuzen has it:" in table
    plain = call("where", house.parents[2] / "heights.toml")
    assert plain.code == 0


def test_the_file_of_defaults_is_no_brief(folder: Path, call: Call) -> None:
    (folder / "yuzen.toml").write_text('theme = "dusk"\n')
    told = call("draw", "busiest.toml", "yuzen.toml", "waters.toml", "-o", "pictures")
    assert told.code == 0
    assert "2 drawn." in told.out
    assert "note: yuzen.toml sets defaults for briefs, and is left out here." in told.err
    for command in ("check", "flags"):
        assert "left out here" in call(command, "yuzen.toml", "busiest.toml").err
    alone = call("draw", "yuzen.toml")
    assert (alone.code, "is no brief. Name a brief." in alone.err) == (2, True)


def test_a_file_of_defaults_that_is_none_is_no_trap(folder: Path, call: Call) -> None:
    (folder / "yuzen.toml").mkdir()
    assert call("draw", "busiest.toml").code == 0
    (folder / "yuzen.toml").rmdir()
    (folder / "yuzen.toml").write_bytes(b"\xff\xfe")
    assert "yuzen.toml: This file is no text in UTF-8." in call("draw", "busiest.toml").err
    (folder / "yuzen.toml").write_text("#" * 1_000_001)
    assert "more than 1,000,000 bytes" in call("draw", "busiest.toml").err
    (folder / "yuzen.toml").write_text("")
    assert call("draw", "busiest.toml").code == 0
