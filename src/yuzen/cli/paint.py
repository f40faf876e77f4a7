"""The command that paints the charts which are in a deck or a workbook already."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Any

import click

from yuzen.cli.choices import ThemeName
from yuzen.cli.options import as_json, example
from yuzen.cli.printing.output import print_json
from yuzen.cli.printing.terminal import print_message, print_note, print_report, printable
from yuzen.cli.stopping import track_outputs
from yuzen.errors import make_error, suggestion
from yuzen.files.whole import made_folder, write_whole
from yuzen.formats.name_lists import listed

if TYPE_CHECKING:
    from yuzen.recolor.found import FoundChart
    from yuzen.recolor.painted_file import PaintedFile

PATH = click.Path(path_type=Path)


@click.command(epilog=example("paint"))
@click.argument("source", metavar="DECK|BOOK", type=PATH)
@click.argument("rules", metavar="[RULES]", required=False, type=PATH)
@click.option("-o", "--output", type=PATH, help="The painted file; DECK-painted.pptx without it.")
@click.option("--list", "listing", is_flag=True, help="List the charts, and paint nothing.")
@click.option("--undo", is_flag=True, help="Give the charts back as they were before painting.")
@click.option("--data", metavar="FILE", help="Rows with further columns, joined by the categories.")
@click.option("--theme", type=ThemeName(), help="Another theme: its name, or its file.")
@click.option(
    "--set", "settings", metavar="NAME=VALUE", multiple=True, help="Set a parameter of the rules."
)
@as_json
def paint(
    *,
    source: Path,
    rules: Path | None,
    output: Path | None,
    listing: bool,
    undo: bool,
    data: str | None,
    theme: str | None,
    settings: tuple[str, ...],
    as_json: bool,
) -> None:
    """Colour the charts that are in a DECK (.pptx) or a BOOK (.xlsx) by the RULES of a file.

    Colours of points, stretches of lines and labels are written, and nothing else is changed. DECK
    itself is written only where -o names it.
    """
    if listing or undo:
        if rules is not None or (listing and (undo or output is not None)):
            message = "--list and --undo go without RULES, and --list without -o."
            raise make_error("call-option", message)
        if listing:
            _list(source, as_json=as_json)
        else:
            _undo(source, output, as_json=as_json)
        return
    if rules is None:
        message = "Name the file of RULES too, or list the charts with --list."
        raise make_error("call-option", message)
    from yuzen.cli.calls import setting
    from yuzen.recolor.painted_file import paint_file, rules_of

    path = output or _beside(source)
    track_outputs([path])
    of_file = rules_of(rules)
    if settings:
        given = dict(map(setting, settings))
        _refuse_unknown(given, of_file.parameter_names)
        of_file = replace(of_file, settings=given)
    painted = paint_file(source, of_file, data, theme)
    painted.save(path)
    _print(painted, path, as_json=as_json)


def _beside(source: Path) -> Path:
    """The file of a call that names none, which is never the source. Raises YuzenError."""
    path = Path(f"{source.stem.removesuffix('-painted')}-painted{source.suffix}")
    if path.resolve() == source.resolve():
        message = "The file would be painted over itself. Say so with -o, or name another file."
        raise make_error("call-option", message, where=str(source))
    return path


def _refuse_unknown(given: dict[str, Any], known: frozenset[str]) -> None:
    """Raise YuzenError (call-set) for a parameter that no rule has."""
    folded = {name.casefold() for name in known}
    for name in given:
        if name.casefold() not in folded:
            message = f"The rules have no parameter '{name[:60]}'.{suggestion(name, known)}"
            raise make_error("call-set", message)


def _list(source: Path, *, as_json: bool) -> None:
    """The charts of a file: where they are and what they show."""
    from yuzen.recolor.found import found_charts

    found = found_charts(source)
    if as_json:
        print_json([chart.facts() for chart in found])
        return
    if not found:
        print_message(f"{source} has no charts.")
    for chart in found:
        print_message(_line(chart))


def _line(chart: FoundChart) -> str:
    """A chart in a line."""
    facts = chart.facts()
    title = f" '{facts['title']}'" if facts["title"] else ""
    head = f"{facts['place']}{title}: {facts['kind'] or 'a chart'}"
    if facts["not painted"]:
        return printable(f"{head}; it cannot be painted: {facts['not painted']}")
    names = ", ".join(facts["series"][:6]) + (", …" if len(facts["series"]) > 6 else "")
    return printable(f"{head}, {facts['points']:,} points of {names}")


def _undo(source: Path, output: Path | None, *, as_json: bool) -> None:
    """Write a file with its charts as they were."""
    from yuzen.recolor.painted_file import unpainted

    if output is None:
        message = "Name the file to write with -o; it may be the painted one itself."
        raise make_error("call-option", message)
    data, count = unpainted(source)
    track_outputs([output])
    made_folder(output.parent)
    write_whole(output, data)
    if as_json:
        print_json({"file": str(output), "charts": count})
    else:
        print_report(f"{output}: {count:,} chart{'' if count == 1 else 's'} as before painting")


def _print(painted: PaintedFile, path: Path, *, as_json: bool) -> None:
    """Say what each rule flagged in each chart."""
    from yuzen.explain.rule_flags import rule_flags

    if as_json:
        print_json(
            {
                "file": str(path),
                "charts": [
                    {
                        "chart": chart.name,
                        "marks": len(chart),
                        "rules": [
                            {"name": rule.name, "when": rule.when, "flagged": list(rule.flagged)}
                            for rule in rule_flags(chart.judged, {})
                        ],
                        "notes": chart.notes(),
                    }
                    for chart in painted.charts
                ],
                "left alone": [{"chart": n, "why": why} for n, why in painted.skipped],
            }
        )
        return
    for chart in painted.charts:
        print_report(printable(f"  {chart.name}: {len(chart):,} marks"))
        for rule in rule_flags(chart.judged, {}):
            some = [*rule.called[:3]]
            if len(rule.called) > len(some):
                some.append(f"{len(rule.called) - len(some):,} more")
            names = f" ({listed(some)})" if some else ""
            print_report(printable(f"    {rule.name}: {len(rule.flagged):,} flagged{names}"))
    for note in painted.notes():
        print_note(f"  note: {note}")
    count = len(painted.charts)
    print_report(f"{path}: {count:,} chart{'' if count == 1 else 's'} painted")
