"""Numbers written shorter, all of some together: 12.3k instead of 12,345."""

from dataclasses import replace
from typing import Final, Literal

import numpy as np

from yuzen.arrays import Floats
from yuzen.compose.texts.exponent_labels import power_of
from yuzen.formats.number_format import DECIMALS, NumberFormat
from yuzen.regex import regex

SHORTER: Final[tuple[tuple[float, Literal["B", "M", "k"]], ...]] = (
    (1e9, "B"),
    (1e6, "M"),
    (1e3, "k"),
)
PLAIN_FORMAT: Final = NumberFormat()
# A number as it is written, with what stands at it: sign, currency, scale, percent.
NUMBER: Final = regex(r"[−+(]?[^\w\s,.(−+]?\d(?:[\d.,'\u00a0\u202f]*\d)?(?:\s?%|[kMB](?!\w))?\)?")
SHORTER_FROM: Final = 10_000.0  # from which on a number can be written shorter


def shorter_texts(values: Floats, numbers: NumberFormat = PLAIN_FORMAT) -> tuple[str, ...]:
    """Numbers of a column in thousands, millions or billions; () where they are short already.

    numbers: the format of which the rest is kept. The unit suits the numbers in the middle, so that
    a total does not make naughts of all others.

    >>> shorter_texts(np.array([12_345.0, 980.0, 2_100_000.0, np.nan]))
    ('12.3k', '1.0k', '2,100.0k', '–')
    >>> shorter_texts(np.array([2.5e15, -4e14]))
    ('2.50×10¹⁵', '−0.40×10¹⁵')
    """
    sizes = np.abs(values[np.isfinite(values) & (values != 0)])
    if (power := power_of(values)) and not numbers.form.percent:
        powers = replace(numbers, form=replace(numbers.form, spec=",.2f", scale="", power=power))
        return tuple(powers.write(value) for value in values.tolist())
    if not len(sizes) or sizes.max() < SHORTER_FROM or numbers.form.scale or numbers.form.percent:
        return ()
    middle = float(np.sort(sizes)[len(sizes) // 2])
    size, scale = next((pair for pair in SHORTER if middle >= pair[0]), SHORTER[-1])
    form = replace(numbers.form, spec=",.0f" if middle >= 100 * size else ",.1f", scale=scale)
    shorter = replace(numbers, form=form)
    return tuple(shorter.write(value) for value in values.tolist())


def fewer_decimals(numbers: NumberFormat, value: float) -> tuple[str, ...]:
    """A number with one decimal less, and one less, down to none.

    >>> from yuzen.formats.number_format import Form
    >>> fewer_decimals(NumberFormat(Form("", ",.2f")), 410.374)
    ('410.4', '410')
    """
    spec, count = numbers.form.spec, numbers.form.decimals
    specs = [DECIMALS.sub(f".{decimals}", spec) for decimals in range(count - 1, -1, -1)]
    forms = [replace(numbers, form=replace(numbers.form, spec=fewer)) for fewer in specs]
    return tuple(form.write(value) for form in forms)


def numbers_in(text: str) -> list[str]:
    """The number in a text with a single one, with its sign and unit; none of others.

    >>> numbers_in("average 1,410.5 kg of all"), numbers_in("2 of 5")
    (['1,410.5'], [])
    """
    found = NUMBER.findall(text)
    return found if len(found) == 1 else []
