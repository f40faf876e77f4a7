"""Matplotlib as it is loaded: it reads settings of the machine, which can be wrong."""

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Final

from yuzen.draw.text.loading import NoFontReader, loading_quietly
from yuzen.errors import external_call, make_error, reason_of

NOT_LOADED: Final = (
    "Matplotlib cannot begin: {reason}. Look at MPLBACKEND, MPLCONFIGDIR and the file matplotlibrc."
)


@contextmanager
def loading_matplotlib() -> Iterator[None]:
    """Report why Matplotlib cannot be loaded. Raises YuzenError (draw-matplotlib)."""
    with loading_quietly(), external_call("draw-matplotlib", NOT_LOADED):
        yield


@contextmanager
def reporting_fonts() -> Iterator[None]:
    """Report why drawing cannot read fonts. Raises YuzenError (draw-matplotlib)."""
    try:
        yield
    except NoFontReader as error:
        reason = reason_of(error.__cause__ or error)
        raise make_error("draw-matplotlib", NOT_LOADED.replace("{reason}", reason)) from None
