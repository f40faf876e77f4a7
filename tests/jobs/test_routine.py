"""The month's routine: many briefs, what changed, watching, and files that are whole whatever happens."""

from __future__ import annotations

import io
import json
import os
import re
import signal
import subprocess
import sys
from collections.abc import Callable
from pathlib import Path
from threading import Timer
from typing import Any

import numpy as np
import pandas as pd
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

import yuzen as yz
from tests.support.command_line import Called
from yuzen.charts.comparison import compare

Call = Callable[..., Called]
YUZEN = Path(sys.executable).with_name("yuzen")


@pytest.fixture
def months(folder: Path) -> Path:
    """The ferry data of May and of June, in which one route is gone and another is new."""
    rows = pd.read_csv("routes.csv")
    may, june = (rows[rows["month"] == month] for month in ("2026-05", "2026-06"))
    may[may["route"] != "Pellburn"].to_csv("may.csv", index=False)
    june[june["route"] != "Quarrel Head"].to_csv("june.csv", index=False)
    return folder


values = st.dictionaries(st.sampled_from("abcdefg"), st.integers(-5, 20).map(float), min_size=1)


@given(values, values)
def test_changes_are_those_between_the_two_tables_of_flags(
    old: dict[str, float], new: dict[str, float]
) -> None:
    plain = yz.chart({"item": ["a"], "v": [1.0]}, category="item", value="v")
    plain = plain.rule("negative", color="adverse", name="loss").rule(
        "top 2", color="favorable", name="best"
    )
    plain = plain.rule("above 0", color="quiet", name="calm")
    charts = [
        plain.with_rows({"item": list(rows), "v": list(rows.values())}) for rows in (old, new)
    ]
    tables = [chart.flags().set_index("item")["rule"].replace("calm", "") for chart in charts]
    both = pd.concat(tables, axis=1, keys=["before", "after"]).astype(object)
    both = both.where(both.notna(), None)
    expected = {}
    for item, before, after in both.itertuples():
        if before is None or after is None:
            expected[item] = ("new" if before is None else "gone", before or "", after or "")
        elif before != after:
            kind = "changed" if before and after else "gained" if after else "lost"
            expected[item] = (kind, before, after)
    found = compare(*charts)
    assert {c.mark: (c.kind, c.before, c.after) for c in found.changes} == expected
    assert found.same == len(both) - len(expected)
    for change in found.changes:
        assert change.because_before
        assert change.because_after
        if change.kind in {"gained", "lost", "changed"}:
            assert change.because_before != change.because_after


@pytest.mark.usefixtures("months")
def test_compare_on_the_command_line(call: Call) -> None:
    text = Path("busiest.toml").read_text().replace(' and month after "2025-06"', "")
    Path("month.toml").write_text(text)
    told = call("compare", "month.toml", "may.csv", "june.csv", "-o", "changes.png")
    assert (told.code, told.err) == (0, "")
    assert (
        "Lost its flag: 2\n  Rookstairs: loss → no flag\n      before  surplus −526 is negative\n"
        in told.out
    )
    assert "      now     surplus 1,212 is not negative" in told.out
    assert "Changed its flag: 1\n  Brinewick: loss → busiest" in told.out
    assert "New: 1\n  without a flag: Pellburn" in told.out
    assert "Gone: 1\n  Quarrel Head: loss\n      surplus −431 is negative" in told.out
    chart = yz.load_picture("changes.png")
    outlined = chart.stages.page.charts[0].layers[0].styles.outline[:, 3] > 0
    names = np.array(chart.stages.marks.names())
    assert sorted(names[outlined]) == ["Brinewick", "Otterby", "Pellburn", "Rookstairs"]
    assert chart.stages.page.key.entries[0].text == "Another flag than in may.csv"
    found = json.loads(call("compare", "month.toml", "may.csv", "june.csv", "--json").out)
    assert [c["kind"] for c in found["changes"]].count("lost") == 2
    assert found["same"] == 15


@pytest.mark.parametrize("kind", ["line", "column"])
def test_changed_marks_of_series_dates_and_panels_are_outlined(kind: Any) -> None:
    rows: dict[str, list[Any]] = {
        "day": ["2026-01-01", "2026-01-02"] * 4,
        "team": ["x", "x", "y", "y"] * 2,
        "port": ["N"] * 4 + ["S"] * 4,
        "v": [1.0, 2, 3, 4, 5, 6, 7, 8],
    }
    chart = yz.chart(rows, kind=kind, category="day", value="v", series="team", panels="port")
    chart = chart.rule("above 6.5", color="adverse")
    other = chart.with_rows({**rows, "v": [1.0, 9, 3, 4, 5, 6, 7, 2]})
    pictured = compare(chart, other).pictured("x {y}")
    marks = np.flatnonzero(pictured.stages.verdict.whole.won(0))
    assert [pictured.stages.marks.names()[mark] for mark in marks] == [
        "2026-01-02 · x · N",
        "2026-01-02 · y · S",
    ]
    assert compare(chart, chart).pictured("x") is chart
    pictured.figure()


