"""Numbers as a reason tells them: short, with a real minus, and never so short as to mislead."""

from decimal import Decimal
from math import floor, isfinite, isnan, log10

MINUS = "−"
MAX_TOLD_DECIMALS = 30


def tell(*values: float) -> list[str]:
    """The numbers as texts in one notation, with as few decimals as keep them different.

    >>> tell(41204.4, 41204.2)
    ['41,204.4', '41,204.2']
    >>> tell(-18300), tell(0.05, 0)
    (['−18,300'], ['0.05', '0'])
    >>> tell(5.001, 5), tell(float("nan")), tell(2e15, 3)
    (['5.001', '5'], ['missing'], ['2e+15', '3e+00'])
    """
    finite = [v for v in values if isfinite(v)]
    if any(_extreme(v) for v in finite):
        return _with_powers(values, finite)
    decimals = max((_decimals(v) for v in finite), default=0)
    while decimals < MAX_TOLD_DECIMALS and len({round(v, decimals) for v in finite}) < len(
        set(finite)
    ):
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
    return tell_percents(share)[0]


def tell_percents(*shares: float) -> list[str]:
    """Shares as percentages with as few decimals as keep different ones different.

    >>> tell_percents(0.125, 0.12501)
    ['12.5%', '12.501%']
    """
    percents = [round(share * 100, 10) for share in shares]
    if len(set(percents)) < len(set(shares)):
        percents = [share * 100 for share in shares]
    return [
        text if isnan(share) else f"{text}%"
        for text, share in zip(tell(*percents), shares, strict=True)
    ]


def _decimals(value: float) -> int:
    """Decimals that show three digits of a number that is not whole."""
    if value == int(value) or abs(value) >= 1000:
        return 0
    shown = 2 - floor(log10(abs(value)))
    return next(
        d for d in range(min(shown, 17) + 1) if d == min(shown, 17) or round(value, d) == value
    )


def _extreme(value: float) -> bool:
    """Whether a number is so large or so close to zero that its digits say less than its power."""
    return 0 < abs(value) < 1e-6 or abs(value) >= 1e15


def _with_powers(values: tuple[float, ...], finite: list[float]) -> list[str]:
    """The numbers with powers of ten, with as few digits as keep different ones different."""
    digits = 0
    while digits < 17 and any(float(f"{v:.{digits}e}") != v for v in finite):
        if digits >= 2 and len({f"{v:.{digits}e}" for v in finite}) == len(set(finite)):
            break
        digits += 1
    texts_by_value = {
        v: "0" if v == 0 else f"{v:.{digits}e}".replace("-", MINUS, int(v < 0)) for v in finite
    }
    return [texts_by_value[v] if isfinite(v) else _text(v, 0) for v in values]


def _text(value: float, decimals: int) -> str:
    if isnan(value):
        return "missing"
    if not isfinite(value):
        if value > 0:
            return "infinite"
        return f"{MINUS}infinite"
    text = f"{value:,.{decimals}f}".replace("-", MINUS)
    exact = "." in text and value == round(value, max(0, decimals - 1))
    if exact:
        return text.rstrip("0").rstrip(".")
    return text
