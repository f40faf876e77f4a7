"""What a brief refers to: quantities, conditions and periods in its rules, texts and references."""

from collections.abc import Iterable, Iterator, Sequence

from yuzen.brief.design import Design
from yuzen.brief.sections.phrases import Phrase
from yuzen.rules.conditions import Condition
from yuzen.rules.grammar.wording import OfDates, Slot, Wording
from yuzen.rules.judge import Rule
from yuzen.rules.language.period_names import PeriodName
from yuzen.rules.lineage import Reach, compared_with
from yuzen.rules.names import OverallAsked, overall_in, overall_in_condition
from yuzen.rules.quantities.fields import Field
from yuzen.rules.quantities.numbers import Distinct, Quantity, RowCount, Summary
from yuzen.rules.quantities.structure import inside, loose_names


def conditions_in(design: Design) -> list[Condition]:
    """The conditions of references and labels."""
    phrases = [
        *(line.after for line in design.brief.reference),
        *(piece.show for piece in design.brief.label),
    ]
    phrases += [note.when for note in design.brief.note]
    return [
        condition.tree
        for condition in phrases
        if condition is not None and condition.tree is not None
    ]


def quantities_in(design: Design) -> list[Quantity]:
    """Every quantity in a text or a reference of the brief."""
    return [
        *_in_texts(_texts_of_all(design)),
        *_in_texts(rule.section.label for rule in design.rules),
        *_in_texts(piece.text for piece in design.brief.label),
        *_in_texts(note.text for note in design.brief.note),
        *_base_among_marks(design),
        *(
            end.tree
            for line in design.brief.reference
            for end in (line.at, line.across, line.low, line.high)
            if end
        ),
        *(end.tree for end in _scale_ends(design)),
        *(
            shade.of.tree
            for shade in (rule.section.shade for rule in design.rules)
            if shade is not None and shade.of is not None
        ),
    ]


def _scale_ends(design: Design) -> list[Phrase[Quantity]]:
    """The ends of the axes."""
    ends = (
        design.brief.scale.low,
        design.brief.scale.high,
        design.brief.scale.across.low,
        design.brief.scale.across.high,
    )
    return [end for end in ends if end is not None]


def _texts_of_all(design: Design) -> list[Phrase[Wording] | None]:
    """The texts about the whole chart."""
    phrases = [
        design.brief.title,
        design.brief.subtitle,
        design.brief.footer,
        *(rule.section.key for rule in design.rules),
    ]
    phrases += [design.brief.scale.title, design.brief.scale.across.title]
    return [
        *phrases,
        *(line.label for line in design.brief.reference),
        *(column.title for column in design.columns),
    ]


def _in_texts(texts: Iterable[Phrase[Wording] | None]) -> list[Quantity]:
    return [
        piece.quantity for text in texts if text for piece in text.tree if isinstance(piece, Slot)
    ]


def overall_measures(design: Design, rules: Sequence[Rule]) -> Iterator[OverallAsked]:
    """Every measure that is needed over several marks together, and over which marks."""
    value = design.chart.value
    for rule in rules:
        measure_name = rule.value or value
        yield from overall_in_condition(rule.condition, measure_name, rule.reach)
        if rule.shade is not None:
            yield from _asked(
                rule.shade.of, measure_name, rule.shade.within, (compared_with(rule.reach),)
            )
    for condition in conditions_in(design):
        yield from overall_in_condition(condition, value, "items")
    yield from _asked_by_references(design)
    for quantity in _in_texts(_texts_of_all(design)):
        yield from _asked(quantity, value, whole=True)
        yield from _of_all_rows(quantity)
    for end in _scale_ends(design):
        yield from _asked(end.tree, value, whole=True)
        yield from _of_all_rows(end.tree)
    for base in _base_among_marks(design):
        yield from _asked(base, value)
    texts = [
        *((piece.text, piece.within) for piece in design.brief.label),
        *((rule.section.label, ()) for rule in design.rules),
    ]
    texts += [(note.text, ()) for note in design.brief.note]
    for text, within in texts:
        for quantity in _in_texts([text]):
            yield from _asked(quantity, value, within, ("items", "totals"))


def _asked(
    quantity: Quantity,
    value: str,
    within: tuple[str, ...] = (),
    reaches: tuple[Reach, ...] = ("items",),
    *,
    whole: bool = False,
) -> Iterator[OverallAsked]:
    for name in overall_in(quantity, Field(value)):
        for reach in reaches:
            yield OverallAsked(name, within, reach, whole)


def _asked_by_references(design: Design) -> Iterator[OverallAsked]:
    for line in design.brief.reference:
        if line.across is not None and design.chart.across is not None:
            yield from _asked(line.across.tree, design.chart.across, whole=True)
            yield from _of_all_rows(line.across.tree)
        for end in filter(None, (line.at, line.low, line.high)):
            yield from _asked(end.tree, design.chart.value, line.within, whole=not line.within)
            if not line.within:
                yield from _of_all_rows(end.tree)


def _of_all_rows(quantity: Quantity) -> Iterator[OverallAsked]:
    """Measures in texts about the whole chart, which are computed over all drawn rows."""
    for name in loose_names(quantity):
        yield OverallAsked(name, reach="all", whole=True)


def periods_in(design: Design) -> tuple[PeriodName, ...]:
    """The periods whose first and last texts tell."""
    phrases = [*_texts_of_all(design), *(rule.section.label for rule in design.rules)]
    phrases += [
        *(piece.text for piece in design.brief.label),
        *(note.text for note in design.brief.note),
    ]
    pieces = [
        piece for text in phrases if text for piece in text.tree if isinstance(piece, OfDates)
    ]
    return tuple(dict.fromkeys(piece.period for piece in pieces))


def _base_among_marks(design: Design) -> list[Quantity]:
    """The base, where it is worked out among the marks."""
    if design.chart.base is None or base_measure(design) is not None:
        return []
    return [design.chart.base.tree]


def base_measure(design: Design) -> str | None:
    """What the base is called as a measure of rows; None where it is worked out among the marks.

    A name is that of a measure or a column, as a value is. A summary that says of what ("lowest of
    wave") is one of the rows behind a mark, as it is in a value, unless it is of a measure; one
    that does not say of what ("average") is of the marks.
    """
    base = design.chart.base
    if base is None:
        return None
    if isinstance(base.tree, Field):
        if _among(base.tree.name, design.brief.parameters):
            return None
        return base.tree.name
    summed = [part.of for part in inside(base.tree) if isinstance(part, Summary | Distinct)]
    counted = any(isinstance(part, RowCount) for part in inside(base.tree))
    of_columns = [of for of in summed if of is not None and not _of_measures(of, design)]
    if of_columns or counted:
        return base.text
    return None


def _of_measures(quantity: Quantity, design: Design) -> bool:
    """Whether a quantity uses measures that the brief defines."""
    return any(
        isinstance(part, Field) and _among(part.name, design.brief.measures)
        for part in inside(quantity)
    )


def _among(name: str, names: Iterable[str]) -> bool:
    """Whether it is one of these names, whatever its case."""
    return name.casefold() in {other.casefold() for other in names}
