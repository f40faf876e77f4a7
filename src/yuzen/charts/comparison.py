"""Comparing a chart of two sets of rows: which marks gained, lost or changed a flag, and why."""

from collections.abc import Collection, Iterator, Mapping
from dataclasses import dataclass, replace
from itertools import chain, count
from typing import Final, Literal, TypeAlias

import numpy as np

from yuzen.arrays import Text
from yuzen.brief.keywords import RuleKeys
from yuzen.charts.chart import Chart
from yuzen.charts.stages import Stages
from yuzen.formats.name_lists import listed
from yuzen.rules.quantities.fields import Field
from yuzen.rules.reasons import Reason, reasons
from yuzen.rules.target import MARK, Target

ChangeKind: TypeAlias = Literal["gained", "lost", "changed", "new", "gone"]
CHANGE_HEADINGS: dict[ChangeKind, str] = {
    "gained": "Gained a flag",
    "lost": "Lost its flag",
    "changed": "Changed its flag",
    "new": "New",
    "gone": "Gone",
}
MAX_TOLD_CHANGES: Final = 50  # changes of a kind that people are told one by one
ABSENT = "it was not there"
GONE = "it is not there any more"


@dataclass(frozen=True)
class Change:
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


@dataclass(frozen=True, eq=False)
class Comparison:
    """All changes from one chart to another; `same` counts the marks whose flags are the same.

    >>> import yuzen as yz
    >>> rows = [{"pier": "Vane", "boats": 3}, {"pier": "Keld", "boats": 9}]
    >>> june = yz.chart(rows, category="pier", value="boats").rule("below 5", color="adverse")
    >>> may = june.with_rows([{"pier": "Vane", "boats": 8}, {"pier": "Keld", "boats": 9}])
    >>> found = yz.compare(may, june)
    >>> [(change.kind, change.mark) for change in found.changes], found.same
    ([('gained', 'Vane')], 1)
    """

    changes: tuple[Change, ...]
    same: int
    old: Chart
    new: Chart

    def __str__(self) -> str:
        """The changes, kind after kind, for people."""
        parts = []
        for kind, heading in CHANGE_HEADINGS.items():
            changes_of_kind = [change for change in self.changes if change.kind == kind]
            plain = [
                change.mark for change in changes_of_kind if not change.before and not change.after
            ]
            flagged = [change for change in changes_of_kind if change.before or change.after]
            lines_shown = [str(change) for change in flagged[:MAX_TOLD_CHANGES]]
            if len(flagged) > MAX_TOLD_CHANGES:
                lines_shown += [
                    f"and {len(flagged) - MAX_TOLD_CHANGES:,} more, which --json includes"
                ]
            if plain:
                lines_shown += [f"without a flag: {listed(plain, most=MAX_TOLD_CHANGES)}"]
            if changes_of_kind:
                parts.append(
                    "\n".join(
                        [
                            f"{heading}: {len(changes_of_kind):,}",
                            *("  " + t.replace("\n", "\n  ") for t in lines_shown),
                        ]
                    )
                )
        parts.append(f"{self.same:,} marks have the same flag, or none, as before.")
        return "\n\n".join(parts)

    def data(self) -> dict[str, object]:
        """The changes and the count of unchanged marks as plain values, for JSON."""
        return {"changes": [vars(change) for change in self.changes], "same": self.same}

    def pictured(self, since: str) -> Chart:
        """The new chart with an outline around every mark whose flag is another now.

        Which marks these are is a column of theirs: as a condition, a thousand names would be too
        long a one.
        """
        pictured, key = (
            self.new,
            f"Another flag than in {since}".replace("{", "{{").replace("}", "}}"),
        )
        for target in reversed(self._outlined()):
            on = str(target)
            changed = {c.mark for c in self.changes if c.kind != "gone" and c.target == on}
            stages = pictured.stages
            marks = stages.marks
            states = Text.of(["changed" if name in changed else "kept" for name in marks.names()])
            if "changed" not in states.words:
                continue
            column = _free("flag", marks.columns)
            name = _free("changed", {rule.section.called for rule in stages.design.rules})
            # The outlines are a rule too, on a column of our own, so that the picture can be asked
            # why.
            record = replace(
                stages.record, marks=replace(marks, columns={**marks.columns, column: states})
            )
            keys: RuleKeys = {"on": on, "name": name, "key": key, "outline": "ink"}
            shown = replace(pictured, stages=replace(stages, source=record))
            pictured = shown.first_rule(f'{Field(column)} = "changed"', **keys)
        return pictured

    def _outlined(self) -> list[Target]:
        """The targets on which changed marks are outlined: marks, in tables cells or numbers."""
        design = self.new.stages.design
        if not design.tabular:
            return [MARK]
        targets = dict.fromkeys(Target.parse(change.target) for change in self.changes)
        points = {Target("column", name) for name in self.new.stages.trends}
        resolved = {target: design.resolved(target) for target in targets if target not in points}
        return [target for target, on in resolved.items() if design.visible(on, "outline")]


def _free(wanted: str, taken: Collection[str]) -> str:
    """A name that nothing has yet."""
    folded = {name.casefold() for name in taken}
    names = chain([wanted], (f"{wanted} {number}" for number in count(2)))
    return next(name for name in names if name not in folded)


def compare(old: Chart, new: Chart) -> Comparison:
    """Compare the flags of two charts, mark by mark; marks belong together by their names.

    >>> import yuzen as yz
    >>> rows = [{"pier": "Vane", "boats": 3}, {"pier": "Keld", "boats": 9}]
    >>> june = yz.chart(rows, category="pier", value="boats").rule("below 5", color="adverse")
    >>> print(yz.compare(june, june))
    2 marks have the same flag, or none, as before.
    """
    before, after = _flags(old.stages), _flags(new.stages)
    changes = list(_changes(old.stages, new.stages, before, after))
    changes += _changes_of_points(old.stages, new.stages)
    there = {name for _, name in before} & {name for _, name in after}
    return Comparison(tuple(changes), len(there - {change.mark for change in changes}), old, new)


def _changes_of_points(old: Stages, new: Stages) -> Iterator[Change]:
    """What changed among the points of small lines, as far as some flag is concerned."""
    for name in new.trends.keys() & old.trends.keys():
        first, second = old.trends[name], new.trends[name]
        for change in _changes(first, second, _flags(first), _flags(second)):
            if change.before or change.after:
                yield replace(change, target=f"column {name}")


def _flags(chart: Stages) -> dict[tuple[str, str], int]:
    """For each target and mark, by its name, the rule that flags it, or −1."""
    flags: dict[tuple[str, str], int] = {}
    names, verdict = chart.marks.names(), chart.verdict
    for target in verdict.whole.targets:
        winner = verdict.flagging(target)
        for mark in np.flatnonzero(chart.marks.reached_by(target)).tolist():
            flags[str(target), names[mark]] = int(winner[mark])
    return flags


def _changes(
    old: Stages,
    new: Stages,
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


def _rule(chart: Stages, rule: int | None) -> str:
    if rule is None or rule < 0:
        return ""
    return chart.verdict.rules[rule].name


def _reasons(chart: Stages, names: set[str]) -> dict[str, list[Reason]]:
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
