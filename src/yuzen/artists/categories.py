"""Names of the places along an axis: tick texts, dates, or plain numbers."""

from collections.abc import Sequence
from typing import Any, Final

import numpy as np
import pandas as pd
from matplotlib import dates
from matplotlib.axes import Axes
from matplotlib.axis import Axis
from matplotlib.category import StrCategoryConverter
from matplotlib.ticker import FixedLocator

from yuzen.arrays import Floats
from yuzen.artists.axes_content import AxesContent
from yuzen.errors import make_error

SAME_PLACE_SHARE: Final = (
    0.5  # of the distance between ticks: how far from its tick a bar of a group stands at the most
)


def categories_of(axes: Axes, drawn: AxesContent) -> pd.Series:
    """The category of every mark, series after series: words, dates or numbers.

    Raises YuzenError (paint-axes) where two marks of one series have the same.
    """
    axis = axes.yaxis if drawn.horizontal else axes.xaxis
    named_series = [_called(series.named, series.places, axis) for series in drawn.series]
    for series, names in zip(drawn.series, named_series, strict=True):
        if _grows(names):
            continue
        twice = names[names.duplicated() & names.notna()]
        if len(twice):
            whose = f" of '{series.label}'" if series.label else ""
            message = (
                f"Two marks{whose} stand at {twice.iloc[0]}, and a rule needs one for each place."
            )
            raise make_error(
                "paint-axes", f"{message} Draw totals, or each in a series of its own."
            )
    if len({names.dtype.kind for names in named_series}) > 1:
        named_series = [names.astype(str) for names in named_series]
    return pd.concat(named_series, ignore_index=True)


def _grows(names: pd.Series) -> bool:
    """Whether numbers or dates follow one another, so that none is there twice: quick to tell."""
    values = names.to_numpy()
    return values.dtype.kind in "fM" and bool((values[1:] > values[:-1]).all())


def _called(named: Any, places: Floats, axis: Axis) -> pd.Series:  # noqa: ANN401 - whatever was plotted
    """The categories of one series."""
    given = pd.Series(named).infer_objects()
    if isinstance(given.dtype, pd.PeriodDtype):
        return pd.Series(given.dt.to_timestamp())
    if not pd.api.types.is_numeric_dtype(given.dtype):
        return given
    ticks = _ticks(axis)
    if ticks is not None:
        return _at_ticks(places, *ticks)
    return _on_scale(places, axis)


def _on_scale(places: Floats, axis: Axis) -> pd.Series:
    """Places along an axis without names of its own: periods, dates or numbers."""
    converter = axis.get_converter()
    frequency = getattr(axis, "freq", None) or getattr(axis.axes, "freq", None)
    # pandas draws periods by their number, which only its own frequency can turn back.
    if frequency is not None and type(converter).__module__.startswith("pandas"):
        whole = pd.PeriodIndex(
            [pd.Period(ordinal=at, freq=frequency) for at in np.rint(places).astype(int).tolist()]
        )
        return pd.Series(whole.to_timestamp())
    if _dated(axis):
        moments = dates.num2date(np.nan_to_num(places))  # type: ignore[no-untyped-call]
        times = pd.Series(pd.to_datetime(moments, utc=True)).dt.tz_localize(None).dt.round("s")
        return times.where(~np.isnan(places))
    return pd.Series(places)


def _dated(axis: Axis) -> bool:
    """Whether an axis is of dates."""
    converter = axis.get_converter()
    if converter is None:
        return False
    return (
        isinstance(converter, dates.DateConverter) or type(converter).__module__ == dates.__name__
    )


def _ticks(axis: Axis) -> tuple[Floats, Sequence[str]] | None:
    """The positions and texts of an axis's named ticks; None where ticks are numbers or dates."""
    locator, formatter = axis.get_major_locator(), axis.get_major_formatter()
    named = isinstance(axis.get_converter(), StrCategoryConverter)
    if not named and not isinstance(locator, FixedLocator):
        return None
    places = np.asarray(locator(), dtype=float)
    names = [str(name) for name in formatter.format_ticks(places.tolist())]
    if not named and _numbers(names) is not None and np.allclose(_numbers(names), places):  # type: ignore[arg-type]
        return None  # ticks that somebody has set at numbers
    return places, names


def _numbers(words: Sequence[str]) -> Floats | None:
    """The numbers that words are; None where some word is none."""
    try:
        return np.array([float(word.replace("\N{MINUS SIGN}", "-")) for word in words])
    except ValueError:
        return None


def _at_ticks(places: Floats, ticks: Floats, names: Sequence[str]) -> pd.Series:
    """The name of the nearest tick, if that is as near as in a group; else the place."""
    order = np.argsort(ticks)
    apart = np.diff(ticks[order]).min() if len(ticks) > 1 else 1.0
    between = (ticks[order][1:] + ticks[order][:-1]) / 2
    # Beyond the middle between two ticks the next one is nearer.
    nearest = order[np.searchsorted(between, places)]
    near = np.abs(ticks[nearest] - places) <= SAME_PLACE_SHARE * apart
    words = np.array(names, dtype=object)[nearest]
    tick_names = np.where(near & (words != ""), words, places.astype(str))
    numbers = _numbers(list(dict.fromkeys(tick_names.tolist())))
    if numbers is not None:
        return pd.Series(tick_names.astype(float))  # years, say, under bars that stand at 0, 1, 2
    return pd.Series(tick_names)
