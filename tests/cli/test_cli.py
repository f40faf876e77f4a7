"""The command line as a user meets it: what it prints, what it writes, how it ends."""

from __future__ import annotations

import csv
import importlib
import io
import json
from collections.abc import Callable
from pathlib import Path

import pytest

import yuzen as yz
from tests.support.command_line import Called

Call = Callable[..., Called]


@pytest.mark.parametrize(
    ("ending", "start"), [("png", b"\x89PNG"), ("svg", b"<?xml"), ("pdf", b"%PDF")]
)
def test_draw_a_brief(call: Call, folder: Path, ending: str, start: bytes) -> None:
    told = call("draw", "busiest.toml", "-o", f"out.{ending}", "--set", "n=5")
    assert (told.code, told.err) == (0, "")
    assert "out." in told.out
    assert (folder / f"out.{ending}").read_bytes().startswith(start)
    assert yz.load_picture(folder / f"out.{ending}").stages.brief.parameters == {"n": 5}


def test_draw_a_file_without_a_brief(call: Call, folder: Path) -> None:
    told = call(
        *("draw", "routes.csv", "--category", "route", "--value", "passengers"),
        *("--rule", "top 3", "favorable", "--rule", "surplus negative", "adverse"),
    )
    assert told.code == 0
    assert told.out.splitlines()[0] == "routes.png: 23 marks"
    assert 'rule 1 "top 3": 3 flagged (' in told.out
    assert (folder / "routes.png").is_file()


def test_why_from_a_brief_and_from_its_picture(call: Call, folder: Path) -> None:
    call("draw", "busiest.toml", "-o", "busiest.png")
    (folder / "routes.csv").unlink()
    told = call("why", "busiest.png", "Brinewick", "kelpwick")
    assert told.code == 0
    assert told.out.startswith(
        "Brinewick  48,980 passengers, surplus −16,890  (12 rows)\n  bar  adverse (#C63E2F)"
    )
    assert "\n\nKelpwick  " in told.out
    as_data = json.loads(call("why", "busiest.png", "Brinewick", "--json").out)
    assert as_data[0]["rules"][0]["because"] == "surplus −16,890 is negative"


def test_flags_as_table_csv_and_json(call: Call, folder: Path) -> None:
    rows = list(csv.DictReader(io.StringIO(call("flags", "causes.toml", "--format", "csv").out)))
    assert [row["rule"] for row in rows] == ["most", "most", "second", "", "", ""]
    assert json.loads(call("flags", "causes.toml", "--format", "json").out)[2]["cause"] == "Swell"
    table = call("flags", "causes.toml").out
    assert all(word in table for word in ("cause", "Berth taken", "adverse", "#C63E2F"))
    assert call("flags", "causes.toml", "-o", "flags.csv").code == 0
    assert (
        (folder / "flags.csv").read_text().startswith("cause,sailings,target,rule,role,color,also")
    )


@pytest.mark.parametrize("brief", ["causes.toml", "punctual.toml", "names.toml"])
def test_the_table_in_a_pipe_is_that_of_a_terminal_which_is_wide_enough(
    call: Call, folder: Path, monkeypatch: pytest.MonkeyPatch, brief: str
) -> None:
    names = ["日本", "Zu\u0308rich", "Ünal", ":star:", "🚢", "[red]", "−", "x" * 70]
    lines = "".join(f"{name},{i - 3.5}\n" for i, name in enumerate(names))
    (folder / "names.csv").write_text(f"ナ,v\n{lines}", encoding="utf-8")
    text = '[data]\nfile = "names.csv"\n[chart]\ncategory = "ナ"\nvalue = "v"\n'
    (folder / "names.toml").write_text(
        text + '[[rule]]\nwhen = "negative"\ncolor = "adverse"\n', encoding="utf-8"
    )
    in_pipe = call("flags", brief).out
    assert "adverse" in in_pipe
    monkeypatch.setattr("yuzen.cli.printing.flag_formats.is_terminal", lambda _: True)
    monkeypatch.setenv("COLUMNS", "2000")
    assert in_pipe == call("flags", brief).out  # which rich draws


