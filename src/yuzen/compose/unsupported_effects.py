"""What rules ask for that marks of the chart's kind cannot show."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from yuzen.brief.tables.effects import EFFECTS
from yuzen.brief.tables.kinds import KINDS
from yuzen.formats.name_lists import listed
from yuzen.rules.judge import rule_title
from yuzen.rules.quantities.numbers import Field

if TYPE_CHECKING:
    from yuzen.brief.sections.rule import RuleSection
    from yuzen.compose.judged import Judged


@dataclass(frozen=True)
class UnsupportedEffect:
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


def unsupported_effects(judged: Judged) -> list[UnsupportedEffect]:
    """Every effect that is not drawn, in the order of the rules, those on small lines among them."""
    notes = []
    for number, (rule, place) in enumerate(judged.spec.spread, start=1):
        for effect in rule.effects:
            why = _why_not(judged, rule, effect)
            if why:
                notes.append(
                    UnsupportedEffect(rule_title(number, rule.called), ("rule", place), effect, why)
                )
    return notes


def _why_not(judged: Judged, rule: RuleSection, effect: str) -> str:
    """Why an effect is not drawn, such as 'bars show no size on mark; areas and lines do'; '' if it is."""
    spec, target = judged.spec, judged.spec.target(rule.on)
    of_trend = not spec.has(rule) and spec.tabular
    shape = "trend" if of_trend else spec.shape_of(target)
    if shape == "none":
        return _why_nothing(judged, rule, f"so there is no {effect} on {target}")
    if not EFFECTS[effect].seen(target, shape):
        return (
            f"small lines show no {effect} on {target}"
            if of_trend
            else _why(judged, target, effect)
        )
    if shape in {"bar", "trend"}:
        return ""
    if effect == "part" and _cuts_bins(judged, rule):
        return (
            f"{spec.traits.plural} are not cut at values of {judged.marks.category}; bars and "
            f"columns are"
        )
    if effect == "label" and rule.part is not None:
        return f"{spec.traits.plural} write no label in a part; bars and columns do"
    return ""


def _why_nothing(judged: Judged, rule: RuleSection, so: str) -> str:
    """Why a target is nowhere in the picture."""
    spec = judged.spec
    if not spec.tabular and spec.target(rule.on) == "line":
        return f"dots without series are joined by nothing, {so}"
    return f"no column here shows {spec.value_of(rule.on) or spec.chart.value}, {so}"


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
    others = sorted(
        {kind.plural for kind in KINDS.values() if EFFECTS[effect].seen(target, kind.shape)}
    )
    if others:
        hint = f"; {listed(others, most=len(others))} do"
    else:
        hint = ""
    return f"{plural} show no {effect} on {target}{hint}"
