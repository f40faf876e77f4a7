"""Values that a condition names and that its columns do not have, but nearly."""

from collections.abc import Iterator

from yuzen.arrays import Text
from yuzen.errors import suggestion
from yuzen.rules.conditions import Condition, all_tests
from yuzen.rules.evaluation_data import EvaluationData
from yuzen.rules.quantities.fields import Field


def misspelt_values(condition: Condition, facts: EvaluationData) -> Iterator[str]:
    """A sentence for each value that no row has while some row has one that is nearly the same."""
    for test in all_tests(condition):
        if isinstance(test.subject, Field):
            name = facts.name(test.subject.name)
        else:
            name = None
        column = facts.marks.columns.get(name or "")
        if not isinstance(column, Text):
            continue
        folded = {word.casefold() for word in column.words}
        for text in test.claim.texts_meant():
            if text.casefold() in folded:
                continue
            # A value that no row has this month is no mistake; one that is nearly another's may be.
            if hint := suggestion(text, column.words):
                yield f"{name} has no '{text[:60]}'.{hint}"
