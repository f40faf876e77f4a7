"""Which columns a table has where its brief names none."""

from collections.abc import Iterable, Iterator, Sequence

from yuzen.brief.sections.columns import ColumnSection
from yuzen.brief.sections.layers import LayerSection
from yuzen.brief.sections.rule import RuleSection
from yuzen.rules.names import in_conditions, in_quantities
from yuzen.rules.target import Target


def implied_columns(
    value: str, layers: Sequence[LayerSection], rules: Sequence[RuleSection], others: Iterable[str]
) -> tuple[ColumnSection, ...]:
    """The chart's value, its layers, and the measures that rules use, each once.

    others: what rules speak of and that is no measure.
    """
    known = {name.casefold() for name in others}
    columns_by_name = {value.casefold(): ColumnSection(value=value)}
    for layer in layers:
        if layer.value != value:
            columns_by_name[layer.value.casefold()] = ColumnSection(
                value=layer.value, name=layer.name
            )
    for rule in rules:
        for name in _spoken(rule):
            if name.casefold() not in known:
                columns_by_name.setdefault(name.casefold(), ColumnSection(value=name))
    return tuple(columns_by_name.values())


def _spoken(rule: RuleSection) -> Iterator[str]:
    """The names of measures in a rule: what it acts on, then, by the alphabet, what it compares."""
    target = Target.parse(rule.on)
    if target.part in {"column", "label"} and target.name:
        yield target.name
    yield from rule.columns
    conditions = [rule.when.tree]
    quantities = []
    if rule.part is not None:
        conditions.append(rule.part.tree)
    if rule.shade is not None and rule.shade.of is not None:
        quantities.append(rule.shade.of.tree)
    if rule.bands is not None and rule.bands.of is not None:
        quantities.append(rule.bands.of.tree)
    # Sorted, as sets have no order and two runs must give one picture.
    yield from sorted((in_conditions(conditions) | in_quantities(quantities)).numbers)
