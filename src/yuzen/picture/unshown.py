"""What rules ask for that marks of the chart's kind cannot show."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from yuzen.brief.effects import EFFECTS
from yuzen.brief.kinds import KINDS
from yuzen.rules.judge import called
from yuzen.rules.quantities import Field

if TYPE_CHECKING:
    from yuzen.brief.rule import RuleSection
    from yuzen.picture.judged import Judged


@dataclass(frozen=True)
class Unshown:
    """An effect of a rule that is not drawn; why, and what shows it.

    where: the rule, as messages call it; key: where it stands in the brief.
    """

    where: str
    key: tuple[str | int, ...]
    effect: str
    why: str

    @property
    def message(self) -> str:
        """All of it in a sentence."""
        return f"{self.where}: {self.why}"


def unshown(judged: Judged) -> list[Unshown]:
    """Every effect that is not drawn, in the order of the rules, those on small lines among them."""
    notes = []
    for number, (rule, place) in enumerate(judged.spec.spread, start=1):
        for effect in rule.effects:
            why = _why_not(judged, rule, effect)
            if why:
                notes.append(Unshown(called(number, rule.called), ("rule", place), effect, why))
    return notes


def _why_not(judged: Judged, rule: RuleSection, effect: str) -> str:
    """Why an effect is not drawn, such as 'bars show no size on mark; areas and lines do'; '' if it is."""
    spec, target = judged.spec, judged.spec.target(rule.on)
    if not spec.has(rule) and spec.tabular:
        seen = EFFECTS[effect].seen(target, "trend")
        return "" if seen else f"small lines show no {effect} on {target}"
    shape = spec.shape_of(target)
    if shape == "none":
        shown = spec.value_of(rule.on) or spec.chart.value
        return f"no column here shows {shown}, so there is no {effect} on {target}"
    if not EFFECTS[effect].seen(target, shape):
        return _why(judged, target, effect)
    if effect == "part" and shape != "bar" and _cuts_bins(judged, rule):
        return f"{spec.traits.plural} are not cut at values of {judged.marks.category}; bars and columns are"
    if effect == "label" and rule.part is not None and shape != "bar":
        return f"{spec.traits.plural} write no label in a part; bars and columns do"
    return ""


def _cuts_bins(judged: Judged, rule: RuleSection) -> bool:
    """Whether a rule's part is of what is in bins."""
    subject = None if rule.part is None else rule.part.tree.subject
    facts = judged.facts
    named = isinstance(subject, Field) and facts.name(subject.name) == judged.marks.category
    return named and bool(judged.marks.bins)


def _why(judged: Judged, target: str, effect: str) -> str:
    """'bars show no size on mark; areas and lines do'."""
    own = judged.spec.layer_of(target) is None or judged.spec.tabular
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
