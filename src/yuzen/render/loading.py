"""Matplotlib as it is loaded: it reads settings of the machine, which can be wrong."""

import logging
from collections.abc import Iterator
from contextlib import contextmanager

from yuzen.errors import external_call


@contextmanager
def loading_matplotlib() -> Iterator[None]:
    """Report why Matplotlib cannot be loaded. Raises YuzenError (draw-matplotlib).

    Where it keeps its list of fonts is its own business: it finds another place, and needs to tell
    nobody.
    """
    logger = logging.getLogger("matplotlib")
    level = logger.level
    logger.setLevel(logging.ERROR)
    remedy = "Look at MPLBACKEND, MPLCONFIGDIR and the file matplotlibrc."
    try:
        with external_call("draw-matplotlib", f"Matplotlib cannot begin: {{reason}}. {remedy}"):
            yield
    finally:
        logger.setLevel(level)
