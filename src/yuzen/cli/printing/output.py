"""What the commands print: for people as tables, for programs as JSON or CSV."""

from __future__ import annotations

import json
import sys
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import asdict
from typing import TYPE_CHECKING, Any, TypeVar

import click

from yuzen.cli.printing.terminal import (
    is_terminal,
    print_error,
    print_message,
    print_note,
    print_report,
    print_samples,
    swatch,
    write_stdout,
)
from yuzen.cli.printing.verbosity import current
from yuzen.errors import YuzenError
from yuzen.formats.name_lists import listed

if TYPE_CHECKING:
    from yuzen.checks.finding import Finding
    from yuzen.explain.rule_flags import RuleFlags
    from yuzen.jobs.batches import DrawResult
    from yuzen.stages.checking import Checked

MAX_LISTED_MARKS = 4
Result = TypeVar("Result")


def print_summary(edition: DrawResult) -> None:
    """Print what was drawn: the picture, its marks, and the marks that each rule flags."""
    print_report(f"{edition.path}: {_marks(edition.marks)}{_unwritten(edition)}")
    print_rules(edition.rules)
    print_notes(edition.notes)


def _unwritten(edition: DrawResult) -> str:
    """What a dry run would do with the file."""
    if edition.written:
        return ""
    return "; would replace the file" if edition.path.exists() else "; would be written"


def print_rules(rules: Sequence[RuleFlags]) -> None:
    """Print how many marks each rule flags, and the first of them."""
    for place, rule in enumerate(rules, start=1):
        if rule.target == "mark":
            target = ""
        else:
            target = f" on {rule.target}"
        if rule.name == rule.when:
            about = ""
        else:
            about = f": {rule.when}"
        print_report(f'  rule {place} "{rule.name}"{target}{about}: {_flagged(rule)}')


def _flagged(rule: RuleFlags) -> str:
    """How many marks a rule flagged, and the first of them."""
    count = len(rule.flagged)
    if not count:
        return "none flagged"
    summary = f"{count:,} flagged ({listed(rule.called, most=MAX_LISTED_MARKS)})"
    if count == rule.shown:
        return summary
    return f"{summary}, {count - rule.shown:,} of them shown as an earlier rule says"


def print_progress(editions: Iterable[Result], count: int) -> list[Result]:
    """Wait for pictures, with a bar of progress where somebody watches; returns them."""
    if is_terminal(sys.stderr) and not current().quiet:
        with click.progressbar(editions, length=count, label="drawing", file=sys.stderr) as drawn:
            return list(drawn)
    return list(editions)


def print_editions(editions: Iterable[DrawResult], *, as_json: bool) -> int:
    """Say which pictures were drawn and what is wrong with the others; returns the exit code."""
    results = list(editions)
    for edition in results:
        if edition.error is not None:
            print_error(f"yuzen: {edition.error}")
        elif not as_json:
            summary = f"{_marks(edition.marks)}, {edition.flagged:,} flagged"
            print_report(f"{edition.path}: {edition.value}, {summary}{_unwritten(edition)}")
            print_notes(edition.notes)
    if as_json:
        print_json(editions_data(results))
    elif len(results) > 1:
        failed = sum(edition.error is not None for edition in results)
        lost = f", {failed:,} failed" if failed else ""
        drawn = "drawn" if any(edition.written for edition in results) else "to be drawn"
        print_report(f"{len(results) - failed:,} {drawn}{lost}.")
    return max(
        (edition.error.exit_code for edition in results if edition.error is not None), default=0
    )


def editions_data(editions: Iterable[DrawResult]) -> list[dict[str, Any]]:
    """What was drawn, and what was not, as plain values: one shape for one picture and for many."""
    return [
        {
            "of": edition.value,
            "picture": None if edition.error is not None else str(edition.path),
            "written": edition.written,
            "marks": edition.marks,
            "flagged": edition.flagged,
            "alt": edition.alt,
            "rules": [asdict(rule) for rule in edition.rules],
            "notes": list(edition.notes),
            "error": error_data(edition.error),
        }
        for edition in editions
    ]


