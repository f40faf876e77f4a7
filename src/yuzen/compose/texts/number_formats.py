"""How the numbers of a measure are written at its marks."""

from dataclasses import replace

import numpy as np

from yuzen.brief.default_formats import plain_format
from yuzen.brief.design import Design
from yuzen.formats.number_format import NumberFormat
from yuzen.rules.judge import EvaluationContext


def set_format(design: Design, context: EvaluationContext, measure: str) -> NumberFormat | None:
    """The format that a table's column or the brief sets for a measure; None: neither."""
    formats_set = [c.format for c in design.columns if measure in {c.value, c.called}]
    formats = context.formats
    column_format = next((form.tree for form in formats_set if form is not None), None)
    if column_format is not None:
        return replace(column_format, locale=formats.locale)
    return formats.by_name.get(measure.casefold())


def axis_format(design: Design, context: EvaluationContext, measure: str) -> NumberFormat:
    """The format that is set for a measure; without one, digits as an axis itself needs them."""
    return set_format(design, context, measure) or context.formats.plain


def number_format(
    design: Design, context: EvaluationContext, measure: str, *more: float
) -> NumberFormat:
    """The format that is set for a measure, else one with the decimals that its numbers need.

    more: further numbers that are written beside those.
    """
    values = np.asarray(context.marks.columns[measure], dtype=float)
    plain = plain_format(np.append(values, more), context.formats.locale)
    return set_format(design, context, measure) or plain
