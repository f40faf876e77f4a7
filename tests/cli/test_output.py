"""What every command prints, how much of it, in which colours, and as JSON of a shape that is told."""

from __future__ import annotations

import io
import json
import re
import sys
from collections.abc import Callable
from pathlib import Path
from typing import Any
from xml.etree import ElementTree as ET

import pytest
from jsonschema import Draft202012Validator

from tests.support.command_line import Called
from yuzen.cli.commands import COMMANDS
from yuzen.cli.printing.verbosity import Verbosity
from yuzen.cli.show import ANSWERING

Call = Callable[..., Called]
FAULTY = """
ignore = ["numbers-missing"]
[data]
file = "routes.csv"
keep = 'service = "ferry"'
[parameters]
unused = 3
[chart]
category = "route"
value = "passengers"
[[rule]]
when = "above 900M"
color = "adverse"
"""


@pytest.fixture
def deck(folder: Path, call: Call) -> Path:
    assert call("draw", "busiest.toml", "-o", "deck.pptx").code == 0
    (folder / "rules.toml").write_text('[[rule]]\nwhen = "top 1"\ncolor = "adverse"\n')
    return folder / "deck.pptx"


CALLS: dict[str, list[list[str]]] = {
    "check": [["busiest.toml", "faulty.toml", "none.toml"]],
    "compare": [["busiest.toml", "may.csv", "routes.csv"]],
    "draw": [["busiest.toml", "none.toml", "-o", "pictures"], ["busiest.toml", "--dry"], ["busiest.toml", "--each", "waters"], ["none.toml"]],
    "flags": [["busiest.toml"], ["busiest.toml", "heights.toml"]],
    "help": [["rule.color"], [], ["rule-never"], ["draw"]],
    "paint": [["deck.pptx", "--list"], ["deck.pptx", "rules.toml", "-o", "painted.pptx"], ["painted.pptx", "--undo", "-o", "back.pptx"]],
    "report": [["busiest.toml", "none.toml", "-o", "june.html"], ["faulty.toml", "-o", "june.html", "--strict"]],
    "start": [["routes.csv", "-o", "first.toml"]],
    "tell": [["busiest.toml", "--since", "may.csv"]],
    "themes": [[]],
    "where": [["busiest.toml"]],
    "why": [["busiest.toml", "Brinewick"]],
    "words": [[]],
}  # fmt: skip


@pytest.mark.sampled(3)
@pytest.mark.usefixtures("deck")
@pytest.mark.parametrize("command", CALLS)
def test_every_json_answer_has_the_shape_that_its_schema_says(
    call: Call, folder: Path, command: str
) -> None:
    rows = (folder / "routes.csv").read_text("utf-8").splitlines(keepends=True)
    (folder / "may.csv").write_text(
        "".join(line for line in rows if not line.startswith("2026-06"))
    )
    (folder / "faulty.toml").write_text(FAULTY)
    schema = json.loads(call("schema", "--answer", command).out)
    validator = Draft202012Validator(schema)
    for words in CALLS[command]:
        answer = call(command, *words, "--json")
        validator.validate(json.loads(answer.out))
    failed = call(command, "--json", "--nonsense")
    told = json.loads(failed.out)
    validator.validate(told)
    assert told["error"]["code"] == "call-usage"
    assert failed.code == 2
    with pytest.raises(Exception, match="is not valid under any of the given schemas"):
        validator.validate({"surprise": 1})


def test_every_command_that_has_json_has_a_schema() -> None:
    assert set(CALLS) == set(ANSWERING)


@pytest.mark.usefixtures("folder")
@pytest.mark.parametrize("command", ["why", "tell", "flags", "compare", "where", "start", "report"])
def test_an_error_is_json_too_and_names_no_picture(call: Call, command: str) -> None:
    further = {"compare": ["a.csv", "b.csv"], "report": ["-o", "r.html"]}.get(command, [])
    told = call(command, "none.toml", *further, "--json")
    assert told.code in {2, 3}
    answer = json.loads(told.out)
    assert set(answer) == {"error"}
    assert answer["error"]["message"] in told.err
    drawn = json.loads(call("draw", "none.toml", "--json").out)
    assert (drawn[0]["picture"], drawn[0]["error"]["code"]) == (None, "brief-file")
    assert (
        call("draw", "none.toml", "-o", "-", "--json").out == ""
    )  # a picture was meant to go there


