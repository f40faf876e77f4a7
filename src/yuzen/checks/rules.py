"""Findings in rules: never or always true, in vain, ties, no order, few peers."""

import re
from collections.abc import Iterator
from typing import Final

import numpy as np

from yuzen.arrays import Bools, Text
from yuzen.checks.finding import Examined, Finding, marks
from yuzen.compose.ambiguous_names import ambiguous_names
from yuzen.compose.unsupported_effects import unsupported_effects
from yuzen.rules import truth
from yuzen.rules.conditions import Always, Test, all_tests, compares_marks
from yuzen.rules.evaluation_data import TestView
from yuzen.rules.grammar.wording import OfRule
from yuzen.rules.language.words import NAME
from yuzen.rules.quantities.numbers import Quantity, Summary, completed
from yuzen.rules.quantities.structure import inside

FEW_PEERS: Final = 3  # peers, of which an average says little


def silent_rules(examined: Examined) -> Iterator[Finding]:
    """A rule that holds for no mark, for every mark, or only for marks that earlier rules take."""
    judged, verdict = examined.judged, examined.judged.verdict.whole
    cut = set() if examined.slices is None else set(examined.slices.winners["color"].tolist())
    for index, rule in enumerate(verdict.rules):
        held = verdict.truths[index] == truth.TRUE
        reached = judged.marks.totals if rule.reach == "totals" else ~judged.marks.totals
        banded = judged.design.brief.rule[judged.design.rules[index].place].bands is not None
        # A band without marks is expected, a part is about pieces, and a shade is not about few.
        if banded or index in cut or rule.shade is not None or not len(judged.marks):
            continue
        if not held.any():
            unknown = int(np.count_nonzero(verdict.truths[index] == truth.UNKNOWN))
            why = f" ({unknown:,} unknown for want of a number)" if unknown else ""
            yield examined.of_rule(
                "rule-never",
                index,
                f"It holds for no mark{why}.",
                "That may be good news; if not, look at the names and numbers in its condition.",
            )
        elif not verdict.won(index).any():
            takers = [verdict.rules[i].name for i in range(index) if (verdict.won(i) & held).any()]
            yield examined.of_rule(
                "rule-beaten",
                index,
                f"It holds for {marks(int(np.count_nonzero(held)))}, and earlier rules take all of "
                f"them: "
                f'"{takers[0] if takers else ""}".',
                "Move it up, narrow the earlier rule, or give it a badge or an outline besides.",
            )
        elif (
            held[reached].all()
            and np.count_nonzero(reached) > 1
            and not isinstance(rule.condition, Always)
        ):
            yield examined.of_rule(
                "rule-always",
                index,
                f"It holds for all {marks(int(np.count_nonzero(reached)))}, so it sets nothing "
                "apart.",
                'Narrow its condition; for every mark use when = "always".',
            )


def unshown_effects(examined: Examined) -> Iterator[Finding]:
    """An effect that marks of the chart's kind cannot show."""
    for unsupported in unsupported_effects(examined.judged.design, examined.judged.context):
        why = unsupported.why
        yield Finding(
            "effect-unshown",
            f"{why[:1].upper()}{why[1:]}, so nothing of it is drawn and the key is silent of it.",
            "Take it out, put it on another target, or choose another kind.",
            unsupported.where,
            (*unsupported.key, unsupported.effect),
        )


def names_and_words(examined: Examined) -> Iterator[Finding]:
    """A word or a number of a rule that is the name of a column too."""
    for ambiguous in ambiguous_names(examined.judged.marks, examined.judged.verdict.rules):
        subject, _, remedy = ambiguous.message.partition(": ")[2].partition("; ")
        yield examined.of_rule(
            "name-or-word", ambiguous.rule, f"{subject}.", f"{remedy[:1].upper()}{remedy[1:]}."
        )


