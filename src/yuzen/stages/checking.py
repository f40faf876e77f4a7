"""What is wrong or misleading in a chart, but for what its brief leaves out."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import replace
from typing import TYPE_CHECKING

from yuzen.brief.sections.former_names import FORMER_KEYS
from yuzen.checks.finding import Finding
from yuzen.checks.registry import findings, without_rows
from yuzen.errors import YuzenError
from yuzen.value import Value

if TYPE_CHECKING:
    from yuzen.stages.stages import Stages


class Checked(Value):
    """The findings of a chart, and those that its brief or the call ignores."""

    findings: tuple[Finding, ...]
    ignored: tuple[Finding, ...] = ()

    def ignoring(self, codes: Iterable[str]) -> Checked:
        """A copy that ignores the findings of these codes too."""
        left_out = frozenset(codes)
        return Checked(
            tuple(one for one in self.findings if one.code not in left_out),
            (*self.ignored, *(one for one in self.findings if one.code in left_out)),
        )


def checked(stages: Stages) -> Checked:
    """All that is found in a chart, each with its place; what its brief ignores apart."""
    try:
        found = findings(stages.judged, stages.page, stages.scene.notes)
    except YuzenError as error:
        found = without_rows(error)
    elsewhere = [
        Finding(
            "rule-elsewhere",
            message,
            "Nothing has to be done, unless it was meant for this chart.",
            "rules",
            ("rules",),
        )
        for message in stages.housed.left_out
    ]
    # Former names are of the file alone: in the brief they are the present ones already.
    found_all = (*found, *elsewhere, *_former_keys(stages))
    placed = tuple(_on_line(finding, stages) for finding in found_all)
    return Checked(placed).ignoring(stages.brief.ignore)


def _former_keys(stages: Stages) -> Iterator[Finding]:
    """Keys that the brief's file writes under a former name."""
    written = stages.brief_source
    for section, names in FORMER_KEYS.items():
        for old, new in names.items():
            key = (section, old) if section else (old,)
            if written is not None and written.has(key):
                message = f"{old} is called {new} now."
                yield Finding("key-former", message, f"Write {new}.", ".".join(key), key)


def _on_line(finding: Finding, stages: Stages) -> Finding:
    """A finding with the file and the line that it is about, where these are known."""
    written, key = stages.housed.place_of(finding.key)
    return finding if written is None else replace(finding, key=key).on_line(written)
