"""Number formats of a chart's measures: from the brief, else by what the numbers are."""

from dataclasses import replace
from typing import Final

import numpy as np

from yuzen.arrays import Floats, Text
from yuzen.brief.language import locale_of
from yuzen.brief.model import Brief
from yuzen.errors import error_at, make_error, suggestion
from yuzen.formats.locales import Locale
from yuzen.formats.number_format import Form, NumberFormat
from yuzen.rules.grammar.parser import parse_quantity
from yuzen.rules.marks import Marks
from yuzen.rules.measure_formats import Formats
from yuzen.rules.quantities.structure import is_ratio

FEW_PERCENT: Final = 0.02  # of which whole percents would tell too little
MOST_RATIO: Final = 2.0  # beyond which a ratio is no share
PROBED: Final = 1_000  # numbers that are looked at before all of them


def formats_of(spec: Brief, marks: Marks) -> Formats:
    """The formats of a chart's measures. Raises YuzenError (brief-format) for an unknown name."""
    with error_at("locale", "locale"):
        locale = locale_of(spec.locale)
    detected = _found(marks)
    detected |= {_known(name, spec, marks): written.tree for name, written in spec.formats.items()}
    return Formats(
        {name.casefold(): replace(form, locale=locale) for name, form in detected.items()}, locale
    )


def _known(name: str, spec: Brief, marks: Marks) -> str:
    """The name, which something has."""
    known = dict.fromkeys([*marks.columns, *spec.measures, *marks.column_names])
    if name.casefold() not in {other.casefold() for other in known}:
        message = f"There is no measure and no column '{name[:60]}' to write."
        raise make_error(
            "brief-format", f"{message}{suggestion(name, known)}", key=("formats", name)
        )
    return name


def _found(marks: Marks) -> dict[str, NumberFormat]:
    """The measures that are shares of something, in percent."""
    formulas = {name: parse_quantity(text) for name, text in marks.origin.formulas.items()}
    ratios = [name for name, formula in formulas.items() if is_ratio(formula, formulas)]
    return {
        name: NumberFormat(Form("", spec)) for name in ratios if (spec := _percent(marks, name))
    }


def _percent(marks: Marks, name: str) -> str:
    """The format of a share; '' where its numbers are none."""
    column = marks.columns[name]
    if isinstance(column, Text):
        return ""
    sizes = np.abs(np.asarray(column, dtype=float))
    sizes = sizes[np.isfinite(sizes)]
    # Fares by passengers are a ratio too, and no share.
    if not len(sizes) or sizes.max() > MOST_RATIO:
        return ""
    if float(np.min(sizes[sizes > 0], initial=1.0)) < FEW_PERCENT:
        return ".1%"
    return ".0%"


def plain_format(values: Floats, locale: Locale) -> NumberFormat:
    """The format of numbers that nobody says more of: with as many decimals as they need."""
    return NumberFormat(Form("", plain_spec(values)), locale=locale)


def _whole(sizes: Floats) -> bool:
    """Whether all are whole numbers; of many the first show most often that they are none."""
    return all(bool(np.all(some == np.round(some))) for some in (sizes[:PROBED], sizes))


def _have_decimals(sizes: Floats, decimals: int) -> bool:
    """Whether all have so many decimals at most, but for their rounding."""
    return all(
        np.allclose(some, np.round(some, decimals), atol=1e-12) for some in (sizes[:PROBED], sizes)
    )


def plain_spec(values: Floats) -> str:
    """A number format with as many decimals as values of this size need.

    >>> plain_spec(np.array([1200.0, 31.0])), plain_spec(np.array([0.912, 0.5]))
    (',.0f', ',.3f')
    """
    finite = np.abs(values[np.isfinite(values)])
    largest = float(np.max(finite, initial=0.0))
    if largest >= 1000 or _whole(finite):
        return ",.0f"
    enough = next((d for d in (1, 2) if _have_decimals(finite, d)), 3)
    most = 3
    if largest >= 10:
        if largest >= 100:
            most = 1
        else:
            most = 2
    return f",.{min(enough, most)}f"