def idle_rules(examined: Examined) -> Iterator[Finding]:
    """A rule that changes nothing, and of which no text speaks."""
    brief = examined.judged.design.brief
    sections = [rule.section for rule in examined.judged.design.rules]
    texts = (brief.title, brief.subtitle, brief.footer, *(section.key for section in sections))
    named = {
        piece.rule for text in texts if text for piece in text.tree if isinstance(piece, OfRule)
    }
    for index, rule in enumerate(sections):
        if not rule.effects and rule.called not in named:
            yield examined.of_rule(
                "rule-idle",
                index,
                "It has no effect, so nothing on the chart shows it.",
                "Give it a color, a badge or another effect, or refer to it in the title.",
            )


def orderless(examined: Examined) -> Iterator[Finding]:
    """A claim about a sequence, where the category has no order."""
    judged = examined.judged
    if not isinstance(judged.marks.columns[judged.marks.along], Text):
        return
    for index, rule in enumerate(judged.verdict.rules):
        for test in all_tests(rule.condition):
            if compares_marks(test):
                yield examined.of_rule(
                    "sequence-order",
                    index,
                    f"'{test}' goes from mark to mark, and {judged.marks.category} holds words: "
                    "it follows the order in which the rows first name them.",
                    "Ask it of dates or numbers, or see to it that the rows come in the order "
                    "that is meant.",
                )
                break


def few_peers(examined: Examined) -> Iterator[Finding]:
    """An average, a median or a spread of fewer than three marks."""
    judged = examined.judged
    names = judged.called
    for index, rule in enumerate(judged.verdict.rules):
        scope = judged.context.scope_of(rule)
        for test in all_tests(rule.condition):
            few = _few(test, test.view(scope.data, rule.ties))
            if few is not None and few.any():
                mark = int(np.argmax(few))
                first = names[int(scope.indices[mark])]
                yield examined.of_rule(
                    "few-peers",
                    index,
                    f"'{test}' is asked of {marks(int(np.count_nonzero(few)))}, such as {first}, "
                    f"with fewer than {FEW_PEERS} peers that have numbers.",
                    "Compare among more marks: another within, or none.",
                )
                break


def unused_parameters(examined: Examined) -> Iterator[Finding]:
    """Parameters that the brief never uses."""
    spec = examined.judged.design.brief
    # Words of the texts and not trees: a parameter may be named anywhere a text can be.
    plain = {
        key: value for key, value in spec.plain().items() if key not in {"parameters", "ignore"}
    }
    spoken = {word.casefold() for word in re.findall(NAME, " ".join(_texts(plain)))}
    for name in spec.parameters:
        if name.casefold() not in spoken:
            yield Finding(
                "parameter-unused",
                f"Nothing uses the parameter {name}.",
                "Take it out, or name it in a rule, a text or a reference.",
                f"parameters, {name}",
                ("parameters", name),
            )


def _texts(value: object) -> Iterator[str]:
    if isinstance(value, str):
        yield value
    elif isinstance(value, dict):
        for key, inner in value.items():
            yield str(key)
            yield from _texts(inner)
    elif isinstance(value, list):
        for inner in value:
            yield from _texts(inner)


def _quantities(test: Test) -> Iterator[Quantity]:
    for quantity in test.quantities():
        yield from inside(quantity)


def _few(test: Test, view: TestView) -> Bools | None:
    """For which marks a test compares with a summary of too few; None where it has none."""
    completed_quantities = [
        completed(quantity, view.subject)
        for quantity in _quantities(test)
        if isinstance(quantity, Summary) and quantity.kind in {"average", "median", "deviation"}
    ]
    of = [
        quantity.of
        for quantity in completed_quantities
        if isinstance(quantity, Summary) and quantity.of is not None
    ]
    if test.claim.summarises:
        of += [view.subject]
    if not of:
        return None
    with np.errstate(all="ignore"):
        counts = np.min([view.peers.spread(Summary("count", q).groups(view)) for q in of], axis=0)
    return np.asarray(np.broadcast_to((counts > 0) & (counts < FEW_PEERS), (len(view),)))