def test_many_briefs_at_once(call: Call, folder: Path) -> None:
    (folder / "pictures").mkdir()
    (folder / "broken.toml").write_text(
        "[chart]\ncategory = 'route'\nvalue = 'cost'\nlimit = 'x'\n"
    )
    briefs = [
        "busiest.toml",
        "broken.toml",
        "causes.toml",
        "waves.toml",
        "none.toml",
        "surplus.toml",
    ]
    told = call("draw", *briefs, "-o", "pictures")
    assert told.code == 2
    assert [line.split(":")[0] for line in told.out.splitlines()] == [
        *(f"pictures/{name}.png" for name in ("busiest", "causes", "waves", "surplus")),
        "4 drawn, 2 failed.",
    ]
    assert "busiest.toml, 20 marks, 6 flagged" in told.out
    assert "broken.toml, line 4, chart, limit: 'x' has no place here" in told.err
    assert "There is no brief none.toml." in told.err
    assert sorted(path.name for path in (folder / "pictures").iterdir()) == [
        "busiest.png", "causes.png", "surplus.png", "waves.png",
    ]  # fmt: skip
    told = call("draw", "busiest.toml", "causes.toml", "--json", "--set", "n=2")
    assert [(e["of"], e["flagged"]) for e in json.loads(told.out)] == [
        ("busiest.toml", 6),
        ("causes.toml", 3),
    ]
    for words, message in (
        (["busiest.toml", "causes.toml", "-o", "out.png"], "Several pictures go into a folder"),
        (["busiest.toml", "./busiest.toml"], "would be drawn into busiest.png"),
        (["busiest.toml", "causes.toml", "--each", "waters"], "one chart at a time"),
    ):
        told = call("draw", *words)
        assert told.code == 2
        assert message in told.err


def test_a_call_becomes_a_brief_that_draws_the_same(call: Call, folder: Path) -> None:
    (folder / "briefs").mkdir()
    told = call(
        *(
            "draw",
            "routes.csv",
            "--category",
            "route",
            "--value",
            "passengers",
            "--title",
            'The "best"',
        ),
        *(
            "--rule",
            "top 3",
            "favorable",
            "--keep",
            'service = "ferry"',
            "--write-brief",
            "briefs/new.toml",
        ),
    )
    assert told.code == 0
    written = (folder / "briefs/new.toml").read_text()
    assert f"file = '{folder}/routes.csv'" in written.replace('"', "'")
    assert "keep = 'service = \"ferry\"'" in written
    assert '[[rule]]\nwhen = "top 3"\n' in written
    again = yz.load(folder / "briefs/new.toml")
    first = yz.load_picture(folder / "routes.png")
    pd.testing.assert_frame_equal(again.flags(), first.flags())
    call(
        "draw",
        "routes.csv",
        "--category",
        "route",
        "--value",
        "cost",
        "--write-brief",
        "beside.toml",
    )
    assert 'file = "routes.csv"' in (folder / "beside.toml").read_text()
    (folder / "house.toml").write_text('[roles]\nadverse = "#AA0000"\n')
    text = (
        (folder / "busiest.toml").read_text().replace("title ", 'theme = "house.toml"\ntitle ', 1)
    )
    (folder / "own.toml").write_text(text)
    moved = yz.load(yz.load(folder / "own.toml").write(folder / "briefs/own.toml"))
    assert (moved.stages.theme.color("adverse"), len(moved.stages.marks)) == ("#AA0000", 20)
    told = call("draw", "busiest.toml", "--write-brief", "x.toml")
    assert (told.code, (folder / "x.toml").exists()) == (2, False)


