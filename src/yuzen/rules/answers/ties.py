"""Ties: marks with equal numbers where a rule cuts, and places that nobody has for that."""

from collections.abc import Iterator

import numpy as np

from yuzen.arrays import Bools
from yuzen.rules.conditions import Test, all_tests
from yuzen.rules.judge import EvaluationContext, Rule


def ties(rule: Rule, context: EvaluationContext) -> Iterator[tuple[Test, Bools, Bools]]:
    """Each test of a rule with the marks that are tied at its cut, or share a place it asks for.

    Both arrays are of the marks that the rule reaches, shape (k,).
    """
    scope = context.scope_of(rule)
    for test in all_tests(rule.condition):
        view = test.view(scope.data, rule.ties)
        with np.errstate(all="ignore"):
            tied, displaced = test.claim.tied(view), test.claim.displaced(view)
        yield test, tied, displaced
