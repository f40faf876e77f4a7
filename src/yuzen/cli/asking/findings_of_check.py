"""What a check found, for people, and as the formats of forges and test runners hold it."""

from __future__ import annotations

import json
from collections.abc import Callable, Mapping
from pathlib import Path
from typing import TYPE_CHECKING, Any, Final
from xml.sax.saxutils import quoteattr

from yuzen.brief.keys.codes import code_tables
from yuzen.release import VERSION
from yuzen.value import Value

if TYPE_CHECKING:
    from yuzen.errors import YuzenError
    from yuzen.stages.checking import Checked

SARIF: Final = "https://json.schemastore.org/sarif-2.1.0.json"


class CheckedBrief(Value):
    """One brief, or chart of a report, as it was checked: what was found, or why it cannot be."""

    source: str
    checked: Checked | None = None
    error: YuzenError | None = None

    def problems(self) -> list[Problem]:
        """What is wrong, an error before all else."""
        if self.error is not None:
            return [
                Problem(fault.code, str(fault), "error", fault.line) for fault in self.error.faults
            ]
        if self.checked is None:
            return []
        return [
            Problem(one.code, f"{one.message} {one.remedy}", "warning", one.line)
            for one in self.checked.findings
        ]


class Problem(Value):
    """One thing that is wrong: its code, a sentence, how bad it is, and its line if known."""

    code: str
    message: str
    level: str
    line: int | None


def as_commands(reports: list[CheckedBrief]) -> str:
    """A line for each problem, by which a forge's workflow marks the line of the brief.

    Format: https://docs.github.com/actions/reference/workflow-commands-for-github-actions
    """
    lines = []
    for report in reports:
        for one in report.problems():
            place = {"file": report.source, "line": one.line, "title": one.code}
            properties = ",".join(
                f"{name}={_escaped(str(value), ',:')}"
                for name, value in place.items()
                if value is not None
            )
            lines.append(f"::{one.level} {properties}::{_escaped(one.message)}\n")
    return "".join(lines)


def _escaped(text: str, further: str = "") -> str:
    # The percent sign comes first, as the others become one with digits.
    for char in f"%\r\n{further}":
        text = text.replace(char, f"%{ord(char):02X}")
    return text


def as_sarif(reports: list[CheckedBrief]) -> str:
    """All problems as one run of SARIF 2.1.0 (OASIS), which forges and editors show."""
    problems = [(report, one) for report in reports for one in report.problems()]
    meanings = {code: told for table in code_tables().values() for code, told in table.items()}
    rules = [
        {
            "id": code,
            "shortDescription": {"text": meanings[code][0]},
            "help": {"text": meanings[code][1]},
        }
        for code in dict.fromkeys(one.code for _, one in problems)
        if code in meanings
    ]
    driver = {"name": "yuzen", "version": VERSION, "rules": rules}
    results = [
        {
            "ruleId": one.code,
            "level": one.level,
            "message": {"text": one.message},
            "locations": [{"physicalLocation": _location(report.source, one.line)}],
        }
        for report, one in problems
    ]
    log = {"$schema": SARIF, "version": "2.1.0",
           "runs": [{"tool": {"driver": driver}, "results": results}]}  # fmt: skip
    return json.dumps(log, ensure_ascii=False, indent=2) + "\n"


def _location(source: str, line: int | None) -> dict[str, Any]:
    location: dict[str, Any] = {"artifactLocation": {"uri": Path(source).as_posix()}}
    # A brief is known by its lines; columns would be guessed.
    if line is not None:
        location["region"] = {"startLine": line}
    return location


def as_junit(reports: list[CheckedBrief]) -> str:
    """A test case for each brief, with its problems as failures, as test runners write them."""
    cases = []
    for report in reports:
        problems = report.problems()
        body = "".join(
            f"    <failure type={_attribute(one.code)} message={_attribute(one.message)}/>\n"
            for one in problems
        )
        head = f'  <testcase classname="yuzen.check" name={_attribute(report.source)}'
        cases.append(f"{head}>\n{body}  </testcase>\n" if problems else f"{head}/>\n")
    failed = sum(bool(report.problems()) for report in reports)
    head = f'<testsuite name="yuzen check" tests="{len(reports)}" failures="{failed}">'
    return f'<?xml version="1.0" encoding="UTF-8"?>\n{head}\n{"".join(cases)}</testsuite>\n'


def _attribute(text: str) -> str:
    """A text as an attribute, without the characters that XML 1.0 does not have."""
    return quoteattr("".join(char if char.isprintable() or char == "\n" else "?" for char in text))


FORMATS: Final[Mapping[str, Callable[[list[CheckedBrief]], str]]] = {
    "github": as_commands,
    "sarif": as_sarif,
    "junit": as_junit,
}
