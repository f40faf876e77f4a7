"""Help pages: those that are stored are those that click makes, and whatever else is asked is made anew."""

from __future__ import annotations

import io
from pathlib import Path

import pytest
from click.testing import CliRunner

from yuzen.cli.commands import COMMANDS
from yuzen.cli.main import main
from yuzen.cli.stored import help_pages
from yuzen.cli.stored.help_pages import show_stored_help


@pytest.fixture(autouse=True)
def _wide(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("COLUMNS", "120")


@pytest.mark.parametrize("command", ["", *COMMANDS])
@pytest.mark.parametrize("option", ["--help", "-h"])
def test_a_stored_page_is_the_one_that_click_makes(
    command: str, option: str, capsys: pytest.CaptureFixture[str]
) -> None:
    words = [*([command] if command else []), option]
    assert show_stored_help(words)
    made = CliRunner().invoke(main, words, prog_name="yuzen", terminal_width=78)
    assert capsys.readouterr().out == made.output


@pytest.mark.parametrize(
    "words",
    [[], ["draw"], ["--help", "draw"], ["draw", "--help", "x"], ["-v", "--help"], ["nothing", "--help"],
     ["../yuzen", "--help"], ["help", "rule.part"], ["draw", "--helpp"], ["", "--help"], ["Draw", "-h"]],
)  # fmt: skip
def test_other_calls_are_left_to_the_commands(
    words: list[str], capsys: pytest.CaptureFixture[str]
) -> None:
    assert not show_stored_help(words)
    assert capsys.readouterr().out == ""


def test_a_page_is_made_anew_where_the_terminal_is_narrow_or_a_source_has_changed(
    monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    monkeypatch.setenv("COLUMNS", "60")
    assert not show_stored_help(["draw", "--help"])
    monkeypatch.setenv("COLUMNS", "80")
    assert show_stored_help(["draw", "--help"])
    for name in (*help_pages.SHARED, "draw.py"):
        copy = tmp_path / name
        copy.parent.mkdir(exist_ok=True)
        source = (Path(help_pages.SOURCES) / name).read_bytes()
        copy.write_bytes(source.replace(b"\n", b"\r\n"))
    monkeypatch.setattr(help_pages, "SOURCES", str(tmp_path))
    assert show_stored_help(["draw", "--help"])  # line ends are no change
    (tmp_path / "draw.py").write_bytes(b"# changed")
    assert not show_stored_help(["draw", "--help"])


def test_a_stream_that_cannot_be_written_is_left_to_the_commands(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    closed = io.StringIO()
    closed.close()
    monkeypatch.setattr("sys.stdout", closed)
    assert not show_stored_help(["--help"])
    monkeypatch.setattr("sys.stdout", None)
    assert not show_stored_help(["--help"])
