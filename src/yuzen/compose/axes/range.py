"""The sizes of numbers that a picture can hold: beyond any measure, short of overflow."""

from collections.abc import Sequence
from typing import Final

import numpy as np

from yuzen.arrays import Floats
from yuzen.errors import make_error
from yuzen.page.layer import Layer
from yuzen.page.plot import References
from yuzen.page.table import TableColumn

LARGEST_DRAWABLE: Final = 1e150  # of which a square is still a number
SMALLEST_DRAWABLE: Final = 1e-150  # of the largest number of a scale


def refuse_unscalable(name: str, layers: tuple[Layer, ...], compared: References) -> None:
    """Raise YuzenError (data-range) where no scale can hold the numbers; infinite ones may be.

    name: of the chart's value.
    """
    for layer in layers:
        numbers = [layer.marks.values, layer.marks.starts, layer.marks.ends]
        refuse_numbers(layer.name or name, np.concatenate(numbers))
    ends = [line.value for line in compared.lines]
    ends += [end for band in compared.bands for end in (band.low, band.high)]
    refuse_numbers(
        "A reference", np.concatenate([ends, *(ticks.values for ticks in compared.ticks)])
    )


def refuse_unscalable_bars(columns: Sequence[TableColumn]) -> None:
    """Like `refuse_unscalable`, for the bars in a table, column by column."""
    for column in columns:
        if column.bars is not None:
            refuse_numbers(column.called, column.bars.values)


def refuse_numbers(name: str, numbers: Floats) -> None:
    """Like `refuse_unscalable`, for the numbers of one name."""
    sizes = np.abs(numbers[np.isfinite(numbers)])
    largest = float(sizes.max(initial=0.0))
    if largest > LARGEST_DRAWABLE:
        most = f"{LARGEST_DRAWABLE:g}"
        message = f"{name} reaches {largest:.3g} in size, and a picture holds numbers up to {most}."
    # Denormal numbers divide into infinities when a scale is made of them.
    elif 0 < largest < SMALLEST_DRAWABLE:
        message = (
            f"{name} reaches {largest:.3g} in size at most, and a picture needs "
            f"{SMALLEST_DRAWABLE:g} at least."
        )
    else:
        return
    raise make_error("data-range", f"{message} Is its unit the right one?")
