"""Rules and references by themselves, as charts made elsewhere and bare colours take them."""

from collections.abc import Mapping
from typing import Any, Unpack

from yuzen.brief.keys.signatures import with_keys_in_signature
from yuzen.brief.keywords import ConditionLike, QuantityLike, ReferenceKeys, RuleKeys
from yuzen.brief.sections.base import Section
from yuzen.brief.sections.references import ReferenceSection
from yuzen.brief.sections.rule import RuleSection
from yuzen.brief.toml.document import make_entry
from yuzen.rules.conditions import BaseCondition
from yuzen.rules.grammar.measure import Measure
from yuzen.rules.quantities.numbers import Quantity


@with_keys_in_signature(RuleKeys, RuleSection)
def rule(when: ConditionLike | None = None, **keys: Unpack[RuleKeys]) -> RuleSection:
    """A rule: a condition as text or object, and effects by the keys of a brief's [[rule]].

    when: the condition; what is left out is "always", which a shade, bands or a part may do.
    Raises YuzenError (brief-…) with every fault of what is said.

    >>> rule("top 3 within waters", color="favorable").called
    'top 3 within waters'
    """
    return section_of("rule", {} if when is None else {"when": when}, keys)  # type: ignore[return-value]


@with_keys_in_signature(ReferenceKeys, ReferenceSection)
def reference(at: QuantityLike | None = None, **keys: Unpack[ReferenceKeys]) -> ReferenceSection:
    """A line at a quantity, or what the keys of a brief's [[reference]] say: a band, a divider.

    at: a number or a quantity, in the value's unit. Raises YuzenError (brief-…) with every fault.

    >>> str(reference("average", label="average {average:,.0f}").at)
    'average'
    """
    return section_of("reference", {} if at is None else {"at": at}, keys)  # type: ignore[return-value]


def section_of(section: str, head: Mapping[str, object], keys: Mapping[str, Any]) -> Section:
    """An entry of a section of what a call says. Raises YuzenError (brief-…) with every fault."""
    return make_entry(section, in_words({**head, **keys}))


def in_words(value: Any) -> Any:  # noqa: ANN401 - keys of any form
    """The values with language objects as texts; other objects stay, to be refused later."""
    if isinstance(value, BaseCondition | Measure | Quantity):
        return str(value)
    if isinstance(value, dict):
        return {name: in_words(part) for name, part in value.items()}
    if isinstance(value, list | tuple):
        return [in_words(part) for part in value]
    return value
