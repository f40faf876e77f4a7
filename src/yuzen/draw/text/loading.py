"""The reader of fonts as it is loaded: it reads settings of the machine, which can be wrong."""

from collections.abc import Iterator
from contextlib import contextmanager


class NoFontReader(Exception):  # noqa: N818 - it is no fault of the program
    """Matplotlib, whose reader of fonts it is, cannot be loaded; its cause says why."""


@contextmanager
def loading_quietly() -> Iterator[None]:
    """Where Matplotlib keeps its list of fonts is its own business: it needs to tell nobody."""
    import logging  # noqa: PLC0415 - Matplotlib loads it, and flags need neither

    logger = logging.getLogger("matplotlib")
    level = logger.level
    logger.setLevel(logging.ERROR)
    try:
        yield
    finally:
        logger.setLevel(level)


@contextmanager
def loading_fonts() -> Iterator[None]:
    """Around the import of the module that reads fonts. Raises NoFontReader."""
    with loading_quietly():
        try:
            yield
        except Exception as error:
            raise NoFontReader from error