@pytest.mark.usefixtures("folder")
def test_quiet_prints_answers_alone_and_verbose_the_stages(call: Call) -> None:
    loud, quiet = call("draw", "busiest.toml"), call("draw", "busiest.toml", "-q")
    assert loud.out
    assert (quiet.out, quiet.err, quiet.code) == ("", "", 0)
    assert call("why", "busiest.toml", "Brinewick", "-q").out.startswith("Brinewick")
    assert call("--quiet", "draw", "busiest.toml").out == ""
    told = call("draw", "busiest.toml", "-v")
    assert told.out == loud.out
    stages = [line.split()[0] for line in told.err.splitlines()]
    assert stages == ["read", "shape", "judge", "compose", "draw", "write"]
    assert re.search(r"read routes\.csv, 828 rows, \d+ columns: \d+\.\d{3} s", told.err)
    assert "without the other" in call("draw", "busiest.toml", "-q", "-v").err


@pytest.mark.parametrize(
    ("color", "environment", "terminal", "colored"),
    [
        ("auto", {}, True, True),
        ("auto", {}, False, False),
        ("auto", {"NO_COLOR": "1"}, True, False),
        ("auto", {"NO_COLOR": ""}, True, True),
        ("auto", {"FORCE_COLOR": "1"}, False, True),
        ("auto", {"FORCE_COLOR": "1", "NO_COLOR": "1"}, False, False),
        ("always", {"NO_COLOR": "1"}, False, True),
        ("never", {"FORCE_COLOR": "1"}, True, False),
    ],
)
def test_colors_follow_the_option_then_the_environment_then_the_terminal(
    color: str, environment: dict[str, str], terminal: bool, colored: bool
) -> None:
    class Stream(io.StringIO):
        def isatty(self) -> bool:
            return terminal

    assert Verbosity(color=color).colors(Stream(), environment) == colored


@pytest.mark.usefixtures("folder")
def test_messages_and_samples_are_in_colours_where_asked(call: Call) -> None:
    assert "\x1b[31m\x1b[1myuzen:\x1b[0m" in call("draw", "none.toml", "--color", "always").err
    assert "\x1b" not in call("draw", "none.toml").err
    assert "\x1b[38;2;10;74;128m" in call("themes", "--color", "always").out
    assert "\x1b[38;2;10;74;128m" in call("--color", "always", "themes").out
    assert "\x1b" not in call("themes").out


def test_help_names_exit_codes_defaults_and_choices(call: Call) -> None:
    for command in COMMANDS:
        page = " ".join(call(command, "--help").out.split())
        assert "Exit codes: 0 done 1 the check found something" in page
        assert "--color [auto|always|never]" in page
        assert "[default: auto]" in page
    page = call("draw", "--help").out
    assert "[linen|dusk|press|FILE.toml]" in page
    assert "[bar|column|line" in page
    assert "'duks' is no theme. Did you mean dusk?" in call("draw", "x.toml", "--theme", "duks").err


def test_a_dry_run_says_what_would_be_drawn_and_writes_nothing(call: Call, folder: Path) -> None:
    before = sorted(folder.iterdir())
    told = call("draw", "busiest.toml", "--dry")
    assert told.out.startswith("busiest.png: 20 marks; would be written\n")
    assert "4 flagged (Brinewick" in told.out
    each = call("draw", "busiest.toml", "--each", "waters", "--dry")
    assert each.out.count("would be written") == 4
    several = call("draw", "busiest.toml", "none.toml", "--dry", "-o", "pictures")
    assert several.code == 2
    assert "1 to be drawn, 1 failed." in several.out
    assert sorted(folder.iterdir()) == before
    (folder / "busiest.png").write_bytes(b"mine")
    assert "; would replace the file" in call("draw", "busiest.toml", "--dry").out
    assert (folder / "busiest.png").read_bytes() == b"mine"
    assert call("draw", "busiest.toml", "--dry", "--write-brief", "b.toml").code == 2
    assert not (folder / "b.toml").exists()