BAD_CALLS = [
    (["draw", "nothing.toml"], 2, "There is no brief nothing.toml."),
    (["draw", "route.csv", "--category", "a", "--value", "b"], 3, "Did you mean routes.csv?"),
    (["draw", "routes.csv", "--category", "rout", "--value", "cost"], 2, "Did you mean route?"),
    (["draw", "text.csv", "--category", "item", "--value", "v"], 3, "row 2 (line 3)"),
    (["draw", "empty.csv", "--category", "item", "--value", "v"], 3, "empty.csv: The file is empty."),
    (["draw", "busiest.xyz"], 3, "I cannot read files of the type '.xyz'"),
    (["draw", "routes.csv", "--across", "cost"], 2, "--across goes with --category and --value"),
    (["draw", "notes.txt", "--category", "a", "--value", "b"], 3, "I cannot read files of the type '.txt'"),
    (["draw", "routes.csv", "--category", "route", "--value", "cost", "--rule", "tpo 3", "adverse"], 2,
     "    tpo 3\n        ^"),
    (["draw", "routes.csv", "--category", "route", "--value", "cost", "--rule", "top 3", "advers"], 2,
     "Did you mean adverse?"),
    (["draw", "busiest.toml", "-o", "out.gif"], 2, "tables in .html too, slides in .pptx, workbooks in .xlsx."),
    (["draw", "busiest.toml", "--set", "m=8"], 2, "The brief has no parameter 'm'"),
    (["flags", "busiest.toml", "--set", "n=2.5"], 2, "n is 2.5, and 'top n' takes a whole number."),
    (["flags", "busiest.toml", "--keep", 'waters = "Nowhere"'], 3, "No rows are left"),
    (["draw", "busiest.toml", "-o", "locked/out.png"], 2, "locked: I cannot make this folder: there is a file of that name"),
    (["draw", "busiest.toml", "--set", "n"], 2, "write it like --set n=5"),
    (["draw", "busiest.toml", "--kind", "column"], 2, "--kind goes with a data file"),
    (["draw", "broken.toml"], 2, "broken.toml: This is no TOML"),
    (["why", "busiest.toml", "Brinewik"], 2, "No route is called 'Brinewik'. Did you mean Brinewick?"),
    (["why", "plain.png"], 3, "This picture holds no record"),
    (["flags", "busiest.toml", "-o", "flags.docx"], 2, "end it in .csv, .json, .parquet or .xlsx"),
    (["draw"], 2, "Missing argument"),
    (["drow"], 2, "No such command"),
]  # fmt: skip


@pytest.mark.parametrize(
    ("words", "code", "message"), BAD_CALLS, ids=[" ".join(w) for w, *_ in BAD_CALLS]
)
def test_bad_calls_get_a_message_and_leave_no_file(
    call: Call, folder: Path, words: list[str], code: int, message: str
) -> None:
    (folder / "text.csv").write_text("item,v\na,1\nb,many\n")
    (folder / "empty.csv").write_text("")
    (folder / "notes.txt").write_text("a,b\n1,2\n")
    (folder / "broken.toml").write_text("[chart\n")
    (folder / "plain.png").write_bytes(b"\x89PNG\r\n")
    (folder / "locked").write_text("a file where a folder is wanted")
    (folder / "out.gif").write_bytes(b"before")
    before = {path: path.read_bytes() for path in folder.iterdir()}
    told = call(*words)
    assert told.code == code, told.err
    assert message in told.err
    assert "Traceback" not in told.err
    assert told.out == ""
    assert {path: path.read_bytes() for path in folder.iterdir()} == before