def error_data(error: YuzenError | None) -> dict[str, str] | None:
    """What is wrong, as plain values; None where nothing is."""
    if error is None:
        return None
    return {"code": error.code, "message": str(error)}


def print_findings(source: str, checked: Checked) -> None:
    """Say what was found in a brief's chart, and how much of it is ignored."""
    for finding in checked.findings:
        print_message(str(finding))
    if not checked.findings or checked.ignored:
        found = f"{len(checked.findings):,} found" if checked.findings else "nothing found"
        print_report(f"{source}: {found}{_ignored(checked.ignored)}")


def _ignored(findings: Sequence[Finding]) -> str:
    """How many findings are ignored, and their codes."""
    if not findings:
        return ""
    codes = listed(list(dict.fromkeys(finding.code for finding in findings)))
    return f" ({len(findings):,} ignored: {codes})"


def check_data(source: str, checked: Checked | None, error: YuzenError | None) -> dict[str, Any]:
    """What was found in a brief, or what is wrong with it, as plain values."""
    found = [] if checked is None else [_finding_data(finding) for finding in checked.findings]
    ignored = [] if checked is None else [finding.code for finding in checked.ignored]
    return {"brief": source, "findings": found, "ignored": ignored, "error": error_data(error)}


def _finding_data(finding: Finding) -> dict[str, Any]:
    """A finding as plain values."""
    return {
        "code": finding.code,
        "message": finding.message,
        "remedy": finding.remedy,
        "where": finding.where,
        "line": finding.line,
    }


def _marks(count: int) -> str:
    return f"{count:,} mark{'' if count == 1 else 's'}"


def print_notes(notes: Iterable[str]) -> None:
    """Say on standard error what was guessed, and what had no room."""
    for note in notes:
        print_note(f"  note: {note}")


def print_words(words: Mapping[str, Mapping[str, str]]) -> None:
    """Print the phrases of the language with examples in columns."""
    wide = max(len(example) for group in words.values() for example in group)
    for about, group in words.items():
        click.echo(about)
        for example, shown in group.items():
            click.echo(f"  {example:<{wide}}  {shown}")
        click.echo()
    click.echo(
        "within COLUMN at a test's end compares only marks that share its value; so does a period "
        "of"
    )
    click.echo(
        "dates: within year, within quarter of opened, within weekday, within calendar month."
    )
    click.echo('A measure may be about some rows: "count of rows where on_time below 0.8".')


def print_themes(themes: Mapping[str, Mapping[str, Any]]) -> None:
    """Print the roles of each theme with their colours, a line for each role."""
    shown = list(themes.values())
    roles = list(dict.fromkeys(role for theme in shown for role in theme["roles"]))
    print_samples(f"{'':<12}" + "".join(f"{name:<22}" for name in themes).rstrip())
    for role in roles:
        role_colors = [(theme["roles"][role], theme["patterns"].get(role, "")) for theme in shown]
        print_samples(f"{role:<12}" + "".join(map(_sampled, role_colors)).rstrip())
    for place in range(max(len(theme["series"]) for theme in shown)):
        role_colors = [
            (theme["series"][place] if place < len(theme["series"]) else "", "") for theme in shown
        ]
        print_samples(f"{f'series {place + 1}':<12}" + "".join(map(_sampled, role_colors)).rstrip())


def _sampled(color_and_pattern: tuple[str, str]) -> str:
    """A colour with its hatch, 22 characters wide, and where colours show a sample of it."""
    color, pattern = color_and_pattern
    if color:
        sample = swatch(color)
    else:
        sample = ""
    return sample + f"{color} {pattern}".ljust(20 if sample else 22)


def print_json(value: object) -> None:
    """Print plain values as JSON."""
    write_stdout(json.dumps(value, ensure_ascii=False, indent=2) + "\n")
