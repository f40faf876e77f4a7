"""What the commands print: for people as tables, for programs as JSON or CSV."""

from __future__ import annotations

import json
import sys
from typing import TYPE_CHECKING, Any

import click
import numpy as np

from yuzen.cli.terminal import printable, printable_lines, swatch

if TYPE_CHECKING:
    from collections.abc import Iterable, Sequence
    from pathlib import Path

    from yuzen.batches import Edition
    from yuzen.charts import Chart, Drawn
    from yuzen.checks.finding import Finding
    from yuzen.color.themes import Theme

FIRST_IN_CELL = ("=", "+", "-", "@", "\t", "\r")  # what makes a spreadsheet run a cell
MOST_NAMED = 4


def print_summary(drawn: Drawn, chart: Chart) -> None:
    """Say what was drawn: the picture, its marks, and for each rule how many it flagged and which."""
    told = summary(drawn, chart)
    click.echo(f"{drawn.path}: {_marks(told['marks'])}")
    for place, rule in enumerate(told["rules"], start=1):
        if rule["target"] == "mark":
            target = ""
        else:
            target = f" on {rule['target']}"
        named = printable(", ".join(rule["flagged"][:MOST_NAMED]))
        count = len(rule["flagged"])
        if count:
            said = f"{count:,} flagged ({named}{', …' if count > MOST_NAMED else ''})"
        else:
            said = "none flagged"
        if rule["name"] == rule["when"]:
            about = ""
        else:
            about = f": {rule['when']}"
        click.echo(f'  rule {place} "{printable(rule["name"])}"{target}{about}: {said}')
    _print_notes(drawn.notes)


def summary(drawn: Drawn, chart: Chart) -> dict[str, Any]:
    """What was drawn, as plain values."""
    names, verdict = chart.marks.names(), chart.verdict
    rules = [
        {
            "name": rule.name,
            "when": chart.spec.rules[index].condition_text,
            "target": rule.on,
            "flagged": [names[mark] for mark in np.flatnonzero(verdict.won(index)).tolist()],
        }
        for index, rule in enumerate(verdict.rules)
    ]
    return {"picture": str(drawn.path), "marks": len(names), "rules": rules, "notes": list(drawn.notes)}


def print_editions(editions: Iterable[Edition], count: int, *, as_json: bool = False) -> list[Edition]:
    """Say which pictures were drawn, with a bar of progress where somebody watches; returns them."""
    if sys.stderr.isatty():
        with click.progressbar(editions, length=count, label="drawing", file=sys.stderr) as drawn:
            told = list(drawn)
    else:
        told = list(editions)
    for edition in told:
        if edition.error is not None:
            click.echo(printable_lines(f"yuzen: {edition.error}"), err=True)
        elif not as_json:
            said = f"{_marks(edition.marks)}, {edition.flagged:,} flagged"
            click.echo(f"{edition.path}: {printable(edition.value)}, {said}")
            _print_notes(edition.notes)
    if as_json:
        print_json(
            [
                {
                    "of": e.value,
                    "picture": str(e.path),
                    "marks": e.marks,
                    "flagged": e.flagged,
                    "notes": e.notes,
                }
                for e in told
                if e.error is None
            ]
        )
    return told


def print_findings(source: Path, findings: Sequence[Finding]) -> None:
    """Say what was found in a brief's chart."""
    if not findings:
        click.echo(f"{source}: nothing found")
    for finding in findings:
        click.echo(printable_lines(str(finding)))


def finding_data(source: Path, finding: Finding) -> dict[str, Any]:
    """A finding as plain values."""
    return {
        "brief": str(source),
        "code": finding.code,
        "message": finding.message,
        "remedy": finding.remedy,
        "where": finding.where,
        "line": finding.line,
    }


def _marks(count: int) -> str:
    return f"{count:,} mark{'' if count == 1 else 's'}"


def _print_notes(notes: Iterable[str]) -> None:
    for note in notes:
        click.echo(printable(f"  note: {note}"), err=True)


def print_themes(themes: Iterable[Theme]) -> None:
    """Print the roles of each theme with their colours, a line for each role."""
    shown = list(themes)
    roles = list(dict.fromkeys(role for theme in shown for role in theme.roles))
    click.echo(f"{'':<12}" + "".join(f"{theme.name:<22}" for theme in shown).rstrip())
    for role in roles:
        told = [(theme.roles[role], theme.patterns.get(role, "")) for theme in shown]
        click.echo(f"{role:<12}" + "".join(map(_sampled, told)).rstrip())
    for place in range(max(len(theme.series) for theme in shown)):
        told = [(theme.series[place] if place < len(theme.series) else "", "") for theme in shown]
        click.echo(f"{f'series {place + 1}':<12}" + "".join(map(_sampled, told)).rstrip())


def _sampled(told: tuple[str, str]) -> str:
    """A colour with its hatch, 22 characters wide, and where colours show a sample of it."""
    color, pattern = told
    if color:
        sample = swatch(color)
    else:
        sample = ""
    return sample + f"{color} {pattern}".ljust(20 if sample else 22)


def print_json(value: object) -> None:
    """Print plain values as JSON."""
    click.echo(json.dumps(value, ensure_ascii=False, indent=2))
