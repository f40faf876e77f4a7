"""Words of rules that are also names of columns: which one was used, and how to mean the other."""

from collections.abc import Iterator, Sequence

from yuzen.errors import YuzenError
from yuzen.rules.conditions import all_tests
from yuzen.rules.grammar.parser import parse_quantity
from yuzen.rules.judge import Rule, rule_title
from yuzen.rules.language.words import is_bare
from yuzen.rules.marks import Marks
from yuzen.rules.quantities.fields import Field
from yuzen.rules.quantities.structure import inside
from yuzen.value import Value

MAX_CHECKED_COLUMNS = 2_000  # of which this is asked


class AmbiguousName(Value):
    """A rule, by its place among all rules, and what of it names a column too."""

    rule: int
    message: str


def ambiguous_names(marks: Marks, rules: Sequence[Rule]) -> list[AmbiguousName]:
    """Every word or number of a rule that is a column's name as well, in the order of the rules."""
    odd = {
        name: _meaning(name)
        for name in marks.column_names[:MAX_CHECKED_COLUMNS]
        # A name that the language does not know as a word cannot be mistaken for one.
        if not is_bare(name)
    }
    if not odd:
        return []
    notes = []
    for index, rule in enumerate(rules):
        words_used = set(_said(rule))
        notes += [
            AmbiguousName(index, f"{rule_title(index + 1, rule.name)}: {_told(name)}")
            for name, meaning in odd.items()
            if meaning in words_used
        ]
    return notes


def _meaning(name: str) -> str:
    """What a column's name says where it stands without backticks, as the language prints it."""
    try:
        # Printed and not as written: "Top  3" and "top 3" are one thing to the language.
        return str(parse_quantity(name))
    except YuzenError:
        return name.casefold()


def _said(rule: Rule) -> Iterator[str]:
    """Every quantity and claim of a rule that could be a name, without its counts."""
    for test in all_tests(rule.condition):
        yield str(test.claim)
        counts = test.claim.counts()
        for quantity in test.quantities():
            if quantity not in counts:
                yield from (str(part) for part in inside(quantity) if not isinstance(part, Field))
    if rule.shade is not None:
        yield from (str(part) for part in inside(rule.shade.of) if not isinstance(part, Field))


def _told(name: str) -> str:
    both = f"{name} is read as the language reads it, and a column is called so too"
    return f"{both}; for the column, write {Field(name)}"