def test_an_existing_picture_outlives_a_run_that_fails(
    call: Call, folder: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    (folder / "out.png").write_bytes(b"the old picture")

    def full(*_: object) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr("os.fsync", full)
    told = call("draw", "busiest.toml", "-o", "out.png")
    assert (told.code, told.out) == (2, "")
    assert "No space left on device" in told.err
    assert (folder / "out.png").read_bytes() == b"the old picture"
    assert not [path for path in folder.iterdir() if path.name.startswith(".out")]


def test_nothing_in_data_is_obeyed(
    call: Call, folder: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("click.utils.should_strip_ansi", lambda *_: False)  # as on a terminal
    names = ["=1+2", "@cmd", "<script>", "a\x1b[31mb", "$x$", "-->", "{n}", ":star:", "[red]x"]
    lines = "".join(f'"{name}",{i + 1}\n' for i, name in enumerate(names))
    (folder / "odd.csv").write_text(f"item,v\n{lines}")
    for output in ("odd.svg", "odd.png", "odd.pdf"):
        told = call(
            "draw",
            "odd.csv",
            "--category",
            "item",
            "--value",
            "v",
            "--rule",
            "always",
            "notice",
            "-o",
            output,
        )
        assert told.code == 0, told.err
        assert "\x1b" not in told.out
    assert b"<script>" not in (folder / "odd.svg").read_bytes()
    (folder / "odd.toml").write_text(
        '[data]\nfile = "odd.csv"\n[chart]\ncategory = "item"\nvalue = "v"\n'
    )
    cells = [
        row[0] for row in csv.reader(io.StringIO(call("flags", "odd.toml", "--format", "csv").out))
    ]
    assert "'=1+2" in cells
    assert "'@cmd" in cells
    table = call("flags", "odd.toml").out
    assert all(name in table for name in ("=1+2", "{n}", ":star:", "[red]x"))
    assert "\x1b" not in call("flags", "odd.toml").out
    why = call("why", "odd.toml", "a\x1b[31mb")
    assert (why.code, why.out[:11]) == (0, "a�[31mb  4 ")
    assert "\x1b" not in call("why", "odd.toml", "gone\x1b[31m").err
    (folder / "new.csv").write_text(f"item,v\n{lines}=new\x1b,99\n")
    (folder / "rules.toml").write_text(
        (folder / "odd.toml").read_text()
        + '[[rule]]\nname = "\\u001b[31mred"\nwhen = "highest"\ncolor = "notice"\n'
        + '[[rule]]\nname = "never\\u001b"\nwhen = "above 999"\ncolor = "adverse"\n'
    )
    for words in (
        ["check", "rules.toml"],
        ["compare", "rules.toml", "odd.csv", "new.csv", "-o", "changes.svg"],
        ["draw", "rules.toml", "odd.toml", "broken\x1b.toml"],
        ["flags", "rules.toml", "--json"],
        ["compare", "rules.toml", "odd.csv", "new.csv", "--json"],
    ):
        told = call(*words)
        assert "\x1b" not in told.out + told.err
    head, first, *_ = csv.reader(
        io.StringIO(call("flags", "rules.toml", "--data", "new.csv", "--format", "csv").out)
    )
    assert (head[0], first[0]) == ("item", "'=new\x1b")
    (folder / "heads.csv").write_text("=item,v\na,1\n")
    told = call("draw", "heads.csv", "--category", "=item", "--value", "v", "-o", "heads.png")
    assert told.code == 0
    assert call("flags", "heads.png", "--format", "csv").out.startswith("'=item,v,")


def test_help_names_every_command_with_an_example(call: Call) -> None:
    listed = call("--help").out
    for command in ("demo", "draw", "why", "flags"):
        assert f"\n  {command} " in listed
        assert f"yuzen {command} " in call(command, "--help").out.split("For example:")[1]


def test_the_public_names_are_these() -> None:
    assert yz.__all__ == sorted(yz.__all__)
    assert " ".join(yz.__all__) == (
        "Chart ChartSummary Comparison Database DrawResult Fault Finding Inset Painted PaintedFile Report Start Verdicts Why YuzenError "
        "above always average below between bottom chart colors compare deviation every falls first ink judge last limits load "
        "load_picture load_report loads measure median outlier paint percent position previous rank reference report rises rule "
        "save_all start top"
    )
    assert all(getattr(yz, name) is not None for name in yz.__all__)
    former = vars(yz)["__getattr__"]
    assert (former("Outcome"), former("Edition")) == (yz.Verdicts, yz.DrawResult)
    assert importlib.import_module("yuzen.comparing").compare is yz.compare
    with pytest.raises(AttributeError, match="has no attribute 'nothing'"):
        _ = yz.nothing