def test_a_brief_comes_in_by_a_pipe(
    call: Call, folder: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    def piped(text: str, *words: str) -> Called:
        monkeypatch.setattr("sys.stdin", io.TextIOWrapper(io.BytesIO(text.encode())))
        return call(*words)

    brief = (folder / "busiest.toml").read_text("utf-8")
    assert piped(brief, "draw", "-").out.startswith("chart.png: 20 marks")
    assert piped(brief, "why", "-", "Brinewick").out == call("why", "busiest.toml", "Brinewick").out
    assert "standard input: nothing found" in piped(brief, "check", "-").out
    assert piped("title = ", "draw", "-").err.startswith("yuzen: standard input: This is no TOML")
    assert "line 3" in piped("[chart]\ncategory='a'\nvalu='b'", "draw", "-").err
    assert "the rows need a file" in piped(brief, "why", "-", "--data", "-").err
    assert "standard input too" in piped(brief.replace("routes.csv", "-"), "draw", "-").err
    rows = (folder / "routes.csv").read_text("utf-8")
    drawn = piped(rows, "draw", "-", "--category", "route", "--value", "passengers", "-o", "p.png")
    assert drawn.out.startswith("p.png: 23 marks")
    assert "set --category and --value" in piped(rows, "draw", "-").err


@pytest.fixture
def faulty(folder: Path) -> Path:
    (folder / "faulty.toml").write_text(FAULTY)
    return folder / "faulty.toml"


def test_findings_are_ignored_by_brief_and_call_and_counted(call: Call, faulty: Path) -> None:
    plain = call("check", "faulty.toml", "--strict")
    assert plain.code == 1
    assert "[rule-never]" in plain.out
    some = call("check", "faulty.toml", "--strict", "--ignore", "rule-never")
    assert "faulty.toml: 1 found (1 ignored: rule-never)" in some.out
    faulty.write_text(FAULTY.replace('["numbers-missing"]', '["rule-never", "parameter-unused"]'))
    none = call("check", "faulty.toml", "--strict")
    assert (none.code, none.out) == (0, "faulty.toml: nothing found (2 ignored: parameter-unused and rule-never)\n")  # fmt: skip
    assert "Did you mean rule-never?" in call("check", "faulty.toml", "--ignore", "rule-nver").err
    faulty.write_text(FAULTY.replace("numbers-missing", "numbers-mising"))
    assert "line 2, ignore 1: 'numbers-mising' is no code of a finding. Did you mean numbers-missing?" in call("check", "faulty.toml").err  # fmt: skip


def test_findings_in_the_formats_of_forges(call: Call, faulty: Path) -> None:
    lines = call("check", "faulty.toml", "none.toml", "--format", "github").out.splitlines()
    assert lines[0].startswith(
        "::warning file=faulty.toml,line=7,title=parameter-unused::Nothing uses"
    )
    assert lines[-1] == "::error file=none.toml,title=brief-file::There is no brief none.toml."
    sarif = json.loads(call("check", "faulty.toml", "none.toml", "--format", "sarif").out)
    results: list[dict[str, Any]] = sarif["runs"][0]["results"]
    assert [(one["ruleId"], one["level"]) for one in results] == [
        ("parameter-unused", "warning"),
        ("rule-never", "warning"),
        ("brief-file", "error"),
    ]
    place = results[1]["locations"][0]["physicalLocation"]
    assert place == {"artifactLocation": {"uri": "faulty.toml"}, "region": {"startLine": 12}}
    assert {rule["id"] for rule in sarif["runs"][0]["tool"]["driver"]["rules"]} == {one["ruleId"] for one in results}  # fmt: skip
    suite = ET.fromstring(call("check", "faulty.toml", "busiest.toml", "--format", "junit").out)
    assert (suite.get("tests"), suite.get("failures")) == ("2", "1")
    assert [len(case) for case in suite] == [2, 0]
    broken = FAULTY.replace("value = ", "valu = ")
    faulty.write_text(broken)
    assert (
        "::error file=faulty.toml,line=10" in call("check", "faulty.toml", "--format", "github").out
    )
    assert call("check", "faulty.toml", "--format", "junit", "--json").code == 2


def test_a_former_key_works_and_is_reported(call: Call, folder: Path) -> None:
    brief = (folder / "quadrants.toml").read_text("utf-8").replace("point_size", "size      ")
    (folder / "old.toml").write_text(f'key = "none"\n{brief}')
    found = call("check", "old.toml").out
    assert "old.toml, line 1, key: key is called key_place now." in found
    assert "chart.size: size is called point_size now." in found
    assert call("flags", "old.toml").out == call("flags", "quadrants.toml").out
    assert sys.modules["yuzen"].load("old.toml").stages.brief.chart.point_size == "passengers"
