"""The logger of the package: quiet by default; how long each stage of a chart takes, at debug."""

from __future__ import annotations

import sys
from collections.abc import Iterator
from contextlib import contextmanager
from time import perf_counter
from typing import TYPE_CHECKING

from yuzen.call_limits import refuse_late

if TYPE_CHECKING:
    import logging


class Stage:
    """What a stage of the work is about; what came of it is known when it is over."""

    def __init__(self, about: str) -> None:
        self.about = about
        self.result = ""


def package_logger() -> logging.Logger:
    """The logger of the package, which prints nothing by itself."""
    import logging  # noqa: PLC0415 - as most often nobody has loaded it, so that nobody listens

    logger = logging.getLogger("yuzen")
    if not logger.handlers:
        logger.addHandler(logging.NullHandler())
    return logger


@contextmanager
def timed(stage: str, about: str = "") -> Iterator[Stage]:
    """Log a stage of the work with its seconds, where somebody listens at the level of debugging.

    Raises YuzenError (limit-seconds) where the caller's time is over, before it or after it. A
    stage that fails is not logged: its error says more.
    """
    refuse_late()
    # Most often nobody listens, and writing the line would take longer than some stages.
    current = Stage(about)
    if not _is_heard():
        yield current
        refuse_late()
        return
    begun = perf_counter()
    yield current
    refuse_late()
    details = ", ".join(filter(None, (current.about, current.result)))
    package_logger().debug("%s %s: %.3f s", stage, details, perf_counter() - begun)


def _is_heard() -> bool:
    """Whether somebody listens at the level of debugging."""
    logging = sys.modules.get("logging")
    return logging is not None and package_logger().isEnabledFor(logging.DEBUG)
