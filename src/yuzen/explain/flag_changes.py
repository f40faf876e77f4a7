"""Changes of flags: which marks gained, lost or changed one between two sets of rows, and why."""

from collections.abc import Iterator, Mapping
from dataclasses import replace
from typing import Literal, TypeAlias

import numpy as np

from yuzen.compose.judged_chart import JudgedChart
from yuzen.rules.answers.reasons import Reason, reasons
from yuzen.value import Value

ChangeKind: TypeAlias = Literal["gained", "lost", "changed", "new", "gone"]
ABSENT = "it was not there"
GONE = "it is not there any more"


class Change(Value):
    """The change of one mark on one target: rules before and after ('' for none), with reasons."""

    kind: ChangeKind
    mark: str
    target: str
    before: str
    after: str
    because_before: str
    because_after: str

    def __str__(self) -> str:
        """The change in a few lines."""
        if self.target == "mark":
            on = ""
        else:
            on = f" on {self.target}"
        if self.kind in {"new", "gone"}:
            if self.after:
                because = self.because_after
            else:
                because = self.because_before
            return f"{self.mark}{on}: {self.after or self.before}\n    {because}"
        flags = f"{self.before or 'no flag'} → {self.after or 'no flag'}"
        lines = [
            f"{self.mark}{on}: {flags}",
            f"    before  {self.because_before}",
            f"    now     {self.because_after}",
        ]
        return "\n".join(lines)


def flag_changes(old: JudgedChart, new: JudgedChart) -> list[Change]:
    """Which marks gained, lost or changed a flag; marks belong together by their names."""
    return list(_changes(old, new, _flags(old), _flags(new)))


def changes_of_points(
    old: Mapping[str, JudgedChart], new: Mapping[str, JudgedChart]
) -> Iterator[Change]:
    """What changed among the points of small lines, as far as some flag is concerned."""
    for name in new.keys() & old.keys():
        for change in flag_changes(old[name], new[name]):
            if change.before or change.after:
                yield replace(change, target=f"column {name}")


def _flags(chart: JudgedChart) -> dict[tuple[str, str], int]:
    """For each target and mark, by its name, the rule that flags it, or −1."""
    flags: dict[tuple[str, str], int] = {}
    names, verdict = chart.marks.names(), chart.verdict
    for target in verdict.whole.targets:
        winner = verdict.flagging(target)
        for mark in np.flatnonzero(chart.marks.reached_by(target)).tolist():
            flags[str(target), names[mark]] = int(winner[mark])
    return flags


def _changes(
    old: JudgedChart,
    new: JudgedChart,
    before: Mapping[tuple[str, str], int],
    after: Mapping[tuple[str, str], int],
) -> Iterator[Change]:
    asked = [key for key in {**after, **before} if before.get(key) != after.get(key)]
    # A new mark is told once, for the mark itself, and not for each of its texts.
    asked = [k for k in asked if k[0] == "mark" or (k in before and k in after)]
    was, now = (_reasons(chart, {name for _, name in asked}) for chart in (old, new))
    for target, name in asked:
        first, second = before.get((target, name)), after.get((target, name))
        # Both charts have the same brief, so a rule's index means the same in each.
        rules = [rule for rule in (second, first) if rule is not None and rule >= 0]
        yield Change(
            _kind(first, second),
            name,
            target,
            _rule(old, first),
            _rule(new, second),
            _because(was, name, first, rules[::-1], ABSENT),
            _because(now, name, second, rules, GONE),
        )


def _kind(before: int | None, after: int | None) -> ChangeKind:
    if before is None:
        return "new"
    if after is None:
        return "gone"
    if before < 0:
        return "gained"
    if after < 0:
        return "lost"
    return "changed"


def _rule(chart: JudgedChart, rule: int | None) -> str:
    if rule is None or rule < 0:
        return ""
    return chart.verdict.rules[rule].name


def _reasons(chart: JudgedChart, names: set[str]) -> dict[str, list[Reason]]:
    wanted_marks = [(mark, name) for mark, name in enumerate(chart.marks.names()) if name in names]
    mark_reasons = reasons(chart.verdict.whole, chart.context, [mark for mark, _ in wanted_marks])
    return {name: reason for (_, name), reason in zip(wanted_marks, mark_reasons, strict=True)}


def _because(
    mark_reasons: Mapping[str, list[Reason]],
    mark: str,
    flag: int | None,
    rules: list[int],
    missing: str,
) -> str:
    """Why a mark has its flag, or has none; rules: those of both charts, this chart's first.

    missing: the sentence for a mark that the chart does not have.
    """
    if flag is None:
        return missing
    ordered = rules if flag >= 0 else rules[::-1]
    return _told(mark_reasons[mark], ordered)


def _told(reasons_of: list[Reason], rules: list[int]) -> str:
    """Why it has, or has not, the flag that is spoken of: the first of these rules."""
    if rules:
        return reasons_of[rules[0]].sentence
    return "no rule holds"
