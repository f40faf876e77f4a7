"""Formats of numbers as workbooks write them (ISO/IEC 29500-1, 18.8.31)."""

from __future__ import annotations

from decimal import ROUND_HALF_UP, Decimal
from typing import Final

import numpy as np

from yuzen.arrays import Floats
from yuzen.formats.number_format import SUFFIX_FACTORS, NumberFormat
from yuzen.formats.number_text import MINUS, tell

GENERAL: Final = "General"
MAX_DECIMALS: Final = 6  # of numbers whose format sets none
THOUSANDS: Final = {"": "", "k": ",", "M": ",,", "B": ",,,"}


def number_code(numbers: NumberFormat, values: Floats) -> str:
    """The code that writes numbers as a format does; "General" where there is none.

    values: those that are written, by which numbers without set decimals get as many as they need.

    >>> from yuzen.formats.number_format import Form
    >>> number_code(NumberFormat(Form("sign", ",.1f", "k"), "€"), np.zeros(1))
    '"+€"#,##0.0,"k";"−€"#,##0.0,"k";"€"#,##0.0,"k"'
    >>> number_code(NumberFormat(Form(spec=".0%")), np.zeros(1))
    '0%;"−"0%'
    """
    form = numbers.form
    if form.power:
        return GENERAL
    digits = _digits(numbers, values)
    if form.percent:
        before, after = numbers.locale.percent
        digits = f"{_quoted(before)}{digits}{_quoted(after.rstrip('%'))}%"
        tail = _quoted(numbers.after)
    else:
        digits += THOUSANDS[form.scale]
        tail = _quoted(form.scale + numbers.after)

    def section(sign: str, closing: str = "") -> str:
        return f"{_quoted(sign + numbers.before)}{digits}{tail}{_quoted(closing)}"

    if form.style == "arrow":
        return f"{section('▲ ')};{section('▼ ')};{section('■ ')}"
    if form.style == "paren":
        return f"{section('')};{section('(', ')')}"
    if form.style == "sign":
        return f"{section('+')};{section(MINUS)};{section('')}"
    return f"{section('')};{section(MINUS)}"


def writes_alike(numbers: NumberFormat, values: Floats) -> bool:
    """Whether a workbook writes all values as the format does: to the last digit, and its sign.

    A workbook rounds halves away from zero, the format to the nearest number that a float is.
    """
    if numbers.form.power:
        return False
    finite = values[np.isfinite(values)]
    decimals = _decimals(numbers, finite)
    factor = Decimal(int(SUFFIX_FACTORS[numbers.form.scale]))
    if numbers.form.percent:
        factor = Decimal("0.01")
    step = Decimal(1).scaleb(-decimals)
    for value in finite.tolist():
        shown = (Decimal(repr(value)) / factor).quantize(step, ROUND_HALF_UP)
        # A workbook writes a sign before what it rounds to zero.
        if value and not shown:
            return False
        if numbers.write(float(shown * factor)) != numbers.write(value):
            return False
    return True


def _digits(numbers: NumberFormat, values: Floats) -> str:
    """The places of digits: "#,##0.00"."""
    form = numbers.form
    grouped = not form.spec or "," in form.spec
    decimals = _decimals(numbers, values[np.isfinite(values)])
    return ("#,##0" if grouped else "0") + ("." + "0" * decimals if decimals else "")


def _decimals(numbers: NumberFormat, finite: Floats) -> int:
    """How many decimals numbers are written with."""
    form = numbers.form
    if form.spec:
        return form.decimals
    texts = [tell(abs(value) / SUFFIX_FACTORS[form.scale])[0] for value in finite[:1000].tolist()]
    longest = max((len(text.partition(".")[2]) for text in texts), default=0)
    return min(longest, MAX_DECIMALS)


def _quoted(text: str) -> str:
    r"""A text as it stands in a code; '' for nothing. A quotation mark ends one, so it is escaped.

    >>> _quoted("€"), _quoted('5"'), _quoted("")
    ('"€"', '"5"\\"', '')
    """
    if not text:
        return ""
    parts = [f'"{part}"' if part else "" for part in text.split('"')]
    return '\\"'.join(parts)
