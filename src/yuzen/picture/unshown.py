"""What rules ask for that marks of the chart's kind cannot show."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from yuzen.brief.effects import EFFECTS
from yuzen.brief.kinds import KINDS
from yuzen.rules.judge import called

if TYPE_CHECKING:
    from yuzen.picture.judged import Judged


@dataclass(frozen=True)
class Unshown:
    """A rule, by its place among all rules, and an effect of it that is not drawn; why, and what shows it."""

    rule: int
    effect: str
    message: str


def unshown(judged: Judged) -> list[Unshown]:
    """Every effect that is not drawn, in the order of the rules."""
    notes = []
    for index, rule in enumerate(judged.rules):
        target = judged.verdict.rules[index].on
        shape = judged.spec.shape_of(target)
        for effect in rule.effects:
            if not EFFECTS[effect].seen(target, shape):
                why = _why(judged, target, effect)
            elif _has_no_cells(judged, target):
                why = f"no column of this table shows {judged.spec.chart.value}, so {effect} is not seen"
            elif effect == "label" and rule.part is not None and shape != "bar":
                why = f"{judged.spec.traits.plural} write no label in a part; bars and columns do"
            else:
                continue
            notes.append(Unshown(index, effect, f"{called(index + 1, rule.called)}: {why}"))
    return notes


def _has_no_cells(judged: Judged, target: str) -> bool:
    """Whether a rule acts on the chart's value, and that has no column in a table."""
    spec = judged.spec
    return (
        spec.tabular and spec.chart.series is None and target in {"mark", "label"} and not spec.value_column
    )


def _why(judged: Judged, target: str, effect: str) -> str:
    """'bars show no size on mark; areas and lines do'."""
    own = judged.spec.layer_of(target) is None
    if own:
        plural = judged.spec.traits.plural
    else:
        plural = f"{judged.spec.shape_of(target)}s"
    others = sorted({kind.plural for kind in KINDS.values() if EFFECTS[effect].seen(target, kind.shape)})
    if others:
        hint = f"; {' and '.join(others)} do"
    else:
        hint = ""
    return f"{plural} show no {effect} on {target}{hint}"