@pytest.mark.usefixtures("folder")
def test_rows_from_a_pipe(call: Call, monkeypatch: pytest.MonkeyPatch) -> None:
    for form in ("csv", "json"):
        rows = pd.read_csv("routes.csv")
        text = rows.to_csv(index=False) if form == "csv" else rows.to_json(orient="records")
        monkeypatch.setattr("sys.stdin", io.TextIOWrapper(io.BytesIO(text.encode())))
        piped = call("flags", "busiest.toml", "--data", "-", "--format", "csv")
        assert (piped.code, piped.out) == (0, call("flags", "busiest.toml", "--format", "csv").out)
    monkeypatch.setattr("sys.stdin", io.TextIOWrapper(io.BytesIO(b"item,v\na,1\n")))
    assert (
        call("draw", "-", "--category", "item", "--value", "v", "-o", "p.png").out
        == "p.png: 1 mark\n"
    )
    assert yz.load_picture("p.png").stages.page.words.footer == "Source: standard input"
    Path("two.toml").write_text(Path("busiest.toml").read_text())
    monkeypatch.setattr("sys.stdin", io.TextIOWrapper(io.BytesIO(Path("routes.csv").read_bytes())))
    told = call("draw", "busiest.toml", "two.toml", "surplus.toml", "plan.toml", "--data", "-")
    assert (told.code, told.out.count("20 marks")) == (0, 4)
    monkeypatch.setattr("sys.stdin", io.TextIOWrapper(io.BytesIO(b"")))
    told = call("flags", "busiest.toml", "--data", "-")
    assert (told.code, "The file is empty." in told.err) == (3, True)


def _read_until(process: subprocess.Popen[str], words: str, lines: list[str]) -> None:
    assert process.stdout is not None
    late = Timer(60, process.kill)  # which ends the output, and with it the test
    late.start()
    try:
        for line in process.stdout:
            lines.append(line)
            if words in line:
                return
    finally:
        late.cancel()
    pytest.fail(f"'{words}' never came: {lines}")


@pytest.mark.usefixtures("months")
def test_watching_draws_anew_and_says_which_flags_changed() -> None:
    text = (
        Path("busiest.toml")
        .read_text()
        .replace(' and month after "2025-06"', "")
        .replace("routes.csv", "now.csv")
    )
    Path("watched.toml").write_text(text.replace("title ", 'theme = "house.toml"\ntitle ', 1))
    Path("house.toml").write_text('[roles]\nadverse = "#AA0000"\n')
    Path("now.csv").write_bytes(Path("may.csv").read_bytes())
    with subprocess.Popen(
        [YUZEN, "draw", "watched.toml", "--watch"], stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True,
        env={**os.environ, "PYTHONUNBUFFERED": "1"},
    ) as process:  # fmt: skip
        lines: list[str] = []
        _read_until(process, "watching", lines)
        before = Path("watched.png").read_bytes()
        Path("fresh.csv").write_bytes(Path("june.csv").read_bytes())
        Path("fresh.csv").replace("now.csv")
        _read_until(process, "Changed its flag: 1", lines)
        _read_until(process, "as before", lines)
        assert Path("watched.png").read_bytes() != before
        Path("watched.toml").write_text(text.replace("top n", "top nn"))
        _read_until(process, "I know no measure or column 'nn'", lines)
        Path("watched.toml").write_text(text.replace("n = 3", "n = 1"))
        _read_until(process, "Lost its flag", lines)
        process.send_signal(signal.SIGINT)
        _read_until(process, "stopped; watched.png was written", lines)
        assert process.wait() == 130
    assert "Traceback" not in "".join(lines)


# Waits, once the bytes are written and before they take their place, until it is killed.
SLOW_DISK = """
import os, sys, time
def wait(handle):
    print("written", flush=True)
    time.sleep(600)
os.fsync = wait
sys.argv = ["yuzen", "draw", "busiest.toml"]
from yuzen.__main__ import run
run()
"""


def test_a_run_that_is_killed_leaves_the_old_file_and_is_swept_up_after(
    call: Call, folder: Path
) -> None:
    target = folder / "busiest.png"
    target.write_bytes(b"the old one")
    with subprocess.Popen(
        [sys.executable, "-c", SLOW_DISK], stdout=subprocess.PIPE, text=True
    ) as process:
        _read_until(process, "written", [])
        process.kill()
    assert target.read_bytes() == b"the old one"
    (left,) = folder.glob(".yuzen-*")
    fresh, mine = folder / ".yuzen-1-fresh", folder / ".yuz-old"
    for path in (fresh, mine):
        path.write_bytes(b"somebody is writing this")
    for path in (left, mine):
        os.utime(path, (1, 1))
    assert call("draw", "busiest.toml").code == 0
    assert (left.exists(), fresh.exists(), mine.exists()) == (False, True, True)
    Image.open(target).load()
    assert len(yz.load_picture(target).stages.marks) == 20


