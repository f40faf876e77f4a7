"""What rules ask for that marks of the chart's kind cannot show."""

from yuzen.brief.design import Design, DesignRule
from yuzen.brief.kinds import KINDS
from yuzen.brief.sections.effects import EFFECTS
from yuzen.formats.name_lists import listed
from yuzen.rules.judge import EvaluationContext, rule_title
from yuzen.rules.quantities.fields import Field
from yuzen.rules.target import LINE
from yuzen.value import Value


class UnsupportedEffect(Value):
    """An effect of a rule that is not drawn; why, and what shows it.

    where: the rule, as messages call it; key: where it stands in the brief.
    """

    where: str
    key: tuple[str | int, ...]
    effect: str
    why: str

    @property
    def message(self) -> str:
        """The rule and the reason in a sentence."""
        return f"{self.where}: {self.why}"


def unsupported_effects(design: Design, context: EvaluationContext) -> list[UnsupportedEffect]:
    """Every effect that is not drawn, in the order of the rules, also those on small lines."""
    unsupported = []
    for number, rule in enumerate(design.all_rules, start=1):
        where = rule_title(number, rule.section.called)
        for effect in rule.section.effects:
            why = _why_not(design, context, rule, effect)
            if why:
                unsupported.append(UnsupportedEffect(where, rule.key, effect, why))
    return unsupported


def _why_not(  # noqa: PLR0911 - one for each reason
    design: Design, context: EvaluationContext, rule: DesignRule, effect: str
) -> str:
    """Why an effect is not drawn, such as 'bars show no size on mark; lines do'; '' if it is."""
    target, shape = rule.seen_on, rule.shape
    needed = EFFECTS[effect].needs
    if needed and needed not in rule.section.effects:
        return f"{effect} is about the {needed}, and this rule sets no {needed}"
    if shape.small and not design.tabular:
        shape = design.shape_of(target)
    if not (shape.drawn or shape.small):
        return _why_nothing(design, rule, f"so there is no {effect} on {target}")
    if not EFFECTS[effect].seen(target, shape):
        if shape.small:
            return f"small lines show no {effect} on {target}"
        return _why_unseen(design, rule, effect)
    if shape.is_bar or shape.small:
        return ""
    plural = design.traits.plural
    if effect == "part" and _cuts_bins(context, rule):
        category = context.marks.category
        return f"{plural} are not cut at values of {category}; bars and columns are"
    if effect == "label" and rule.section.part is not None:
        return f"{plural} write no label in a part; bars and columns do"
    return ""


def _why_nothing(design: Design, rule: DesignRule, so: str) -> str:
    """Why a target is nowhere in the picture."""
    if not design.tabular and rule.seen_on == LINE:
        return f"dots without series are joined by nothing, {so}"
    return f"no column here shows {rule.value or design.chart.value}, {so}"


def _cuts_bins(context: EvaluationContext, rule: DesignRule) -> bool:
    """Whether a rule's part is of what is in bins."""
    part = rule.section.part
    if part is None or not isinstance(part.tree.subject, Field):
        return False
    named = context.whole.name(part.tree.subject.name) == context.marks.category
    return named and bool(context.marks.bins)


def _why_unseen(design: Design, rule: DesignRule, effect: str) -> str:
    """'bars show no size on mark; areas and lines do'."""
    target = rule.seen_on
    plural = design.traits.plural
    if design.layer_of(target) is not None and not design.tabular:
        plural = f"{rule.shape.name}s"
    others = {kind.plural for kind in KINDS.values() if EFFECTS[effect].seen(target, kind.shape)}
    hint = f"; {listed(sorted(others), most=len(others))} do" if others else ""
    return f"{plural} show no {effect} on {target}{hint}"
