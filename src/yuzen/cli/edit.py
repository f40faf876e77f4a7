"""The command that opens a page on this machine for a brief, its picture and its reasons."""

from __future__ import annotations

import os
from pathlib import Path
from sys import platform
from typing import TYPE_CHECKING

import click

from yuzen.cli.choices import complete_sources
from yuzen.cli.options import example
from yuzen.cli.printing.terminal import print_message, print_note
from yuzen.errors import YuzenError, make_error
from yuzen.files.records.kept_records import is_picture
from yuzen.paths import path_of
from yuzen.sources.extras import needed_for

if TYPE_CHECKING:
    from yuzen.brief.toml.source import BriefSource
    from yuzen.desk.edited_brief import EditedBrief


@click.command(epilog=example("edit"))
@click.argument("source", metavar="BRIEF|DATA|PICTURE", shell_complete=complete_sources)
@click.option("--chart", "of_report", metavar="NAME", help="Of a report: which of its charts.")
@click.option("--table", metavar="TABLE", help="Of a database: its table.")
@click.option("--no-browser", is_flag=True, help="Print the address, and open no browser.")
def edit(*, source: str, of_report: str | None, table: str | None, no_browser: bool) -> None:
    """Open a page on this machine: a brief, its picture, what can be moved, and the reasons.

    Nothing is written before you say so on the page. It ends with Ctrl-C, or when the page has
    been closed for a minute.
    """
    with needed_for("page", "the page"):
        from yuzen.desk.server.serving import desk_of

    desk = desk_of(_edited(source, of_report or "", table))
    print_message(desk.address)
    print_note("  Only this machine can open it, with this address. Stop with Ctrl-C.")
    if not no_browser and _has_screen():
        import webbrowser

        webbrowser.open(desk.address)
    desk.run()
    if not desk.session.is_saved:
        kept = f"{desk.session.target.name}.unsaved"
        print_note(f"  What you have not saved is kept in {kept}, and is offered next time.")


def _edited(source: str, of_report: str, table: str | None) -> EditedBrief:
    """What a call names: the brief of a file or of a picture, or a first one of rows."""
    from yuzen.brief.house_defaults import read_brief_text
    from yuzen.desk.edited_brief import EditedBrief

    path = path_of(source)
    if path.suffix.casefold() == ".toml":
        written = read_brief_text(path)
        _refuse_report(written)
        return EditedBrief(path.name, written.text, path.resolve().parent, path.resolve())
    if "://" not in source and is_picture(path):
        from yuzen.files.records.kept_records import record_in

        record = record_in(path, of_report)
        called = f"{path.stem}.toml"
        return EditedBrief(called, record.brief, path.resolve().parent, source=record)
    if source == "-":
        message = "A page needs a file. Save the rows into one first."
        raise make_error("call-data", message)
    return _first(source, table)


def _refuse_report(written: BriefSource) -> None:
    """Raise YuzenError (brief-report) for a report; other faults are mended on the page."""
    from yuzen.brief.toml.document import read_brief_values

    try:
        read_brief_values(written)
    except YuzenError as error:
        if error.code == "brief-report":
            raise


def _has_screen() -> bool:
    """Whether a browser can show a page; one of the terminal would take the terminal over."""
    shown = {"DISPLAY", "WAYLAND_DISPLAY", "BROWSER"} & os.environ.keys()
    return os.name == "nt" or platform == "darwin" or bool(shown)


def _first(source: str, table: str | None) -> EditedBrief:
    """A first brief of rows, which is in no file yet."""
    from yuzen.cli.start import first_brief_path
    from yuzen.desk.edited_brief import EditedBrief
    from yuzen.starts.starting import start

    called, folder = first_brief_path(source), Path.cwd()
    return EditedBrief(str(called), start(source, table=table).brief(folder), folder)