def test_paths_in_texts_are_read_as_the_user_may_and_never_written(
    call: Call, folder: Path
) -> None:
    inner = folder / "inner"
    inner.mkdir()
    (folder / "house.toml").write_text('[roles]\nadverse = "#AA0000"\n')
    text = (folder / "busiest.toml").read_text().replace('"routes.csv"', '"../routes.csv"')
    (inner / "out.toml").write_text(text.replace("title ", 'theme = "../house.toml"\ntitle ', 1))
    before = {path: path.read_bytes() for path in folder.rglob("*") if path.is_file()}
    assert call("draw", inner / "out.toml", "-o", inner / "out.png").code == 0
    for words in (
        ["why", inner / "out.png"],
        ["flags", inner / "out.toml"],
        ["check", inner / "out.toml"],
    ):
        call(*words)
    after = {path: path.read_bytes() for path in folder.rglob("*") if path.is_file()}
    assert set(after) - set(before) == {inner / "out.png"}
    assert {path: after[path] for path in before} == before


def test_a_million_categories_are_refused_with_their_count(tmp_path: Path) -> None:
    rows = pd.DataFrame({"item": np.arange(1_000_000).astype(str), "v": 1.0})
    with pytest.raises(yz.YuzenError, match="item has 1,000,000 different values") as error:
        yz.chart(rows, category="item", value="v").save(tmp_path / "out.png")
    assert error.value.exit_code == 3
    assert not list(tmp_path.iterdir())


def test_a_brief_of_fifty_megabytes_is_refused_at_once(call: Call, folder: Path) -> None:
    with (folder / "huge.toml").open("wb") as file:
        file.truncate(50_000_000)
    for words in (["draw", "huge.toml"], ["check", "huge.toml"], ["why", "huge.toml"]):
        told = call(*words)
        assert (told.code, "more than 1,000,000 bytes" in told.err) == (2, True)


FAULTS = '''title = "A [title]
# of two lines"
[data]
file = "routes.csv"
keep = 'service is'

[chart]
category = "route"
value = "passengers"
kinds = "bar"

[[rule]]
name = "first"
when = """
top
"""
[[rule]]
when = "above average"
badge = "heart"
shade = { of = "cost", steps = 1 }
'''


def test_all_faults_of_a_brief_come_at_once_each_with_its_line(folder: Path) -> None:
    text = FAULTS.replace('"A [title]\n# of two lines"', '"""A [title]\n# of two lines"""')
    (folder / "faulty.toml").write_text(text)
    with pytest.raises(yz.YuzenError) as error:
        yz.load(folder / "faulty.toml")
    told = [re.match(r"faulty.toml, line (\d+)", fault.where) for fault in error.value.faults]
    lines = text.splitlines()
    found = sorted(lines[int(match[1]) - 1] for match in told if match)
    assert found == [
        'badge = "heart"',
        "keep = 'service is'",
        'kinds = "bar"',
        'shade = { of = "cost", steps = 1 }',
        'when = """',
    ]
    assert len(told) == len(found)
    assert "Did you mean kind?" in str(error.value)


def test_faults_of_rules_and_colors_come_at_once_each_with_its_line(folder: Path) -> None:
    text = (folder / "busiest.toml").read_text()
    text = text.replace('"surplus negative"', '"surpluss negative"').replace(
        '"top n"', '"top 3 within month"'
    )
    text = text.replace('"favorable"', '"favourable"')
    (folder / "faulty.toml").write_text(text)
    with pytest.raises(yz.YuzenError) as error:
        yz.load(folder / "faulty.toml").flags()
    lines = text.splitlines()
    found = [
        lines[int(re.findall(r"line (\d+)", fault.where)[0]) - 1] for fault in error.value.faults
    ]
    assert found == [
        'when  = "surpluss negative"',
        'when  = "top 3 within month"',
        'color = "favourable"',
    ]
    assert "Did you mean surplus?" in str(error.value)
    assert 'faulty.toml, line 21, rule 1 "loss"' in str(error.value)


