"""Numbers as a reason tells them: short, with a real minus, and never so short as to mislead."""

from __future__ import annotations

from decimal import Decimal
from math import floor, isfinite, isnan, log10

MINUS = "−"


def tell(*values: float) -> list[str]:
    """The numbers as text with as few decimals as keep different numbers looking different.

    >>> tell(41204.4, 41204.2)
    ['41,204.4', '41,204.2']
    >>> tell(-18300), tell(0.05, 0)
    (['−18,300'], ['0.05', '0'])
    >>> tell(float("nan"))
    ['missing']
    """
    finite = [v for v in values if isfinite(v)]
    decimals = max((_decimals(v) for v in finite), default=0)
    while decimals < 17 and len({_text(v, decimals) for v in finite}) < len(set(finite)):
        decimals += 1
    return [_text(v, decimals) for v in values]


def plain(value: float) -> str:
    """A number without exponent, with every digit that tells it from its neighbours.

    >>> plain(1e6), plain(0.1), plain(2.50)
    ('1000000', '0.1', '2.5')
    """
    text = format(Decimal(repr(float(value))), "f")
    if "." in text:
        return text.rstrip("0").rstrip(".")
    return text


def tell_percent(share: float) -> str:
    """A share as a percentage.

    >>> tell_percent(-0.125)
    '−12.5%'
    """
    if isnan(share):
        return "missing"
    return f"{tell(round(share * 100, 10))[0]}%"


def _decimals(value: float) -> int:
    """Decimals that show three digits of a number that is not whole."""
    if value == int(value) or abs(value) >= 1000:
        return 0
    shown = 2 - floor(log10(abs(value)))
    return next(d for d in range(min(shown, 17) + 1) if d == min(shown, 17) or round(value, d) == value)


def _text(value: float, decimals: int) -> str:
    if isnan(value):
        return "missing"
    if not isfinite(value):
        if value > 0:
            return "infinite"
        return f"{MINUS}infinite"
    if 0 < abs(value) < 1e-6 or abs(value) >= 1e15:
        return repr(value).replace("-", MINUS)
    text = f"{value:,.{decimals}f}".replace("-", MINUS)
    exact = "." in text and value == round(value, max(0, decimals - 1))
    if exact:
        return text.rstrip("0").rstrip(".")
    return text
