"""Comparing a chart of two sets of rows: which marks gained, lost or changed a flag, and why."""

from collections.abc import Collection
from dataclasses import replace
from itertools import chain, count
from typing import Final

from yuzen.arrays import Text
from yuzen.brief.keywords import RuleKeys
from yuzen.charts.chart import Chart
from yuzen.errors import require_type
from yuzen.explain.flag_changes import Change, ChangeKind, changes_of_points, flag_changes
from yuzen.formats.name_lists import listed
from yuzen.rules.quantities.fields import Field
from yuzen.rules.target import MARK, Target
from yuzen.value import Value

CHANGE_HEADINGS: dict[ChangeKind, str] = {
    "gained": "Gained a flag",
    "lost": "Lost its flag",
    "changed": "Changed its flag",
    "new": "New",
    "gone": "Gone",
}
MAX_TOLD_CHANGES: Final = 50  # changes of a kind that people are told one by one


class Comparison(Value, eq=False):
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
    for one in (old, new):
        require_type(one, Chart, "Compare two charts, as yz.chart and yz.load make them.")
    first, second = old.stages, new.stages
    changes = [
        *flag_changes(first.judged, second.judged),
        *changes_of_points(first.judged_trends, second.judged_trends),
    ]
    there = set(first.marks.names()) & set(second.marks.names())
    return Comparison(tuple(changes), len(there - {change.mark for change in changes}), old, new)