def test_faults_of_columns_come_at_once_and_so_do_those_of_rows(folder: Path) -> None:
    text = (folder / "busiest.toml").read_text()
    (folder / "faulty.toml").write_text(
        text.replace('"route"', '"ruote"').replace(
            '"passengers"', '"pasengers"\nseries = "watres"', 1
        )
    )
    with pytest.raises(yz.YuzenError) as error:
        _ = yz.load(folder / "faulty.toml").stages.marks
    hints = ["Did you mean route?", "Did you mean waters?", "Did you mean passengers?"]
    assert [hint in str(fault) for hint, fault in zip(hints, error.value.faults, strict=True)] == [
        True
    ] * 3
    made = '[measures]\nm = "surplus"\nk = "total of nothing"\n[chart]'
    (folder / "faulty.toml").write_text(
        text.replace("service =", "servce =").replace("[chart]", made)
    )
    with pytest.raises(yz.YuzenError) as error:
        _ = yz.load(folder / "faulty.toml").stages.marks
    assert [fault.code for fault in error.value.faults] == ["rule-name", "measure-row", "rule-name"]
    assert len(set(re.findall(r"faulty.toml, line (\d+)", str(error.value)))) == 3


@pytest.mark.parametrize(
    ("old", "new", "line"),
    [
        ('at = "average"', 'at = "averagee of cost"', 'at = "averagee of cost"'),
        ("n = 3", "n = 3\nroute = 1", None),
        ('value    = "passengers"', 'value    = "pasengers"', 'value    = "pasengers"'),
        ('service = "ferry"', 'servise = "ferry"', "keep = "),
        ("{n} by", "{nn} by", "key   = "),
        ('title    = \'{names "busiest"}', "title    = '{names \"bussiest\"}", "title    = "),
        ("subtitle =", "theme = 3\nsubtitle =", "theme = 3"),
    ],
)  # fmt: skip
def test_whatever_is_wrong_is_told_with_its_line(
    old: str, new: str, line: str | None, folder: Path
) -> None:
    text = (folder / "busiest.toml").read_text()
    assert old in text
    text = text.replace(old, new, 1)
    (folder / "faulty.toml").write_text(text)
    with pytest.raises(yz.YuzenError) as error:
        _ = yz.load(folder / "faulty.toml").stages.page
    lines = [int(number) for number in re.findall(r"faulty.toml, line (\d+)", str(error.value))]
    if line is None:
        assert "route is a parameter, and route is a column" in str(error.value)
    else:
        assert text.splitlines()[lines[0] - 1].startswith(line)


def test_colors_show_on_terminals_that_want_them(
    call: Call, monkeypatch: pytest.MonkeyPatch
) -> None:
    assert "\x1b" not in call("themes").out
    monkeypatch.setattr("sys.stdout.isatty", lambda: True, raising=False)
    monkeypatch.delenv("NO_COLOR", raising=False)
    from yuzen.cli.printing.terminal import swatch

    monkeypatch.setattr(
        "yuzen.cli.printing.terminal.sys.stdout", type("Terminal", (), {"isatty": lambda _: True})()
    )
    assert "\x1b[38;2;198;62;47m" in swatch("#C63E2F")
    monkeypatch.setenv("NO_COLOR", "1")
    assert swatch("#C63E2F") == ""


@pytest.mark.usefixtures("folder")
@pytest.mark.parametrize("shell", ["bash", "zsh", "fish"])
def test_shells_complete_commands_and_names_of_marks(shell: str, call: Call) -> None:
    told = call("completion", shell)
    assert told.code == 0
    assert f"_YUZEN_COMPLETE={shell}_complete" in told.out
    if shell == "bash":
        asked = {
            **os.environ,
            "_YUZEN_COMPLETE": "bash_complete",
            "COMP_WORDS": "yuzen why busiest.toml Br",
            "COMP_CWORD": "3",
        }
        done = subprocess.run([YUZEN], env=asked, capture_output=True, text=True, check=False)
        assert done.stdout == "plain,Brinewick\n"
        asked |= {"COMP_WORDS": "yuzen co", "COMP_CWORD": "1"}
        done = subprocess.run([YUZEN], env=asked, capture_output=True, text=True, check=False)
        assert done.stdout.split() == ["plain,compare", "plain,completion"]


def test_every_command_has_an_example_that_runs(call: Call) -> None:
    from yuzen.cli.commands import COMMANDS
    from yuzen.cli.options import EXAMPLES

    assert set(EXAMPLES) == set(COMMANDS)
    for name in COMMANDS:
        told = call(name, "--help")
        assert told.code == 0
        assert f"  {EXAMPLES[name].splitlines()[0]}" in told.out


@pytest.mark.usefixtures("folder")
def test_flags_as_parquet(call: Call) -> None:
    assert call("flags", "busiest.toml", "-o", "flags.parquet").code == 0
    pd.testing.assert_frame_equal(
        pd.read_parquet("flags.parquet"), yz.load("busiest.toml").flags(), check_dtype=False
    )
